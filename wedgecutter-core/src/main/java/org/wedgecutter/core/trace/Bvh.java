package org.wedgecutter.core.trace;

import java.util.concurrent.RecursiveAction;

/**
 * A tree of boxes over anything that has a box: triangles of a mesh, or meshes placed in the world.
 *
 * <p>Built top-down by the surface-area heuristic over 16 bins on the widest axis of the centres;
 * large subtrees in parallel. The result does not depend on the number of threads, since every
 * subtree has its own range of node numbers: one with n things begins at node b and uses numbers
 * below b + n - 1.
 *
 * <p>Layout: inner node k holds the boxes of both children, {@code bounds[12 k]}: first child's min
 * x, y, z, max x, y, z, then the second's; {@code child[2 k]} and {@code child[2 k + 1]} are an
 * inner node's number, or {@code ~(start << 4 | count)} for a leaf that holds {@code order[start ..
 * start + count - 1]}. The root is {@link #root}. Boxes are widened by a few units in the last
 * place, so that rounding in the ray's box test never loses a hit.
 *
 * <p>Source: I. Wald, "On fast Construction of SAH-based Bounding Volume Hierarchies", 2007.
 */
final class Bvh {
  static final int LEAF_BITS = 4;
  static final int MAX_LEAF = (1 << LEAF_BITS) - 1;
  private static final int BINS = 16;
  private static final int PARALLEL = 4096;
  private static final int MAX_DEPTH = 60;

  /** Deepest stack that walking the tree can need. */
  static final int STACK = MAX_DEPTH + 36;

  final float[] bounds;
  final int[] child;
  final int[] order;
  final int root;

  private final float[] boxes;
  private final int leaf;

  /**
   * @param boxes min x, y, z, max x, y, z of each thing, at least one thing
   * @param count number of things
   * @param leaf most things in a leaf that the heuristic would rather not split, 1 to 8
   */
  Bvh(float[] boxes, int count, int leaf) {
    this.boxes = boxes;
    this.leaf = leaf;
    order = new int[count];
    for (int i = 0; i < count; i++) {
      order[i] = i;
    }
    bounds = new float[12 * Math.max(1, count - 1)];
    child = new int[2 * Math.max(1, count - 1)];
    Build build = new Build(0, count, 0, 0);
    if (count > PARALLEL) {
      build.invoke();
    } else {
      build.compute();
    }
    root = build.ref;
  }

  /** Builds the subtree over {@code order[from .. to - 1]} with node numbers from {@code base}. */
  private final class Build extends RecursiveAction {
    private static final long serialVersionUID = 1L;
    private final int from;
    private final int to;
    private final int base;
    private final int depth;
    private int ref;

    Build(int from, int to, int base, int depth) {
      this.from = from;
      this.to = to;
      this.base = base;
      this.depth = depth;
    }

    @Override
    protected void compute() {
      int middle = split(from, to, depth);
      if (middle < 0) {
        ref = ~(from << LEAF_BITS | to - from);
        return;
      }
      ref = base;
      Build first = new Build(from, middle, base + 1, depth + 1);
      Build second = new Build(middle, to, base + middle - from, depth + 1);
      if (to - from > PARALLEL) {
        invokeAll(first, second);
      } else {
        first.compute();
        second.compute();
      }
      child[2 * base] = first.ref;
      child[2 * base + 1] = second.ref;
      box(from, middle, 12 * base);
      box(middle, to, 12 * base + 6);
    }
  }

  private void box(int from, int to, int out) {
    for (int axis = 0; axis < 3; axis++) {
      float min = Float.POSITIVE_INFINITY;
      float max = Float.NEGATIVE_INFINITY;
      for (int i = from; i < to; i++) {
        min = Math.min(min, boxes[6 * order[i] + axis]);
        max = Math.max(max, boxes[6 * order[i] + 3 + axis]);
      }
      float pad = 4 * Math.ulp(Math.max(Math.abs(min), Math.abs(max)));
      bounds[out + axis] = min - pad;
      bounds[out + 3 + axis] = max + pad;
    }
  }

  private float centre(int thing, int axis) {
    return 0.5f * (boxes[6 * thing + axis] + boxes[6 * thing + 3 + axis]);
  }

