package org.wedgecutter.core.trace.accel;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TimeDigest;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.trace.world.ShutterMotion;
import org.wedgecutter.core.trace.world.World;

/** The tree finds what trying every triangle finds. */
public class RayCasterTest {
  private static Mesh soup(Random random, int triangles, double size) {
    float[] p = new float[9 * triangles];
    int[] indices = new int[3 * triangles];
    for (int t = 0; t < triangles; t++) {
      double[] at = {
        random.nextDouble() * 4 - 2, random.nextDouble() * 4 - 2, random.nextDouble() * 4 - 2
      };
      for (int k = 0; k < 9; k++) {
        p[9 * t + k] = (float) (at[k % 3] + (random.nextDouble() - 0.5) * size);
      }
      for (int k = 0; k < 3; k++) {
        indices[3 * t + k] = 3 * t + k;
      }
    }
    return new Mesh("soup", p, null, null, indices, new int[triangles]);
  }

  public static World world(Scene scene) {
    List<MeshTree> trees = new ArrayList<>();
    scene.meshes().forEach(m -> trees.add(new MeshTree(m)));
    return new World(
        scene,
        e -> new MeshTree[] {trees.get(scene.entities().get(e).payload())},
        ShutterMotion.still(scene, new TimeDigest(scene), 0));
  }

  private static Scene scene(long seed) {
    Random random = new Random(seed);
    SceneMaker maker = new SceneMaker().camera(1, 0, 0, 9);
    for (int k = 0; k < 4; k++) {
      maker.mesh(
          "/soup" + k,
          soup(random, 40 + 200 * k, 0.2 + random.nextDouble()),
          SceneMaker.matte(1),
          random.nextDouble() * 3,
          random.nextDouble() * 3,
          random.nextDouble() * 3);
    }
    return maker.scene();
  }

  /**
   * Every hit of a ray on chosen instances, in order, found by testing all triangles in doubles.
   */
  private static List<double[]> all(World w, byte[] masks, int bits, float[] o, float[] d) {
    List<double[]> out = new ArrayList<>();
    for (int i = 0; i < w.instances; i++) {
      if ((masks[i] & bits) == 0) {
        continue;
      }
      float[] c = new float[9];
      double[] shift = {w.toWorld[12 * i + 3], w.toWorld[12 * i + 7], w.toWorld[12 * i + 11]};
      for (int s = 0; s < w.tree[i].mesh.triangles(); s++) {
        w.tree[i].corners(s, 0, c);
        double t = intersect(c, 0, shift, o, d);
        if (t > 0) {
          out.add(new double[] {t, i, s});
        }
      }
    }
    out.sort(Comparator.comparingDouble(h -> h[0]));
    return out;
  }

  private static double intersect(float[] c, int a, double[] shift, float[] o, float[] d) {
    double[] e1 = {c[a + 3], c[a + 4], c[a + 5]};
    double[] e2 = {c[a + 6], c[a + 7], c[a + 8]};
    double[] h = cross(new double[] {d[0], d[1], d[2]}, e2);
    double det = dot(e1, h);
    double[] s = {o[0] - c[a] - shift[0], o[1] - c[a + 1] - shift[1], o[2] - c[a + 2] - shift[2]};
    double u = dot(s, h) / det;
    double[] k = cross(s, e1);
    double v = (d[0] * k[0] + d[1] * k[1] + d[2] * k[2]) / det;
    double t = dot(e2, k) / det;
    return u >= 0 && v >= 0 && u + v <= 1 ? t : -1;
  }

