package org.wedgecutter.core.fragment;

import java.util.Arrays;
import org.wedgecutter.core.pass.LightPass;

/**
 * Sums of the fragments of one view in one tile, per pixel and entity.
 *
 * <p>A pixel's entities are a list of slots, ascending by entity, so that adding them up takes the
 * same order whatever was found first. A slot holds {@link #STRIDE} numbers: alpha, then red,
 * green, blue of the beauty, then the light split by {@link LightPass}.
 */
final class TileSums {
  static final int ALPHA = 0;
  static final int BEAUTY = 1;
  static final int PASSES = 4;
  static final int STRIDE = PASSES + LightPass.NUMBERS;
  private static final int NONE = -1;

  private final int[] head;
  private int[] next;
  private int[] entity;
  private float[] sums;
  private int used;

  TileSums(int pixels) {
    head = new int[pixels];
    Arrays.fill(head, NONE);
    next = new int[pixels + pixels / 2];
    entity = new int[next.length];
    sums = new float[STRIDE * next.length];
  }

  void add(int pixel, int entity, float throughput, float[] light, float opacity) {
    int at = STRIDE * slot(pixel, entity);
    sums[at + ALPHA] += throughput * opacity;
    for (int c = 0; c < 3; c++) {
      float beauty = 0;
      for (int p = c; p < LightPass.NUMBERS; p += 3) {
        beauty += light[p];
        sums[at + PASSES + p] += throughput * light[p];
      }
      sums[at + BEAUTY + c] += throughput * beauty;
    }
  }

  private int slot(int pixel, int wanted) {
    int before = NONE;
    int at = head[pixel];
    while (at != NONE && entity[at] < wanted) {
      before = at;
      at = next[at];
    }
    if (at != NONE && entity[at] == wanted) {
      return at;
    }
    if (used == next.length) {
      int size = used + used / 2 + 16;
      next = Arrays.copyOf(next, size);
      entity = Arrays.copyOf(entity, size);
      sums = Arrays.copyOf(sums, STRIDE * size);
    }
    entity[used] = wanted;
    next[used] = at;
    if (before == NONE) {
      head[pixel] = used;
    } else {
      next[before] = used;
    }
    return used++;
  }

  /**
   * Adds numbers of a pixel over some entities.
   *
   * @param from first number within a slot
   * @param count how many numbers
   * @param out where they are added, from {@code to}
   */
  void gather(int pixel, boolean[] entities, int from, int count, float[] out, int to) {
    for (int at = head[pixel]; at != NONE; at = next[at]) {
      if (entities[entity[at]]) {
        int s = STRIDE * at + from;
        for (int k = 0; k < count; k++) {
          out[to + k] += sums[s + k];
        }
      }
    }
  }

  /** Adds each entity's alpha in the tile to a number of its own. */
  void coverage(double[] byEntity, double weight) {
    for (int at = 0; at < used; at++) {
      byEntity[entity[at]] += weight * sums[STRIDE * at + ALPHA];
    }
  }

  /** Returns the entity with the largest alpha in a pixel, or -1. */
  int foremost(int pixel) {
    int best = NONE;
    float most = 0;
    for (int at = head[pixel]; at != NONE; at = next[at]) {
      if (sums[STRIDE * at + ALPHA] > most) {
        most = sums[STRIDE * at + ALPHA];
        best = entity[at];
      }
    }
    return best;
  }

  long bytes() {
    return 4L * (head.length + next.length + entity.length + sums.length);
  }
}
