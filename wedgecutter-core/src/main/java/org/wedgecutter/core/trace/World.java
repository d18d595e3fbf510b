package org.wedgecutter.core.trace;

import java.util.ArrayList;
import java.util.List;
import org.joml.Matrix4f;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/**
 * The meshes of a scene placed in the world at one time: a tree over instances, each with a tree
 * over its triangles. Immutable; rays are cast by a {@link Caster} of each thread.
 *
 * <p>Instance i is the i-th entity of kind mesh that has triangles: {@code entity[i]} its entity,
 * {@code toObject[12 i]} and {@code toWorld[12 i]} its transforms, row by row, three rows of four.
 */
final class World {
  final Scene scene;
  final int instances;
  final int[] entity;
  final float[] toObject;
  final float[] toWorld;
  final MeshTree[] tree;
  final Bvh bvh;

  /**
   * @param trees one for each mesh of the scene
   * @param pose world transform of each node
   */
  World(Scene scene, List<MeshTree> trees, Matrix4f[] pose) {
    this.scene = scene;
    List<Entity> placed = new ArrayList<>();
    for (Entity e : scene.entities()) {
      if (e.kind() == EntityKind.MESH
          && scene.meshes().get(e.payload()).triangles() > 0
          && Math.abs(pose[e.node()].determinant3x3()) > 0) {
        placed.add(e);
      }
    }
    instances = placed.size();
    entity = new int[instances];
    toObject = new float[12 * instances];
    toWorld = new float[12 * instances];
    tree = new MeshTree[instances];
    float[] boxes = new float[6 * Math.max(1, instances)];
    for (int i = 0; i < instances; i++) {
      Entity e = placed.get(i);
      Matrix4f world = pose[e.node()];
      entity[i] = e.index();
      tree[i] = trees.get(e.payload());
      store(world, toWorld, 12 * i);
      store(new Matrix4f(world).invertAffine(), toObject, 12 * i);
      box(scene.meshes().get(e.payload()).positions(), i, boxes);
    }
    bvh = new Bvh(boxes, instances, 1);
  }

  private static void store(Matrix4f m, float[] out, int at) {
    for (int row = 0; row < 3; row++) {
      for (int column = 0; column < 4; column++) {
        out[at + 4 * row + column] = m.get(column, row);
      }
    }
  }

  private void box(float[] positions, int i, float[] boxes) {
    for (int axis = 0; axis < 3; axis++) {
      float min = Float.POSITIVE_INFINITY;
      float max = Float.NEGATIVE_INFINITY;
      int row = 12 * i + 4 * axis;
      for (int p = 0; p < positions.length; p += 3) {
        float x =
            toWorld[row] * positions[p]
                + toWorld[row + 1] * positions[p + 1]
                + toWorld[row + 2] * positions[p + 2]
                + toWorld[row + 3];
        min = Math.min(min, x);
        max = Math.max(max, x);
      }
      // rays are moved into the mesh's space, which rounds at the scale of its place in the world
      float pad = 1e-6f * Math.max(Math.abs(min), Math.abs(max)) + 1e-7f;
      boxes[6 * i + axis] = min - pad;
      boxes[6 * i + 3 + axis] = max + pad;
    }
  }
}
