package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/** Light whose strength can be written down: albedo / pi times the irradiance. */
class ClosedFormLightTest {
  private static final double ALBEDO = 0.6;

  /** A matte floor that a camera looks at from above, over a narrow angle about the origin. */
  private static SceneMaker floor() {
    return new SceneMaker()
        .mesh("/floor", SceneMaker.floor(50, 50), SceneMaker.matte(ALBEDO), 0, 0, 0)
        .cameraFromAbove(0.02, 0, 3, 0);
  }

  private static double radiance(Scene scene, Environment environment, int samples) {
    return Traces.middle(Traces.picture(scene, environment, 0, 12, 12, samples), 0);
  }

  @ParameterizedTest
  @CsvSource({"0, 2, 0", "1, 2, 0", "3, 1, -2"})
  void aPointLightFallsOffWithTheSquareAndTheCosine(double x, double y, double z) {
    double d2 = x * x + y * y + z * z;
    double irradiance = 7 * y / Math.sqrt(d2) / d2;
    assertThat(radiance(floor().pointLight("/lamp", 7, x, y, z).scene(), Environment.DARK, 4))
        .isCloseTo(ALBEDO / Math.PI * irradiance, within(0.002 * irradiance));
  }

  @Test
  void aDirectionalLightGivesItsIrradiance() {
    assertThat(radiance(floor().sunFromAbove("/sun", 3).scene(), Environment.DARK, 4))
        .isCloseTo(ALBEDO / Math.PI * 3, within(0.003));
  }

  @ParameterizedTest
  @CsvSource({"0.5, 2", "1, 1", "2, 0.7"})
  void aDiscAboveGivesPiTimesTheSquareOfTheSine(double radius, double height) {
    double sin2 = radius * radius / (radius * radius + height * height);
    Scene scene =
        floor()
            .mesh("/disc", SceneMaker.disc(radius, 128), SceneMaker.glowing(5), 0.0, height, 0)
            .scene();
    // the camera stands above the disc, so look at the light on the floor alone
    FragmentSums sums = traceFloor(scene, 256);
    double direct =
        Traces.mean(sums.passes(0, Traces.set(scene, "/floor")), LightPass.DIFFUSE_LIGHTS);
    assertThat(direct).isCloseTo(ALBEDO * 5 * sin2, within(0.01 * ALBEDO * 5 * sin2 + 1e-3));
  }

  /** The disc is looked through: only the floor is seen. */
  private static FragmentSums traceFloor(Scene scene, int samples) {
    TraceJob job =
        new TraceJob(
            Traces.whole(scene, 0),
            org.wedgecutter.core.resolve.EntitySet.NONE,
            java.util.List.of(
                new TraceJob.View(Traces.set(scene, "/disc"), Traces.set(scene, "/floor"))));
    return Traces.trace(scene, Environment.DARK, job, 12, 12, samples);
  }

  @Test
  void theWholeSkyGivesTheAlbedo() {
    assertThat(radiance(floor().scene(), Traces.uniform(2), 64))
        .isCloseTo(2 * ALBEDO, within(0.01));
  }

  @Test
  void anEnvironmentOfOneBrightPixelIsFoundByBothWaysOfSampling() {
    // closed form: radiance times solid angle times mean cosine over the pixel
    Picture sky = Picture.empty(32, 16);
    int line = 2;
    for (int c = 0; c < 3; c++) {
      sky.rgba()[4 * (line * 32 + 7) + c] = 100;
    }
    double top = Math.PI * line / 16;
    double bottom = Math.PI * (line + 1) / 16;
    double projected =
        2 * Math.PI / 32 * (Math.pow(Math.sin(bottom), 2) - Math.pow(Math.sin(top), 2)) / 2;
    double expected = ALBEDO / Math.PI * 100 * projected;
    assertThat(radiance(floor().scene(), new Environment(sky, 0, 1), 64))
        .isCloseTo(expected, within(0.01 * expected));
    assertThat(radiance(floor().scene(), new Environment(sky, 1.3, 1), 64))
        .isCloseTo(expected, within(0.01 * expected));
    assertThat(radiance(floor().scene(), new Environment(sky, 0, 0.5f), 64))
        .isCloseTo(expected / 2, within(0.01 * expected));
  }

