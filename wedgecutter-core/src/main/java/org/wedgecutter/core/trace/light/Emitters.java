package org.wedgecutter.core.trace.light;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;
import org.joml.Matrix4f;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.accel.MeshTree;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.MotionPath;
import org.wedgecutter.core.trace.world.Appearance;
import org.wedgecutter.core.trace.world.ShutterMotion;
import org.wedgecutter.core.trace.world.World;

/**
 * Everything in a scene that emits light, at one time: punctual lights, meshes with emitting
 * triangles, and the environment. The list and the strengths by which it is picked from are of the
 * scene, not of a layer, so that layers without some light use the same random numbers for the
 * others.
 */
public final class Emitters {
  /** A source of light. */
  public sealed interface Emitter {
    int entity();
  }

  /**
   * A light that is not a mesh.
   *
   * @param path of its node
   */
  public record Shining(int entity, Light light, MotionPath path) implements Emitter {
    /** Half its angle as seen from everywhere, radians; of a directional light. */
    float halfAngle() {
      return light.width() / 2;
    }

    /** Whether rays can meet it. */
    boolean hasExtent() {
      return light.type().isArea() || (light.type() == Light.Type.DIRECTIONAL && light.width() > 0);
    }
  }

  /**
   * The emitting triangles of a mesh.
   *
   * @param triangles their numbers in the mesh
   * @param cdf running share of the area in the shutter's middle, one number per triangle
   * @param place of each of the mesh's triangles in {@code triangles}, or -1
   */
  public record Area(int entity, int instance, int[] triangles, float[] cdf, int[] place)
      implements Emitter {
    public int pick(float u) {
      int at = Arrays.binarySearch(cdf, u);
      return Math.min(cdf.length - 1, at >= 0 ? at + 1 : -at - 1);
    }

    /** Probability of picking the k-th of its triangles. */
    float chance(int k) {
      return cdf[k] - (k == 0 ? 0 : cdf[k - 1]);
    }
  }

  /** The environment. */
  public record Surround(int entity) implements Emitter {}

  public final List<Emitter> all = new ArrayList<>();

  /**
   * Of each, its strength: the irradiance at a distance of one metre that it faces, or anywhere if
   * it is at no place, watts per square metre, its strongest channel. It is the scene's, whatever a
   * class makes of the emitter.
   */
  final float[] strength;

  /** Emitters with a position. */
  public final LightTree tree;

  /** Indices in {@link #all} of emitters at infinity: suns and the environment. */
  final int[] nowhere;

  /** Of each, where picking it begins: among {@link #nowhere}, and after them the tree's top. */
  final int[] topOf;

  /** Place in {@link #all} of an instance's emitter, or -1. */
  public final int[] ofInstance;

  /** Indices in {@link #all} of lights at infinity that rays can hit. */
  public final int[] discs;

  /** Place of the environment, or -1. */
  public final int surround;