  /** Sorts the range into two sides and returns where the second begins, or -1 for a leaf. */
  private int split(int from, int to, int depth) {
    int count = to - from;
    if (count <= 1) {
      return -1;
    }
    float[] low = new float[3];
    float[] high = new float[3];
    int axis = widest(from, to, low, high);
    float extent = high[axis] - low[axis];
    if (!(extent > 0) || depth >= MAX_DEPTH - 20) {
      // all in one place, or degenerate nesting: halve until it fits into a leaf
      return count <= MAX_LEAF && (count <= leaf || !(extent > 0)) ? -1 : from + count / 2;
    }
    float scale = BINS / extent * 0.99999f;
    float[] cost = new float[BINS];
    int cut = bestCut(from, to, axis, low[axis], scale, cost);
    if (cut < 0) {
      return count <= MAX_LEAF ? -1 : from + count / 2;
    }
    float leafCost = count;
    if (count <= leaf && cost[cut] + 1 >= leafCost) {
      return -1;
    }
    int i = from;
    int j = to;
    while (i < j) {
      if ((int) ((centre(order[i], axis) - low[axis]) * scale) <= cut) {
        i++;
      } else {
        int swap = order[i];
        order[i] = order[--j];
        order[j] = swap;
      }
    }
    return i;
  }

  private int widest(int from, int to, float[] low, float[] high) {
    int axis = 0;
    for (int a = 0; a < 3; a++) {
      float min = Float.POSITIVE_INFINITY;
      float max = Float.NEGATIVE_INFINITY;
      for (int i = from; i < to; i++) {
        float c = centre(order[i], a);
        min = Math.min(min, c);
        max = Math.max(max, c);
      }
      low[a] = min;
      high[a] = max;
      if (max - min > high[axis] - low[axis]) {
        axis = a;
      }
    }
    return axis;
  }

  /**
   * Fills the cost of cutting after each bin, relative to the whole box, and returns the cheapest.
   */
  private int bestCut(int from, int to, int axis, float low, float scale, float[] cost) {
    int[] counts = new int[BINS];
    float[] boxOf = new float[6 * BINS];
    for (int b = 0; b < BINS; b++) {
      clear(boxOf, 6 * b);
    }
    for (int i = from; i < to; i++) {
      int bin = (int) ((centre(order[i], axis) - low) * scale);
      counts[bin]++;
      grow(boxOf, 6 * bin, boxes, 6 * order[i]);
    }
    float[] right = new float[BINS];
    float[] sweep = new float[6];
    clear(sweep, 0);
    int n = 0;
    for (int b = BINS - 1; b > 0; b--) {
      grow(sweep, 0, boxOf, 6 * b);
      n += counts[b];
      right[b] = n == 0 ? 0 : n * area(sweep);
    }
    clear(sweep, 0);
    int best = -1;
    float[] whole = new float[6];
    clear(whole, 0);
    for (int b = 0; b < BINS; b++) {
      grow(whole, 0, boxOf, 6 * b);
    }
    float inverse = 1 / Math.max(area(whole), Float.MIN_NORMAL);
    n = 0;
    for (int b = 0; b < BINS - 1; b++) {
      grow(sweep, 0, boxOf, 6 * b);
      n += counts[b];
      if (n == 0 || n == to - from) {
        cost[b] = Float.POSITIVE_INFINITY;
        continue;
      }
      cost[b] = (n * area(sweep) + right[b + 1]) * inverse;
      if (best < 0 || cost[b] < cost[best]) {
        best = b;
      }
    }
    return best;
  }

  private static void clear(float[] box, int at) {
    for (int axis = 0; axis < 3; axis++) {
      box[at + axis] = Float.POSITIVE_INFINITY;
      box[at + 3 + axis] = Float.NEGATIVE_INFINITY;
    }
  }

  private static void grow(float[] box, int at, float[] other, int from) {
    for (int axis = 0; axis < 3; axis++) {
      box[at + axis] = Math.min(box[at + axis], other[from + axis]);
      box[at + 3 + axis] = Math.max(box[at + 3 + axis], other[from + 3 + axis]);
    }
  }

  private static float area(float[] box) {
    float x = box[3] - box[0];
    float y = box[4] - box[1];
    float z = box[5] - box[2];
    return x < 0 ? 0 : x * y + y * z + z * x;
  }
}
