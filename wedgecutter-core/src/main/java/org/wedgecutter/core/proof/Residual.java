package org.wedgecutter.core.proof;

import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.rejoin.Rejoiner;

/**
 * How far a rejoined picture is from the uncut one, over all pixels and the four channels.
 *
 * @param difference rejoined - uncut, per pixel
 * @param max largest absolute difference of finite numbers
 * @param maxRelative largest difference relative to the light, as in {@link Tolerance}, of what is
 *     beyond the tolerance; of all numbers where nothing is
 * @param rms root of the mean square of finite differences
 * @param beyond share of pixels with a channel beyond the tolerance, 0 to 1
 * @param invalid how many numbers are not finite on either side; they are beyond any tolerance
 * @param worstX column of the largest difference; of the first invalid number where there is one
 * @param worstY line of the same
 * @param tolerance what was allowed
 */
public record Residual(
    Picture difference,
    double max,
    double maxRelative,
    double rms,
    double beyond,
    int invalid,
    int worstX,
    int worstY,
    Tolerance tolerance) {

  /** Compares a rejoined picture with an uncut frame of the same size. */
  public static Residual of(Rejoiner.Rejoined result, Tolerance tolerance) {
    Picture rejoined = result.picture();
    Picture uncut = tolerance.uncut();
    if (!rejoined.sameSize(uncut)) {
      throw new IllegalArgumentException("pictures of different sizes");
    }
    int pixels = uncut.width() * uncut.height();
    float[] d = new float[4 * pixels];
    double max = 0;
    double relativeBeyond = 0;
    double relativeWithin = 0;
    double squares = 0;
    int beyond = 0;
    int invalid = 0;
    int worst = 0;
    for (int p = 0; p < pixels; p++) {
      boolean out = false;
      for (int i = 4 * p; i < 4 * p + 4; i++) {
        float u = uncut.rgba()[i];
        float scale = result.scale().rgba()[i];
        d[i] = rejoined.rgba()[i] - u;
        boolean far = !tolerance.allows(i, rejoined.rgba()[i], scale);
        out |= far;
        if (!Float.isFinite(d[i]) || !Float.isFinite(scale)) {
          worst = invalid++ == 0 ? p : worst;
          continue;
        }
        double size = Math.abs(d[i]);
        squares += size * size;
        double light = Math.max(Math.abs(u), scale);
        double relative = size == 0 ? 0 : size / Math.max(light, Float.MIN_NORMAL);
        if (far) {
          relativeBeyond = Math.max(relativeBeyond, relative);
        } else {
          relativeWithin = Math.max(relativeWithin, relative);
        }
        if (size > max) {
          max = size;
          worst = invalid == 0 ? p : worst;
        }
      }
      beyond += out ? 1 : 0;
    }
    return new Residual(
        new Picture(uncut.width(), uncut.height(), d),
        max,
        beyond > 0 ? relativeBeyond : relativeWithin,
        Math.sqrt(squares / (4.0 * pixels)),
        (double) beyond / pixels,
        invalid,
        worst % uncut.width(),
        worst / uncut.width(),
        tolerance);
  }

  /** Whether no pixel is beyond the tolerance. */
  public boolean exact() {
    return beyond == 0;
  }
}
