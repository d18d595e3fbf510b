package org.wedgecutter.core.trace.light;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.Random;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TimeDigest;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.PreparedFrame;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.accel.RayCasterTest;
import org.wedgecutter.core.trace.accel.ScalarRayCaster;
import org.wedgecutter.core.trace.bsdf.SurfaceReader;
import org.wedgecutter.core.trace.sample.SamplePattern;
import org.wedgecutter.core.trace.volume.PreparedMedium;
import org.wedgecutter.core.trace.world.Appearance;
import org.wedgecutter.core.trace.world.ShutterMotion;
import org.wedgecutter.core.trace.world.Textures;
import org.wedgecutter.core.trace.world.World;

/** Lights are picked by importance with the stated probability, and none is forgotten. */
class LightTreeTest {
  private static final Light.Type[] TYPES = {
    Light.Type.RECTANGLE, Light.Type.DISC, Light.Type.SPHERE
  };

  private static Scene many(long seed, int count) {
    Random random = new Random(seed);
    SceneMaker maker = new SceneMaker().camera(1, 0, 0, 9);
    for (int k = 0; k < count; k++) {
      double x = 8 * random.nextDouble() - 4;
      double y = 8 * random.nextDouble() - 4;
      double z = 8 * random.nextDouble() - 4;
      switch (k % 5) {
        case 0 -> maker.pointLight("/point" + k, 1 + random.nextInt(9), x, y, z);
        case 1 -> maker.spotLight("/spot" + k, 5, 0.2, 0.6, x, y, z);
        case 2 ->
            maker.mesh("/glow" + k, SceneMaker.wall(0.3, 0.2), SceneMaker.glowing(2), x, y, z);
        default ->
            maker.areaLight(
                "/area" + k, TYPES[random.nextInt(3)], 1 + random.nextInt(4), 0.4, 0.3, x, y, z);
      }
    }
    return maker.sunFromAbove("/sun", 0.5).scene();
  }

  private static EnvironmentMap emptyEnvironment() {
    return new EnvironmentMap(Picture.empty(1, 1), 0, 0);
  }

  private static Emitters emitters(Scene scene, EnvironmentMap around) {
    World world = RayCasterTest.world(scene);
    return new Emitters(
        world, ShutterMotion.still(scene, new TimeDigest(scene), 0), around, new Appearance(world));
  }

  private static PreparedFrame frame(Scene scene, World world, Emitters emitters) {
    return new PreparedFrame(
        world,
        emitters,
        emptyEnvironment(),
        new Textures(scene),
        ShutterMotion.still(scene, new TimeDigest(scene), 0),
        scene.pose(0),
        scene.pose(0),
        new Appearance(world),
        new PreparedMedium[0],
        SamplePattern.OWEN_SOBOL);
  }

