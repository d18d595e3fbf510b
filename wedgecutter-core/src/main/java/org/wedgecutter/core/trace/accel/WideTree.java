package org.wedgecutter.core.trace.accel;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.RecursiveTask;

/**
 * A bounding volume hierarchy, eight boxes to a node, over anything that has a box: triangles of a
 * mesh, or meshes placed in the world.
 *
 * <p>Eight boxes are tested against a ray at once, with the numbers of all eight side by side. A
 * node begins as one range of primitives; the child with the largest surface is split in two until
 * there are eight or none can be split. A split is the cheapest by the surface-area heuristic over
 * bins on all three axes, where primitives cost as many steps as it takes to test them leaf by
 * leaf: {@code ceil(n / leaf)}. Large subtrees are built in parallel. The result does not depend on
 * the number of threads.
 *
 * <p>Layout: node k holds in {@code bounds[48 k ..]} eight numbers each of least x, greatest x,
 * least y, greatest y, least z, greatest z of its children; {@code child[8 k + i]} is a node's
 * number, or {@code ~u} for unit u: what is tested at once. Unit u holds {@code order[begins[u] ..
 * begins[u + 1] - 1]}, at most {@code leaf} primitives. A child that is not there has a box that
 * nothing meets. The root is node 0. Boxes are widened by a few units in the last place, so that
 * rounding in the ray's box test never loses a hit.
 *
 * <p>Sources: I. Wald, "On fast Construction of SAH-based Bounding Volume Hierarchies", 2007; I.
 * Wald, C. Benthin and S. Boulos, "Getting Rid of Packets", 2008 (wide nodes for single rays).
 */
final class WideTree {
  /** Children of a node. */
  static final int WIDTH = 8;

  /** Numbers of a node's boxes. */
  static final int STRIDE = 6 * WIDTH;

  /** Deepest stack that traversal can need. */
  static final int STACK = 8 * 64;

  private static final int BINS = 16;
  private static final int PARALLEL = 16_384;
  private static final int MAX_DEPTH = 60;

  final float[] bounds;
  final int[] child;

  /** Numbers of primitives, unit by unit. */
  final int[] order;

  /** First place of each unit in {@link #order}, and the end of the last. */
  final int[] begins;

  /** As {@link BoxSweep} has them, in the order of {@link #order}; while building alone. */
  private float[] things;

  private final int leaf;

  /**
   * @param boxes min x, y, z, max x, y, z of each primitive
   * @param count number of primitives
   * @param leaf most primitives in a leaf, 1 to 8
   */
  WideTree(float[] boxes, int count, int leaf) {
    this.leaf = leaf;
    order = new int[count];
    things = new float[BoxSweep.STRIDE * count];
    for (int i = 0; i < count; i++) {
      order[i] = i;
      for (int k = 0; k < 3; k++) {
        things[BoxSweep.STRIDE * i + k] = boxes[6 * i + k];
        things[BoxSweep.STRIDE * i + 4 + k] = -boxes[6 * i + 3 + k];
      }
    }
    Part whole = new Part();
    if (count > 0) {
      Build build = new Build(0, count, 0);
      whole = count > PARALLEL ? build.invoke() : build.compute();
    } else {
      whole.node();
    }
    bounds = Arrays.copyOf(whole.bounds, STRIDE * whole.nodes);
    child = Arrays.copyOf(whole.child, WIDTH * whole.nodes);
    begins = units(count);
    things = new float[0];
  }

  /** Numbers the leaves, which were told by where they begin, in their order. */
  private int[] units(int count) {
    int[] first = new int[count + 1];
    int units = 0;
    for (int ref : child) {
      if (ref < -1) {
        first[units++] = ~ref - 1;
      }
    }
    Arrays.sort(first, 0, units);
    first[units] = count;
    for (int i = 0; i < child.length; i++) {
      if (child[i] < -1) {
        child[i] = ~Arrays.binarySearch(first, 0, units, ~child[i] - 1);
      }
    }
    return Arrays.copyOf(first, units + 1);
  }

  /** Returns the number of nodes. */
  int nodes() {
    return child.length / WIDTH;
  }

