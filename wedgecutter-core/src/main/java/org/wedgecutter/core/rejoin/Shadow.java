package org.wedgecutter.core.rejoin;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Join;

/**
 * Density and tint of a shadow, as arithmetic on the pixels of the layer that brings it. What takes
 * no light away is left alone: {@code v' = n + k (v - n)} where {@code v < n}, with {@code k =
 * density (1 - tint)} of each channel, and {@code n} 1 for a ratio and 0 for a difference. A catch
 * has one alpha for all channels: it is multiplied by the {@code k} of the tint's luminance.
 */
final class Shadow {
  private final float[] factors;
  private final float neutral;
  private final boolean isAlpha;

  private Shadow(float[] factors, float neutral, boolean isAlpha) {
    this.factors = factors;
    this.neutral = neutral;
    this.isAlpha = isAlpha;
  }

  static Shadow of(Expression.Shadowed of) {
    double[] k = factors(of);
    return new Shadow(
        new float[] {(float) k[0], (float) k[1], (float) k[2], (float) k[3]},
        of.join() == Join.TIMES ? 1 : 0,
        of.join() == Join.CATCH);
  }

  /** Returns what is left of the shadow in red, green and blue, and in alpha. */
  static double[] factors(Expression.Shadowed of) {
    List<Double> v = of.correction().values();
    double density = v.getFirst();
    double[] out = new double[4];
    for (int c = 0; c < 3; c++) {
      out[c] = density * (1 - v.get(c + 1));
    }
    out[3] = Grade.luminance(out[0], out[1], out[2]);
    return out;
  }

  /**
   * Changes pixels in place.
   *
   * @param light four numbers for each pixel
   * @param scale of their rounding errors, or null
   */
  void apply(float[] light, float @Nullable [] scale) {
    for (int p = 0; p < light.length; p += 4) {
      if (isAlpha) {
        light[p + 3] = Math.min(1, factors[3] * light[p + 3]);
        if (scale != null) {
          scale[p + 3] *= factors[3];
        }
        continue;
      }
      for (int c = 0; c < 3; c++) {
        int i = p + c;
        if (light[i] < neutral) {
          float next = neutral + factors[c] * (light[i] - neutral);
          // a ratio of more than all light is none
          light[i] = neutral > 0 ? Math.max(0, next) : next;
          if (scale != null) {
            scale[i] = factors[c] * (scale[i] + neutral) + neutral;
          }
        }
      }
    }
  }
}
