package org.wedgecutter.core.fragment;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.trace.Fragment;
import org.wedgecutter.core.trace.LightSplit;

/**
 * Fragments of one view in one tile by depth: per pixel and entity a few places, or of a medium a
 * few stretches, each with its light, its alpha and how much of the camera's samples came to it.
 *
 * <p>Fragments of an entity that lie closer together than {@link #NEAR} become one, at the mean of
 * their depths by alpha; where there would be more than {@link #MOST}, the two that are closest do.
 * A pixel takes its samples in order, so the places are the same for any number of threads.
 */
final class DeepSums {
  /** Most places of an entity in a pixel. */
  static final int MOST = 12;

  /** Share of the depth below which two places are one. */
  private static final float NEAR = 5e-4f;

  private static final int NONE = -1;

  private static final double MOST_TAKEN = 0.999;

  // numbers of a slot
  private static final int FRONT = 0;
  private static final int BACK = 1;
  private static final int ALPHA = 2;
  private static final int WEIGHT = 3;
  private static final int LIGHT = 4;
  private static final int COVER = 7;

  private final boolean[] kept;
  private final int numbers;
  private final int coverAt;
  private final int[] head;
  private int[] next = new int[0];
  private int[] entity = new int[0];
  private float[] values = new float[0];
  private int used;

  /** The fragment that is being added, as a slot's numbers. */
  private final float[] added;

  /**
   * @param split how the fragments' light is split
   * @param kept whose fragments are kept, by index
   */
  DeepSums(int pixels, LightSplit split, boolean[] kept) {
    this.kept = kept;
    coverAt = split.coverage() ? split.coverageAt() : NONE;
    numbers = split.coverage() ? COVER + 3 : COVER;
    added = new float[numbers];
    head = new int[pixels];
    Arrays.fill(head, NONE);
  }

  void add(int pixel, Fragment f) {
    if (kept[f.entity]) {
      for (int k = 0; k < f.slices; k++) {
        read(f, k);
        add(pixel, f.entity);
      }
    }
  }

  private void add(int pixel, int of) {
    // the slots of a pixel stand by entity, those of an entity by depth
    int before = NONE;
    int at = head[pixel];
    while (at != NONE && entity[at] < of) {
      before = at;
      at = next[at];
    }
    int count = 0;
    int ahead = before;
    float least = Float.POSITIVE_INFINITY;
    int closest = NONE;
    int previous = NONE;
    for (; at != NONE && entity[at] == of; at = next[at]) {
      int v = numbers * at;
      if (isNear(values[v + FRONT], added[FRONT]) && isNear(values[v + BACK], added[BACK])) {
        join(v, added, 0);
        return;
      }
      if (isBefore(v)) {
        ahead = at;
      }
      if (previous != NONE && gap(values, numbers * previous, v) < least) {
        least = gap(values, numbers * previous, v);
        closest = previous;
      }
      previous = at;
      count++;
    }
    if (count < MOST) {
      insert(pixel, ahead, slot(of));
      return;
    }
    int own = nearest(of, ahead, head[pixel]);
    if (gap(values, numbers * own, 0, added) <= least) {
      join(numbers * own, added, 0);
      return;
    }
    // the closest two become one, which leaves a slot for what is new
    int free = next[closest];
    join(numbers * closest, values, numbers * free);
    next[closest] = next[free];
    System.arraycopy(added, 0, values, numbers * free, numbers);
    insert(pixel, ahead == free ? closest : ahead, free);
  }

  /** Reads one part of a fragment: what comes to it is what those before it leave. */
  private void read(Fragment f, int slice) {
    float[] t = f.throughput;
    float[] o = f.opacity;
    float before = Fragment.before(slice, f.slices);
    float part = Fragment.before(slice + 1, f.slices) - before;
    float alpha = (t[0] * o[0] + t[1] * o[1] + t[2] * o[2]) / 3;
    added[FRONT] = f.slices == 1 && f.cuts[0] == f.cuts[1] ? f.front : f.cuts[slice];
    added[BACK] = f.slices == 1 && f.cuts[0] == f.cuts[1] ? f.back : f.cuts[slice + 1];
    added[ALPHA] = part * alpha;
    added[WEIGHT] = (t[0] + t[1] + t[2]) / 3 - before * alpha;
    for (int c = 0; c < 3; c++) {
      float sum = 0;
      for (int p = c; p < LightPass.NUMBERS; p += 3) {
        sum += f.light[p];
      }
      added[LIGHT + c] = part * t[c] * sum;
      if (coverAt != NONE) {
        added[COVER + c] = part * t[c] * f.light[coverAt + c];
      }
    }
  }

