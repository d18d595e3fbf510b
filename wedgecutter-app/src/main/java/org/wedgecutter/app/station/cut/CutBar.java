package org.wedgecutter.app.station.cut;

import javafx.scene.control.Button;
import javafx.scene.layout.HBox;
import org.wedgecutter.app.panel.BarButton;

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
        BarButton.of(
            "bar-selection", "From selection", "new layers from the selected rows", () -> {});
    selection.setOnAction(e -> actions.fromSelection(selection));
    getChildren()
        .addAll(
            BarButton.of(
                "bar-layer", "+ Layer", "new layer in front of this one", actions::newLayer),
            BarButton.of(
                "bar-collection",
                "+ Collection",
                "new collection above the cursor",
                actions::newCollection),
            selection,
            BarButton.of(
                "bar-presets", "Presets…", "starting points for the layers", actions::presets),
            BarButton.of(
                "bar-overrides", "Overrides…", "all overrides of the plan", actions::overrides));
  }
}
