package org.wedgecutter.cli;

/** Measures in words, the same in all commands. */
final class Words {
  private Words() {}

  /** Returns a time in its natural unit. */
  static String time(double seconds) {
    return seconds < 90
        ? "%.1f s".formatted(seconds)
        : seconds < 5400 ? "%.1f min".formatted(seconds / 60) : "%.1f h".formatted(seconds / 3600);
  }
}