  private static boolean isNear(float a, float b) {
    return a == b || Math.abs(a - b) <= NEAR * Math.abs(a);
  }

  private boolean isBefore(int v) {
    return values[v + FRONT] < added[FRONT]
        || (values[v + FRONT] == added[FRONT] && values[v + BACK] <= added[BACK]);
  }

  private static float gap(float[] values, int a, int b) {
    return gap(values, a, b, values);
  }

  private static float gap(float[] of, int a, int b, float[] other) {
    float front =
        of[a + FRONT] == other[b + FRONT] ? 0 : Math.abs(of[a + FRONT] - other[b + FRONT]);
    float back = of[a + BACK] == other[b + BACK] ? 0 : Math.abs(of[a + BACK] - other[b + BACK]);
    return front + back;
  }

  /** The slot of an entity that is nearest to what is being added: the one ahead or the next. */
  private int nearest(int of, int ahead, int first) {
    int after = ahead == NONE ? first : next[ahead];
    boolean hasAhead = ahead != NONE && entity[ahead] == of;
    boolean hasAfter = after != NONE && entity[after] == of;
    if (!hasAhead || !hasAfter) {
      return hasAhead ? ahead : after;
    }
    return gap(values, numbers * ahead, 0, added) <= gap(values, numbers * after, 0, added)
        ? ahead
        : after;
  }

  private void join(int to, float[] from, int at) {
    float both = values[to + ALPHA] + from[at + ALPHA];
    if (both > 0) {
      float share = from[at + ALPHA] / both;
      for (int k = FRONT; k <= BACK; k++) {
        if (values[to + k] != from[at + k]) {
          values[to + k] += share * (from[at + k] - values[to + k]);
        }
      }
    }
    for (int k = ALPHA; k < numbers; k++) {
      values[to + k] += from[at + k];
    }
  }

  private int slot(int of) {
    if (used == next.length) {
      int size = Math.max(head.length / 4, used + used / 2) + 4;
      next = Arrays.copyOf(next, size);
      entity = Arrays.copyOf(entity, size);
      values = Arrays.copyOf(values, numbers * size);
    }
    entity[used] = of;
    System.arraycopy(added, 0, values, numbers * used, numbers);
    return used++;
  }

  private void insert(int pixel, int ahead, int slot) {
    if (ahead == NONE) {
      next[slot] = head[pixel];
      head[pixel] = slot;
    } else {
      next[slot] = next[ahead];
      next[ahead] = slot;
    }
  }

  long bytes() {
    return 4L * (head.length + next.length + entity.length + values.length);
  }

  /**
   * Returns a pixel's samples as {@link DeepPicture} lays them out: ascending, none over another.
   *
   * <p>What a sample adds to the flat pixel is divided by what those before it leave, so that
   * putting all over black gives the flat pixel.
   *
   * @param chosen whose samples
   * @param shows who shows the plate instead of its own light
   * @param plate the plate, four numbers a pixel, or null
   * @param plateAt where in it the pixel begins
   * @param samples number of camera samples of the pixel
   */
  float[] pixel(
      int pixel,
      boolean[] chosen,
      boolean[] shows,
      float @Nullable [] plate,
      int plateAt,
      int samples) {
    int count = 0;
    int places = 0;
    for (int at = head[pixel]; at != NONE; at = next[at]) {
      if (chosen[entity[at]]) {
        count++;
        places += isStretch(at) ? 2 : 1;
      }
    }
    if (count == 0) {
      return DeepPicture.NOTHING;
    }
    int[] slots = new int[count];
    float[] cuts = new float[places];
    count = 0;
    places = 0;
    for (int at = head[pixel]; at != NONE; at = next[at]) {
      if (chosen[entity[at]]) {
        slots[count++] = at;
        cuts[places++] = values[numbers * at + FRONT];
        if (isStretch(at)) {
          cuts[places++] = values[numbers * at + BACK];
        }
      }
    }
    Arrays.sort(cuts);
    Writer out = new Writer(2 * cuts.length, samples);
    double[] sum = new double[4];
    for (int k = 0; k < cuts.length; k++) {
      if (k > 0 && cuts[k] == cuts[k - 1]) {
        continue;
      }
      // what stands at a depth, then what fills the way to the next
      boolean any = false;
      Arrays.fill(sum, 0);
      for (int at : slots) {
        int v = numbers * at;
        if (!isStretch(at) && values[v + FRONT] == cuts[k]) {
          take(at, 1, shows, plate, plateAt, sum);
          any = true;
        } else if (isStretch(at) && values[v + BACK] == cuts[k] && isOpaque(v)) {
          take(at, 1 - MOST_TAKEN, shows, plate, plateAt, sum);
          any = true;
        }
      }
      if (any) {
        out.sample(cuts[k], cuts[k], sum);
      }
      float end = k + 1 < cuts.length ? next(cuts, k) : cuts[k];
      any = false;
      Arrays.fill(sum, 0);
      for (int at : slots) {
        int v = numbers * at;
        if (isStretch(at) && values[v + FRONT] <= cuts[k] && values[v + BACK] >= end) {
          take(at, share(v, end) - share(v, cuts[k]), shows, plate, plateAt, sum);
          any = true;
        }
      }
      if (any && end > cuts[k]) {
        out.sample(cuts[k], end, sum);
      }
    }
    return out.result();
  }

