package org.wedgecutter.core.trace.accel;

/**
 * The inner loops of building a {@link WideTree}, over primitives in a row: eight numbers each,
 * least x, y, z, 0, and the greatest x, y, z negated, 0, so that growing a box is one kind of step,
 * taking the smaller of each. Here one number after another; {@link VectorBoxSweep} takes all eight
 * at once, with the same results.
 */
class BoxSweep {
  /** Numbers of a primitive, and of a box. */
  static final int STRIDE = 8;

  /** Returns the fastest kind on this machine. */
  static BoxSweep create() {
    return VectorSupport.inUse() ? new VectorBoxSweep() : new BoxSweep();
  }

  /** Makes a box empty. */
  static void clear(float[] box, int at) {
    for (int k = 0; k < STRIDE; k++) {
      box[at + k] = Float.POSITIVE_INFINITY;
    }
  }

  /** Grows a box by another. */
  void grow(float[] box, int at, float[] by, int from) {
    for (int k = 0; k < STRIDE; k++) {
      box[at + k] = smaller(box[at + k], by[from + k]);
    }
  }

  private static float smaller(float a, float b) {
    return b < a ? b : a;
  }

  /**
   * Finds the box of primitives and the box of their middles, which are doubled.
   *
   * @param box is set, from 0
   * @param middles is set, from 0
   */
  void measure(float[] things, int from, int to, float[] box, float[] middles) {
    clear(box, 0);
    clear(middles, 0);
    for (int i = STRIDE * from; i < STRIDE * to; i += STRIDE) {
      grow(box, 0, things, i);
      for (int k = 0; k < 4; k++) {
        float low = things[i + k];
        float high = things[i + 4 + k];
        middles[k] = smaller(middles[k], low - high);
        middles[4 + k] = smaller(middles[4 + k], high - low);
      }
    }
  }

  /**
   * Sorts primitives into bins on each axis by their middles.
   *
   * @param low least doubled middle on each axis, from 0
   * @param scale bins for each unit on each axis
   * @param counts of each bin of each axis, added to
   * @param bins boxes of each bin of each axis, grown
   * @param across bins of an axis in these arrays
   */
  void bin(
      float[] things,
      int from,
      int to,
      float[] low,
      float[] scale,
      int[] counts,
      float[] bins,
      int across) {
    for (int i = STRIDE * from; i < STRIDE * to; i += STRIDE) {
      for (int axis = 0; axis < 3; axis++) {
        int b =
            across * axis
                + (int) ((things[i + axis] - things[i + 4 + axis] - low[axis]) * scale[axis]);
        counts[b]++;
        grow(bins, STRIDE * b, things, i);
      }
    }
  }

  /** Exchanges two primitives. */
  void swap(float[] things, int a, int b) {
    for (int k = 0; k < STRIDE; k++) {
      float x = things[STRIDE * a + k];
      things[STRIDE * a + k] = things[STRIDE * b + k];
      things[STRIDE * b + k] = x;
    }
  }
}
