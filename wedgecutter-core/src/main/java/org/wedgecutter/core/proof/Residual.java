package org.wedgecutter.core.proof;

import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.rejoin.Rejoiner;

/**
 * How far a rejoined picture is from the uncut one, over all pixels and the four channels.
 *
 * @param difference rejoined - uncut, per pixel
 * @param max largest absolute difference
 * @param maxRelative largest difference relative to {@code light + 0.01}, with light as in {@link
 *     Tolerance}: dark pixels count as 0.01
 * @param rms root of the mean square
 * @param beyond share of pixels with a channel beyond the tolerance, 0 to 1
 * @param worstX column of the largest difference
 * @param worstY line of the largest difference
 * @param tolerance what was allowed
 */
public record Residual(
    Picture difference,
    double max,
    double maxRelative,
    double rms,
    double beyond,
    int worstX,
    int worstY,
    Tolerance tolerance) {
  private static final float DARK = 0.01f;

  /**
   * Compares two pictures of the same size. A number that is not finite on either side is
   * infinitely far.
   */
  public static Residual of(Rejoiner.Rejoined result, Picture uncut, Tolerance tolerance) {
    Picture rejoined = result.picture();
    if (!rejoined.sameSize(uncut)) {
      throw new IllegalArgumentException("pictures of different sizes");
    }
    int pixels = uncut.width() * uncut.height();
    float[] d = new float[4 * pixels];
    double max = 0;
    double maxRelative = 0;
    double squares = 0;
    int beyond = 0;
    int worst = 0;
    for (int p = 0; p < pixels; p++) {
      boolean out = false;
      for (int i = 4 * p; i < 4 * p + 4; i++) {
        float u = uncut.rgba()[i];
        d[i] = rejoined.rgba()[i] - u;
        double size = Float.isFinite(d[i]) ? Math.abs(d[i]) : Double.POSITIVE_INFINITY;
        squares += size * size;
        float light = Math.max(Math.abs(u), result.scale().rgba()[i]);
        out |= !(size <= tolerance.absolute() + tolerance.relative() * light);
        maxRelative = Math.max(maxRelative, size / (light + DARK));
        if (size > max) {
          max = size;
          worst = p;
        }
      }
      beyond += out ? 1 : 0;
    }
    return new Residual(
        new Picture(uncut.width(), uncut.height(), d),
        max,
        maxRelative,
        Math.sqrt(squares / (4.0 * pixels)),
        (double) beyond / pixels,
        worst % uncut.width(),
        worst / uncut.width(),
        tolerance);
  }

  /** Whether no pixel is beyond the tolerance. */
  public boolean exact() {
    return beyond == 0;
  }
}
