package org.wedgecutter.core.fragment;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.resolve.EntitySet;

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
 * <p>A pixel looks {@link #MARGIN} pixels to each side, so a part of a picture that was traced with
 * that margin is filtered to the very bits of the whole. Weights of small pictures are kept; of
 * others they are found line by line each time, so that memory does not grow with 121 numbers per
 * pixel.
 *
 * <p>Source of the form of the weights: C. Tomasi and R. Manduchi, "Bilateral Filtering for Gray
 * and Color Images", 1998; E. Eisemann and F. Durand, "Flash Photography Enhancement via Intrinsic
 * Relighting", 2004 (weights from another picture).
 */
public final class Denoiser {
  /** Pixels to each side. */
  static final int RADIUS = 5;

  /** Pixels to each side that the result of a pixel depends on: neighbours, and their slopes. */
  public static final int MARGIN = RADIUS + 1;

  /** Most pixels of which weights are kept. */
  private static final int KEPT = 1 << 19;

  private static final int DATA = FragmentSums.DATA;
  private static final int SIDE = 2 * RADIUS + 1;
  private static final int AREA = SIDE * SIDE;

  private final int width;
  private final int height;

  private final float[] data;
  private final int[] dominant;
  private final float[] cover;

  /** Weight of each neighbour of each pixel, which add up to 1; null where they are not kept. */
  private final float @Nullable [] weights;

  /**
   * @param data of the uncut frame, as {@link FragmentSums#data} has them; not copied
   * @param dominant the dominant entity of each pixel
   * @param cover its coverage, 0 to 1
   */
  public Denoiser(int width, int height, float[] data, int[] dominant, float[] cover) {
    this(width, height, data, dominant, cover, KEPT);
  }

  Denoiser(int width, int height, float[] data, int[] dominant, float[] cover, int kept) {
    this.width = width;
    this.height = height;
    this.data = data;
    this.dominant = dominant;
    this.cover = cover;
    if ((long) width * height > kept) {
      weights = null;
      return;
    }
    float[] all = new float[AREA * width * height];
    IntStream.range(0, height)
        .parallel()
        .forEach(y -> {
          for (int x = 0; x < width; x++) {
            weigh(x, y, all, AREA * (y * width + x));
          }
        });
    weights = all;
  }

  /**
   * Returns a filter for pictures of another size than the uncut frame's: each of their pixels is
   * judged by the nearest of its, in the whole frames, whatever part of them is there.
   *
   * @param uncut the uncut frame's sums
   * @param view of the uncut frame in them
   * @param entities all
   * @param frameWidth width of the other pictures' whole frame
   * @param frameHeight its height
   * @param part which part of it there is
   */
  static Denoiser of(
      FragmentSums uncut,
      int view,
      EntitySet entities,
      int frameWidth,
      int frameHeight,
      Region part) {
    float[] data = uncut.data(view, entities);
    int[] dominant = uncut.dominant(view);
    float[] cover = uncut.foremostCover(view);
    Region from = uncut.region();
    int width = part.width();
    int height = part.height();
    if (frameWidth == uncut.frameWidth()
        && frameHeight == uncut.frameHeight()
        && part.equals(from)) {
      return new Denoiser(width, height, data, dominant, cover);
    }
    float[] nextData = new float[DATA * width * height];
    int[] nextDominant = new int[width * height];
    float[] nextCover = new float[width * height];
    for (int p = 0; p < nextDominant.length; p++) {
      int x = nearest(part.x() + p % width, frameWidth, uncut.frameWidth()) - from.x();
      int y = nearest(part.y() + p / width, frameHeight, uncut.frameHeight()) - from.y();
      int q =
          Math.clamp(y, 0, from.height() - 1) * from.width() + Math.clamp(x, 0, from.width() - 1);
      System.arraycopy(data, DATA * q, nextData, DATA * p, DATA);
      nextDominant[p] = dominant[q];
      nextCover[p] = cover[q];
    }
    return new Denoiser(width, height, nextData, nextDominant, nextCover);
  }

  /** The pixel of a frame of another size at the middle of a pixel. */
  static int nearest(int pixel, int of, int in) {
    return (int) ((2L * pixel + 1) * in / (2L * of));
  }

  /** Whether it fits pictures of a size. */
  boolean is(int ofWidth, int ofHeight) {
    return width == ofWidth && height == ofHeight;
  }

  /** Metres that are nothing, beside which depth 0 is judged. */
  private static final double LEAST = 1e-9;

  /** Writes the weights of a pixel's neighbours. */
  private void weigh(int x, int y, float[] weights, int at) {
    int p = y * width + x;
    Arrays.fill(weights, at, at + AREA, 0);
    float slope = slope(x, y);
    double sum = 0;
    for (int k = 0; k < AREA; k++) {
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
        double d =
            (z - data[DATA * q]) / (slope * (Math.abs(dx) + Math.abs(dy)) + 1e-3 * z + LEAST);
        unlike += 0.5 * d * d;
      }
      float w = (float) Math.exp(-unlike);
      weights[at + k] = w;
      sum += w;
    }
    for (int k = 0; k < AREA; k++) {
      weights[at + k] /= (float) sum;
    }
  }

  /** Slope of depth: its change from a pixel to the next on the same entity. */
  private float slope(int x, int y) {
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
          float[] kept = weights;
          float[] weighed = kept == null ? new float[AREA] : kept;
          for (int x = 0; x < width; x++) {
            int p = y * width + x;
            int at = kept == null ? 0 : AREA * p;
            if (kept == null) {
              weigh(x, y, weighed, 0);
            }
            for (int c : channels) {
              float mean = mean(weighed, at, before, stride, c, x, y);
              float own = before[stride * p + c];
              values[stride * p + c] = own + share * (mean - own);
            }
          }
        });
  }

  private float mean(float[] weights, int at, float[] values, int stride, int c, int x, int y) {
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
