package org.wedgecutter.app.station.rejoin;

import javafx.scene.layout.HBox;
import org.wedgecutter.app.panel.BarButton;

/** Buttons above the sheet of the Rejoin station. */
final class RejoinBar extends HBox {
  /** What its buttons do. */
  interface Actions {
    void joins();

    void matte();

    void switchAll();

    void mixer();

    void compare();

    void handOver();
  }

  RejoinBar(Actions actions) {
    super(6);
    getStyleClass().add("cut-bar");
    getChildren()
        .addAll(
            BarButton.of(
                "bar-joins", "Joins from roles", "the join that fits each layer", actions::joins),
            BarButton.of(
                "bar-mixer", "Mixer", "level and tint of every light group", actions::mixer),
            BarButton.of(
                "bar-matte", "+ Matte", "new matte, picked in the picture", actions::matte),
            BarButton.of(
                "bar-switch",
                "Corrections on/off",
                "switches all corrections, to compare before and after",
                actions::switchAll),
            BarButton.of(
                "bar-compare",
                "Compare…",
                "layers and passes side by side, the residual by frame, two deliveries",
                actions::compare),
            BarButton.of(
                "bar-hand-over",
                "Hand over…",
                "rejoined frames, layered files, recipe and script, into a delivery",
                actions::handOver));
  }
}
