package org.wedgecutter.core.survey;

import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Times in words, the same in the window and in the commands. */
public final class Times {
  private static final Pattern WORDS =
      Pattern.compile("\\s*(\\d{1,9}(?:\\.\\d{1,9})?)\\s*(s|min|h)?\\s*");

  private Times() {}

  /**
   * Returns the seconds that a text like {@code 90 s}, {@code 40 min} or {@code 3.5 h} says; a
   * number alone is hours.
   *
   * @throws IllegalArgumentException if it says no time above 0
   */
  public static double parse(String text) {
    Matcher m = WORDS.matcher(text);
    double number = m.matches() ? Double.parseDouble(m.group(1)) : 0;
    if (number <= 0) {
      throw new IllegalArgumentException(
          "'%s': expected a time above 0, for example 40 min or 3.5 h".formatted(text));
    }
    String unit = m.group(2);
    return number * ("s".equals(unit) ? 1 : "min".equals(unit) ? 60 : 3600);
  }

  /** Returns a time in its natural unit, with two or three digits. */
  public static String words(double seconds) {
    double minutes = seconds / 60;
    return seconds < 90
        ? String.format(Locale.ROOT, "%.1f s", seconds)
        : minutes < 10
            ? String.format(Locale.ROOT, "%.1f min", minutes)
            : minutes < 90
                ? String.format(Locale.ROOT, "%.0f min", minutes)
                : String.format(Locale.ROOT, "%.1f h", minutes / 60);
  }
}
