package org.wedgecutter.core.trace.world;

import org.wedgecutter.core.image.TextureImage;

/**
 * A mip pyramid of an image, with linear interpolation within and between its levels. The image
 * itself stays in its bytes and is decoded when read; the copies, a third as many numbers, are
 * linear: red, green, blue, alpha of each pixel, each level after the one before.
 */
public final class MipTexture {
  private static final float[] SRGB_TO_LINEAR = srgbTable();

  private final int levels;
  private final int[] widths;
  private final int[] heights;
  private final int[] starts;
  private final byte[] bytes;
  private final float[] rgba;

  /** What a byte of colour stands for, and one of alpha. */
  private final float[] color;

  private static final float[] PLAIN = plainTable();

  /**
   * @param image the image
   * @param srgb whether its numbers are sRGB-coded colours, or plain numbers
   */
  public MipTexture(TextureImage image, boolean srgb) {
    int w = image.width();
    int h = image.height();
    levels = 32 - Integer.numberOfLeadingZeros(Math.max(w, h));
    widths = new int[levels];
    heights = new int[levels];
    starts = new int[levels];
    int size = 0;
    for (int l = 0; l < levels; l++) {
      widths[l] = Math.max(1, w >> l);
      heights[l] = Math.max(1, h >> l);
      starts[l] = size;
      size += l == 0 ? 0 : 4 * widths[l] * heights[l];
    }
    rgba = new float[size];
    bytes = image.rgba();
    color = srgb ? SRGB_TO_LINEAR : PLAIN;
    for (int l = 1; l < levels; l++) {
      halve(l);
    }
  }

  private void halve(int l) {
    int fromWidth = widths[l - 1];
    int fromHeight = heights[l - 1];
    for (int y = 0; y < heights[l]; y++) {
      int upper = 4 * fromWidth * Math.min(2 * y, fromHeight - 1);
      int lower = 4 * fromWidth * Math.min(2 * y + 1, fromHeight - 1);
      int to = starts[l] + 4 * y * widths[l];
      if (l == 1) {
        bytes(upper, lower, fromWidth, to, widths[l]);
      } else {
        int start = starts[l - 1];
        numbers(start + upper, start + lower, fromWidth, to, widths[l]);
      }
    }
  }

  // separate loops, so that compiled code of one is not discarded when the other runs

  private void bytes(int upper, int lower, int fromWidth, int to, int width) {
    for (int x = 0; x < width; x++) {
      int left = 4 * Math.min(2 * x, fromWidth - 1);
      int right = 4 * Math.min(2 * x + 1, fromWidth - 1);
      for (int k = 0; k < 4; k++) {
        float[] value = k < 3 ? color : PLAIN;
        rgba[to + 4 * x + k] =
            0.25f
                * (value[bytes[upper + left + k] & 0xff]
                    + value[bytes[upper + right + k] & 0xff]
                    + value[bytes[lower + left + k] & 0xff]
                    + value[bytes[lower + right + k] & 0xff]);
      }
    }
  }

  private void numbers(int upper, int lower, int fromWidth, int to, int width) {
    for (int x = 0; x < width; x++) {
      int left = 4 * Math.min(2 * x, fromWidth - 1);
      int right = 4 * Math.min(2 * x + 1, fromWidth - 1);
      for (int k = 0; k < 4; k++) {
        rgba[to + 4 * x + k] =
            0.25f
                * (rgba[upper + left + k]
                    + rgba[upper + right + k]
                    + rgba[lower + left + k]
                    + rgba[lower + right + k]);
      }
    }
  }

  /**
   * Reads the image.
   *
   * @param footprint width of the area to average, in units of u or v
   * @param out four numbers: red, green, blue, alpha
   */
  public void sample(
      float u, float v, float footprint, boolean repeatU, boolean repeatV, float[] out) {
    float level =
        (float) (Math.log(Math.max(1e-8f, footprint) * Math.max(widths[0], heights[0])) / LN2);
    level = Math.max(0, Math.min(levels - 1, level));
    int low = (int) level;
    float part = level - low;
    out[0] = out[1] = out[2] = out[3] = 0;
    add(low, u, v, repeatU, repeatV, 1 - part, out);
    if (part > 0) {
      add(low + 1, u, v, repeatU, repeatV, part, out);
    }
  }

  private static final double LN2 = Math.log(2);

  private void add(
      int l, float u, float v, boolean repeatU, boolean repeatV, float weight, float[] out) {
    int w = widths[l];
    int h = heights[l];
    float x = wrap(u, repeatU) * w - 0.5f;
    float y = wrap(v, repeatV) * h - 0.5f;
    int x0 = (int) Math.floor(x);
    int y0 = (int) Math.floor(y);
    float fx = x - x0;
    float fy = y - y0;
    int xa = pixel(x0, w, repeatU);
    int xb = pixel(x0 + 1, w, repeatU);
    int ya = pixel(y0, h, repeatV);
    int yb = pixel(y0 + 1, h, repeatV);
    int a = starts[l] + 4 * (ya * w + xa);
    int b = starts[l] + 4 * (ya * w + xb);
    int c = starts[l] + 4 * (yb * w + xa);
    int d = starts[l] + 4 * (yb * w + xb);
    float wd = weight * fx * fy;
    float wc = weight * fy - wd;
    float wb = weight * fx - wd;
    float wa = weight - wb - wc - wd;
    if (l == 0) {
      byte[] p = bytes;
      for (int k = 0; k < 4; k++) {
        float[] t = k < 3 ? color : PLAIN;
        out[k] +=
            wa * t[p[a + k] & 0xff]
                + wb * t[p[b + k] & 0xff]
                + wc * t[p[c + k] & 0xff]
                + wd * t[p[d + k] & 0xff];
      }
      return;
    }
    float[] p = rgba;
    for (int k = 0; k < 4; k++) {
      out[k] += wa * p[a + k] + wb * p[b + k] + wc * p[c + k] + wd * p[d + k];
    }
  }

  private static float wrap(float u, boolean repeat) {
    float wrapped = repeat ? u - (float) Math.floor(u) : Math.max(0, Math.min(1, u));
    return Float.isFinite(wrapped) ? wrapped : 0;
  }

  private static int pixel(int x, int size, boolean repeat) {
    if (repeat) {
      return x < 0 ? x + size : x >= size ? x - size : x;
    }
    return Math.max(0, Math.min(size - 1, x));
  }

  private static float[] plainTable() {
    float[] table = new float[256];
    for (int i = 0; i < 256; i++) {
      table[i] = i / 255f;
    }
    return table;
  }

  private static float[] srgbTable() {
    float[] table = new float[256];
    for (int i = 0; i < 256; i++) {
      double c = i / 255.0;
      table[i] = (float) (c <= 0.04045 ? c / 12.92 : Math.pow((c + 0.055) / 1.055, 2.4));
    }
    return table;
  }
}
