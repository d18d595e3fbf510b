package org.wedgecutter.core.trace.world;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TimeDigest;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.SceneTracer;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.Instances;
import org.wedgecutter.core.trace.accel.MeshTree;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.MotionPath;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.accel.ScalarRayCaster;
import org.wedgecutter.core.trace.accel.VectorRayCaster;
import org.wedgecutter.core.trace.accel.VectorSupport;
import org.wedgecutter.core.trace.bsdf.ShadingFrame;

/** While the shutter is open every moment has the world as it stands then, and no other. */
class MovingWorldTest {
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

  private static ShutterMotion motion(Scene scene) {
    return ShutterMotion.of(scene, new TimeDigest(scene), 0.5, 0.6);
  }

  private static World world(Scene scene, List<MeshTree> trees, ShutterMotion motion) {
    return new World(
        scene, e -> new MeshTree[] {trees.get(scene.entities().get(e).payload())}, motion);
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
    ShutterMotion motion = motion(scene);
    RayCaster moving = RayCaster.of(world(scene, trees, motion));
    byte[] masks = new byte[things + 1];
    java.util.Arrays.fill(masks, (byte) 1);
    Hit a = new Hit();
    Hit b = new Hit();
    int met = 0;
    int others = 0;
    Random moments = new Random(things);
    for (int m = 0; m < 60; m++) {
      float moment = m == 0 ? 0 : m == 1 ? 1 : moments.nextFloat();
      ShutterMotion then =
          ShutterMotion.still(scene, new TimeDigest(scene), motion.seconds(moment));
      RayCaster still = RayCaster.of(world(scene, trees, then));
      moving.moment.set(moment);
      Random random = new Random(m);
      for (int r = 0; r < 200; r++) {
        long seed = random.nextLong();
        aim(moving, new Random(seed));
        aim(still, new Random(seed));
        moving.nearest(masks, 1, a);
        still.nearest(masks, 1, b);
        while (b.found() && a.found()) {
          met += b.instance > 0 ? 1 : 0;
          // a ray along an edge may meet one triangle or the other
          others += a.instance == b.instance && Math.abs(a.t - b.t) < 2e-5f ? 0 : 1;
          moving.next(masks, 1, a);
          still.next(masks, 1, b);
        }
        others += a.found() == b.found() ? 0 : 1;
      }
    }
    assertThat(met).as("hits on things that move").isGreaterThan(100);
    assertThat(others).as("rays that meet something else").isLessThan(met / 200 + 2);
  }

  private static Scene turning(Channel... channels) {
    SceneMaker maker = new SceneMaker().camera(1, 0, 0, 12);
    maker.mesh(
        "/hub", SceneMaker.box(0.1), SceneMaker.matte(1), List.of(), List.of(channels), 2, 1, 0);
    return maker.scene();
  }

  /** Keys of a turn about z by an angle from each to the next, radians. */
  private static Channel turns(int keys, double angle, double seconds) {
    float[] times = new float[keys];
    float[] values = new float[4 * keys];
    for (int k = 0; k < keys; k++) {
      times[k] = (float) (seconds * k / (keys - 1));
      values[4 * k + 2] = (float) Math.sin(k * angle / 2);
      values[4 * k + 3] = (float) Math.cos(k * angle / 2);
    }
    return new Channel(Channel.Target.ROTATION, Channel.Between.LINEAR, times, values);
  }

  private static double farthest(Scene scene, ShutterMotion motion, int node, float besides) {
    float[] found = new float[MotionPath.SIZE];
    float[] own = new float[MotionPath.SIZE];
    double worst = 0;
    for (int k = 0; k <= 2000; k++) {
      float moment = k / 2000f;
      if (Math.abs(moment - besides) > 1e-3) {
        motion.path(node).at(moment, found, 0);
        Instances.store(scene.pose(motion.seconds(moment))[node], own, 0);
        for (int i = 0; i < own.length; i++) {
          worst = Math.max(worst, Math.abs(own[i] - found[i]));
        }
      }
    }
    return worst;
  }

  @Test
  void whatSpinsFastIsWhereItIsAtEveryMoment() {
    // two whole turns in the scene's second, more than one of them while the shutter is open
    Scene scene = turning(turns(9, Math.PI / 2, 1));
    assertThat(farthest(scene, motion(scene), 1, -1)).isLessThan(2e-5);
  }