  private static double[] cross(double[] a, double[] b) {
    return new double[] {
      a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]
    };
  }

  private static double dot(double[] a, double[] b) {
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3})
  void nearestNextAndBlockedAgreeWithTryingEverything(long seed) {
    World w = world(scene(seed));
    RayCaster caster = RayCaster.of(w);
    Random random = new Random(seed);
    byte[] masks = new byte[w.instances];
    Arrays.fill(masks, (byte) 3);
    masks[0] = 1;
    Hit hit = new Hit();
    int found = 0;
    int odd = 0;
    for (int r = 0; r < 2000; r++) {
      float[] o = new float[3];
      float[] d = new float[3];
      for (int c = 0; c < 3; c++) {
        o[c] = (float) (random.nextDouble() * 10 - 4);
        d[c] = (float) (random.nextDouble() * 3 - o[c]);
      }
      int bits = r % 2 + 1;
      List<double[]> expected = all(w, masks, bits, o, d);
      caster.ray(o[0], o[1], o[2], d[0], d[1], d[2]);
      caster.nearest(masks, bits, hit);
      List<Double> got = new ArrayList<>();
      while (hit.found() && got.size() < 1000) {
        got.add((double) hit.t);
        caster.next(masks, bits, hit);
      }
      found += got.size();
      // rays through an edge may count one triangle more or less in single precision
      if (got.size() != expected.size()) {
        odd++;
        continue;
      }
      for (int k = 0; k < got.size(); k++) {
        assertThat(got.get(k))
            .isCloseTo(expected.get(k)[0], org.assertj.core.data.Offset.offset(2e-4));
      }
      if (!expected.isEmpty()) {
        float first = (float) expected.getFirst()[0];
        assertThat(caster.blocked(masks, bits, first * 0.999f, hit)).isFalse();
        assertThat(caster.blocked(masks, bits, first * 1.001f, hit)).isTrue();
      }
    }
    assertThat(found).isGreaterThan(1000);
    assertThat(odd).isLessThan(10);
  }

  @Test
  void hitsComeInOneOrderWhateverElseIsThere() {
    // the same place twice: the order among equals is by instance and triangle
    Mesh wall = SceneMaker.wall(1, 1);
    World w =
        world(
            new SceneMaker()
                .camera(1, 0, 0, 5)
                .mesh("/a", wall, SceneMaker.matte(1), 0, 0, 0)
                .mesh("/b", wall, SceneMaker.matte(1), 0, 0, 0)
                .mesh("/c", wall, SceneMaker.matte(1), 0, 0, -1)
                .scene());
    RayCaster caster = RayCaster.of(w);
    byte[] masks = {1, 1, 1};
    Hit hit = new Hit();
    caster.ray(0.3f, -0.2f, 4, 0, 0, -1);
    caster.nearest(masks, 1, hit);
    List<Integer> order = new ArrayList<>();
    while (hit.found()) {
      order.add(w.entity[hit.instance]);
      caster.next(masks, 1, hit);
    }
    assertThat(order).containsExactly(0, 1, 2);
    masks[0] = 0;
    caster.nearest(masks, 1, hit);
    assertThat(w.entity[hit.instance]).isEqualTo(1);
    assertThat(hit.t).isEqualTo(4f);
  }

  @Test
  void anEmptyWorldIsNeverHit() {
    World w = world(new SceneMaker().camera(1, 0, 0, 1).scene());
    RayCaster caster = RayCaster.of(w);
    caster.ray(0, 0, 0, 0, 0, -1);
    Hit hit = new Hit();
    caster.nearest(new byte[0], 1, hit);
    assertThat(hit.found()).isFalse();
    assertThat(caster.blocked(new byte[0], 1, 100, hit)).isFalse();
  }

  @Test
  void theTreeHoldsEverythingOnceAndIsTheSameEachTime() {
    Random random = new Random(4);
    for (int count : new int[] {1, 2, 3, 17, 1000, 20000}) {
      float[] boxes = new float[6 * count];
      for (int i = 0; i < count; i++) {
        for (int c = 0; c < 3; c++) {
          float at = count == 17 ? 1 : random.nextFloat();
          boxes[6 * i + c] = at;
          boxes[6 * i + 3 + c] = at + 0.01f;
        }
      }
      for (int leaf : new int[] {1, 8}) {
        WideTree a = new WideTree(boxes.clone(), count, leaf);
        WideTree b = new WideTree(boxes.clone(), count, leaf);
        assertThat(a.order).isEqualTo(b.order);
        assertThat(a.child).isEqualTo(b.child);
        assertThat(a.bounds).isEqualTo(b.bounds);
        assertThat(Arrays.stream(a.order).sorted().toArray())
            .isEqualTo(java.util.stream.IntStream.range(0, count).toArray());
        assertThat(things(a, 0, boxes, leaf)).isEqualTo(count);
      }
    }
  }

  /** Counts primitives under a node and checks that its boxes hold them. */
  private static int things(WideTree tree, int node, float[] boxes, int leaf) {
    int sum = 0;
    for (int i = 0; i < 8; i++) {
      int at = 48 * node + i;
      if (tree.bounds[at] == Float.POSITIVE_INFINITY) {
        continue;
      }
      int ref = tree.child[8 * node + i];
      if (ref >= 0) {
        sum += things(tree, ref, boxes, leaf);
        continue;
      }
      int size = tree.begins[~ref + 1] - tree.begins[~ref];
      assertThat(size).isBetween(1, leaf);
      for (int k = tree.begins[~ref]; k < tree.begins[~ref + 1]; k++) {
        for (int axis = 0; axis < 3; axis++) {
          int thing = 6 * tree.order[k] + axis;
          assertThat(boxes[thing]).isGreaterThanOrEqualTo(tree.bounds[at + 16 * axis]);
          assertThat(boxes[thing + 3]).isLessThanOrEqualTo(tree.bounds[at + 16 * axis + 8]);
        }
      }
      sum += size;
    }
    return sum;
  }

  @ParameterizedTest
  @ValueSource(longs = {4, 5, 6})
  void bothKindsOfArithmeticFindTheSameHitsToTheLastBit(long seed) {
    org.junit.jupiter.api.Assumptions.assumeTrue(VectorSupport.isAvailable());
    World w = world(scene(seed));
    RayCaster[] casters = {
      new ScalarRayCaster(w, new Moment(w)), new VectorRayCaster(w, new Moment(w))
    };
    Random random = new Random(seed);
    byte[] masks = new byte[w.instances];
    Arrays.fill(masks, (byte) 1);
    Hit[] hits = {new Hit(), new Hit()};
    int found = 0;
    for (int r = 0; r < 4000; r++) {
      float[] o = new float[3];
      float[] d = new float[3];
      for (int c = 0; c < 3; c++) {
        o[c] = (float) (random.nextDouble() * 10 - 4);
        // some directions are level, some along an axis
        d[c] = r % 7 == c ? 0 : (float) (random.nextDouble() * 3 - o[c]);
      }
      for (int k = 0; k < 2; k++) {
        casters[k].ray(o[0], o[1], o[2], d[0], d[1], d[2]);
        casters[k].nearest(masks, 1, hits[k]);
      }
      for (int n = 0; n < 40 && hits[0].found(); n++) {
        found++;
        assertThat(hits[1].instance).isEqualTo(hits[0].instance);
        assertThat(hits[1].triangle).isEqualTo(hits[0].triangle);
        assertThat(hits[1].t).isEqualTo(hits[0].t);
        assertThat(hits[1].u).isEqualTo(hits[0].u);
        assertThat(hits[1].v).isEqualTo(hits[0].v);
        float far = hits[0].t;
        for (int k = 0; k < 2; k++) {
          casters[k].next(masks, 1, hits[k]);
        }
        assertThat(casters[1].blocked(masks, 1, far, new Hit()))
            .isEqualTo(casters[0].blocked(masks, 1, far, new Hit()));
      }
      assertThat(hits[1].found()).isEqualTo(hits[0].found());
    }
    assertThat(found).isGreaterThan(1000);
  }

  @Test
  void eachKindWalksByCodeOfItsOwn() {
    Traversal plain = new TreeTraversal();
    Traversal copied = Traversal.copied();
    assertThat(copied.getClass()).isNotEqualTo(plain.getClass());
    assertThat(copied.getClass().isHidden()).isTrue();
    // one class for all casters of the kind, and nothing shared between them
    assertThat(Traversal.copied()).isNotSameAs(copied);
    assertThat(Traversal.copied().getClass()).isEqualTo(copied.getClass());
  }

  @ParameterizedTest
  @ValueSource(ints = {1, 2, 9, 300, 20000})
  void outlinesHoldEverythingInFewBoxes(int count) {
    Random random = new Random(count);
    float[] boxes = new float[6 * count];
    for (int i = 0; i < count; i++) {
      for (int c = 0; c < 3; c++) {
        boxes[6 * i + c] = random.nextFloat();
        boxes[6 * i + 3 + c] = boxes[6 * i + c] + 0.05f * random.nextFloat();
      }
    }
    float[] outline = new WideTree(boxes.clone(), count, 8).outline(64);
    assertThat(outline.length / 6).isBetween(1, 64 + WideTree.WIDTH);
    if (count == 20000) {
      assertThat(outline.length / 6).isGreaterThan(32);
    }
    for (int i = 0; i < count; i++) {
      boolean held = false;
      for (int b = 0; b < outline.length && !held; b += 6) {
        held = true;
        for (int c = 0; c < 3; c++) {
          held &= outline[b + c] <= boxes[6 * i + c];
          held &= outline[b + 3 + c] >= boxes[6 * i + 3 + c];
        }
      }
      assertThat(held).isTrue();
    }
  }

  @ParameterizedTest
  @ValueSource(longs = {11, 12})
  void anyHitIsFoundIfAndOnlyIfThereIsANearest(long seed) {
    World w = world(scene(seed));
    Random random = new Random(seed);
    byte[] masks = new byte[w.instances];
    Arrays.fill(masks, (byte) 1);
    List<RayCaster> casters = new ArrayList<>(List.of(new ScalarRayCaster(w, new Moment(w))));
    if (VectorSupport.isAvailable()) {
      casters.add(new VectorRayCaster(w, new Moment(w)));
    }
    Hit hit = new Hit();
    int met = 0;
    for (int r = 0; r < 3000; r++) {
      float[] o = new float[3];
      float[] d = new float[3];
      for (int c = 0; c < 3; c++) {
        o[c] = (float) (random.nextDouble() * 10 - 4);
        d[c] = (float) (random.nextDouble() * 3 - o[c]);
      }
      float from = random.nextInt(3) == 0 ? random.nextFloat() : 0;
      float to = from + 2 * random.nextFloat();
      for (RayCaster caster : casters) {
        caster.ray(o[0], o[1], o[2], d[0], d[1], d[2]);
        caster.nearest(masks, 1, from, to, hit);
        boolean there = hit.found();
        met += there ? 1 : 0;
        assertThat(caster.blocked(masks, 1, from, to, hit)).isEqualTo(there);
      }
    }
    assertThat(met).isGreaterThan(300);
  }

  @ParameterizedTest
  @ValueSource(longs = {21, 22, 23})
  void boxesOfTurnedMeshesHoldThemAndLittleMore(long seed) {
    Random random = new Random(seed);
    Mesh mesh = SceneMaker.sphere(1, 24);
    var turned =
        new org.joml.Matrix4f()
            .translate(3, -2, 1)
            .rotateXYZ(random.nextFloat() * 6, random.nextFloat() * 6, random.nextFloat() * 6)
            .scale(-2, 0.5f, 1);
    MeshTree[][] shapes = {{new MeshTree(mesh)}};
    float[] toWorld = new float[12];
    float[] toObject = new float[12];
    Instances.store(turned, toWorld, 0);
    Instances.invert(toWorld, toObject, 0);
    Instances placed = new Instances(shapes, toObject, toWorld, new MotionPath[1]);
    float[] bounds = placed.tree(0).bounds;
    float[] low = {9e9f, 9e9f, 9e9f};
    float[] high = {-9e9f, -9e9f, -9e9f};
    var at = new org.joml.Vector3f();
    for (int v = 0; v < mesh.positions().length; v += 3) {
      turned.transformPosition(at.set(mesh.positions(), v));
      for (int c = 0; c < 3; c++) {
        low[c] = Math.min(low[c], at.get(c));
        high[c] = Math.max(high[c], at.get(c));
      }
    }
    for (int c = 0; c < 3; c++) {
      float width = high[c] - low[c];
      assertThat(bounds[16 * c]).isBetween(low[c] - 0.1f * width, low[c]);
      assertThat(bounds[16 * c + 8]).isBetween(high[c], high[c] + 0.1f * width);
    }
  }
}
