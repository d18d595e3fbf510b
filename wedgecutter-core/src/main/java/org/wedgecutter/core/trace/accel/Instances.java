package org.wedgecutter.core.trace.accel;

import java.util.Arrays;
import java.util.stream.IntStream;
import org.joml.Matrix4f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Mesh;

/**
 * Meshes placed in the world while the shutter is open: a tree over instances, each with a tree
 * over its triangles. Immutable; each thread casts rays through a {@link RayCaster} of its own.
 *
 * <p>A sample's moment is any number from 0 to 1, and everything stands where it is then: see
 * {@link Moment}. The interval is divided into spans, each with an upper tree whose boxes hold
 * every instance at all of its moments: nothing is built per sample, and a fast instance is only
 * tested near where it is. A mesh that deforms has one or more shapes, one after another over equal
 * parts of the interval, each with a tree of its own whose corners move linearly to the next.
 *
 * <p>Layout: {@code toObject[12 i]} and {@code toWorld[12 i]} are the transforms of instance i in
 * the middle of the interval, row-major, three rows of four; {@code path[i]} is how it moves, or
 * null.
 */
public class Instances {
  private static final int MANY = 4096;
  private static final int SPANS = 32;
  private static final int SPANS_OF_MANY = 4;

  /** Number of instances. */
  public final int instances;

  public final float[] toObject;
  public final float[] toWorld;
  public final @Nullable MotionPath[] path;

  /** The shape of each instance, or its first. */
  public final MeshTree[] tree;

  /** The shapes of each instance, one after another. */
  final MeshTree[][] shapes;

  /** The instances whose shape changes. */
  final int[] bending;

  /** Whether an instance's object space is world space at all moments. */
  final boolean[] stands;

  private final boolean moves;
  private final WideTree[] upper;

  /**
   * Builds the upper trees.
   *
   * @param shapes of each instance, one after another over equal parts of the interval
   * @param toObject world to object, in the middle of the interval
   * @param toWorld object to world, in the middle of the interval
   * @param path how each instance moves, or null for those that do not
   */
  public Instances(
      MeshTree[][] shapes, float[] toObject, float[] toWorld, @Nullable MotionPath[] path) {
    this.shapes = shapes;
    this.toObject = toObject;
    this.toWorld = toWorld;
    this.path = path;
    instances = shapes.length;
    tree = new MeshTree[instances];
    Arrays.setAll(tree, i -> shapes[i][0]);
    bending =
        IntStream.range(0, instances)
            .filter(i -> shapes[i].length > 1 || shapes[i][0].last != null)
            .toArray();
    boolean any = bending.length > 0;
    for (MotionPath p : path) {
      any |= p != null;
    }
    moves = any;
    stands = standing();
    int spans = !moves ? 1 : instances > MANY ? SPANS_OF_MANY : SPANS;
    upper = new WideTree[spans];
    IntStream.range(0, spans).parallel().forEach(g -> upper[g] = upper(g));
  }

  /** Whether an instance moves or deforms. */
  public final boolean isMoving(int instance) {
    return path[instance] != null
        || shapes[instance].length > 1
        || shapes[instance][0].last != null;
  }

  /** Returns the shapes of an instance, one after another. */
  protected final MeshTree[] shapes(int instance) {
    return shapes[instance];
  }

  /** Whether any instance moves or deforms. */
  public final boolean moves() {
    return moves;
  }

  /**
   * Returns one mesh at several places, without motion.
   *
   * @param xyz vertices, three numbers each
   * @param index three vertices of each triangle
   * @param places by how much the mesh is moved at each place, three numbers
   */
  public static Instances still(float[] xyz, int[] index, float[]... places) {
    MeshTree mesh =
        new MeshTree(new Mesh("rays", xyz, null, null, index, new int[index.length / 3]));
    MeshTree[][] trees = new MeshTree[places.length][];
    float[] toObject = new float[12 * places.length];
    float[] toWorld = new float[12 * places.length];
    for (int i = 0; i < places.length; i++) {
      trees[i] = new MeshTree[] {mesh};
      float[] p = places[i];
      store(new Matrix4f().translation(p[0], p[1], p[2]), toWorld, 12 * i);
      store(new Matrix4f().translation(-p[0], -p[1], -p[2]), toObject, 12 * i);
    }
    return new Instances(trees, toObject, toWorld, new MotionPath[places.length]);
  }

  /** The tree over all instances for a span of moments. */
  private WideTree upper(int span) {
    float from = (float) span / upper.length;
    float to = (span + 1f) / upper.length;
    float[] boxes = new float[6 * instances];
    for (int i = 0; i < instances; i++) {
      int box = 6 * i;
      Arrays.fill(boxes, box, box + 3, Float.POSITIVE_INFINITY);
      Arrays.fill(boxes, box + 3, box + 6, Float.NEGATIVE_INFINITY);
      int count = shapes[i].length;
      for (int k = 0; k < count; k++) {
        float[] outline = shapes[i][k].outline;
        if (k + 1 >= from * count && k <= to * count) {
          MotionPath p = path[i];
          if (p == null) {
            grow(outline, toWorld, 12 * i, boxes, box);
          } else {
            p.between(from, to, (m, at) -> grow(outline, m, at, boxes, box));
          }
        }
      }
    }
    return new WideTree(boxes, instances, 1);
  }