  /**
   * @param appearance lights and materials as a class has them; what shines only there comes last,
   *     so that all else keeps its random numbers
   */
  public Emitters(
      World world, ShutterMotion motion, EnvironmentMap environment, Appearance appearance) {
    Scene scene = world.scene;
    ofInstance = new int[world.instances];
    Arrays.fill(ofInstance, -1);
    List<Float> strengths = new ArrayList<>();
    List<Emitter> late = new ArrayList<>();
    List<Float> lateStrengths = new ArrayList<>();
    for (Entity entity : scene.entities()) {
      if (entity.kind() == EntityKind.LIGHT && motion.visible()[entity.node()]) {
        Light before = scene.lights().get(entity.payload());
        Light light = appearance.light(entity.index(), before);
        if (before.intensity().max() > 0) {
          all.add(new Shining(entity.index(), light, motion.path(entity.node())));
          strengths.add(strength(before, motion.middle()[entity.node()]));
        } else if (light.intensity().max() > 0) {
          late.add(new Shining(entity.index(), light, motion.path(entity.node())));
          lateStrengths.add(strength(light, motion.middle()[entity.node()]));
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
        strengths.add(strength(appearance.before(materials[area.triangles[0]]), lastArea));
      } else {
        Area own = area(world, i, t -> appearance.material(instance, materials[t]).emits());
        if (own != null) {
          late.add(own);
          lateStrengths.add(
              strength(appearance.material(i, materials[own.triangles[0]]), lastArea));
        }
      }
    }
    surround = environment.dark() ? -1 : all.size();
    if (surround >= 0) {
      all.add(new Surround(scene.environment().index()));
      strengths.add((float) (Math.PI * environment.mean()));
    }
    for (int k = 0; k < late.size(); k++) {
      if (late.get(k) instanceof Area own) {
        ofInstance[own.instance] = all.size();
      }
      all.add(late.get(k));
      strengths.add(lateStrengths.get(k));
    }
    strength = new float[all.size()];
    for (int e = 0; e < strength.length; e++) {
      strength[e] = strengths.get(e);
    }
    tree = new LightTree(all, strength, world);
    nowhere = IntStream.range(0, all.size()).filter(e -> tree.leaf(e) < 0).toArray();
    discs =
        IntStream.of(nowhere)
            .filter(i -> all.get(i) instanceof Shining s && s.hasExtent())
            .toArray();
    topOf = new int[all.size()];
    for (int k = 0; k < nowhere.length; k++) {
      topOf[nowhere[k]] = k;
    }
    for (int e = 0; e < topOf.length; e++) {
      for (int node = tree.leaf(e); node >= 0; node = tree.above(node)) {
        for (int k = 0; k < tree.top.length; k++) {
          topOf[e] = tree.top[k] == node ? nowhere.length + k : topOf[e];
        }
      }
    }
  }

  private static float strength(Light light, Matrix4f placing) {
    float[] m = new float[12];
    World.store(placing, m, 0);
    double nx = (double) m[4] * m[9] - (double) m[8] * m[5];
    double ny = (double) m[8] * m[1] - (double) m[0] * m[9];
    double nz = (double) m[0] * m[5] - (double) m[4] * m[1];
    double grown = Math.sqrt(nx * nx + ny * ny + nz * nz);
    double seen =
        switch (light.type()) {
          case POINT, SPOT, DIRECTIONAL -> 1;
          case RECTANGLE -> light.width() * light.height() * grown;
          case DISC -> light.width() * light.width() * Math.PI / 4 * grown;
          case SPHERE -> {
            double radius = LightSampler.radius(light, m);
            yield Math.PI * radius * radius;
          }
        };
    return (float) Math.max(1e-12, light.intensity().max() * seen);
  }

  /** Of a mesh: half of its area is taken to be seen. */
  private static float strength(Material m, double area) {
    Rgb e = m.emission();
    return (float) Math.max(1e-12, Picture.luma(e.r(), e.g(), e.b()) * area / 2);
  }

  /** Area of what {@link #area} returned last. */
  private double lastArea;

  private @org.jspecify.annotations.Nullable Area area(
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
    Moment middle = new Moment(world);
    float[] corners = new float[9];
    float[] cdf = new float[count];
    int[] place = new int[mesh.triangles()];
    Arrays.fill(place, -1);
    double sum = 0;
    for (int k = 0; k < count; k++) {
      place[triangles[k]] = k;
      corners(middle, instance, triangles[k], corners);
      sum += area(corners);
      cdf[k] = (float) sum;
    }
    if (!(sum > 0)) {
      return null;
    }
    lastArea = sum;
    for (int k = 0; k < count; k++) {
      cdf[k] /= (float) sum;
    }
    return new Area(world.entity[instance], instance, Arrays.copyOf(triangles, count), cdf, place);
  }

  /** Sets first corner and two edges of a triangle in the world at a moment. */
  public static void corners(Moment at, int instance, int triangle, float[] out) {
    MeshTree tree = at.shape(instance);
    at.place(instance);
    float[] p = tree.mesh.positions();
    float[] last = tree.last == null ? null : tree.last.positions();
    float part = at.part(instance);
    float[] m = at.toWorld;
    for (int corner = 0; corner < 3; corner++) {
      int v = 3 * tree.mesh.indices()[3 * triangle + corner];
      float x = p[v];
      float y = p[v + 1];
      float z = p[v + 2];
      if (last != null) {
        x += part * (last[v] - x);
        y += part * (last[v + 1] - y);
        z += part * (last[v + 2] - z);
      }
      for (int axis = 0; axis < 3; axis++) {
        int r = 12 * instance + 4 * axis;
        float w = m[r] * x + m[r + 1] * y + m[r + 2] * z + m[r + 3];
        out[3 * corner + axis] = corner == 0 ? w : w - out[axis];
      }
    }
  }

  /** Returns the area of a triangle of first corner and two edges. */
  static double area(float[] c) {
    double x = (double) c[4] * c[8] - (double) c[5] * c[7];
    double y = (double) c[5] * c[6] - (double) c[3] * c[8];
    double z = (double) c[3] * c[7] - (double) c[4] * c[6];
    return 0.5 * Math.sqrt(x * x + y * y + z * z);
  }
}
