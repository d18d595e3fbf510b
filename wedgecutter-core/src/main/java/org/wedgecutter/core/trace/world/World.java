package org.wedgecutter.core.trace.world;

import java.util.ArrayList;
import java.util.List;
import java.util.function.IntFunction;
import java.util.function.IntPredicate;
import org.joml.Matrix4f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.accel.Instances;
import org.wedgecutter.core.trace.accel.MeshTree;
import org.wedgecutter.core.trace.accel.MotionPath;

/**
 * The meshes of a scene as {@link Instances}: instance i is the i-th entity of kind mesh that has
 * triangles, and {@code entity[i]} is its index in the scene.
 */
public final class World extends Instances {
  public final Scene scene;
  public final int[] entity;

  /**
   * @param trees the shapes of each entity that is a mesh, one after another
   * @param motion of all nodes while the shutter is open
   */
  public World(Scene scene, IntFunction<MeshTree[]> trees, ShutterMotion motion) {
    List<Entity> placed = placed(scene, motion);
    int instances = placed.size();
    int[] entities = new int[instances];
    float[] toObject = new float[12 * instances];
    float[] toWorld = new float[12 * instances];
    MotionPath[] path = new MotionPath[instances];
    MeshTree[][] shapes = new MeshTree[instances][];
    for (int i = 0; i < instances; i++) {
      Entity e = placed.get(i);
      entities[i] = e.index();
      shapes[i] = trees.apply(e.index());
      Matrix4f world = motion.middle()[e.node()];
      store(world, toWorld, 12 * i);
      store(new Matrix4f(world).invertAffine(), toObject, 12 * i);
      path[i] = motion.moving(e.node());
    }
    super(shapes, toObject, toWorld, path);
    this.scene = scene;
    this.entity = entities;
  }

  private static List<Entity> placed(Scene scene, ShutterMotion motion) {
    Matrix4f[] middle = motion.middle();
    boolean[] visible = motion.visible();
    List<Entity> out = new ArrayList<>();
    for (Entity e : scene.entities()) {
      if (e.kind() == EntityKind.MESH
          && visible[e.node()]
          && scene.meshes().get(e.payload()).triangles() > 0
          && Math.abs(middle[e.node()].determinant3x3()) > 0) {
        out.add(e);
      }
    }
    return out;
  }

  private World(World from, MeshTree[][] shapes, @Nullable MotionPath[] path) {
    super(shapes, from.toObject, from.toWorld, path);
    scene = from.scene;
    entity = from.entity;
  }

  /** Returns the same world with some entities frozen at the middle of the shutter interval. */
  public World still(IntPredicate entities, IntFunction<MeshTree[]> standing) {
    MeshTree[][] next = new MeshTree[instances][];
    MotionPath[] paths = path.clone();
    for (int i = 0; i < instances; i++) {
      boolean frozen = entities.test(entity[i]);
      next[i] = frozen ? standing.apply(entity[i]) : shapes(i);
      paths[i] = frozen ? null : paths[i];
    }
    return new World(this, next, paths);
  }
}
