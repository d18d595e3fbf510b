package org.wedgecutter.core.trace.volume;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.TimeDigest;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.TraceJob;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.world.ShutterMotion;
import org.wedgecutter.core.trace.world.World;

/** Media, glass, gaps, lights with an area, lens and shutter against what formulas say. */
class ClosedFormMediumTest {
  private static final double ALONE = 1e-3;

  private static double alpha(Medium medium, double size) {
    Scene scene =
        new SceneMaker()
            .medium("/m", medium, size, size, size, 0, 0, 0)
            .camera(0.001, 0, 0, 5)
            .scene();
    FragmentSums sums = Traces.trace(scene, Traces.uniform(0), Traces.job(scene, 0), 8, 8, 200);
    return Traces.middle(sums.picture(0, Traces.set(scene, "/m")), 3);
  }

  @Test
  void evenHazeHidesByTheLawOfBeerAndLambert() {
    assertThat(alpha(SceneMaker.haze(0.7, 0.5), 2)).isCloseTo(1 - Math.exp(-1.4), within(1e-4));
  }

  @Test
  void hazeBeforeASkyThatTheCameraSkipsHidesAllTheSame() {
    Scene scene =
        new SceneMaker()
            .mesh("/wall", SceneMaker.wall(1, 1), SceneMaker.matte(0.5), 0, 0, 0)
            .medium("/m", SceneMaker.haze(0.7, 0.5), 2, 2, 2, 0, 0, 0)
            .camera(0.001, 0, 0, 5)
            .scene();
    EntitySet haze = Traces.set(scene, "/m");
    TraceJob job =
        new TraceJob(
            Traces.whole(scene, 0),
            EntitySet.NONE,
            List.of(new TraceJob.View(Traces.all(scene).minus(haze), haze)));
    FragmentSums sums = Traces.trace(scene, Traces.uniform(0), job, 8, 8, 20);
    assertThat(Traces.middle(sums.picture(0, haze), 3)).isCloseTo(1 - Math.exp(-1.4), within(1e-4));
  }

  @Test
  void hazeThatFallsOffHidesByTheIntegralOfItsDensity() {
    // along a level ray at height 0, the density is that of its height above the base
    Medium m = new Medium("m", false, 2, Rgb.WHITE, 0, Rgb.BLACK, 0.5f, -0.25f, null);
    double level = 2 * Math.exp(-0.5);
    assertThat(alpha(m, 1)).isCloseTo(1 - Math.exp(-level), within(1e-3));
  }

  @Test
  void aPuffHidesAsTheIntegralAlongTheRayOnAverage() {
    Medium m = SceneMaker.puff(6, 0.5);
    Scene scene = new SceneMaker().medium("/m", m, 1, 1, 1, 0, 0, 0).camera(0.001, 0, 0, 5).scene();
    RayCaster ray =
        RayCaster.of(
            new World(scene, e -> null, ShutterMotion.still(scene, new TimeDigest(scene), 0)));
    ray.ray(0, 0, 5, 0, 0, -1);
    double through = 0;
    double depth = 0;
    int moments = 21;
    for (int k = 0; k < moments; k++) {
      // it rises while the shutter is open
      MediumAt matter =
          new MediumAt(
              new PreparedMedium(0, m, scene.pose(0.5)[0], 0.4 + 0.2 * (k + 0.5) / moments));
      depth = 0;
      int steps = 4000;
      for (int i = 0; i < steps; i++) {
        depth += matter.density(ray, (float) (4.5 + (i + 0.5) / steps)) / steps;
      }
      through += Math.exp(-depth) / moments;
    }
    assertThat(depth).isGreaterThan(0.2);
    assertThat(alpha(m, 1)).isCloseTo(1 - through, within(0.012));
  }

  @Test
  void glowingMatterGivesOffWhatItHides() {
    Medium m = new Medium("m", false, 1, Rgb.BLACK, 0, new Rgb(3, 2, 1), 0, 0, null);
    Scene scene = new SceneMaker().medium("/m", m, 2, 2, 2, 0, 0, 0).camera(0.001, 0, 0, 5).scene();
    Picture p = Traces.picture(scene, Environment.DARK, 0, 4, 4, 16);
    double alpha = 1 - Math.exp(-2);
    assertThat(Traces.middle(p, 0)).isCloseTo(3 * alpha, within(1e-3));
    assertThat(Traces.middle(p, 2)).isCloseTo(alpha, within(1e-3));
  }

