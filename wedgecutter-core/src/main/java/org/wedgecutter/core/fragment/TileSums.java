package org.wedgecutter.core.fragment;

import java.util.Arrays;
import org.wedgecutter.core.pass.LightPass;

/**
 * Sums of the fragments of one view in one tile, per pixel and entity.
 *
 * <p>A pixel's entities are a list of slots, ascending by entity, so that adding them up takes the
 * same order whatever was found first. A slot has four numbers of beauty, apart from its light
 * split by {@link LightPass}, so that regrouping a picture reads little memory.
 */
final class TileSums {
  /** Numbers of a slot's beauty: alpha, red, green, blue. */
  static final int BEAUTY = 4;

  private static final int NONE = -1;

  private final int[] head;
  private int[] next;
  private int[] entity;
  private float[] beauty;
  private float[] light;
  private int used;

  TileSums(int pixels) {
    head = new int[pixels];
    Arrays.fill(head, NONE);
    next = new int[pixels + pixels / 2];
    entity = new int[next.length];
    beauty = new float[BEAUTY * next.length];
    light = new float[LightPass.NUMBERS * next.length];
  }

  void add(int pixel, int entity, float throughput, float[] split, float opacity) {
    int slot = slot(pixel, entity);
    int b = BEAUTY * slot;
    int l = LightPass.NUMBERS * slot;
    beauty[b] += throughput * opacity;
    for (int c = 0; c < 3; c++) {
      float sum = 0;
      for (int p = c; p < LightPass.NUMBERS; p += 3) {
        sum += split[p];
        light[l + p] += throughput * split[p];
      }
      beauty[b + 1 + c] += throughput * sum;
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
      beauty = Arrays.copyOf(beauty, BEAUTY * size);
      light = Arrays.copyOf(light, LightPass.NUMBERS * size);
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
        int l = LightPass.NUMBERS * at;
        for (int k = 0; k < LightPass.NUMBERS; k++) {
          out[to + k] += light[l + k];
        }
      }
    }
  }

  /** Adds each entity's alpha in the tile to a number of its own. */
  void coverage(double[] byEntity, double weight) {
    for (int at = 0; at < used; at++) {
      byEntity[entity[at]] += weight * beauty[BEAUTY * at];
    }
  }

  /** Returns the entity with the largest alpha in a pixel, or -1. */
  int foremost(int pixel) {
    int best = NONE;
    float most = 0;
    for (int at = head[pixel]; at != NONE; at = next[at]) {
      if (beauty[BEAUTY * at] > most) {
        most = beauty[BEAUTY * at];
        best = entity[at];
      }
    }
    return best;
  }

  long bytes() {
    return 4L * (head.length + next.length + entity.length + beauty.length + light.length);
  }
}
