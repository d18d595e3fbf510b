package org.wedgecutter.core.proof;

import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.rejoin.Rejoiner;

/** The residual of a frame, gathered band by band: no band is kept. */
public final class ResidualSum {
  private double max;
  private double relativeBeyond;
  private double relativeWithin;
  private double squares;
  private double excess;
  private long pixels;
  private long beyond;
  private int invalid;
  private int worstX;
  private int worstY;
  private float absolute;
  private float relative;

  /**
   * Adds a band.
   *
   * @param tolerance of the band, which holds its uncut picture
   * @param firstLine of the band, in the frame
   */
  public ResidualSum add(Rejoiner.Rejoined band, Tolerance tolerance, int firstLine) {
    float[] rejoined = band.picture().rgba();
    float[] scales = band.scale().rgba();
    Picture uncut = tolerance.uncut();
    if (!band.picture().sameSize(uncut)) {
      throw new IllegalArgumentException("pictures of different sizes");
    }
    absolute = tolerance.absolute();
    relative = tolerance.relative();
    int count = uncut.width() * uncut.height();
    for (int p = 0; p < count; p++) {
      boolean out = false;
      boolean worst = false;
      for (int i = 4 * p; i < 4 * p + 4; i++) {
        float u = uncut.rgba()[i];
        float scale = scales[i];
        float d = rejoined[i] - u;
        double over = tolerance.excess(i, rejoined[i], scale);
        excess += over;
        out |= over > 0;
        if (!Float.isFinite(d) || !Float.isFinite(scale)) {
          worst |= invalid++ == 0;
          continue;
        }
        double size = Math.abs(d);
        squares += size * size;
        double light = Math.max(Math.abs(u), scale);
        double share = size == 0 ? 0 : size / Math.max(light, Float.MIN_NORMAL);
        if (over > 0) {
          relativeBeyond = Math.max(relativeBeyond, share);
        } else {
          relativeWithin = Math.max(relativeWithin, share);
        }
        if (size > max) {
          max = size;
          worst |= invalid == 0;
        }
      }
      if (worst) {
        worstX = p % uncut.width();
        worstY = firstLine + p / uncut.width();
      }
      beyond += out ? 1 : 0;
    }
    pixels += count;
    return this;
  }

  /** Returns the residual of what was added. */
  public Residual residual() {
    double all = Math.max(1, pixels);
    return new Residual(
        max,
        beyond > 0 ? relativeBeyond : relativeWithin,
        Math.sqrt(squares / (4 * all)),
        beyond / all,
        excess,
        invalid,
        worstX,
        worstY,
        absolute,
        relative);
  }
}
