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
      return new MeshTree[] {new MeshTree(Subdivision.loop(motion.shape(rest, d, e, 0.5), levels))};
    }
    int parts = parts(rest, d, e, motion);
    Mesh[] shapes = new Mesh[parts + 1];
    for (int k = 0; k <= parts; k++) {
      shapes[k] = Subdivision.loop(motion.shape(rest, d, e, (double) k / parts), levels);
    }
    MeshTree[] out = new MeshTree[parts];
    for (int k = 0; k < parts; k++) {
      out[k] = new MeshTree(shapes[k], shapes[k + 1]);
    }
    return out;
  }

  private MeshTree rigid(Entity e, int levels) {
    return levels == 0
        ? atRest.get(e.payload())
        : finer.computeIfAbsent(
            (long) e.payload() << 8 | levels,
            k -> new MeshTree(Subdivision.loop(scene.meshes().get(e.payload()), levels)));
  }

  private static int parts(Mesh rest, Deformation d, Entity e, ShutterMotion motion) {
    for (int parts = 1; parts < MOST; parts *= 2) {
      boolean met = true;
      for (int k = 0; k < parts && met; k++) {
        float[] a = motion.shape(rest, d, e, (double) k / parts).positions();
        float[] b = motion.shape(rest, d, e, (k + 1.0) / parts).positions();
        float[] between = motion.shape(rest, d, e, (k + 0.5) / parts).positions();
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
