package org.wedgecutter.core.proof;

import org.wedgecutter.core.image.Picture;

/**
 * How bright a frame is, gathered from its bands in any order: of each pixel the largest colour
 * counts. Sizes are sorted into bins whose edges are 1 part in 2048 apart, so what this takes does
 * not grow with the frame.
 */
public final class FrameLight {
  /** Bits of a float that are not told apart: its last ones. */
  private static final int DROPPED = 12;

  private final int[] pixels = new int[(Float.floatToIntBits(Float.MAX_VALUE) >>> DROPPED) + 1];
  private long count;
  private float most;

  /** Adds the pixels of a frame, or of a band of it; what is not finite counts as black. */
  public FrameLight add(Picture band) {
    float[] c = band.rgba();
    for (int p = 0; p < c.length; p += 4) {
      float own = 0;
      for (int i = p; i < p + 3; i++) {
        float size = Math.abs(c[i]);
        own = Float.isFinite(size) ? Math.max(own, size) : own;
      }
      pixels[Float.floatToIntBits(own) >>> DROPPED]++;
      most = Math.max(most, own);
      count++;
    }
    return this;
  }

  /** Returns the light of the brightest pixel. */
  float most() {
    return most;
  }

  /**
   * Returns the light that a share of the pixels do not exceed, at most 1 part in 2048 less.
   *
   * @param share 0 to 1
   */
  float percentile(double share) {
    long rank = (long) Math.min(count - 1, Math.floor(share * count));
    long below = 0;
    for (int bin = 0; bin < pixels.length; bin++) {
      below += pixels[bin];
      if (below > rank) {
        return Float.intBitsToFloat(bin << DROPPED);
      }
    }
    return 0;
  }
}
