package org.wedgecutter.core.rejoin;

import java.util.Arrays;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.MatteDef;

/**
 * Arithmetic of bands, beside the joins of {@link Rejoiner} and the corrections of {@link Grade}.
 */
final class BandMath {
  private BandMath() {}

  /** Takes the front where it is nearer, by the depths of both. */
  static void nearer(Band back, Band front, float[] behind, float[] ahead, float opacity) {
    float[] r = back.light();
    for (int p = 0; p < behind.length; p++) {
      // where neither has a depth there is only light, as of a haze, which adds up
      boolean none = Float.isInfinite(behind[p]) && Float.isInfinite(ahead[p]);
      if (!none && !(ahead[p] < behind[p])) {
        continue;
      }
      for (int i = 4 * p; i < 4 * p + 4; i++) {
        float c = front.light()[front.at() + i];
        float joined = none ? r[i] + c : c;
        r[i] += opacity * (joined - r[i]);
        float[] scale = back.scale();
        if (scale != null && front.scale() != null) {
          // what is not taken leaves no error
          float left = none ? 1 : 1 - opacity;
          scale[i] = left * scale[i] + opacity * front.scale()[i];
        }
      }
    }
  }

  /**
   * Lays fronts over what is behind them.
   *
   * @param sum light and alpha of the fronts, of the whole picture
   * @param factors how much of what is behind is left, for each pixel of the whole picture
   * @param at where the band begins in {@code sum}
   */
  static void inFront(Band back, float[] sum, float[] factors, int at) {
    float[] r = back.light();
    for (int p = 0; p < back.count(); p += 4) {
      int q = at + p;
      float through = factors[q >> 2];
      r[p] = sum[q] + through * r[p];
      r[p + 1] = sum[q + 1] + through * r[p + 1];
      r[p + 2] = sum[q + 2] + through * r[p + 2];
      r[p + 3] = sum[q + 3] + through * r[p + 3];
    }
  }

  /** Makes one matte of two: the least, the largest, or the first without the second. */
  static void combine(Band to, Band with, MatteDef.Source how) {
    float[] a = to.light();
    float[] b = with.light();
    for (int i = 0; i < to.count(); i++) {
      float other = b[with.at() + i];
      a[i] =
          switch (how) {
            case OR -> Math.max(a[i], other);
            case MINUS -> Math.min(a[i], 1 - other);
            default -> Math.min(a[i], other);
          };
    }
  }

  static void invert(float[] matte) {
    for (int i = 0; i < matte.length; i++) {
      matte[i] = 1 - matte[i];
    }
  }

  /** Adds colours, or takes them away; either may have been rounded. */
  static void add(Band to, Band from, float factor) {
    float[] scale = to.scale();
    float[] own = from.scale();
    for (int i = 0; i < to.count(); i++) {
      if ((i & 3) != 3) {
        to.light()[i] += factor * from.light()[from.at() + i];
        if (scale != null && own != null) {
          scale[i] += own[i];
        }
      }
    }
  }

  static void mix(Band back, Band front, Band matte, float share) {
    float[] r = back.light();
    float[] scale = back.scale();
    float[] own = front.scale();
    for (int i = 0; i < back.count(); i++) {
      float m = share * matte.light()[matte.at() + i];
      r[i] += m * (front.light()[front.at() + i] - r[i]);
      if (scale != null && own != null) {
        scale[i] = (1 - m) * scale[i] + m * own[i];
      }
    }
  }

  static Band share(Band cover) {
    float[] c = cover.light();
    for (int p = 0; p < cover.count(); p += 4) {
      float m = c[p + 3] > 0 ? Math.max(0, Math.min(1, c[p] / c[p + 3])) : 0;
      c[p] = c[p + 1] = c[p + 2] = c[p + 3] = m;
    }
    return sure(cover);
  }

  static Band keyed(Band of, MatteDef.Range range) {
    float[] c = of.light();
    for (int p = 0; p < of.count(); p += 4) {
      float alpha = c[p + 3] > 0 ? c[p + 3] : 1;
      double luma = Picture.luma(c[p] / alpha, c[p + 1] / alpha, c[p + 2] / alpha);
      float m = (float) range.at(Double.isNaN(luma) ? range.from() : luma);
      c[p] = c[p + 1] = c[p + 2] = c[p + 3] = m;
    }
    return sure(of);
  }

  /** A matte counts as without an error of its own. */
  static Band sure(Band matte) {
    if (matte.scale() != null) {
      Arrays.fill(matte.scale(), 0);
    }
    return matte;
  }
}
