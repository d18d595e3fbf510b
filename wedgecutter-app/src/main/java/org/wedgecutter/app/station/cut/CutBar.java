package org.wedgecutter.app.station.cut;

import javafx.scene.control.Button;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;

/** Buttons above the sheet that add to it. */
final class CutBar extends HBox {
  /** What its buttons do. */
  interface Actions {
    void newLayer();

    void newCollection();

    void fromSelection(Button under);

    void presets();

    void overrides();
  }

  CutBar(Actions actions) {
    getStyleClass().add("cut-bar");
    Button selection =
        button("bar-selection", "From selection", "new layers from the selected rows", () -> {});
    selection.setOnAction(e -> actions.fromSelection(selection));
    getChildren()
        .addAll(
            button("bar-layer", "+ Layer", "new layer in front of this one", actions::newLayer),
            button(
                "bar-collection",
                "+ Collection",
                "new collection above the cursor",
                actions::newCollection),
            selection,
            button("bar-presets", "Presets…", "starting points for the layers", actions::presets),
            button("bar-overrides", "Overrides…", "all overrides of the plan", actions::overrides));
  }

  private static Button button(String id, String text, String hint, Runnable action) {
    Button out = new Button(text);
    out.setId(id);
    out.setMinWidth(USE_PREF_SIZE);
    out.setTooltip(new Tooltip(hint));
    out.setOnAction(e -> action.run());
    return out;
  }
}