  /**
   * Returns boxes that hold everything, from the top of the tree: least x, y, z, greatest x, y, z
   * of each.
   *
   * @param enough nodes are opened, the upper first, until there are so many boxes
   */
  float[] outline(int enough) {
    // places of children, as in child; those that were opened make room for those within
    int[] queue = new int[WIDTH * (enough + 1)];
    float[] out = new float[6 * (enough + WIDTH)];
    int tail = open(0, queue, 0);
    int boxes = 0;
    for (int head = 0; head < tail; head++) {
      int at = queue[head];
      if (child[at] >= 0 && boxes + tail - head < enough) {
        tail = open(child[at], queue, tail);
        continue;
      }
      int from = STRIDE * (at / WIDTH) + at % WIDTH;
      for (int axis = 0; axis < 3; axis++) {
        out[6 * boxes + axis] = bounds[from + 16 * axis];
        out[6 * boxes + 3 + axis] = bounds[from + 16 * axis + 8];
      }
      boxes++;
    }
    return Arrays.copyOf(out, 6 * boxes);
  }

  private int open(int node, int[] queue, int tail) {
    int end = tail;
    for (int lane = 0; lane < WIDTH; lane++) {
      if (bounds[STRIDE * node + lane] < Float.POSITIVE_INFINITY) {
        queue[end++] = WIDTH * node + lane;
      }
    }
    return end;
  }

  /** Nodes of a subtree, numbered from 0. */
  private static final class Part {
    float[] bounds = new float[STRIDE * 4];
    int[] child = new int[WIDTH * 4];
    int nodes;

    /** Adds a node without children and returns its number. */
    int node() {
      if (WIDTH * nodes == child.length) {
        bounds = Arrays.copyOf(bounds, 2 * bounds.length);
        child = Arrays.copyOf(child, 2 * child.length);
      }
      int at = STRIDE * nodes;
      for (int axis = 0; axis < 3; axis++) {
        Arrays.fill(bounds, at + 16 * axis, at + 16 * axis + 8, Float.POSITIVE_INFINITY);
        Arrays.fill(bounds, at + 16 * axis + 8, at + 16 * axis + 16, Float.NEGATIVE_INFINITY);
      }
      Arrays.fill(child, WIDTH * nodes, WIDTH * nodes + WIDTH, -1);
      return nodes++;
    }

    /** Adds the nodes of another and returns the number of its root here. */
    int add(Part other) {
      int from = nodes;
      int need = nodes + other.nodes;
      if (WIDTH * need > child.length) {
        int size = Math.max(need, 2 * nodes);
        bounds = Arrays.copyOf(bounds, STRIDE * size);
        child = Arrays.copyOf(child, WIDTH * size);
      }
      System.arraycopy(other.bounds, 0, bounds, STRIDE * nodes, STRIDE * other.nodes);
      for (int i = 0; i < WIDTH * other.nodes; i++) {
        int ref = other.child[i];
        child[WIDTH * nodes + i] = ref >= 0 ? ref + from : ref;
      }
      nodes = need;
      return from;
    }
  }

  /** A child during building: a range of primitives, its box and that of their centroids. */
  private static final class Range {
    final int from;
    final int to;
    final float[] box = new float[BoxSweep.STRIDE];
    final float[] middles = new float[BoxSweep.STRIDE];

    Range(int from, int to) {
      this.from = from;
      this.to = to;
    }

    int size() {
      return to - from;
    }
  }

  /** Builds the subtree over a range. */
  private final class Build extends RecursiveTask<Part> {
    private static final long serialVersionUID = 1L;
    private final int from;
    private final int to;
    private final int depth;

    Build(int from, int to, int depth) {
      this.from = from;
      this.to = to;
      this.depth = depth;
    }

    @Override
    protected Part compute() {
      Part out = new Part();
      Splitter splitter = new Splitter();
      splitter.subtree(out, splitter.measured(from, to), depth);
      return out;
    }
  }

  private static final Comparator<Range> SMALL_LAST = Comparator.comparingInt(r -> -r.size());

  /** Splits ranges; has its own scratch. */
  private final class Splitter {
    private final int[] counts = new int[3 * BINS];
    private final float[] bins = new float[3 * BINS * BoxSweep.STRIDE];
    private final float[] scale = new float[4];
    private final float[] right = new float[BINS];
    private final float[] box = new float[BoxSweep.STRIDE];
    private final BoxSweep sweep = BoxSweep.create();

    Range measured(int from, int to) {
      Range out = new Range(from, to);
      sweep.measure(things, from, to, out.box, out.middles);
      return out;
    }

