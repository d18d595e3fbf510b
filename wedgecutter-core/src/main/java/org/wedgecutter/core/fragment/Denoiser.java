package org.wedgecutter.core.fragment;

import java.util.List;
import java.util.stream.IntStream;

/**
 * Filters noise so that layers still add up exactly.
 *
 * <p>Every pixel becomes a mean of its neighbours, weighted by how alike they are in the uncut
 * frame: base colour, normal, depth (against its slope), and the dominant entity with its coverage.
 * The weights do not depend on the light, so the filter is linear: layers filtered with the same
 * weights add up to the filtered uncut frame exactly. Pixels of different entities have no weight
 * for one another. What it cannot tell from noise is detail of the light itself: edges of shadows
 * are softened over the filter's width.
 *
 * <p>Source of the form of the weights: C. Tomasi and R. Manduchi, "Bilateral Filtering for Gray
 * and Color Images", 1998; E. Eisemann and F. Durand, "Flash Photography Enhancement via Intrinsic
 * Relighting", 2004 (weights from another picture).
 */
public final class Denoiser {
  /** Pixels to each side. */
  static final int RADIUS = 5;

  private static final int DATA = FragmentSums.DATA;
  private static final int SIDE = 2 * RADIUS + 1;

  private final int width;
  private final int height;

  /** Weight of each neighbour of each pixel; they add up to 1. */
  private final float[] weights;

  /**
   * @param data of the uncut frame, as {@link FragmentSums#data} has them
   * @param dominant the dominant entity of each pixel
   * @param cover its coverage, 0 to 1
   */
  public Denoiser(int width, int height, float[] data, int[] dominant, float[] cover) {
    this.width = width;
    this.height = height;
    weights = new float[SIDE * SIDE * width * height];
    IntStream.range(0, height)
        .parallel()
        .forEach(y -> {
          for (int x = 0; x < width; x++) {
            weigh(x, y, data, dominant, cover);
          }
        });
  }

  /**
   * Returns a filter for pictures of another size than the uncut frame's: each of their pixels is
   * judged by the nearest of its.
   *
   * @param data of the uncut frame, {@code fromWidth} by {@code fromHeight}
   */
  static Denoiser of(
      int fromWidth,
      int fromHeight,
      float[] data,
      int[] dominant,
      float[] cover,
      int width,
      int height) {
    if (width == fromWidth && height == fromHeight) {
      return new Denoiser(width, height, data, dominant, cover);
    }
    float[] nextData = new float[DATA * width * height];
    int[] nextForemost = new int[width * height];
    float[] nextCover = new float[width * height];
    for (int p = 0; p < nextForemost.length; p++) {
      int x = p % width * fromWidth / width;
      int y = p / width * fromHeight / height;
      int q = y * fromWidth + x;
      System.arraycopy(data, DATA * q, nextData, DATA * p, DATA);
      nextForemost[p] = dominant[q];
      nextCover[p] = cover[q];
    }
    return new Denoiser(width, height, nextData, nextForemost, nextCover);
  }

  /** Whether it fits pictures of a size. */
  boolean is(int ofWidth, int ofHeight) {
    return width == ofWidth && height == ofHeight;
  }

  private void weigh(int x, int y, float[] data, int[] dominant, float[] cover) {
    int p = y * width + x;
    int at = SIDE * SIDE * p;
    float slope = slope(x, y, data, dominant);
    double sum = 0;
    for (int k = 0; k < SIDE * SIDE; k++) {
      int dx = k % SIDE - RADIUS;
      int dy = k / SIDE - RADIUS;
      int u = x + dx;
      int v = y + dy;
      if (u < 0 || v < 0 || u >= width || v >= height) {
        continue;
      }
      int q = v * width + u;
      if (dominant[q] != dominant[p]) {
        continue;
      }
      double far = (dx * dx + dy * dy) / (2 * 0.36 * RADIUS * RADIUS);
      float c = cover[p] - cover[q];
      double unlike = far + c * c / (2 * 0.05 * 0.05);
      for (int i = 1; i < 4; i++) {
        float d = data[DATA * p + i] - data[DATA * q + i];
        unlike += d * d / (2 * 0.1 * 0.1);
      }
      for (int i = 13; i < 16; i++) {
        float d = data[DATA * p + i] - data[DATA * q + i];
        unlike += d * d / (2 * 0.04 * 0.04);
      }
      float z = data[DATA * p];
      if (Float.isFinite(z) && Float.isFinite(data[DATA * q])) {
        double d = (z - data[DATA * q]) / (slope * (Math.abs(dx) + Math.abs(dy)) + 1e-3 * z);
        unlike += 0.5 * d * d;
      }
      float w = (float) Math.exp(-unlike);
      weights[at + k] = w;
      sum += w;
    }
    for (int k = 0; k < SIDE * SIDE; k++) {
      weights[at + k] /= (float) sum;
    }
  }

  /** Slope of depth: its change from a pixel to the next on the same entity. */
  private float slope(int x, int y, float[] data, int[] dominant) {
    int p = y * width + x;
    float most = 0;
    for (int k = 0; k < 4; k++) {
      int u = x + (k == 0 ? 1 : k == 1 ? -1 : 0);
      int v = y + (k == 2 ? 1 : k == 3 ? -1 : 0);
      if (u >= 0 && v >= 0 && u < width && v < height) {
        int q = v * width + u;
        float d = Math.abs(data[DATA * p] - data[DATA * q]);
        if (dominant[q] == dominant[p] && Float.isFinite(d)) {
          most = Math.max(most, d);
        }
      }
    }
    return most;
  }

  /**
   * Filters numbers in place.
   *
   * @param values {@code stride} numbers per pixel, line by line
   * @param channels which of them are filtered
   * @param amount share of the filtered picture, 0 to 1
   */
  public void filter(float[] values, int stride, List<Integer> channels, double amount) {
    float[] before = values.clone();
    float share = (float) amount;
    IntStream.range(0, height)
        .parallel()
        .forEach(y -> {
          for (int x = 0; x < width; x++) {
            int p = y * width + x;
            for (int c : channels) {
              float mean = mean(before, stride, c, x, y);
              float own = before[stride * p + c];
              values[stride * p + c] = own + share * (mean - own);
            }
          }
        });
  }

  private float mean(float[] values, int stride, int c, int x, int y) {
    int at = SIDE * SIDE * (y * width + x);
    float sum = 0;
    for (int dy = -RADIUS; dy <= RADIUS; dy++) {
      int v = y + dy;
      if (v < 0 || v >= height) {
        continue;
      }
      int line = at + (dy + RADIUS) * SIDE + RADIUS;
      for (int dx = Math.max(-RADIUS, -x); dx <= Math.min(RADIUS, width - 1 - x); dx++) {
        sum += weights[line + dx] * values[stride * (v * width + x + dx) + c];
      }
    }
    return sum;
  }
}
