package org.wedgecutter.core.trace.volume;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.joml.Matrix4f;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TimeDigest;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.TraceJob;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.sample.SamplePattern;
import org.wedgecutter.core.trace.sample.Sampler;
import org.wedgecutter.core.trace.world.ShutterMotion;
import org.wedgecutter.core.trace.world.World;

/** Media that fill the same places, against integrals along the ray; and the bounds of walks. */
class OverlappingMediaTest {
  private static final Scene EMPTY = new SceneMaker().camera(0.6, 0, 1, 5).scene();

  private static RayCaster ray(double dx, double dy, double dz) {
    RayCaster r =
        RayCaster.of(
            new World(EMPTY, e -> null, ShutterMotion.still(EMPTY, new TimeDigest(EMPTY), 0)));
    double length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    r.ray(0, 0.2f, 0, (float) (dx / length), (float) (dy / length), (float) (dz / length));
    return r;
  }

  private static PreparedMedium of(int entity, Medium medium, Matrix4f at) {
    return new PreparedMedium(entity, medium, at, 0.3);
  }

  /** Fog that thins out upwards without end, haze in a box, smoke in another that meets it. */
  private static PreparedMedium[] weather() {
    Medium fog = new Medium("fog", true, 0.2f, Rgb.WHITE, 0, Rgb.BLACK, 1.5f, 0, null);
    return new PreparedMedium[] {
      of(0, fog, new Matrix4f()),
      of(1, SceneMaker.haze(0.4, 1), new Matrix4f().translate(2, 1, 0).scale(2, 3, 2)),
      of(2, SceneMaker.puff(4, 1), new Matrix4f().translate(2.5f, 1, 0).scale(2, 3, 2))
    };
  }

  @Test
  void sharesAreTheIntegralsOfTheDensities() {
    PreparedMedium[] matter = weather();
    RayCaster r = ray(1, 0.25, 0.02);
    double[] expected = new double[3];
    double through = 1;
    double step = 1e-3;
    MediumAt[] at = new MediumAt[3];
    for (int m = 0; m < 3; m++) {
      at[m] = new MediumAt(matter[m]);
    }
    for (double s = step / 2; s < 40; s += step) {
      double all = 0;
      double[] own = new double[3];
      for (int m = 0; m < 3; m++) {
        boolean inside = at[m].enter(r, 0, 1e9f) && at[m].from <= s && s < at[m].to;
        own[m] = inside ? at[m].density(r, (float) s) : 0;
        all += own[m];
      }
      for (int m = 0; m < 3 && all > 0; m++) {
        expected[m] += through * -Math.expm1(-all * step) * own[m] / all;
      }
      through *= Math.exp(-all * step);
    }
    Sampler random = new Sampler(SamplePattern.RANDOM);
    MediumSampler sampler = new MediumSampler(matter, random);
    double[] mean = new double[3];
    double left = 0;
    int samples = 40_000;
    for (int k = 0; k < samples; k++) {
      random.start(1, k % 200, k / 200, 0);
      sampler.interval(r, 0, 1e9f, new boolean[] {true, true, true}, new float[3], false, 7);
      double sum = sampler.left;
      for (int m = 0; m < 3; m++) {
        mean[m] += sampler.alpha[m] / samples;
        sum += sampler.alpha[m];
      }
      left += sampler.left / samples;
      assertThat(sum).as("shares and what is left").isCloseTo(1, within(2e-5));
    }
    assertThat(left).isCloseTo(through, within(0.004));
    for (int m = 0; m < 3; m++) {
      assertThat(expected[m]).isGreaterThan(0.05);
      assertThat(mean[m]).as("medium %d", m).isCloseTo(expected[m], within(0.004));
    }
    assertThat(sampler.cutShort).isZero();
  }

  @Test
  void transmittanceAndCollisionsAgreeWithTheIntegral() {
    PreparedMedium[] matter = weather();
    RayCaster r = ray(1, 0.25, 0.02);
    double depth = 0;
    double step = 1e-3;
    for (PreparedMedium medium : matter) {
      MediumAt at = new MediumAt(medium);
      for (double s = step / 2; s < 40; s += step) {
        if (at.enter(r, 0, 40) && at.from <= s && s < at.to) {
          depth += at.density(r, (float) s) * step;
        }
      }
    }
    Sampler random = new Sampler(SamplePattern.RANDOM);
    MediumSampler sampler = new MediumSampler(matter, random);
    boolean[] all = {true, true, true};
    double through = 0;
    double passed = 0;
    int samples = 40_000;
    for (int k = 0; k < samples; k++) {
      random.start(1, k % 200, k / 200, 0);
      through += sampler.through(r, 40, all, 3) / (double) samples;
      passed += sampler.collide(r, 0, 40, all, 5) < 0 ? 1.0 / samples : 0;
    }
    assertThat(through).isCloseTo(Math.exp(-depth), within(0.004));
    assertThat(passed).isCloseTo(Math.exp(-depth), within(0.008));
  }

