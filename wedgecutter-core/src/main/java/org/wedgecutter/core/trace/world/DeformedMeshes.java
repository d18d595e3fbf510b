package org.wedgecutter.core.trace.world;

import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.accel.MeshTree;

/**
 * The trees over meshes: built once for rigid meshes, per time for deformed ones, and per number of
 * levels for subdivided ones. Safe for use by several threads.
 */
public final class DeformedMeshes {
  private final Scene scene;
  private final List<MeshTree> atRest;
  private final Map<Long, MeshTree> finer = new ConcurrentHashMap<>();

  public DeformedMeshes(Scene scene) {
    this.scene = scene;
    atRest =
        IntStream.range(0, scene.meshes().size())
            .parallel()
            .mapToObj(m -> new MeshTree(scene.meshes().get(m)))
            .toList();
  }

  /**
   * Returns the tree of an entity's mesh while the shutter is open.
   *
   * @param poses of all nodes while the shutter is open
   * @param levels of subdivision
   */
  public MeshTree of(Entity e, ShutterPoses poses, int levels) {
    Deformation d = scene.deformations().get(e.index());
    if (d == null) {
      return levels == 0
          ? atRest.get(e.payload())
          : finer.computeIfAbsent(
              (long) e.payload() << 8 | levels,
              k -> new MeshTree(Subdivision.loop(scene.meshes().get(e.payload()), levels)));
    }
    Mesh rest = scene.meshes().get(e.payload());
    int end = poses.moments() - 1;
    Mesh first = Subdivision.loop(deformed(rest, d, e, poses.at(0), poses.first()), levels);
    Deformation.Morph morph = d.morph();
    boolean bends = end > 0 && (d.skin() != null || (morph != null && morph.weights() != null));
    Mesh last =
        bends ? Subdivision.loop(deformed(rest, d, e, poses.at(end), poses.last()), levels) : null;
    return new MeshTree(first, last);
  }

  /** Returns a mesh in its own space as a deformation has it at a time. */
  static Mesh deformed(Mesh rest, Deformation d, Entity e, Matrix4f[] pose, double time) {
    float[] p = rest.positions().clone();
    float @Nullable [] n = rest.normals() == null ? null : rest.normals().clone();
    Deformation.Morph morph = d.morph();
    if (morph != null) {
      morph(morph, time, p, n);
    }
    Deformation.Skin skin = d.skin();
    if (skin != null) {
      skin(skin, pose, new Matrix4f(pose[e.node()]).invertAffine(), p, n);
    }
    if (n != null) {
      for (int v = 0; v < n.length; v += 3) {
        float length = (float) Math.sqrt(n[v] * n[v] + n[v + 1] * n[v + 1] + n[v + 2] * n[v + 2]);
        float inv = length > 0 ? 1 / length : 0;
        n[v] *= inv;
        n[v + 1] *= inv;
        n[v + 2] *= inv;
      }
    }
    return new Mesh(
        rest.name(), p, n, rest.uvs(), rest.colors(), rest.indices(), rest.triangleMaterials());
  }

  private static void morph(Deformation.Morph morph, double time, float[] p, float @Nullable [] n) {
    float[] weights = morph.rest().clone();
    if (morph.weights() != null) {
      morph.weights().sample(time, weights);
    }
    for (int t = 0; t < weights.length; t++) {
      blend(weights[t], morph.positions()[t], p);
      if (n != null) {
        blend(weights[t], morph.normals()[t], n);
      }
    }
  }

  private static void blend(float weight, float[] change, float[] to) {
    if (weight != 0) {
      for (int i = 0; i < change.length; i++) {
        to[i] += weight * change[i];
      }
    }
  }

  private static void skin(
      Deformation.Skin skin, Matrix4f[] pose, Matrix4f fromWorld, float[] p, float @Nullable [] n) {
    Matrix4f[] joints = new Matrix4f[skin.nodes().length];
    Matrix4f bind = new Matrix4f();
    for (int j = 0; j < joints.length; j++) {
      bind.set(skin.inverseBind(), 16 * j);
      joints[j] = new Matrix4f(fromWorld).mul(pose[skin.nodes()[j]]).mul(bind);
    }
    Vector3f at = new Vector3f();
    Vector3f sum = new Vector3f();
    for (int v = 0; v < p.length / 3; v++) {
      float all = 0;
      for (int k = 0; k < 4; k++) {
        all += skin.weights()[4 * v + k];
      }
      if (all <= 0) {
        continue;
      }
      sum.zero();
      for (int k = 0; k < 4; k++) {
        float w = skin.weights()[4 * v + k] / all;
        joints[skin.joints()[4 * v + k]].transformPosition(
            at.set(p[3 * v], p[3 * v + 1], p[3 * v + 2]));
        sum.fma(w, at);
      }
      if (n != null) {
        Vector3f turned = new Vector3f();
        for (int k = 0; k < 4; k++) {
          float w = skin.weights()[4 * v + k] / all;
          joints[skin.joints()[4 * v + k]].transformDirection(
              at.set(n[3 * v], n[3 * v + 1], n[3 * v + 2]));
          turned.fma(w, at);
        }
        n[3 * v] = turned.x;
        n[3 * v + 1] = turned.y;
        n[3 * v + 2] = turned.z;
      }
      p[3 * v] = sum.x;
      p[3 * v + 1] = sum.y;
      p[3 * v + 2] = sum.z;
    }
  }
}
