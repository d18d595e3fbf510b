package org.wedgecutter.core.fragment;

import java.util.Arrays;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.trace.Fragment;
import org.wedgecutter.core.trace.LightSplit;

/**
 * Sums of the fragments of one view in one tile, per pixel, entity and material.
 *
 * <p>A pixel's parts are a list of slots, ascending by entity and material, so that adding them up
 * takes the same order whatever was found first. A slot has four numbers of beauty, apart from its
 * light split as the job asks, so that regrouping a picture reads little memory; and, if asked for,
 * the data of its nearest place.
 */
final class TileSums {
  /** Numbers of a slot's beauty: alpha, red, green, blue. */
  static final int BEAUTY = 4;

  /** Numbers of a slot's data: depth, normal, position, u and v, motion, base colour. */
  static final int DATA = 16;

  private static final int NONE = -1;

  private final int numbers;
  private final boolean hasData;
  private final int[] head;
  private int[] next;
  private int[] entity;
  private int[] material;
  private float[] beauty;
  private float[] light;
  private float[] data;
  private int used;

  /** Number of invalid fragments (NaN, infinite or negative), which are left out. */
  private long invalidSamples;

  TileSums(int pixels, LightSplit split) {
    numbers = split.numbers();
    hasData = split.data();
    head = new int[pixels];
    Arrays.fill(head, NONE);
    // many views show little of a tile, or nothing yet: arrays grow with what is found
    next = new int[0];
    entity = new int[0];
    material = new int[0];
    beauty = new float[0];
    light = new float[0];
    data = new float[0];
  }

  /** Adds a fragment; returns whether it is valid. */
  boolean add(int pixel, Fragment f) {
    for (float l : f.light) {
      if (!(l >= 0) || l == Float.POSITIVE_INFINITY) {
        invalidSamples++;
        return false;
      }
    }
    int before = used;
    int slot = slot(pixel, f.entity, f.material);
    boolean isNew = used > before;
    int b = BEAUTY * slot;
    int at = numbers * slot;
    float[] t = f.throughput;
    float[] o = f.opacity;
    // the mean of products: means of coloured panes one behind another would not add up to 1
    beauty[b] += (t[0] * o[0] + t[1] * o[1] + t[2] * o[2]) / 3;
    for (int c = 0; c < 3; c++) {
      float sum = 0;
      for (int p = c; p < LightPass.NUMBERS; p += 3) {
        sum += f.light[p];
        light[at + p] += t[c] * f.light[p];
      }
      beauty[b + 1 + c] += t[c] * sum;
      for (int p = LightPass.NUMBERS + c; p < numbers; p += 3) {
        light[at + p] += t[c] * f.light[p];
      }
    }
    if (hasData && (isNew || f.depth < data[DATA * slot])) {
      note(f, DATA * slot);
    }
    return true;
  }

  private void note(Fragment f, int at) {
    data[at] = f.depth;
    System.arraycopy(f.normal, 0, data, at + 1, 3);
    System.arraycopy(f.position, 0, data, at + 4, 3);
    System.arraycopy(f.uv, 0, data, at + 7, 2);
    System.arraycopy(f.motion, 0, data, at + 9, 4);
    System.arraycopy(f.albedo, 0, data, at + 13, 3);
  }

  private int slot(int pixel, int wanted, int of) {
    int before = NONE;
    int at = head[pixel];
    while (at != NONE && (entity[at] < wanted || (entity[at] == wanted && material[at] < of))) {
      before = at;
      at = next[at];
    }
    if (at != NONE && entity[at] == wanted && material[at] == of) {
      return at;
    }
    if (used == next.length) {
      int size = Math.max(head.length / 4, used + used / 3) + 4;
      next = Arrays.copyOf(next, size);
      entity = Arrays.copyOf(entity, size);
      material = Arrays.copyOf(material, size);
      beauty = Arrays.copyOf(beauty, BEAUTY * size);
      light = Arrays.copyOf(light, numbers * size);
      data = Arrays.copyOf(data, hasData ? DATA * size : 0);
    }
    entity[used] = wanted;
    material[used] = of;
    next[used] = at;
    if (before == NONE) {
      head[pixel] = used;
    } else {
      next[before] = used;
    }
    return used++;
  }

