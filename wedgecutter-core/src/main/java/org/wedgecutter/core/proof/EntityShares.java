package org.wedgecutter.core.proof;

import java.util.function.IntBinaryOperator;
import org.wedgecutter.core.image.Picture;

/** Each entity's share of a residual, over the pixels where it is dominant; band by band. */
public final class EntityShares {
  private final double[] sums;
  private double total;

  /**
   * @param entities how many there are
   */
  public EntityShares(int entities) {
    sums = new double[entities];
  }

  /**
   * Adds a band.
   *
   * @param dominant the dominant entity of a pixel (x, y) of the band, or -1
   */
  public EntityShares add(Picture rejoined, Picture uncut, IntBinaryOperator dominant) {
    float[] r = rejoined.rgba();
    float[] u = uncut.rgba();
    int width = uncut.width();
    for (int p = 0; p < u.length / 4; p++) {
      double size = 0;
      for (int i = 4 * p; i < 4 * p + 3; i++) {
        size += Math.abs(r[i] - u[i]);
      }
      if (size > 0) {
        int entity = dominant.applyAsInt(p % width, p / width);
        total += size;
        if (entity >= 0) {
          sums[entity] += size;
        }
      }
    }
    return this;
  }

  /** Returns the shares by entity, 0 to 1. */
  public double[] shares() {
    double[] out = sums.clone();
    for (int e = 0; e < out.length; e++) {
      out[e] /= Math.max(total, 1e-30);
    }
    return out;
  }
}
