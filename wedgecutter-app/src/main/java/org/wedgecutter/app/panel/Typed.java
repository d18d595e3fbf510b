package org.wedgecutter.app.panel;

import java.math.BigDecimal;

/** Numbers as users type them, with a decimal point or a decimal comma. */
public final class Typed {
  /** What is nearer to 0 is written with an exponent. */
  private static final double LEAST = 1e-6;

  private Typed() {}

  /** Returns a number as it is typed. */
  public static String text(double x) {
    if (x == Math.rint(x) && Math.abs(x) < 1e15) {
      return Long.toString(Math.round(x));
    }
    String text = Double.toString(x);
    return Math.abs(x) >= LEAST && Math.abs(x) < 1e15 ? new BigDecimal(text).toPlainString() : text;
  }

  /**
   * Returns the number that a text says.
   *
   * @throws IllegalArgumentException if it is none, or beyond bounds
   */
  public static double number(String text, double least, double most) {
    String expected =
        "'%s': expected a number from %s to %s".formatted(text, text(least), text(most));
    try {
      // with three digits after it, a comma may as well divide thousands: that is not guessed
      boolean isUnclear = text.strip().matches(".*,\\d{3}");
      double x = Double.parseDouble(text.strip().replace(',', '.'));
      if (!isUnclear && x >= least && x <= most) {
        return x;
      }
    } catch (NumberFormatException e) {
      throw new IllegalArgumentException(expected, e);
    }
    throw new IllegalArgumentException(expected);
  }
}
