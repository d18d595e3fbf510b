package org.wedgecutter.core.plan;

import java.util.Locale;

/** The form in which a catcher layer is delivered. */
public enum CatcherOutput {
  /** With minus without, signed; joined by plus. */
  DIFFERENCE,
  /** Diffuse light with by without, per colour; joined by times. */
  RATIO,
  /** One premultiplied picture for any background; joined by catch. */
  CATCH;

  /** Returns the word in plans. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** Finds an output by its word. */
  public static CatcherOutput of(String word) {
    return valueOf(word.toUpperCase(Locale.ROOT));
  }
}
