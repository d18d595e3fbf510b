package org.wedgecutter.core.trace.world;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.joml.Matrix4f;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.MeshTree;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.accel.ScalarRayCaster;
import org.wedgecutter.core.trace.accel.VectorRayCaster;
import org.wedgecutter.core.trace.accel.VectorSupport;
import org.wedgecutter.core.trace.bsdf.ShadingFrame;

/** While the shutter is open every moment has the world as it stands then, and no other. */
class MovingWorldTest {
  private static final int MOMENTS = 32;

  private static Scene scene(int things) {
    Random random = new Random(things);
    SceneMaker maker = new SceneMaker().camera(1, 0, 0, 12);
    maker.mesh("/still", SceneMaker.wall(3, 3), SceneMaker.matte(1), 0, 0, -2);
    for (int k = 0; k < things; k++) {
      double from = random.nextDouble() * 8 - 4;
      double to = random.nextDouble() * 8 - 4;
      maker.mesh(
          "/thing" + k,
          SceneMaker.sphere(0.3 + 0.3 * random.nextDouble(), 8),
          SceneMaker.matte(1),
          List.of(),
          SceneMaker.slide(from, to, 1),
          0,
          random.nextDouble() * 4 - 2,
          random.nextDouble() * 3);
    }
    return maker.scene();
  }

  private static List<MeshTree> trees(Scene scene) {
    List<MeshTree> out = new ArrayList<>();
    scene.meshes().forEach(m -> out.add(new MeshTree(m)));
    return out;
  }

  private static ShutterPoses poses(Scene scene) {
    Matrix4f[][] out = new Matrix4f[MOMENTS][];
    for (int m = 0; m < MOMENTS; m++) {
      out[m] = scene.pose(0.2 + 0.6 * (m + 0.5) / MOMENTS);
    }
    return new ShutterPoses(out, 0.2, 0.8);
  }

  private static World world(Scene scene, List<MeshTree> trees, ShutterPoses poses) {
    return new World(scene, e -> trees.get(scene.entities().get(e).payload()), poses);
  }

  private static void aim(RayCaster caster, Random random) {
    double[] to = {random.nextDouble() * 8 - 4, random.nextDouble() * 4 - 2, random.nextDouble()};
    caster.ray(0, 0, 12, (float) to[0], (float) to[1], (float) to[2] - 12);
  }

  @ParameterizedTest
  @ValueSource(ints = {3, 40})
  void raysOfAMomentMeetWhatStandsThere(int things) {
    Scene scene = scene(things);
    List<MeshTree> trees = trees(scene);
    ShutterPoses poses = poses(scene);
    RayCaster moving = RayCaster.of(world(scene, trees, poses));
    byte[] masks = new byte[things + 1];
    java.util.Arrays.fill(masks, (byte) 1);
    Hit a = new Hit();
    Hit b = new Hit();
    int met = 0;
    for (int m = 0; m < MOMENTS; m++) {
      RayCaster still =
          RayCaster.of(world(scene, trees, new ShutterPoses(new Matrix4f[][] {poses.at(m)}, 0, 0)));
      moving.moment = m;
      Random random = new Random(m);
      for (int r = 0; r < 200; r++) {
        long seed = random.nextLong();
        aim(moving, new Random(seed));
        aim(still, new Random(seed));
        moving.nearest(masks, 1, a);
        still.nearest(masks, 1, b);
        while (b.found()) {
          met += b.instance > 0 ? 1 : 0;
          assertThat(a.instance).isEqualTo(b.instance);
          assertThat(a.triangle).isEqualTo(b.triangle);
          assertThat(a.t).isEqualTo(b.t);
          moving.next(masks, 1, a);
          still.next(masks, 1, b);
        }
        assertThat(a.found()).isFalse();
      }
    }
    assertThat(met).as("hits on things that move").isGreaterThan(100);
  }