  @Test
  void oneScatteringOfALampInThinHazeIsItsIntegral() {
    // per metre of the ray: density * albedo / 4 pi * intensity / distance^2, along 2 m at 1 m off
    double density = 1e-3;
    Medium m = new Medium("m", false, (float) density, Rgb.WHITE, 0, Rgb.BLACK, 0, 0, null);
    Scene scene =
        new SceneMaker()
            .medium("/m", m, 4, 4, 2, 0, 0, 0)
            .pointLight("/lamp", 10, 0, 1, 0)
            .camera(0.001, 0, 0, 5)
            .scene();
    Picture p = Traces.picture(scene, Environment.DARK, 0, 8, 8, 200);
    double expected = density / (4 * Math.PI) * 10 * 2 * Math.atan(1);
    assertThat(Traces.middle(p, 0)).isCloseTo(expected, within(expected * 0.01));
  }

  @Test
  void hazeDimsTheLightThatGoesThroughIt() {
    Scene clear = lit(null);
    Scene hazy = lit(SceneMaker.haze(0.5, 0));
    double a = Traces.middle(Traces.picture(clear, Environment.DARK, 0, 6, 6, 32), 0);
    Picture p = Traces.picture(hazy, Environment.DARK, 0, 6, 6, 32);
    // down through 1 m of it and up through it again
    assertThat(Traces.middle(p, 0)).isCloseTo(a * Math.exp(-1), within(a * 0.01));
    assertThat(Traces.middle(p, 3)).isCloseTo(1, within(1e-5));
  }

