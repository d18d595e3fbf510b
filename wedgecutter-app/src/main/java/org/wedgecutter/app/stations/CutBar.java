package org.wedgecutter.app.stations;

import javafx.scene.control.Button;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;

/** What can be added to the sheet, above it. */
final class CutBar extends HBox {
  final Button selection;

  /** What the buttons do. */
  interface Actions {
    void layer();

    void collection();

    void selection();

    void presets();

    void overrides();
  }

  CutBar(Actions actions) {
    getStyleClass().add("cut-bar");
    Button layer = button("bar-layer", "+ layer", "a layer in front of the one that is looked at");
    layer.setOnAction(e -> actions.layer());
    Button collection =
        button("bar-collection", "+ collection", "a collection above the cursor's row");
    collection.setOnAction(e -> actions.collection());
    selection =
        button("bar-selection", "From selection", "layers of the selected rows or entities");
    selection.setOnAction(e -> actions.selection());
    Button presets = button("bar-presets", "Presets", "starting points for the layers");
    presets.setOnAction(e -> actions.presets());
    Button overrides = button("bar-overrides", "Overrides", "every override of the plan");
    overrides.setOnAction(e -> actions.overrides());
    getChildren().addAll(layer, collection, selection, presets, overrides);
  }

  private static Button button(String id, String text, String hint) {
    Button out = new Button(text);
    out.setId(id);
    out.setMinWidth(USE_PREF_SIZE);
    out.setTooltip(new Tooltip(hint));
    return out;
  }
}