  @Test
  void jumpsStayJumps() {
    Channel jump =
        new Channel(
            Channel.Target.TRANSLATION,
            Channel.Between.STEP,
            new float[] {0, 0.47f},
            new float[] {0, 0, 0, 3, 0, 0});
    Scene scene = turning(jump);
    ShutterMotion motion = motion(scene);
    assertThat(motion.moves()).isTrue();
    assertThat(farthest(scene, motion, 1, (0.47f - 0.2f) / 0.6f)).isLessThan(2e-5);
  }

  @Test
  void boxesOfAPathHoldItAtEveryMoment() {
    Scene scene = turning(turns(9, Math.PI / 2, 1), SceneMaker.slide(-3, 4, 0.7).getFirst());
    MotionPath path = motion(scene).path(1);
    Random random = new Random(4);
    float[] m = new float[MotionPath.SIZE];
    for (int run = 0; run < 50; run++) {
      float from = random.nextFloat();
      float to = from + random.nextFloat() * (1 - from);
      float[] low = new float[MotionPath.SIZE];
      float[] high = new float[MotionPath.SIZE];
      java.util.Arrays.fill(low, Float.POSITIVE_INFINITY);
      java.util.Arrays.fill(high, Float.NEGATIVE_INFINITY);
      path.between(
          from,
          to,
          (c, at) -> {
            for (int k = 0; k < MotionPath.SIZE; k++) {
              low[k] = Math.min(low[k], c[at + k]);
              high[k] = Math.max(high[k], c[at + k]);
            }
          });
      for (int k = 0; k <= 40; k++) {
        path.at(from + (to - from) * k / 40, m, 0);
        for (int i = 0; i < MotionPath.SIZE; i++) {
          assertThat(m[i]).isBetween(low[i] - 1e-5f, high[i] + 1e-5f);
        }
      }
    }
  }

  @Test
  void aThinRodLeavesAnEvenTraceAcrossTheWayItGoes() {
    // 2 pixels wide, over 200 pixels while the shutter is open
    int width = 240;
    double pixel = 0.04;
    Scene scene =
        new SceneMaker()
            .camera(2 * Math.atan(6 * pixel / 2 / 12), 0, 0, 12)
            .mesh(
                "/rod",
                SceneMaker.wall(pixel, 30),
                SceneMaker.glowing(1),
                List.of(),
                SceneMaker.slide(-100 * pixel, 100 * pixel, 1),
                0,
                0,
                0)
            .scene();
    FragmentSums sums = new FragmentSums(Traces.job(scene, 0), width, 6);
    SceneTracer.Frame frame =
        new SceneTracer(scene).at(new SceneTracer.Time(0.5, 1, 1), Environment.DARK);
    new FrameTrace(f -> frame, scene.cameras().getFirst(), List.of(sums)).run(3000, 2, p -> {});
    Picture p = sums.picture(0, Traces.set(scene, "/rod"));
    double[] column = new double[width];
    for (int i = 0; i < width * 6; i++) {
      column[i % width] += p.rgba()[4 * i + 3] / 6;
    }
    int first = 0;
    while (column[first] == 0) {
      first++;
    }
    int last = width - 1;
    while (column[last] == 0) {
      last--;
    }
    double mean = 0;
    double square = 0;
    int count = 0;
    for (int x = first + 6; x <= last - 6; x++, count++) {
      mean += column[x];
      square += column[x] * column[x];
    }
    mean /= count;
    double spread = Math.sqrt(square / count - mean * mean) / mean;
    assertThat(count).as("columns that it crosses").isBetween(180, 200);
    assertThat(spread).as("32 poses would leave stripes, with a spread near 1").isLessThan(0.1);
  }

