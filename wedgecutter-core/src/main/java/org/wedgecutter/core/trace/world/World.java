package org.wedgecutter.core.trace.world;

import java.util.ArrayList;
import java.util.List;
import java.util.function.IntFunction;
import java.util.function.IntPredicate;
import org.joml.Matrix4f;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.accel.Instances;
import org.wedgecutter.core.trace.accel.MeshTree;

/**
 * The meshes of a scene as {@link Instances}: instance i is the i-th entity of kind mesh that has
 * triangles, and {@code entity[i]} is its index in the scene.
 */
public final class World extends Instances {
  public final Scene scene;
  public final int[] entity;

  /**
   * @param trees of each entity that is a mesh
   * @param poses of all nodes while the shutter is open
   */
  public World(Scene scene, IntFunction<MeshTree> trees, ShutterPoses poses) {
    List<Entity> placed = placed(scene, poses.middle());
    int instances = placed.size();
    int moments = poses.moments();
    int[] entities = new int[instances];
    float[][] toObject = new float[moments][12 * instances];
    float[][] toWorld = new float[moments][12 * instances];
    MeshTree[] tree = new MeshTree[instances];
    boolean moves = false;
    for (int i = 0; i < instances; i++) {
      Entity e = placed.get(i);
      entities[i] = e.index();
      tree[i] = trees.apply(e.index());
      for (int m = 0; m < moments; m++) {
        Matrix4f world = poses.at(m)[e.node()];
        if (m > 0 && world.equals(poses.at(m - 1)[e.node()])) {
          System.arraycopy(toWorld[m - 1], 12 * i, toWorld[m], 12 * i, 12);
          System.arraycopy(toObject[m - 1], 12 * i, toObject[m], 12 * i, 12);
          continue;
        }
        moves |= m > 0;
        store(world, toWorld[m], 12 * i);
        store(new Matrix4f(world).invertAffine(), toObject[m], 12 * i);
      }
    }
    super(tree, toObject, toWorld, moves ? groups(instances, moments) : 1);
    this.scene = scene;
    this.entity = entities;
  }

  private static List<Entity> placed(Scene scene, Matrix4f[] middle) {
    List<Entity> out = new ArrayList<>();
    for (Entity e : scene.entities()) {
      if (e.kind() == EntityKind.MESH
          && scene.meshes().get(e.payload()).triangles() > 0
          && Math.abs(middle[e.node()].determinant3x3()) > 0) {
        out.add(e);
      }
    }
    return out;
  }

  private World(World from, MeshTree[] trees, float[][] toObject, float[][] toWorld) {
    super(trees, toObject, toWorld, from.groups());
    scene = from.scene;
    entity = from.entity;
  }

  /** Returns the same world with some entities frozen at the middle of the shutter interval. */
  public World still(IntPredicate entities, IntFunction<MeshTree> standing) {
    MeshTree[] trees = tree.clone();
    float[][] object = new float[moments][];
    float[][] world = new float[moments][];
    for (int m = 0; m < moments; m++) {
      object[m] = toObject[m].clone();
      world[m] = toWorld[m].clone();
      for (int i = 0; i < instances; i++) {
        if (entities.test(entity[i])) {
          System.arraycopy(toObject[middle()], 12 * i, object[m], 12 * i, 12);
          System.arraycopy(toWorld[middle()], 12 * i, world[m], 12 * i, 12);
        }
      }
    }
    for (int i = 0; i < instances; i++) {
      if (entities.test(entity[i]) && trees[i].last != null) {
        trees[i] = standing.apply(entity[i]);
      }
    }
    return new World(this, trees, object, world);
  }
}