  private static float next(float[] cuts, int k) {
    int n = k + 1;
    while (n + 1 < cuts.length && cuts[n] == cuts[k]) {
      n++;
    }
    return cuts[n];
  }

  private boolean isStretch(int at) {
    return values[numbers * at + BACK] > values[numbers * at + FRONT];
  }

  /**
   * Whether a stretch lets nothing through. A stretch of alpha 1 would hide all from its very front
   * on, so it takes {@link #MOST_TAKEN}, and what stands at its back the rest.
   */
  private boolean isOpaque(int v) {
    return values[v + ALPHA] >= MOST_TAKEN * values[v + WEIGHT];
  }

  /**
   * The share of a stretch's alpha and light that lies in front of a depth: it fades as it goes.
   */
  private double share(int v, double depth) {
    double t = (depth - values[v + FRONT]) / (values[v + BACK] - values[v + FRONT]);
    if (isOpaque(v)) {
      return -Math.expm1(Math.max(0, Math.min(1, t)) * Math.log1p(-MOST_TAKEN));
    }
    double alpha = values[v + ALPHA] / Math.max(1e-30, values[v + WEIGHT]);
    if (t <= 0 || t >= 1 || alpha < 1e-4) {
      return Math.max(0, Math.min(1, t));
    }
    return -Math.expm1(t * Math.log1p(-alpha)) / alpha;
  }

  private void take(
      int at, double share, boolean[] shows, float @Nullable [] plate, int plateAt, double[] sum) {
    int v = numbers * at;
    for (int c = 0; c < 3; c++) {
      sum[c] +=
          share
              * (plate != null && shows[entity[at]]
                  ? values[v + COVER + c] * plate[plateAt + c]
                  : values[v + LIGHT + c]);
    }
    sum[3] += share * values[v + ALPHA];
  }

  /** Samples of one pixel in the making, from the front. */
  private static final class Writer {
    /** What is left in front of a sample at least; less is rounding. */
    private static final double LEAST = 1e-6;

    private final float[] out;
    private final double inverse;
    private int length;
    private double left = 1;
    private double before = 1;

    Writer(int most, int samples) {
      out = new float[DeepPicture.NUMBERS * most];
      inverse = 1.0 / samples;
    }

    void sample(float front, float back, double[] sum) {
      if (sum[0] == 0 && sum[1] == 0 && sum[2] == 0 && sum[3] == 0) {
        return;
      }
      boolean behind = left <= LEAST && length > 0;
      int at = behind ? length - DeepPicture.NUMBERS : length;
      double of = inverse / (behind ? before : left);
      if (!behind) {
        out[at + DeepPicture.FRONT] = front;
        out[at + DeepPicture.BACK] = back;
        out[at + DeepPicture.ALPHA] = (float) Math.min(1, sum[3] * of);
        length += DeepPicture.NUMBERS;
        before = left;
        left -= sum[3] * inverse;
      }
      for (int c = 0; c < 3; c++) {
        out[at + DeepPicture.COLOUR + c] += (float) (sum[c] * of);
      }
    }

    float[] result() {
      return Arrays.copyOf(out, length);
    }
  }
}