  @Test
  void whatIsMadeToStandIsMetWhereItIsInTheMiddle() {
    Scene scene = scene(3);
    World all = world(scene, trees(scene), motion(scene));
    int kept = all.entity[1];
    World some = all.still(e -> e == kept, e -> new MeshTree[] {all.tree[1]});
    RayCaster caster = RayCaster.of(some);
    byte[] masks = {0, 1, 0, 0};
    float[] m = all.toWorld;
    float[] own = new float[MotionPath.SIZE];
    Hit hit = new Hit();
    for (int k = 0; k <= 30; k++) {
      caster.moment.set(k / 30f);
      caster.ray(m[12 + 3], m[12 + 7], 12, 0, 0, -1);
      caster.nearest(masks, 1, hit);
      assertThat(hit.found()).as("moment %d", k).isTrue();
      masks[1] = 0;
      masks[2] = 1;
      all.path[2].at(k / 30f, own, 0);
      caster.ray(own[3], own[7], 12, 0, 0, -1);
      caster.nearest(masks, 1, hit);
      assertThat(hit.found()).as("the others go on moving").isTrue();
      masks[1] = 1;
      masks[2] = 0;
    }
  }

  @Test
  void meshesThatBendAreMetBetweenTheirShapes() {
    Mesh first = SceneMaker.wall(1, 1);
    Mesh second = moved(first, 2);
    Mesh third = moved(first, -1);
    Scene scene =
        new SceneMaker()
            .camera(1, 0, 0, 5)
            .mesh("/wall", first, SceneMaker.matte(1), 0, 0, 0)
            .scene();
    MeshTree[] bends = {new MeshTree(first, second), new MeshTree(second, third)};
    World world =
        new World(scene, e -> bends, ShutterMotion.still(scene, new TimeDigest(scene), 0));
    Hit hit = new Hit();
    List<RayCaster> casters =
        new ArrayList<>(List.of(new ScalarRayCaster(world, new Moment(world))));
    if (VectorSupport.isAvailable()) {
      casters.add(new VectorRayCaster(world, new Moment(world)));
    }
    for (int k = 0; k <= 40; k++) {
      float moment = k / 40f;
      for (RayCaster caster : casters) {
        caster.moment.set(moment);
        caster.ray(0.2f, 0.3f, 5, 0, 0, -1);
        caster.nearest(new byte[] {1}, 1, hit);
        float z = moment < 0.5f ? 4 * moment : 2 - 6 * (moment - 0.5f);
        assertThat(hit.t).isCloseTo(5 - z, within(1e-5f));
      }
    }
  }

  private static Mesh moved(Mesh mesh, float z) {
    float[] moved = mesh.positions().clone();
    for (int k = 2; k < moved.length; k += 3) {
      moved[k] += z;
    }
    return new Mesh("moved", moved, null, null, mesh.indices(), mesh.triangleMaterials());
  }

  @Test
  void aSkinThatSwingsIsFollowedThroughItsSwing() {
    // a bar bound to one joint, which turns by 150 degrees while the shutter is open
    Mesh bar = SceneMaker.wall(2, 0.05);
    int vertices = bar.positions().length / 3;
    float[] weights = new float[4 * vertices];
    for (int v = 0; v < vertices; v++) {
      weights[4 * v] = 1;
    }
    float[] bind = new float[16];
    new org.joml.Matrix4f().get(bind);
    SceneMaker maker = new SceneMaker().camera(1, 0, 0, 12);
    maker.mesh(
        "/joint",
        SceneMaker.box(0.01),
        SceneMaker.matte(1),
        List.of(),
        List.of(turns(2, Math.toRadians(150), 1)),
        0,
        0,
        -50);
    maker.mesh("/bar", bar, SceneMaker.matte(1), 0, 0, 0);
    maker.deform(
        new Deformation(
            null, new Deformation.Skin(new int[] {1}, bind, new int[4 * vertices], weights)));
    Scene scene = maker.scene();
    TimeDigest time = new TimeDigest(scene);
    ShutterMotion motion = ShutterMotion.of(scene, time, 0.5, 1);
    MeshTree[] shapes = new DeformedMeshes(scene).of(scene.entities().get(1), motion, 0);
    assertThat(shapes.length).isGreaterThan(4);
    float[] corners = new float[9];
    for (int k = 0; k < 97; k++) {
      double moment = k / 97.0;
      int part = (int) (moment * shapes.length);
      shapes[part].corners(0, (float) (moment * shapes.length - part), corners);
      double radius = Math.hypot(corners[0], corners[1]);
      double expected = Math.hypot(bar.positions()[0], bar.positions()[1]);
      // a straight line from the first pose to the last would lose three quarters of it
      assertThat(radius).isCloseTo(expected, within(2e-3 * expected));
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