  @Test
  void aSpotIsDarkOutsideItsConeAndFullInside() {
    Scene facing =
        new SceneMaker()
            .mesh("/wall", SceneMaker.wall(50, 50), SceneMaker.matte(ALBEDO), 0, 0, -4)
            .spotLight("/spot", 16, 0.2, 0.4, 0, 0, 0)
            .camera(0.02, 0, 0, 0)
            .scene();
    assertThat(Traces.middle(Traces.picture(facing, Environment.DARK, 0, 8, 8, 4), 0))
        .isCloseTo(ALBEDO / Math.PI * 16 / 16, within(0.002));
    Scene aside =
        new SceneMaker()
            .mesh("/wall", SceneMaker.wall(50, 50), SceneMaker.matte(ALBEDO), 0, 0, -4)
            .spotLight("/spot", 16, 0.2, 0.4, 3, 0, 0)
            .camera(0.02, 0, 0, 0)
            .scene();
    assertThat(Traces.middle(Traces.picture(aside, Environment.DARK, 0, 8, 8, 4), 0)).isZero();
  }

  @Test
  void aWallBesideALitFloorGetsHalfOfItsLight() {
    // the floor sends albedo/pi * E everywhere; it fills half of the wall's hemisphere
    double sun = 4;
    Scene scene =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(400, 400), SceneMaker.matte(0.8), 0, 0, 400)
            .mesh("/wall", SceneMaker.wall(400, 400), SceneMaker.matte(0.5), 0, 0, 0)
            .sunFromAbove("/sun", sun)
            .camera(0.02, 0, 1, 6)
            .scene();
    FragmentSums sums = Traces.trace(scene, Environment.DARK, Traces.job(scene, 1), 12, 12, 512);
    float[] wall = sums.passes(0, Traces.set(scene, "/wall"));
    double floorRadiance = 0.8 / Math.PI * sun;
    double expected = 0.5 / Math.PI * (Math.PI * floorRadiance / 2);
    assertThat(Traces.mean(wall, LightPass.DIFFUSE_BOUNCED))
        .isCloseTo(expected, within(0.015 * expected));
    assertThat(Traces.mean(wall, LightPass.DIFFUSE_LIGHTS)).isCloseTo(0, within(1e-6));
  }

  @Test
  void manyLightsPickedOneByOneAddUpLikeAllTogether() {
    SceneMaker few = floor();
    SceneMaker many = floor();
    double expected = 0;
    for (int k = 0; k < 20; k++) {
      double x = (k % 5) - 2;
      double z = (k / 5) - 1.5;
      many.pointLight("/lamp" + k, 1 + k % 3, x, 2, z);
      double d2 = x * x + 4 + z * z;
      expected += ALBEDO / Math.PI * (1 + k % 3) * 2 / Math.sqrt(d2) / d2;
      if (k < 3) {
        few.pointLight("/lamp" + k, 1, x, 2, z);
      }
    }
    assertThat(radiance(many.scene(), Environment.DARK, 4096))
        .isCloseTo(expected, within(0.01 * expected));
  }

  @Test
  void theClampOnlyTakesAndOnlyFromIndirectLight() {
    Scene scene =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(5, 5), SceneMaker.matte(0.8), 0, 0, 5)
            .mesh("/wall", SceneMaker.wall(5, 5), SceneMaker.matte(0.8), 0, 0, 0)
            .pointLight("/lamp", 10, 0, 1, 0.3)
            .camera(0.5, 0, 1, 6)
            .scene();
    var whole = Traces.whole(scene, 3);
    var settings = whole.settings();
    var clamped =
        org.wedgecutter.core.resolve.TransportClass.whole(
            scene.entities().size(), settings.withClamp(0.05f, 0));
    float[] free = passes(scene, whole);
    float[] held = passes(scene, clamped);
    assertThat(Traces.mean(held, LightPass.DIFFUSE_LIGHTS))
        .isEqualTo(Traces.mean(free, LightPass.DIFFUSE_LIGHTS));
    assertThat(Traces.mean(held, LightPass.DIFFUSE_BOUNCED))
        .isLessThan(Traces.mean(free, LightPass.DIFFUSE_BOUNCED))
        .isPositive();
  }

  private static float[] passes(
      Scene scene, org.wedgecutter.core.resolve.TransportClass transport) {
    TraceJob job =
        new TraceJob(
            transport,
            org.wedgecutter.core.resolve.EntitySet.NONE,
            java.util.List.of(
                new TraceJob.View(org.wedgecutter.core.resolve.EntitySet.NONE, Traces.all(scene))));
    return Traces.trace(scene, Environment.DARK, job, 16, 16, 32).passes(0, Traces.all(scene));
  }
}