  /** Adds the beauty of a pixel over some entities to four numbers. */
  void gatherBeauty(int pixel, boolean[] entities, float[] out) {
    for (int at = head[pixel]; at != NONE; at = next[at]) {
      if (entities[entity[at]]) {
        int b = BEAUTY * at;
        out[0] += beauty[b];
        out[1] += beauty[b + 1];
        out[2] += beauty[b + 2];
        out[3] += beauty[b + 3];
      }
    }
  }

  /** Adds the split light of a pixel over some entities to numbers from {@code to}. */
  void gatherLight(int pixel, boolean[] entities, float[] out, int to) {
    for (int at = head[pixel]; at != NONE; at = next[at]) {
      if (entities[entity[at]]) {
        int l = numbers * at;
        for (int k = 0; k < numbers; k++) {
          out[to + k] += light[l + k];
        }
      }
    }
  }

  /**
   * Copies the data of the nearest place of a pixel's dominant entity among some; returns whether
   * there is any.
   */
  boolean nearest(int pixel, boolean[] entities, float[] out, int to) {
    int best = dominant(pixel, entities);
    boolean found = false;
    for (int at = head[pixel]; at != NONE; at = next[at]) {
      if (entity[at] == best && (!found || data[DATA * at] < out[to])) {
        System.arraycopy(data, DATA * at, out, to, DATA);
        found = true;
      }
    }
    return found;
  }

  /** Receives the coverage of a pixel's parts. */
  interface Parts {
    void part(int entity, int material, float cover);
  }

  /** Reports the coverage of each part of a pixel, summed over samples. */
  void parts(int pixel, boolean[] entities, Parts parts) {
    for (int at = head[pixel]; at != NONE; at = next[at]) {
      if (entities[entity[at]] && beauty[BEAUTY * at] > 0) {
        parts.part(entity[at], material[at], beauty[BEAUTY * at]);
      }
    }
  }

  /** Adds each entity's alpha in the tile to a number of its own. */
  void coverage(double[] byEntity, double weight) {
    for (int at = 0; at < used; at++) {
      byEntity[entity[at]] += weight * beauty[BEAUTY * at];
    }
  }

  /** Adds each entity's luminance in the tile to a number of its own. */
  void luminance(double[] byEntity, double weight) {
    for (int at = 0; at < used; at++) {
      int b = BEAUTY * at;
      byEntity[entity[at]] +=
          weight * (0.2126 * beauty[b + 1] + 0.7152 * beauty[b + 2] + 0.0722 * beauty[b + 3]);
    }
  }

  /** Returns the entity with the largest alpha in a pixel, or -1. */
  int dominant(int pixel) {
    return dominant(pixel, null);
  }

  /** Returns the entity with the largest alpha in a pixel among some, or -1. */
  int dominant(int pixel, boolean @org.jspecify.annotations.Nullable [] among) {
    int best = NONE;
    float most = 0;
    int at = head[pixel];
    while (at != NONE) {
      int own = entity[at];
      float cover = 0;
      // the materials of an entity stand one after another
      for (; at != NONE && entity[at] == own; at = next[at]) {
        cover += beauty[BEAUTY * at];
      }
      if (cover > most && (among == null || among[own])) {
        most = cover;
        best = own;
      }
    }
    return best;
  }

  /** Returns the largest alpha that an entity has in a pixel, summed over samples. */
  float foremostCover(int pixel) {
    int best = dominant(pixel, null);
    float cover = 0;
    for (int at = head[pixel]; at != NONE; at = next[at]) {
      cover += entity[at] == best ? beauty[BEAUTY * at] : 0;
    }
    return cover;
  }

  long invalidSamples() {
    return invalidSamples;
  }

  long bytes() {
    return 4L
        * (head.length
            + next.length
            + entity.length
            + material.length
            + beauty.length
            + light.length
            + data.length);
  }
}
