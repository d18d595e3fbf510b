package org.wedgecutter.core.trace.world;

import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Cage;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.subdivision.Subdivision;
import org.wedgecutter.core.trace.accel.MeshTree;

/**
 * The trees over meshes: built once for rigid meshes, per time for deformed ones, and per number of
 * levels for subdivided ones. Safe for use by several threads.
 */
public final class DeformedMeshes {
  /** Largest distance of a corner from where it belongs, by the size of the mesh. */
  static final double CLOSE = 2e-4;

  /** Most parts of the interval. */
  static final int MOST = 32;

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
   * Returns the trees of an entity's mesh while the shutter is open: one for a rigid mesh; for one
   * that deforms, one for each of equal parts of the interval, so many that corners which move
   * linearly within a part are nowhere farther from where they belong than {@link #CLOSE} of the
   * mesh's size, or {@link #MOST}.
   *
   * @param motion of all nodes while the shutter is open
   * @param levels of subdivision
   */
  public MeshTree[] of(Entity e, ShutterMotion motion, int levels) {
    Deformation d = scene.deformations().get(e.index());
    if (d == null) {
      return new MeshTree[] {rigid(e, levels)};
    }
    Mesh rest = scene.meshes().get(e.payload());
    if (!motion.deforms(e)) {
      return new MeshTree[] {new MeshTree(shape(rest, d, e, motion, 0.5, levels))};
    }
    int parts = parts(rest, d, e, motion);
    Mesh[] shapes = new Mesh[parts + 1];
    for (int k = 0; k <= parts; k++) {
      shapes[k] = shape(rest, d, e, motion, (double) k / parts, levels);
    }
    MeshTree[] out = new MeshTree[parts];
    for (int k = 0; k < parts; k++) {
      out[k] = new MeshTree(shapes[k], shapes[k + 1]);
    }
    return out;
  }

  private MeshTree rigid(Entity e, int levels) {
    return levels == scene.meshes().get(e.payload()).levels()
        ? atRest.get(e.payload())
        : finer.computeIfAbsent(
            (long) e.payload() << 8 | levels,
            k -> new MeshTree(Subdivision.of(scene.meshes().get(e.payload()), levels)));
  }

  private static Mesh shape(
      Mesh rest, Deformation d, Entity e, ShutterMotion motion, double moment, int levels) {
    Points moved = motion.points(rest, d, e, moment);
    Cage cage = rest.cage();
    return cage != null
        ? Subdivision.of(rest.name(), cage, moved.xyz, levels)
        : Subdivision.of(moved.on(rest), levels);
  }

  private static int parts(Mesh rest, Deformation d, Entity e, ShutterMotion motion) {
    for (int parts = 1; parts < MOST; parts *= 2) {
      boolean met = true;
      for (int k = 0; k < parts && met; k++) {
        float[] a = motion.points(rest, d, e, (double) k / parts).xyz;
        float[] b = motion.points(rest, d, e, (k + 1.0) / parts).xyz;
        float[] between = motion.points(rest, d, e, (k + 0.5) / parts).xyz;
        met = close(a, b, between);
      }
      if (met) {
        return parts;
      }
    }
    return MOST;
  }

  private static boolean close(float[] a, float[] b, float[] between) {
    double size = 0;
    double most = 0;
    for (int axis = 0; axis < 3; axis++) {
      float low = Float.POSITIVE_INFINITY;
      float high = Float.NEGATIVE_INFINITY;
      for (int i = axis; i < a.length; i += 3) {
        low = Math.min(low, between[i]);
        high = Math.max(high, between[i]);
        most = Math.max(most, Math.abs(0.5 * (a[i] + (double) b[i]) - between[i]));
      }
      size = Math.max(size, high - low);
    }
    return most <= CLOSE * size;
  }

  /**
   * What a deformation moves.
   *
   * @param xyz points of the mesh's cage, or its vertices if it has none
   * @param normals of its vertices, or null
   */
  record Points(float[] xyz, float @Nullable [] normals) {
    private Mesh on(Mesh rest) {
      return new Mesh(
          rest.name(),
          xyz,
          normals,
          rest.uvs(),
          rest.colors(),
          rest.indices(),
          rest.triangleMaterials());
    }
  }

  /** Returns the points of a mesh in its own space as a deformation has them at a time. */
  static Points deformed(Mesh rest, Deformation d, Entity e, Matrix4f[] pose, double time) {
    Cage cage = rest.cage();
    float[] p = cage == null ? rest.positions().clone() : cage.points().clone();
    float @Nullable [] n = cage != null || rest.normals() == null ? null : rest.normals().clone();
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
    return new Points(p, n);
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
    int each = skin.influences();
    for (int v = 0; v < p.length / 3; v++) {
      float all = 0;
      for (int k = 0; k < each; k++) {
        all += skin.weights()[each * v + k];
      }
      if (all <= 0) {
        continue;
      }
      sum.zero();
      for (int k = 0; k < each; k++) {
        float w = skin.weights()[each * v + k] / all;
        joints[skin.joints()[each * v + k]].transformPosition(
            at.set(p[3 * v], p[3 * v + 1], p[3 * v + 2]));
        sum.fma(w, at);
      }
      if (n != null) {
        Vector3f turned = new Vector3f();
        for (int k = 0; k < each; k++) {
          float w = skin.weights()[each * v + k] / all;
          joints[skin.joints()[each * v + k]].transformDirection(
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
