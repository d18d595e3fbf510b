package org.wedgecutter.core.trace;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntFunction;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;
import org.joml.Matrix4f;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/**
 * The meshes of a scene placed in the world while the shutter is open: a tree over instances, each
 * with a tree over its triangles. Immutable; rays are cast by a {@link Caster} of each thread.
 *
 * <p>The shutter's time is cut into moments; every sample is of one of them, and there every
 * instance stands exactly where it is then. Moments are taken together in groups, each with an
 * upper tree whose boxes hold all of its moments: nothing is built for a sample, and what moves far
 * is met only near where it is.
 *
 * <p>Instance i is the i-th entity of kind mesh that has triangles: {@code entity[i]} its entity,
 * {@code toObject[moment][12 i]} and {@code toWorld[moment][12 i]} its transforms, row by row,
 * three rows of four.
 */
final class World {
  final Scene scene;
  final int instances;
  final int moments;
  final int[] entity;
  final float[][] toObject;
  final float[][] toWorld;
  final MeshTree[] tree;

  /** Of each instance, whether its space is the world's. */
  final boolean[] stands;

  private final WideTree[] upper;

  /**
   * @param trees of each entity that is a mesh
   * @param poses at each moment, the world transform of each node
   */
  World(Scene scene, IntFunction<MeshTree> trees, Matrix4f[][] poses) {
    this.scene = scene;
    moments = poses.length;
    Matrix4f[] middle = poses[moments / 2];
    List<Entity> placed = new ArrayList<>();
    for (Entity e : scene.entities()) {
      if (e.kind() == EntityKind.MESH
          && scene.meshes().get(e.payload()).triangles() > 0
          && Math.abs(middle[e.node()].determinant3x3()) > 0) {
        placed.add(e);
      }
    }
    instances = placed.size();
    entity = new int[instances];
    toObject = new float[moments][12 * instances];
    toWorld = new float[moments][12 * instances];
    tree = new MeshTree[instances];
    boolean moves = false;
    for (int i = 0; i < instances; i++) {
      Entity e = placed.get(i);
      entity[i] = e.index();
      tree[i] = trees.apply(e.index());
      for (int m = 0; m < moments; m++) {
        Matrix4f world = poses[m][e.node()];
        if (m > 0 && world.equals(poses[m - 1][e.node()])) {
          System.arraycopy(toWorld[m - 1], 12 * i, toWorld[m], 12 * i, 12);
          System.arraycopy(toObject[m - 1], 12 * i, toObject[m], 12 * i, 12);
          continue;
        }
        moves |= m > 0;
        store(world, toWorld[m], 12 * i);
        store(new Matrix4f(world).invertAffine(), toObject[m], 12 * i);
      }
    }
    stands = standing();
    upper = new WideTree[!moves ? 1 : instances > MANY ? 4 : Math.min(moments, GROUPS)];
    IntStream.range(0, upper.length).parallel().forEach(g -> upper[g] = upper(g));
  }

  private static final int MANY = 4096;
  private static final int GROUPS = 32;

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
  WideTree tree(int moment) {
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

  private World(World from, MeshTree[] trees, IntPredicate still) {
    scene = from.scene;
    instances = from.instances;
    moments = from.moments;
    entity = from.entity;
    tree = trees;
    toObject = new float[moments][];
    toWorld = new float[moments][];
    int middle = moments / 2;
    for (int m = 0; m < moments; m++) {
      toObject[m] = from.toObject[m].clone();
      toWorld[m] = from.toWorld[m].clone();
      for (int i = 0; i < instances; i++) {
        if (still.test(entity[i])) {
          System.arraycopy(from.toObject[middle], 12 * i, toObject[m], 12 * i, 12);
          System.arraycopy(from.toWorld[middle], 12 * i, toWorld[m], 12 * i, 12);
        }
      }
    }
    stands = standing();
    upper = new WideTree[from.upper.length];
    IntStream.range(0, upper.length).parallel().forEach(g -> upper[g] = upper(g));
  }

  /** Returns the same with some entities standing still where they are in the middle. */
  World still(IntPredicate entities, IntFunction<MeshTree> standing) {
    MeshTree[] trees = tree.clone();
    for (int i = 0; i < instances; i++) {
      if (entities.test(entity[i]) && trees[i].last != null) {
        trees[i] = standing.apply(entity[i]);
      }
    }
    return new World(this, trees, entities);
  }

  /** Part of the shutter's time of a moment, 0 to 1. */
  float part(int moment) {
    return moments == 1 ? 0.5f : moment / (moments - 1f);
  }

  static void store(Matrix4f m, float[] out, int at) {
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
