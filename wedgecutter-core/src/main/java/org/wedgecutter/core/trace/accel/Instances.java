package org.wedgecutter.core.trace.accel;

import java.util.Arrays;
import java.util.stream.IntStream;
import org.joml.Matrix4f;
import org.wedgecutter.core.scene.Mesh;

/**
 * Meshes placed in the world while the shutter is open: a tree over instances, each with a tree
 * over its triangles. Immutable; each thread casts rays through a {@link RayCaster} of its own.
 *
 * <p>The shutter interval is divided into moments, and each sample belongs to one of them. Moments
 * are grouped, each group with an upper tree whose boxes hold every instance at all of its moments:
 * nothing is built per sample, and a fast instance is only tested near where it is.
 *
 * <p>Layout: {@code toObject[moment][12 i]} and {@code toWorld[moment][12 i]} are the transforms of
 * instance i, row-major, three rows of four.
 */
public class Instances {
  private static final int MANY = 4096;
  private static final int GROUPS = 32;

  /** Number of instances. */
  public final int instances;

  /** Number of moments in the shutter interval; 1 without motion. */
  public final int moments;

  public final float[][] toObject;
  public final float[][] toWorld;
  public final MeshTree[] tree;

  /** Whether an instance's object space is world space. */
  public final boolean[] stands;

  private final WideTree[] upper;

  /**
   * Builds the upper trees.
   *
   * @param tree tree over the triangles of each instance
   * @param toObject world to object, by moment
   * @param toWorld object to world, by moment
   * @param groups how many upper trees share the moments, 1 to the number of moments
   */
  public Instances(MeshTree[] tree, float[][] toObject, float[][] toWorld, int groups) {
    this.tree = tree;
    this.toObject = toObject;
    this.toWorld = toWorld;
    instances = tree.length;
    moments = toWorld.length;
    stands = standing();
    upper = new WideTree[groups];
    IntStream.range(0, groups).parallel().forEach(g -> upper[g] = upper(g));
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
    MeshTree[] trees = new MeshTree[places.length];
    float[][] toObject = new float[1][12 * places.length];
    float[][] toWorld = new float[1][12 * places.length];
    for (int i = 0; i < places.length; i++) {
      trees[i] = mesh;
      float[] p = places[i];
      store(new Matrix4f().translation(p[0], p[1], p[2]), toWorld[0], 12 * i);
      store(new Matrix4f().translation(-p[0], -p[1], -p[2]), toObject[0], 12 * i);
    }
    return new Instances(trees, toObject, toWorld, 1);
  }

  /** Returns into how many groups the moments of moving instances are divided. */
  public static int groups(int instances, int moments) {
    return instances > MANY ? Math.min(moments, 4) : Math.min(moments, GROUPS);
  }

  /** Returns the number of groups of moments. */
  public final int groups() {
    return upper.length;
  }

  /** Returns the moment at the middle of the shutter interval. */
  public final int middle() {
    return middle(moments);
  }

  /** Returns the middle one of so many moments. */
  public static int middle(int moments) {
    return moments / 2;
  }

  /** The tree over all instances for a group of moments. */
  private WideTree upper(int group) {
    int from = (group * moments + upper.length - 1) / upper.length;
    int to = ((group + 1) * moments + upper.length - 1) / upper.length;
    float[] boxes = new float[6 * instances];
    for (int i = 0; i < instances; i++) {
      for (int k = 0; k < 3; k++) {
        boxes[6 * i + k] = Float.POSITIVE_INFINITY;
        boxes[6 * i + 3 + k] = Float.NEGATIVE_INFINITY;
      }
      for (int m = from; m < to; m++) {
        if (m > from
            && Arrays.equals(
                toWorld[m], 12 * i, 12 * i + 12, toWorld[m - 1], 12 * i, 12 * i + 12)) {
          continue;
        }
        grow(tree[i].outline, m, i, boxes);
      }
      if (tree[i].last != null && moments > 1) {
        // corners that move while the instance turns stay within the box of both
        pad(boxes, i);
      }
    }
    return new WideTree(boxes, instances, 1);
  }

  /** Returns the tree over all instances at a moment. */
  public WideTree tree(int moment) {
    return upper[moment * upper.length / moments];
  }

  private boolean[] standing() {
    boolean[] out = new boolean[instances];
    for (int i = 0; i < instances; i++) {
      out[i] = true;
      for (float[] m : toObject) {
        for (int k = 0; k < 12; k++) {
          out[i] &= m[12 * i + k] == (k % 5 == 0 ? 1 : 0);
        }
      }
    }
    return out;
  }

  /** Position of a moment in the shutter interval, 0 to 1. */
  public float part(int moment) {
    return moments == 1 ? 0.5f : moment / (moments - 1f);
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

  private static void pad(float[] boxes, int i) {
    for (int axis = 0; axis < 3; axis++) {
      float width = boxes[6 * i + 3 + axis] - boxes[6 * i + axis];
      boxes[6 * i + axis] -= 0.02f * width;
      boxes[6 * i + 3 + axis] += 0.02f * width;
    }
  }

  /** Grows the box of an instance by the boxes that its mesh fills, placed at a moment. */
  private void grow(float[] outline, int moment, int i, float[] boxes) {
    float[] world = toWorld[moment];
    for (int axis = 0; axis < 3; axis++) {
      float min = Float.POSITIVE_INFINITY;
      float max = Float.NEGATIVE_INFINITY;
      int row = 12 * i + 4 * axis;
      float x = world[row];
      float y = world[row + 1];
      float z = world[row + 2];
      float moved = world[row + 3];
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
      float pad = 1e-6f * Math.max(Math.abs(min), Math.abs(max)) + 1e-7f;
      boxes[6 * i + axis] = Math.min(boxes[6 * i + axis], min - pad);
      boxes[6 * i + 3 + axis] = Math.max(boxes[6 * i + 3 + axis], max + pad);
    }
  }
}
