package org.wedgecutter.core.trace.accel;

import java.util.Arrays;
import java.util.stream.IntStream;
import org.wedgecutter.core.scene.Mesh;

/**
 * Boxes about the triangles of a mesh, several about one that fills little of its own.
 *
 * <p>A long thin triangle that lies askew has a large box, which many rays hit without hitting the
 * triangle. Such ones are cut into pieces by planes across the longest side of their boxes, each
 * with a box of its own; the tree then holds the triangle once for each piece. How many pieces a
 * triangle gets goes by the cube root of what its box has of surface beyond what the triangle
 * needs, so that all together are at most {@link #MORE} more than there are triangles.
 *
 * <p>Source: T. Karras and T. Aila, "Fast Parallel Construction of High-Quality Bounding Volume
 * Hierarchies", 2013 (the priority and the budget).
 */
final class TriangleSplits {
  /** Most pieces beyond one for each triangle, as a share of the triangles. */
  private static final double MORE = 0.6;

  private static final int MOST = 48;
  private static final int FEWEST = 8;
  private static final int CHUNK = 8192;

  /** Six numbers a piece: least x, y, z, greatest x, y, z. */
  final float[] boxes;

  /** Number of the triangle of each piece. */
  final int[] triangle;

  private final Mesh mesh;

  TriangleSplits(Mesh mesh) {
    this.mesh = mesh;
    int count = mesh.triangles();
    int[] pieces = pieces(count);
    int[] first = new int[count + 1];
    for (int t = 0; t < count; t++) {
      first[t + 1] = first[t] + pieces[t];
    }
    boxes = new float[6 * first[count]];
    triangle = new int[first[count]];
    chunks(
        count,
        (from, to) -> {
          Cutter cutter = new Cutter();
          for (int t = from; t < to; t++) {
            cutter.cut(t, first[t], pieces[t]);
          }
        });
  }

  /** The same with one box for each triangle, which holds two shapes of it. */
  TriangleSplits(Mesh mesh, Mesh other) {
    this.mesh = mesh;
    int count = mesh.triangles();
    boxes = new float[6 * count];
    triangle = new int[count];
    chunks(
        count,
        (from, to) -> {
          for (int t = from; t < to; t++) {
            triangle[t] = t;
            empty(boxes, 6 * t);
            grow(mesh, t, boxes, 6 * t);
            grow(other, t, boxes, 6 * t);
          }
        });
  }

  private interface Chunk {
    void work(int from, int to);
  }

  private static void chunks(int count, Chunk chunk) {
    IntStream.range(0, (count + CHUNK - 1) / CHUNK)
        .parallel()
        .forEach(c -> chunk.work(c * CHUNK, Math.min(count, (c + 1) * CHUNK)));
  }

  private static void empty(float[] box, int at) {
    Arrays.fill(box, at, at + 3, Float.POSITIVE_INFINITY);
    Arrays.fill(box, at + 3, at + 6, Float.NEGATIVE_INFINITY);
  }

  static void grow(Mesh mesh, int t, float[] box, int at) {
    float[] p = mesh.positions();
    int[] indices = mesh.indices();
    for (int k = 0; k < 3; k++) {
      int v = 3 * indices[3 * t + k];
      for (int axis = 0; axis < 3; axis++) {
        float x = p[v + axis];
        box[at + axis] = Math.min(box[at + axis], x);
        box[at + 3 + axis] = Math.max(box[at + 3 + axis], x);
      }
    }
  }

  /** How many pieces each triangle gets. */
  private int[] pieces(int count) {
    float[] waste = new float[count];
    chunks(
        count,
        (from, to) -> {
          float[] box = new float[6];
          for (int t = from; t < to; t++) {
            empty(box, 0);
            grow(mesh, t, box, 0);
            waste[t] = (float) Math.cbrt(Math.max(0, surface(box) - needed(t)));
          }
        });
    int[] out = new int[count];
    Arrays.fill(out, 1);
    if (count < FEWEST) {
      return out;
    }
    double sum = 0;
    for (float w : waste) {
      sum += w;
    }
    // even shares round down to less than the budget: a few steps bring it close from below
    double scale = sum > 0 ? MORE * count / sum : 0;
    for (int step = 0; step < 6 && scale > 0; step++) {
      double used = 0;
      for (float w : waste) {
        used += Math.min(MOST - 1, Math.floor(w * scale));
      }
      double next = used > 0 ? scale * MORE * count / used : scale * 4;
      if (used > MORE * count || next < scale * 1.05) {
        break;
      }
      double tried = Math.min(next, scale * 4);
      double then = 0;
      for (float w : waste) {
        then += Math.min(MOST - 1, Math.floor(w * tried));
      }
      if (then > MORE * count) {
        break;
      }
      scale = tried;
    }
    for (int t = 0; t < count; t++) {
      out[t] += (int) Math.min(MOST - 1, Math.floor(waste[t] * scale));
    }
    return out;
  }

