package org.wedgecutter.core.scene;

/**
 * The time that a scene covers.
 *
 * @param first seconds at which it begins; frame 1 is at second 0
 * @param last seconds at which it ends
 * @param framesPerSecond the rate that it was made for
 */
public record TimeRange(float first, float last, float framesPerSecond) {
  private static final float USUAL = 24;

  /** From second 0, at the usual rate. */
  public static TimeRange until(float last) {
    return new TimeRange(0, last, USUAL);
  }

  /** Returns its frames, as a plan writes them: {@code 1-48}. */
  public String frames() {
    int from = Math.max(0, Math.round(first * framesPerSecond) + 1);
    int to = Math.max(from, Math.round(last * framesPerSecond) + 1);
    return from == to ? String.valueOf(from) : from + "-" + to;
  }
}