  @Test
  void whatIsMadeToStandIsMetWhereItIsInTheMiddle() {
    Scene scene = scene(3);
    World all = world(scene, trees(scene), poses(scene));
    int kept = all.entity[1];
    World some = all.still(e -> e == kept, e -> all.tree[1]);
    RayCaster caster = RayCaster.of(some);
    byte[] masks = {0, 1, 0, 0};
    float[] m = all.toWorld[MOMENTS / 2];
    Hit hit = new Hit();
    for (int moment = 0; moment < MOMENTS; moment++) {
      caster.moment = moment;
      caster.ray(m[12 + 3], m[12 + 7], 12, 0, 0, -1);
      caster.nearest(masks, 1, hit);
      assertThat(hit.found()).as("moment %d", moment).isTrue();
      caster.moment = moment;
      masks[1] = 0;
      masks[2] = 1;
      float[] own = all.toWorld[moment];
      caster.ray(own[24 + 3], own[24 + 7], 12, 0, 0, -1);
      caster.nearest(masks, 1, hit);
      assertThat(hit.found()).as("the others go on moving").isTrue();
      masks[1] = 1;
      masks[2] = 0;
    }
  }

  @Test
  void meshesThatBendAreMetBetweenTheirEnds() {
    Mesh first = SceneMaker.wall(1, 1);
    float[] moved = first.positions().clone();
    for (int k = 2; k < moved.length; k += 3) {
      moved[k] += 2;
    }
    Mesh last = new Mesh("last", moved, null, null, first.indices(), first.triangleMaterials());
    Scene scene =
        new SceneMaker()
            .camera(1, 0, 0, 5)
            .mesh("/wall", first, SceneMaker.matte(1), 0, 0, 0)
            .scene();
    MeshTree bends = new MeshTree(first, last);
    Matrix4f[][] poses = new Matrix4f[MOMENTS][];
    java.util.Arrays.fill(poses, scene.pose(0));
    World world = new World(scene, e -> bends, new ShutterPoses(poses, 0, 1));
    Hit hit = new Hit();
    List<RayCaster> casters = new ArrayList<>(List.of(new ScalarRayCaster(world)));
    if (VectorSupport.isAvailable()) {
      casters.add(new VectorRayCaster(world));
    }
    for (int moment = 0; moment < MOMENTS; moment++) {
      for (RayCaster caster : casters) {
        caster.moment = moment;
        caster.ray(0.2f, 0.3f, 5, 0, 0, -1);
        caster.nearest(new byte[] {1}, 1, hit);
        float z = first.positions()[2] + 2f * moment / (MOMENTS - 1);
        assertThat(hit.t).isCloseTo(5 - z, within(1e-5f));
      }
    }
  }

  @Test
  void framesAboutDirectionsAreOrthonormal() {
    ShadingFrame frame = new ShadingFrame();
    Random random = new Random(8);
    for (int k = 0; k < 2000; k++) {
      double x = random.nextGaussian();
      double y = random.nextGaussian();
      double z = k % 5 == 0 ? -Math.abs(random.nextGaussian()) * 1e-4 : random.nextGaussian();
      double length = Math.sqrt(x * x + y * y + z * z);
      frame.about((float) (x / length), (float) (y / length), (float) (z / length));
      float[] s = {frame.sx, frame.sy, frame.sz};
      float[] t = {frame.tx, frame.ty, frame.tz};
      float[] n = {frame.nx, frame.ny, frame.nz};
      assertThat(dot(s, s)).isCloseTo(1, within(1e-5));
      assertThat(dot(t, t)).isCloseTo(1, within(1e-5));
      assertThat(dot(s, t)).isCloseTo(0, within(1e-5));
      assertThat(dot(s, n)).isCloseTo(0, within(1e-5));
      assertThat(dot(t, n)).isCloseTo(0, within(1e-5));
      // there and back again
      float wx = frame.x(0.1f, -0.7f, 0.5f);
      float wy = frame.y(0.1f, -0.7f, 0.5f);
      float wz = frame.z(0.1f, -0.7f, 0.5f);
      assertThat(frame.s(wx, wy, wz)).isCloseTo(0.1f, within(1e-5f));
      assertThat(frame.t(wx, wy, wz)).isCloseTo(-0.7f, within(1e-5f));
    }
  }

  private static double dot(float[] a, float[] b) {
    return (double) a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  }
}