  private static float surface(float[] b) {
    float x = b[3] - b[0];
    float y = b[4] - b[1];
    float z = b[5] - b[2];
    return 2 * (x * y + y * z + z * x);
  }

  /** Surface of a box that would just hold the triangle if it were cut very finely. */
  private float needed(int t) {
    float[] p = mesh.positions();
    int[] indices = mesh.indices();
    int a = 3 * indices[3 * t];
    int b = 3 * indices[3 * t + 1];
    int c = 3 * indices[3 * t + 2];
    float ux = p[b] - p[a];
    float uy = p[b + 1] - p[a + 1];
    float uz = p[b + 2] - p[a + 2];
    float vx = p[c] - p[a];
    float vy = p[c + 1] - p[a + 1];
    float vz = p[c + 2] - p[a + 2];
    return Math.abs(uy * vz - uz * vy) + Math.abs(uz * vx - ux * vz) + Math.abs(ux * vy - uy * vx);
  }

  /** Cuts triangles; has its own scratch. */
  private final class Cutter {
    private static final int CORNERS = 12;

    /** Scratch polygons, one for each step of cutting. */
    private final float[][] polygons = new float[64][3 * CORNERS];

    private int next;
    private int number;

    void cut(int t, int first, int pieces) {
      number = t;
      next = first;
      float[] p = mesh.positions();
      int[] indices = mesh.indices();
      for (int k = 0; k < 3; k++) {
        System.arraycopy(p, 3 * indices[3 * t + k], polygons[0], 3 * k, 3);
      }
      part(0, 3, pieces);
      // a cut that left nothing on one side leaves its place to the whole
      while (next < first + pieces) {
        triangle[next] = t;
        System.arraycopy(boxes, 6 * first, boxes, 6 * next, 6);
        next++;
      }
    }

    private void part(int level, int corners, int pieces) {
      float[] polygon = polygons[level];
      triangle[next] = number;
      int at = 6 * next;
      empty(boxes, at);
      for (int k = 0; k < 3 * corners; k++) {
        boxes[at + k % 3] = Math.min(boxes[at + k % 3], polygon[k]);
        boxes[at + 3 + k % 3] = Math.max(boxes[at + 3 + k % 3], polygon[k]);
      }
      int axis = 0;
      float widest = -1;
      for (int a = 0; a < 3; a++) {
        float width = boxes[at + 3 + a] - boxes[at + a];
        if (width > widest) {
          widest = width;
          axis = a;
        }
      }
      float middle = 0.5f * (boxes[at + axis] + boxes[at + 3 + axis]);
      boolean splits =
          pieces > 1
              && level < polygons.length - 1
              && corners < CORNERS - 1
              && middle > boxes[at + axis]
              && middle < boxes[at + 3 + axis];
      if (!splits) {
        next++;
        return;
      }
      int low = side(level, corners, axis, middle, false);
      part(level + 1, low, pieces / 2);
      int high = side(level, corners, axis, middle, true);
      part(level + 1, high, pieces - pieces / 2);
    }

    /** Keeps what lies on one side of a plane, as the polygon of the next level. */
    private int side(int level, int corners, int axis, float middle, boolean above) {
      float[] from = polygons[level];
      float[] to = polygons[level + 1];
      int kept = 0;
      for (int k = 0; k < corners; k++) {
        int a = 3 * k;
        int b = 3 * ((k + 1) % corners);
        boolean in = above ? from[a + axis] >= middle : from[a + axis] <= middle;
        boolean nextIn = above ? from[b + axis] >= middle : from[b + axis] <= middle;
        if (in) {
          System.arraycopy(from, a, to, 3 * kept++, 3);
        }
        if (in != nextIn) {
          float part = (middle - from[a + axis]) / (from[b + axis] - from[a + axis]);
          for (int c = 0; c < 3; c++) {
            to[3 * kept + c] =
                c == axis ? middle : from[a + c] + part * (from[b + c] - from[a + c]);
          }
          kept++;
        }
      }
      return kept;
    }
  }
}