  private static Scene lit(Medium haze) {
    SceneMaker maker =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(20, 20), SceneMaker.matte(0.5), 0, 0, 0)
            .sunFromAbove("/sun", 2)
            .cameraFromAbove(0.01, 0, 5, 0);
    return haze == null ? maker.scene() : maker.medium("/haze", haze, 20, 1, 20, 0, 1, 0).scene();
  }

  @Test
  void aPaneLetsThroughWhatItDoesNotReflect() {
    Material pane =
        SceneMaker.matte(1)
            .with(m -> {
              m.specular(1);
              m.roughness = 0;
              m.glass = new Material.Glass(1, null, false, Rgb.WHITE, 1);
            });
    Scene scene =
        new SceneMaker()
            .mesh("/pane", SceneMaker.wall(4, 4), pane, 0, 0, 0)
            .mesh("/glow", SceneMaker.wall(20, 20), SceneMaker.glowing(1), 0, 0, -3)
            .camera(0.01, 0, 0, 5)
            .scene();
    Picture p = Traces.picture(scene, Environment.DARK, 2, 8, 8, 400);
    assertThat(Traces.middle(p, 0)).isCloseTo(0.96, within(0.012));
    TransportClass seeing =
        TransportClass.whole(
            scene.entities().size(), TraceSettings.unbiased(2, 1).withSeeThrough(true));
    TraceJob job =
        new TraceJob(
            seeing, EntitySet.NONE, List.of(new TraceJob.View(EntitySet.NONE, Traces.all(scene))));
    FragmentSums sums = Traces.trace(scene, Environment.DARK, job, 8, 8, 16);
    assertThat(Traces.middle(sums.picture(0, Traces.set(scene, "/pane")), 3))
        .as("alpha of the pane is what it keeps")
        .isCloseTo(0.04, within(2e-3));
    assertThat(Traces.middle(sums.picture(0, Traces.all(scene)), 0)).isCloseTo(0.96, within(2e-3));
  }

  @Test
  void absorbingGlassColoursByItsThickness() {
    Material body =
        SceneMaker.matte(1)
            .with(m -> {
              m.specular(1);
              m.roughness = 0;
              m.dielectric = new Material.Dielectric(1, null, Rgb.WHITE, null, 1.0001f);
              m.glass = new Material.Glass(1, null, true, new Rgb(0.5f, 0.25f, 1), 0.5f);
            });
    Scene scene =
        new SceneMaker()
            .mesh("/block", SceneMaker.box(0.5), body, 0, 0, 0)
            .camera(0.01, 0, 0, 5)
            .scene();
    Picture p = Traces.picture(scene, Traces.uniform(1), 2, 6, 6, 200);
    // one metre, in which each half metre leaves the colour
    assertThat(Traces.middle(p, 0)).isCloseTo(0.25, within(0.01));
    assertThat(Traces.middle(p, 1)).isCloseTo(0.0625, within(0.005));
    assertThat(Traces.middle(p, 2)).isCloseTo(1, within(0.01));
  }

  @Test
  void aHalfOpenScreenCoversHalfAndCastsHalfAShadow() {
    Material screen = SceneMaker.matte(0).with(m -> m.opacity = 0.25f);
    Scene scene =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(40, 40), SceneMaker.matte(0.5), 0, 0, 0)
            .mesh("/screen", SceneMaker.floor(4, 4), screen, 0, 1, 0)
            .sunFromAbove("/sun", 2)
            .cameraFromAbove(0.05, 0, 5, 0)
            .scene();
    FragmentSums sums = Traces.trace(scene, Environment.DARK, Traces.job(scene, 0), 6, 6, 16);
    assertThat(Traces.middle(sums.picture(0, Traces.set(scene, "/screen")), 3))
        .isCloseTo(0.25, within(1e-5));
    double open = 0.5 * 2 / Math.PI;
    assertThat(Traces.middle(sums.picture(0, Traces.set(scene, "/floor")), 0))
        .isCloseTo(open * 0.75 * 0.75, within(1e-4));
  }

  @ParameterizedTest
  @EnumSource(
      value = Light.Type.class,
      names = {"RECTANGLE", "DISC", "SPHERE"})
  void lightsWithAnAreaLightAsTheirFormFactorSays(Light.Type type) {
    // far and small: intensity is radiance times area, over the distance squared
    double size = 0.2;
    double distance = 3;
    Scene scene =
        new SceneMaker()
            .mesh("/wall", SceneMaker.wall(40, 40), SceneMaker.matte(0.5), 0, 0, -distance)
            .areaLight("/light", type, 50, size, size, 0, 0, 0)
            .camera(0.01, 0, 0, 5)
            .scene();
    double area = type == Light.Type.RECTANGLE ? size * size : Math.PI * size * size / 4;
    double expected = 0.5 / Math.PI * 50 * area / (distance * distance);
    for (int bounces : new int[] {0, 1}) {
      Picture p = Traces.picture(scene, Environment.DARK, bounces, 6, 6, 256);
      assertThat(Traces.middle(p, 0)).isCloseTo(expected, within(expected * 0.02));
    }
  }

  @Test
  void mirrorsShowLightsThatHaveAnArea() {
    Material mirror = SceneMaker.surface(1, 1, 0.02, 1, 0);
    Scene scene =
        new SceneMaker()
            .mesh("/wall", SceneMaker.wall(40, 40), mirror, 0, 0, -1)
            .areaLight("/light", Light.Type.RECTANGLE, 7, 3, 3, 0, 0, 6)
            .camera(0.05, 0, 0, 5)
            .scene();
    Picture p = Traces.picture(scene, Environment.DARK, 1, 6, 6, 64);
    assertThat(Traces.middle(p, 0)).as("seen from its bright side").isCloseTo(7, within(0.2));
  }

  @Test
  void aSunWithAnAngleIsAsBrightAsOneWithout() {
    SceneMaker maker =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(40, 40), SceneMaker.matte(0.5), 0, 0, 0)
            .sunFromAbove("/sun", 2)
            .cameraFromAbove(0.05, 0, 5, 0);
    Scene sharp = maker.scene();
    Light sun = sharp.lights().getFirst();
    Scene wide = SceneMaker.withLight(sharp, new Light(sun.type(), sun.intensity(), 0, 1, 0.3f, 0));
    double a = Traces.middle(Traces.picture(sharp, Environment.DARK, 0, 6, 6, 64), 0);
    double b = Traces.middle(Traces.picture(wide, Environment.DARK, 0, 6, 6, 64), 0);
    assertThat(b).isCloseTo(a, within(a * 0.015));
  }

  @Test
  void whatTheLensDoesNotFocusSpreadsOverItsCircle() {
    // a small far light through a lens focused near: a disc of aperture * |d - f| / f at distance d
    SceneCamera.Lens lens = new SceneCamera.Lens(0.1f, 1, 2);
    Scene scene =
        new SceneMaker()
            .mesh("/dot", SceneMaker.sphere(0.01, 8), SceneMaker.glowing(1), 0, 0, 0)
            .camera(0.5, lens, 0, 0, 4)
            .scene();
    FragmentSums sums = Traces.trace(scene, Environment.DARK, Traces.job(scene, 0), 64, 64, 400);
    Picture p = sums.picture(0, Traces.set(scene, "/dot"));
    double radius = scene.cameras().getFirst().apertureRadius();
    double pixel = 2 * Math.tan(0.25) / 64;
    double expected = radius * (4 - 2) / 2 / 4 / pixel;
    double mean = 0;
    double all = 0;
    for (int i = 0; i < 64 * 64; i++) {
      double r = Math.hypot(i % 64 + 0.5 - 32, i / 64 + 0.5 - 32);
      mean += r * p.rgba()[4 * i + 3];
      all += p.rgba()[4 * i + 3];
    }
    // the mean distance from the middle of an even disc is two thirds of its radius
    assertThat(mean / all).isCloseTo(2 * expected / 3, within(0.1 * expected));
  }

  @Test
  void whatMovesSpreadsOverItsWay() {
    Scene scene =
        new SceneMaker()
            .mesh(
                "/dot",
                SceneMaker.wall(0.05, 0.05),
                SceneMaker.glowing(1),
                List.of(),
                SceneMaker.slide(-5, 5, 1),
                0,
                0,
                0)
            .camera(0.8, 0, 0, 5)
            .scene();
    FragmentSums sums = Traces.trace(scene, Environment.DARK, Traces.job(scene, 0), 64, 64, 400);
    Picture p = sums.picture(0, Traces.set(scene, "/dot"));
    double all = 0;
    double low = 64;
    double high = 0;
    for (int i = 0; i < 64 * 64; i++) {
      double a = p.rgba()[4 * i + 3];
      all += a;
      if (a > ALONE) {
        low = Math.min(low, i % 64);
        high = Math.max(high, i % 64);
      }
    }
    double pixel = 5 * 2 * Math.tan(0.4) / 64;
    assertThat(all).isCloseTo(0.1 * 0.1 / pixel / pixel, within(0.05));
    // 10 m a second, for a fifth of a second
    assertThat(high - low).isCloseTo(2 / pixel, within(2.5));
  }

  @Test
  void whatBendsIsBlurredAndCastsItsShadow() {
    Mesh wall = SceneMaker.wall(0.5, 0.5);
    float[] shift = new float[wall.positions().length];
    for (int i = 0; i < shift.length; i += 3) {
      shift[i] = 2;
    }
    var weights =
        new org.wedgecutter.core.scene.Track(
            org.wedgecutter.core.scene.Channel.Between.LINEAR,
            new float[] {0, 1},
            new float[] {0, 1},
            1);
    Deformation bends =
        new Deformation(
            new Deformation.Morph(
                new float[][] {shift}, new float[][] {new float[0]}, new float[] {0}, weights),
            null);
    Scene scene =
        new SceneMaker()
            .mesh("/sheet", wall, SceneMaker.glowing(1), -1, 0, 0)
            .deform(bends)
            .camera(0.8, 0, 0, 5)
            .scene();
    FragmentSums sums = Traces.trace(scene, Environment.DARK, Traces.job(scene, 0), 48, 48, 200);
    Picture p = sums.picture(0, Traces.set(scene, "/sheet"));
    double all = 0;
    double x = 0;
    double edge = 0;
    for (int i = 0; i < 48 * 48; i++) {
      double a = p.rgba()[4 * i + 3];
      all += a;
      x += a * (i % 48 + 0.5 - 24);
      edge += a > 0.05 && a < 0.95 ? 1 : 0;
    }
    double pixel = 5 * 2 * Math.tan(0.4) / 48;
    assertThat(x / all * pixel).as("half way at half time").isCloseTo(0, within(0.03));
    assertThat(all * pixel * pixel).as("as large as it is").isCloseTo(1, within(0.03));
    assertThat(edge * pixel * pixel).as("its sides are blurred").isGreaterThan(0.5);
  }
}