  private static void stand(LightPicker picker, Random random) {
    picker.stand(
        10 * random.nextFloat() - 5, 10 * random.nextFloat() - 5, 10 * random.nextFloat() - 5);
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1, 7, 8, 9, 40, 333})
  void chancesAddUpToOneWhereverOneStands(int count) {
    Emitters emitters =
        emitters(many(count, count), new EnvironmentMap(Traces.uniform(1).image(), 0, 1));
    LightPicker picker = new LightPicker(emitters);
    Random random = new Random(7);
    for (int place = 0; place < 50; place++) {
      stand(picker, random);
      double sum = 0;
      for (int e = 0; e < emitters.all.size(); e++) {
        assertThat(picker.chance(e)).isBetween(0f, 1f);
        sum += picker.chance(e);
      }
      // below one where a part of the tree turns out to shine elsewhere
      assertThat(sum).isBetween(0.3, 1.0001);
    }
  }

  @Test
  void eachIsPickedAsOftenAsItsChanceSays() {
    Emitters emitters = emitters(many(3, 60), new EnvironmentMap(Traces.uniform(1).image(), 0, 1));
    LightPicker picker = new LightPicker(emitters);
    Random random = new Random(9);
    int n = 40000;
    for (int place = 0; place < 4; place++) {
      stand(picker, random);
      double[] share = new double[emitters.all.size()];
      for (int k = 0; k < n; k++) {
        int picked = picker.pick((k + 0.5f) / n);
        if (picked >= 0) {
          share[picked] += 1.0 / n;
          assertThat(picker.chance).isCloseTo(picker.chance(picked), within(1e-5f));
        }
      }
      for (int e = 0; e < share.length; e++) {
        assertThat(share[e]).as("emitter %d", e).isCloseTo(picker.chance(e), within(2e-4));
      }
    }
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3})
  void whatShinesOnAPlaceCanBePicked(long seed) {
    Scene scene = many(seed, 120);
    World world = RayCasterTest.world(scene);
    Moment moment = new Moment(world);
    Emitters emitters = emitters(scene, emptyEnvironment());
    PreparedFrame frame = frame(scene, world, emitters);
    LightSampler sampler =
        new LightSampler(
            moment,
            emptyEnvironment(),
            new SurfaceReader(world, moment, frame.appearance(), frame.textures()));
    LightPicker picker = new LightPicker(emitters);
    Random random = new Random(seed);
    int shone = 0;
    for (int k = 0; k < 4000; k++) {
      float x = 10 * random.nextFloat() - 5;
      float y = 10 * random.nextFloat() - 5;
      float z = 10 * random.nextFloat() - 5;
      picker.stand(x, y, z);
      int e = random.nextInt(emitters.all.size());
      if (sampler.sample(emitters.all.get(e), x, y, z, random.nextFloat(), random.nextFloat())) {
        shone++;
        assertThat(picker.chance(e)).as("emitter %d from %f %f %f", e, x, y, z).isPositive();
      }
    }
    assertThat(shone).isGreaterThan(1000);
  }

  @ParameterizedTest
  @ValueSource(longs = {4, 5})
  void aRayComesByEveryLightThatItMeets(long seed) {
    Scene scene = many(seed, 200);
    World world = RayCasterTest.world(scene);
    Moment moment = new Moment(world);
    Emitters emitters = emitters(scene, emptyEnvironment());
    Random random = new Random(seed);
    RayCaster ray = new ScalarRayCaster(world, moment);
    int[] stack = new int[emitters.tree.depth()];
    int[] met = new int[emitters.all.size()];
    PreparedFrame frame = frame(scene, world, emitters);
    LightSampler sampler =
        new LightSampler(
            moment,
            emptyEnvironment(),
            new SurfaceReader(world, moment, frame.appearance(), frame.textures()));
    int hits = 0;
    for (int k = 0; k < 3000; k++) {
      double a = 2 * Math.PI * random.nextDouble();
      // some along the axes, within the planes of flat lights
      double z = k % 7 == 0 ? 0 : 2 * random.nextDouble() - 1;
      double r = Math.sqrt(1 - z * z);
      ray.ray(
          10 * random.nextFloat() - 5,
          10 * random.nextFloat() - 5,
          10 * random.nextFloat() - 5,
          (float) (r * Math.cos(a)),
          (float) (r * Math.sin(a)),
          (float) z);
      TreeSet<Integer> found = new TreeSet<>();
      int count = emitters.tree.met(ray, 100, stack, met);
      Arrays.stream(met, 0, count).forEach(found::add);
      for (int e = 0; e < emitters.all.size(); e++) {
        if (emitters.all.get(e) instanceof Emitters.Shining s
            && s.light().type().isArea()
            && sampler.intersect(s, ray, 100)) {
          hits++;
          assertThat(found).contains(e);
        }
      }
      assertThat(count).isLessThan(80);
    }
    assertThat(hits).isGreaterThan(20);
  }

  @Test
  void aFloorUnderManyLampsGetsTheSumOfThem() {
    // closed form: albedo by pi times the sum of the irradiances
    SceneMaker maker =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(50, 50), SceneMaker.matte(0.6), 0, 0, 0)
            .cameraFromAbove(0.02, 0, 3, 0);
    double irradiance = 0;
    for (int k = 0; k < 64; k++) {
      double x = k % 8 - 3.5;
      double z = k / 8 - 3.5;
      double d2 = x * x + z * z + 4;
      double strength = 1 + k % 3;
      maker.pointLight("/lamp" + k, strength, x, 2, z);
      irradiance += strength * 2 / Math.sqrt(d2) / d2;
    }
    Picture p = Traces.picture(maker.scene(), Environment.DARK, 0, 12, 12, 256);
    double expected = 0.6 / Math.PI * irradiance;
    assertThat(Traces.middle(p, 0)).isCloseTo(expected, within(0.01 * expected));
  }

  @Test
  void lampsThatAreNearArePickedMoreThanAsManyFarOnes() {
    SceneMaker maker = new SceneMaker().camera(1, 0, 0, 9);
    for (int k = 0; k < 100; k++) {
      maker.pointLight("/far" + k, 1, 100 + k % 10, 0, k / 10);
    }
    Scene scene = maker.pointLight("/near", 1, 0, 1, 0).scene();
    Emitters emitters = emitters(scene, emptyEnvironment());
    LightPicker picker = new LightPicker(emitters);
    picker.stand(0, 0, 0);
    int near = emitters.all.size() - 1;
    assertThat(picker.chance(near)).isGreaterThan(0.5f);
    picker.stand(104, 1, 4);
    assertThat(picker.chance(near)).isLessThan(0.02f);
  }
}
