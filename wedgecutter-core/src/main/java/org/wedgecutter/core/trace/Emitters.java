package org.wedgecutter.core.trace;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntPredicate;
import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;

/**
 * Everything in a scene that gives off light, at one time: punctual lights, meshes with emitting
 * triangles, and the environment. The list and the chances of picking from it are of the scene, not
 * of a layer, so that layers without some light use the same random numbers for the others.
 */
final class Emitters {
  /** A source of light. */
  sealed interface Emitter {
    int entity();
  }

  /** A light without a surface, in the world. */
  record Punctual(int entity, Light light, float x, float y, float z, float ax, float ay, float az)
      implements Emitter {}

  /**
   * The emitting triangles of a mesh, in the world.
   *
   * @param corners of each triangle, first corner and two edges: nine numbers
   * @param triangles their numbers in the mesh
   * @param cdf running share of the area, one number a triangle
   * @param area square metres of all, one side
   */
  record Area(int entity, int instance, float[] corners, int[] triangles, float[] cdf, float area)
      implements Emitter {
    int pick(float u) {
      int at = Arrays.binarySearch(cdf, u);
      return Math.min(cdf.length - 1, at >= 0 ? at + 1 : -at - 1);
    }
  }

  /** All that surrounds the scene. */
  record Surround(int entity) implements Emitter {}

  final List<Emitter> all = new ArrayList<>();

  /** Chance of picking each when only one is picked, and the running sum. */
  final float[] chance;

  final float[] cdf;

  /** Place in {@link #all} of an instance's emitter, or -1. */
  final int[] ofInstance;

  /** Place of the environment, or -1. */
  final int surround;

  /**
   * @param appearance lights and materials as a class has them; what shines only there comes last,
   *     so that all else keeps its random numbers
   */
  Emitters(World world, Matrix4f[] pose, Environment environment, Appearance appearance) {
    Scene scene = world.scene;
    ofInstance = new int[world.instances];
    Arrays.fill(ofInstance, -1);
    List<Float> weights = new ArrayList<>();
    List<Emitter> late = new ArrayList<>();
    List<Float> lateWeights = new ArrayList<>();
    for (Entity entity : scene.entities()) {
      if (entity.kind() == EntityKind.LIGHT) {
        Light before = scene.lights().get(entity.payload());
        Light light = appearance.light(entity.index(), before);
        if (before.intensity().max() > 0) {
          all.add(punctual(entity, light, pose[entity.node()]));
          weights.add(before.intensity().max() * 12);
        } else if (light.intensity().max() > 0) {
          late.add(punctual(entity, light, pose[entity.node()]));
          lateWeights.add(light.intensity().max() * 12);
        }
      }
    }
    for (int i = 0; i < world.instances; i++) {
      int[] materials = world.tree[i].mesh.triangleMaterials();
      int instance = i;
      Area area = area(world, i, t -> appearance.before(materials[t]).emits());
      if (area != null) {
        ofInstance[i] = all.size();
        all.add(area);
        weights.add(power(appearance.before(materials[area.triangles[0]]), area));
      } else {
        Area own = area(world, i, t -> appearance.material(instance, materials[t]).emits());
        if (own != null) {
          late.add(own);
          lateWeights.add(power(appearance.material(i, materials[own.triangles[0]]), own));
        }
      }
    }
    surround = environment.dark() ? -1 : all.size();
    if (surround >= 0) {
      all.add(new Surround(scene.environment().index()));
      weights.add(weights.stream().reduce(0f, Float::sum) * 0.25f + 1e-3f);
    }
    for (int k = 0; k < late.size(); k++) {
      if (late.get(k) instanceof Area own) {
        ofInstance[own.instance] = all.size();
      }
      all.add(late.get(k));
      weights.add(lateWeights.get(k));
    }
    chance = new float[all.size()];
    cdf = new float[all.size()];
    double sum = 0;
    // square roots: strong lights get more samples, weak ones are not starved
    for (float weight : weights) {
      sum += Math.sqrt(weight);
    }
    double running = 0;
    for (int i = 0; i < chance.length; i++) {
      chance[i] = (float) (Math.sqrt(weights.get(i)) / sum);
      running += Math.sqrt(weights.get(i));
      cdf[i] = (float) (running / sum);
    }
  }

  private static Punctual punctual(Entity entity, Light light, Matrix4f pose) {
    Vector3f place = pose.getTranslation(new Vector3f());
    Vector3f axis = pose.transformDirection(new Vector3f(0, 0, -1)).normalize();
    return new Punctual(entity.index(), light, place.x, place.y, place.z, axis.x, axis.y, axis.z);
  }

  private static float power(Material m, Area area) {
    Rgb e = m.emission();
    return Math.max(1e-6f, Picture.luma(e.r(), e.g(), e.b()) * area.area * 3);
  }

  private static @org.jspecify.annotations.Nullable Area area(
      World world, int instance, IntPredicate emits) {
    Mesh mesh = world.tree[instance].mesh;
    int[] triangles = new int[mesh.triangles()];
    int count = 0;
    for (int t = 0; t < triangles.length; t++) {
      if (emits.test(t)) {
        triangles[count++] = t;
      }
    }
    if (count == 0) {
      return null;
    }
    float[] corners = new float[9 * count];
    float[] cdf = new float[count];
    double sum = 0;
    for (int k = 0; k < count; k++) {
      for (int corner = 0; corner < 3; corner++) {
        int vertex = 3 * mesh.indices()[3 * triangles[k] + corner];
        for (int axis = 0; axis < 3; axis++) {
          int r = 12 * instance + 4 * axis;
          float[] p = mesh.positions();
          float[] m = world.toWorld;
          float x =
              m[r] * p[vertex] + m[r + 1] * p[vertex + 1] + m[r + 2] * p[vertex + 2] + m[r + 3];
          corners[9 * k + 3 * corner + axis] = corner == 0 ? x : x - corners[9 * k + axis];
        }
      }
      sum += area(corners, 9 * k);
      cdf[k] = (float) sum;
    }
    if (!(sum > 0)) {
      return null;
    }
    for (int k = 0; k < count; k++) {
      cdf[k] /= (float) sum;
    }
    return new Area(
        world.entity[instance],
        instance,
        corners,
        Arrays.copyOf(triangles, count),
        cdf,
        (float) sum);
  }

  private static double area(float[] c, int a) {
    double x = (double) c[a + 4] * c[a + 8] - (double) c[a + 5] * c[a + 7];
    double y = (double) c[a + 5] * c[a + 6] - (double) c[a + 3] * c[a + 8];
    double z = (double) c[a + 3] * c[a + 7] - (double) c[a + 4] * c[a + 6];
    return 0.5 * Math.sqrt(x * x + y * y + z * z);
  }
}
