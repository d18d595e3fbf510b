package org.wedgecutter.app.station.rejoin;

import java.util.function.DoubleConsumer;
import javafx.scene.control.Slider;

/** A slider whose drag is one edit: the panel that holds it stays until it is let go. */
final class Adjuster {
  /** The edit that a drag makes, over and over. */
  interface Edit {
    /**
     * @param gesture the same for all moves of one drag
     */
    void to(Object gesture, double value);
  }

  private Object gesture = new Object();

  private Adjuster() {}

  /**
   * Returns a slider.
   *
   * @param hold receives true when a drag begins, false when it ends
   */
  static Slider slider(
      String id,
      String hint,
      double least,
      double most,
      double value,
      java.util.function.Consumer<Boolean> hold,
      Edit edit) {
    Slider slider = new Slider(least, most, Math.max(least, Math.min(most, value)));
    slider.setId(id);
    slider.setAccessibleText(hint);
    slider.setStyle("-fx-pref-width: 200;");
    slider.setBlockIncrement((most - least) / 50);
    Adjuster state = new Adjuster();
    slider.setOnMousePressed(e -> {
      state.gesture = new Object();
      hold.accept(true);
    });
    slider.setOnMouseReleased(e -> hold.accept(false));
    DoubleConsumer changed =
        v -> {
          // keys move it step by step: each is an edit of its own
          Object of = slider.isPressed() || slider.isValueChanging() ? state.gesture : new Object();
          edit.to(of, v);
        };
    slider.valueProperty().addListener((o, was, is) -> changed.accept(is.doubleValue()));
    return slider;
  }
}
