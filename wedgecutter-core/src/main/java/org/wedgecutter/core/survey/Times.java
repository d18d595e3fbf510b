package org.wedgecutter.core.survey;

import java.util.Locale;

/** Times in words, the same in the window and in the commands. */
public final class Times {
  private Times() {}

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
