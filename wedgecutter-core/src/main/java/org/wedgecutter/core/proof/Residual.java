package org.wedgecutter.core.proof;

import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.rejoin.Rejoiner;

/**
 * How far a rejoined picture is from the uncut one, over all pixels and the four channels.
 *
 * @param max largest absolute difference of finite numbers
 * @param maxRelative largest difference relative to the light, as in {@link Tolerance}, of what is
 *     beyond the tolerance; of all numbers where nothing is
 * @param rms root of the mean square of finite differences
 * @param beyond share of pixels with a channel beyond the tolerance, 0 to 1
 * @param excess sum of what is beyond the tolerance, over pixels and channels
 * @param invalid how many numbers are not finite on either side; they are beyond any tolerance
 * @param worstX column of the largest difference; of the first invalid number where there is one
 * @param worstY line of the same
 * @param absolute what any colour was allowed to be off
 * @param relative the share of its light that a number was allowed to be off
 */
public record Residual(
    double max,
    double maxRelative,
    double rms,
    double beyond,
    double excess,
    int invalid,
    int worstX,
    int worstY,
    float absolute,
    float relative) {

  /** Compares a rejoined picture with an uncut frame of the same size. */
  public static Residual of(Rejoiner.Rejoined rejoined, Tolerance tolerance) {
    return new ResidualSum().add(rejoined, tolerance, 0).residual();
  }

  /** Returns rejoined minus uncut, per pixel. */
  public static Picture difference(Picture rejoined, Picture uncut) {
    Picture out = rejoined.copy();
    for (int i = 0; i < out.rgba().length; i++) {
      out.rgba()[i] -= uncut.rgba()[i];
    }
    return out;
  }

  /** Whether no pixel is beyond the tolerance. */
  public boolean exact() {
    return beyond == 0;
  }
}