    /** Adds a node over a range, and all below it; returns its number. */
    int subtree(Part out, Range range, int depth) {
      Range[] children = new Range[WIDTH];
      int count = 1;
      children[0] = range;
      while (count < WIDTH) {
        int widest = -1;
        float most = -1;
        for (int i = 0; i < count; i++) {
          Range r = children[i];
          if (r.size() > leaf && area(r.box) > most) {
            widest = i;
            most = area(r.box);
          }
        }
        if (widest < 0) {
          break;
        }
        Range r = children[widest];
        int middle = split(r, depth);
        Range second = measured(middle, r.to);
        children[widest] = measured(r.from, middle);
        children[count++] = second;
      }
      Arrays.sort(children, 0, count, SMALL_LAST);
      int node = out.node();
      List<Build> forked = new ArrayList<>();
      int[] lanes = new int[WIDTH];
      for (int i = 0; i < count; i++) {
        Range r = children[i];
        store(out.bounds, node, i, r.box);
        if (r.size() <= leaf) {
          out.child[WIDTH * node + i] = ~(r.from + 1);
        } else if (r.size() > PARALLEL) {
          lanes[forked.size()] = i;
          Build build = new Build(r.from, r.to, depth + 1);
          forked.add(build);
          build.fork();
        } else {
          int below = subtree(out, r, depth + 1);
          out.child[WIDTH * node + i] = below;
        }
      }
      for (int k = 0; k < forked.size(); k++) {
        int below = out.add(forked.get(k).join());
        out.child[WIDTH * node + lanes[k]] = below;
      }
      return node;
    }

    private void store(float[] bounds, int node, int lane, float[] box) {
      for (int axis = 0; axis < 3; axis++) {
        float min = box[axis];
        float max = -box[4 + axis];
        float pad = 4 * Math.ulp(Math.max(Math.abs(min), Math.abs(max)));
        bounds[STRIDE * node + 16 * axis + lane] = min - pad;
        bounds[STRIDE * node + 16 * axis + 8 + lane] = max + pad;
      }
    }

    /** Sorts the range into two sides and returns where the second begins. */
    private int split(Range r, int depth) {
      int half = r.from + r.size() / 2;
      if (depth >= MAX_DEPTH / 3) {
        return half;
      }
      int bins = r.size() < 48 ? 8 : BINS;
      boolean flat = true;
      for (int axis = 0; axis < 3; axis++) {
        float extent = -r.middles[4 + axis] - r.middles[axis];
        scale[axis] = extent > 0 ? bins / extent * 0.99999f : 0;
        flat &= !(scale[axis] > 0) || Float.isInfinite(scale[axis]);
      }
      if (flat) {
        return half;
      }
      bin(r, bins);
      int best = cheapest(bins);
      if (best < 0) {
        return half;
      }
      int axis = best / BINS;
      int cut = best % BINS;
      float low = r.middles[axis];
      float by = scale[axis];
      int i = r.from;
      int j = r.to;
      while (i < j) {
        int at = BoxSweep.STRIDE * i + axis;
        if ((int) ((things[at] - things[at + 4] - low) * by) <= cut) {
          i++;
        } else {
          swap(i, --j);
        }
      }
      return i == r.from || i == r.to ? half : i;
    }

    private void bin(Range r, int used) {
      for (int axis = 0; axis < 3; axis++) {
        for (int b = BINS * axis; b < BINS * axis + used; b++) {
          counts[b] = 0;
          BoxSweep.clear(bins, BoxSweep.STRIDE * b);
        }
      }
      sweep.bin(things, r.from, r.to, r.middles, scale, counts, bins, BINS);
    }

    /** Returns axis and bin of the cheapest cut, as {@code BINS * axis + bin}, or -1. */
    private int cheapest(int used) {
      int best = -1;
      float least = Float.POSITIVE_INFINITY;
      for (int axis = 0; axis < 3; axis++) {
        if (!(scale[axis] > 0)) {
          continue;
        }
        int first = BINS * axis;
        BoxSweep.clear(box, 0);
        int n = 0;
        for (int b = used - 1; b > 0; b--) {
          n += counts[first + b];
          sweep.grow(box, 0, bins, BoxSweep.STRIDE * (first + b));
          right[b] = n == 0 ? Float.POSITIVE_INFINITY : steps(n) * area(box);
        }
        BoxSweep.clear(box, 0);
        n = 0;
        for (int b = 0; b < used - 1; b++) {
          n += counts[first + b];
          sweep.grow(box, 0, bins, BoxSweep.STRIDE * (first + b));
          float cost = n == 0 ? Float.POSITIVE_INFINITY : steps(n) * area(box) + right[b + 1];
          if (cost < least) {
            least = cost;
            best = first + b;
          }
        }
      }
      return best;
    }

    private int steps(int n) {
      return (n + leaf - 1) / leaf;
    }

    private void swap(int a, int b) {
      int n = order[a];
      order[a] = order[b];
      order[b] = n;
      sweep.swap(things, a, b);
    }
  }

  private static float area(float[] b) {
    float x = -b[4] - b[0];
    float y = -b[5] - b[1];
    float z = -b[6] - b[2];
    return x * y + y * z + z * x;
  }
}