  /** Returns the tree over all instances at a moment. */
  final WideTree tree(float moment) {
    return upper[Math.max(0, Math.min(upper.length - 1, (int) (moment * upper.length)))];
  }

  /**
   * Writes a box that holds some triangles of an instance at every moment: least and greatest x, y
   * and z.
   */
  public final void span(int instance, int[] triangles, float[] box) {
    Arrays.fill(box, 0, 3, Float.POSITIVE_INFINITY);
    Arrays.fill(box, 3, 6, Float.NEGATIVE_INFINITY);
    float[] own = new float[6];
    Arrays.fill(own, 0, 3, Float.POSITIVE_INFINITY);
    Arrays.fill(own, 3, 6, Float.NEGATIVE_INFINITY);
    for (MeshTree shape : shapes[instance]) {
      for (int t : triangles) {
        TriangleSplits.grow(shape.mesh, t, own, 0);
        if (shape.last != null) {
          TriangleSplits.grow(shape.last, t, own, 0);
        }
      }
    }
    MotionPath p = path[instance];
    if (p == null) {
      grow(own, toWorld, 12 * instance, box, 0);
    } else {
      p.between(0, 1, (m, at) -> grow(own, m, at, box, 0));
    }
  }

  private boolean[] standing() {
    boolean[] out = new boolean[instances];
    for (int i = 0; i < instances; i++) {
      out[i] = path[i] == null;
      for (int k = 0; k < 12; k++) {
        out[i] &= toObject[12 * i + k] == (k % 5 == 0 ? 1 : 0);
      }
    }
    return out;
  }

  public static void store(Matrix4f m, float[] out, int at) {
    out[at] = m.m00();
    out[at + 1] = m.m10();
    out[at + 2] = m.m20();
    out[at + 3] = m.m30();
    out[at + 4] = m.m01();
    out[at + 5] = m.m11();
    out[at + 6] = m.m21();
    out[at + 7] = m.m31();
    out[at + 8] = m.m02();
    out[at + 9] = m.m12();
    out[at + 10] = m.m22();
    out[at + 11] = m.m32();
  }

  /** Writes the inverse of a transform; zeros if it has none, so that no ray meets anything. */
  public static void invert(float[] m, float[] out, int at) {
    double a = m[at];
    double b = m[at + 1];
    double c = m[at + 2];
    double d = m[at + 4];
    double e = m[at + 5];
    double f = m[at + 6];
    double g = m[at + 8];
    double h = m[at + 9];
    double i = m[at + 10];
    double ei = e * i - f * h;
    double fg = f * g - d * i;
    double dh = d * h - e * g;
    double det = a * ei + b * fg + c * dh;
    double inv = det == 0 ? 0 : 1 / det;
    double x = m[at + 3];
    double y = m[at + 7];
    double z = m[at + 11];
    row(out, at, ei * inv, (c * h - b * i) * inv, (b * f - c * e) * inv, x, y, z);
    row(out, at + 4, fg * inv, (a * i - c * g) * inv, (c * d - a * f) * inv, x, y, z);
    row(out, at + 8, dh * inv, (b * g - a * h) * inv, (a * e - b * d) * inv, x, y, z);
  }

  private static void row(
      float[] out, int at, double p, double q, double r, double x, double y, double z) {
    out[at] = (float) p;
    out[at + 1] = (float) q;
    out[at + 2] = (float) r;
    out[at + 3] = (float) -(p * x + q * y + r * z);
  }

  /** Grows a box by the boxes that a mesh fills, placed by a transform. */
  private static void grow(float[] outline, float[] m, int at, float[] boxes, int box) {
    for (int axis = 0; axis < 3; axis++) {
      float min = Float.POSITIVE_INFINITY;
      float max = Float.NEGATIVE_INFINITY;
      int row = at + 4 * axis;
      float x = m[row];
      float y = m[row + 1];
      float z = m[row + 2];
      float moved = m[row + 3];
      for (int b = 0; b < outline.length; b += 6) {
        float middle =
            x * (outline[b] + outline[b + 3])
                + y * (outline[b + 1] + outline[b + 4])
                + z * (outline[b + 2] + outline[b + 5]);
        float width =
            Math.abs(x) * (outline[b + 3] - outline[b])
                + Math.abs(y) * (outline[b + 4] - outline[b + 1])
                + Math.abs(z) * (outline[b + 5] - outline[b + 2]);
        min = Math.min(min, middle - width);
        max = Math.max(max, middle + width);
      }
      min = 0.5f * min + moved;
      max = 0.5f * max + moved;
      // rays are moved into the mesh's space, which rounds at the scale of its place in the world
      float pad = 2e-6f * Math.max(Math.abs(min), Math.abs(max)) + 1e-7f;
      boxes[box + axis] = Math.min(boxes[box + axis], min - pad);
      boxes[box + 3 + axis] = Math.max(boxes[box + 3 + axis], max + pad);
    }
  }
}