  @Test
  void majorantsOfBlocksHoldWhatIsInThemAtEveryMoment() {
    Medium smoke = SceneMaker.puff(4, 1);
    PreparedMedium matter =
        new PreparedMedium(
            0,
            smoke,
            org.wedgecutter.core.trace.accel.MotionPath.still(
                new Matrix4f().translate(0, 1, 0).scale(2, 3, 2)),
            0,
            0.5);
    assertThat(matter.grids.length).isGreaterThan(2);
    java.util.Random random = new java.util.Random(6);
    for (int run = 0; run < 300; run++) {
      MediumAt at = new MediumAt(matter);
      at.set(random.nextFloat());
      RayCaster r = ray(random.nextGaussian(), random.nextGaussian(), random.nextGaussian());
      if (!at.enter(r, 0, 1e9f)) {
        continue;
      }
      float to = at.to;
      at.walk(r, at.from);
      float s = at.from;
      while (true) {
        float exit = Math.min(at.exit(), to);
        for (int k = 1; k < 8; k++) {
          float t = s + (exit - s) * k / 8;
          assertThat(at.density(r, t)).isLessThanOrEqualTo(at.majorant() * (1 + 1e-5f) + 1e-6f);
        }
        s = exit;
        if (s >= to || !at.advance()) {
          break;
        }
      }
      assertThat(s).isCloseTo(to, within(1e-4f * (1 + to)));
    }
  }

  @Test
  void aWalkThatTakesTooLongIsCutShortAndCounted() {
    // nearly empty by its threshold, but of a density that no walk gets through
    Medium.Puff puff = new Medium.Puff(5, 3, 0.55f, 1, 1, 0.2f, 0, 3);
    Medium dense = new Medium("m", false, 1e9f, Rgb.WHITE, 0, Rgb.BLACK, 0, 0, puff);
    PreparedMedium[] matter = {of(0, dense, new Matrix4f().scale(4, 4, 4))};
    Sampler random = new Sampler(SamplePattern.RANDOM);
    MediumSampler sampler = new MediumSampler(matter, random);
    for (int k = 0; k < 200; k++) {
      random.start(1, k, 0, 0);
      float through = sampler.through(ray(1, 0.01 * k, 0), 40, new boolean[] {true}, 3);
      assertThat(through).isBetween(0f, 1f);
    }
    assertThat(sampler.cutShort).isPositive();
  }

  @Test
  void underAnOpenSkyFogAndSmokeEnd() {
    Medium fog = new Medium("fog", true, 0.5f, Rgb.WHITE, 0, Rgb.BLACK, 2, 0, null);
    Scene scene =
        new SceneMaker()
            .medium("/fog", fog, 0, 0, 0, 0, 0, 0)
            .medium("/smoke", SceneMaker.puff(3, 0.9), 1, 2, 1, 0, 0, 0)
            .camera(0.8, 0, 0.5, 4)
            .scene();
    Picture p = Traces.picture(scene, Traces.uniform(1), 2, 12, 12, 8);
    for (int i = 3; i < p.rgba().length; i += 4) {
      assertThat(p.rgba()[i]).isCloseTo(1, within(1e-4f));
    }
  }

  private static double seen(Scene scene, int mediaBounces) {
    Bounces bounces = new Bounces(0, 0, mediaBounces);
    TransportClass whole =
        TransportClass.whole(scene.entities().size(), TraceSettings.unbiased(bounces, 1));
    TraceJob job =
        new TraceJob(
            whole,
            EntitySet.NONE,
            java.util.List.of(new TraceJob.View(EntitySet.NONE, Traces.all(scene))));
    FragmentSums sums = Traces.trace(scene, Environment.DARK, job, 8, 8, 400);
    return Traces.middle(sums.picture(0, Traces.set(scene, "/m")), 0);
  }

  @Test
  void lightScatteredOnceIsWholeWithoutVolumeBounces() {
    // thin haze under an area light: what is scattered twice is a thousandth of it
    Scene scene =
        new SceneMaker()
            .medium("/m", SceneMaker.haze(0.01, 0.9), 2, 2, 2, 0, 0, 0)
            .areaLight(
                "/lamp", org.wedgecutter.core.scene.Light.Type.SPHERE, 20, 1.2, 1.2, 0, 1.8, 0)
            .camera(0.01, 0, 0, 5)
            .scene();
    double once = seen(scene, 0);
    double more = seen(scene, 4);
    assertThat(once).isPositive();
    assertThat(once).isCloseTo(more, within(0.02 * more));
  }

  @Test
  void anOverrideRaisesADensityFromNothing() {
    Medium nothing = SceneMaker.puff(0, 0.5);
    Scene scene =
        new SceneMaker().medium("/m", nothing, 1, 1, 1, 0, 0, 0).camera(0.01, 0, 0, 5).scene();
    Reach[] all = new Reach[scene.entities().size()];
    java.util.Arrays.fill(all, Reach.ALL);
    AppearanceOverride raised =
        new AppearanceOverride(
            java.util.List.of(
                new AppearanceOverride.Change(
                    Property.MEDIUM_DENSITY, Property.Verb.SET, new Value.Num(6))));
    TransportClass with =
        new TransportClass(all, java.util.Map.of(0, raised), TraceSettings.unbiased(0, 1));
    TraceJob job =
        new TraceJob(
            with,
            EntitySet.NONE,
            java.util.List.of(new TraceJob.View(EntitySet.NONE, Traces.all(scene))));
    double alpha =
        Traces.middle(
            Traces.trace(scene, Traces.uniform(0), job, 8, 8, 200)
                .picture(0, Traces.set(scene, "/m")),
            3);
    Scene same =
        new SceneMaker()
            .medium("/m", SceneMaker.puff(6, 0.5), 1, 1, 1, 0, 0, 0)
            .camera(0.01, 0, 0, 5)
            .scene();
    double expected =
        Traces.middle(
            Traces.trace(same, Traces.uniform(0), Traces.job(same, 0), 8, 8, 200)
                .picture(0, Traces.set(same, "/m")),
            3);
    assertThat(expected).isGreaterThan(0.2);
    assertThat(alpha).isEqualTo(expected);
  }
}
