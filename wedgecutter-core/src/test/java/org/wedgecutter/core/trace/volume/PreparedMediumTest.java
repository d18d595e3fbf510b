package org.wedgecutter.core.trace.volume;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.joml.Matrix4f;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TimeDigest;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.bsdf.RoughGlass;
import org.wedgecutter.core.trace.bsdf.Sheen;
import org.wedgecutter.core.trace.world.ShutterMotion;
import org.wedgecutter.core.trace.world.World;

/** Media by themselves, and glass at a facet. */
class PreparedMediumTest {
  private static final Scene EMPTY = new SceneMaker().camera(0.6, 0, 1, 5).scene();

  private static RayCaster ray(double x, double y, double z, double dx, double dy, double dz) {
    RayCaster r =
        RayCaster.of(
            new World(EMPTY, e -> null, ShutterMotion.still(EMPTY, new TimeDigest(EMPTY), 0)));
    double length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    r.ray(
        (float) x,
        (float) y,
        (float) z,
        (float) (dx / length),
        (float) (dy / length),
        (float) (dz / length));
    return r;
  }

  private static MediumAt at(PreparedMedium medium) {
    return new MediumAt(medium);
  }

  private static Medium falling(double density, double height) {
    return new Medium("m", true, (float) density, Rgb.WHITE, 0, Rgb.BLACK, (float) height, 0, null);
  }

  @ParameterizedTest
  @ValueSource(doubles = {-1, -0.3, -1e-7, 0, 0.2, 0.9})
  void theDistanceOfADepthIsTheInverseOfTheDepthOfADistance(double up) {
    for (double height : new double[] {0, 0.4, 3}) {
      MediumAt m = at(new PreparedMedium(0, falling(0.7, height), new Matrix4f(), 0));
      RayCaster r = ray(0, 0.5, 0, 1, up, 0.3);
      for (float t : new float[] {0.1f, 0.7f, 2}) {
        float depth = m.depth(r, 0.05f, t);
        assertThat(depth).isPositive();
        assertThat(m.reach(r, 0.05f, depth)).isCloseTo(t, within(2e-3f * t + 1e-4f));
      }
    }
  }

  @Test
  void depthIsTheIntegralOfDensity() {
    MediumAt m = at(new PreparedMedium(0, falling(0.9, 0.7), new Matrix4f(), 0));
    // from below the base to above it
    RayCaster r = ray(0, -1, 0, 0.4, 1, 0);
    double sum = 0;
    int steps = 20000;
    for (int i = 0; i < steps; i++) {
      sum += m.density(r, (float) (3.0 * (i + 0.5) / steps)) * 3.0 / steps;
    }
    assertThat(m.depth(r, 0, 3)).isCloseTo((float) sum, within(1e-3f));
    assertThat(m.reach(ray(0, 5, 0, 0, 1, 0), 0, 3)).as("never so thick").isInfinite();
  }

  @Test
  void boxesAreEnteredWhereTheyStand() {
    Medium box = SceneMaker.haze(1, 1);
    MediumAt m =
        at(new PreparedMedium(0, box, new Matrix4f().translate(2, 0, 0).scale(1, 2, 4), 0));
    assertThat(m.enter(ray(0, 0, 0, 1, 0, 0), 0, 100)).isTrue();
    assertThat(m.from).isCloseTo(1.5f, within(1e-5f));
    assertThat(m.to).isCloseTo(2.5f, within(1e-5f));
    assertThat(m.enter(ray(2, 0, 0, 0, 0, 1), 0, 100)).as("from within").isTrue();
    assertThat(m.from).isZero();
    assertThat(m.to).isCloseTo(2, within(1e-5f));
    assertThat(m.enter(ray(0, 3, 0, 1, 0, 0), 0, 100)).isFalse();
    assertThat(m.enter(ray(0, 0, 0, 1, 0, 0), 0, 1)).as("ends before").isFalse();
  }

  @ParameterizedTest
  @ValueSource(floats = {-0.8f, -0.2f, 0, 0.5f, 0.9f})
  void scatteringIsADensityAndIsPickedByIt(float g) {
    Medium medium = new Medium("m", true, 1, Rgb.WHITE, g, Rgb.BLACK, 0, 0, null);
    PreparedMedium m = new PreparedMedium(0, medium, new Matrix4f(), 0);
    double all = 0;
    double mean = 0;
    int steps = 20000;
    for (int i = 0; i < steps; i++) {
      double cos = -1 + 2 * (i + 0.5) / steps;
      all += 2 * Math.PI * m.phase((float) cos) * 2 / steps;
      mean += m.scattered((i + 0.5f) / steps) / steps;
    }
    assertThat(all).isCloseTo(1, within(2e-3));
    assertThat(mean).as("the mean cosine").isCloseTo(g, within(2e-3));
  }

  @Test
  void aPuffIsTheSameEachTimeAndRises() {
    MediumAt a = at(new PreparedMedium(0, SceneMaker.puff(3, 1), new Matrix4f(), 0.25));
    MediumAt b = at(new PreparedMedium(0, SceneMaker.puff(3, 1), new Matrix4f(), 0.25));
    MediumAt later = at(new PreparedMedium(0, SceneMaker.puff(3, 1), new Matrix4f(), 0.5));
    RayCaster r = ray(0, -0.4, 0, 0, 1, 0.02);
    double changed = 0;
    for (int i = 0; i < 50; i++) {
      float t = i * 0.016f;
      assertThat(b.density(r, t)).isEqualTo(a.density(r, t));
      assertThat(a.density(r, t)).isBetween(0f, a.of.majorant());
      changed += Math.abs(later.density(r, t) - a.density(r, t));
    }
    assertThat(changed).isGreaterThan(0.1);
    assertThat(a.of.hasClosedForm()).isFalse();
  }

  @Test
  void glassReflectsAndRefractsByTheLaws() {
    assertThat(RoughGlass.fresnel(1, 1.5f)).isCloseTo(0.04f, within(1e-5f));
    assertThat(RoughGlass.fresnel(1, 1 / 1.5f)).isCloseTo(0.04f, within(1e-5f));
    assertThat(RoughGlass.fresnel(0.3f, 1 / 1.5f)).as("thrown back wholly").isEqualTo(1);
    float[] out = new float[3];
    float[] normal = {0, 0, 1};
    for (double degrees : new double[] {5, 30, 60, 80}) {
      double a = Math.toRadians(degrees);
      boolean goes =
          RoughGlass.refract((float) Math.sin(a), 0, (float) Math.cos(a), normal, 1.5f, out);
      assertThat(goes).isTrue();
      assertThat(-out[0]).as("Snell").isCloseTo((float) (Math.sin(a) / 1.5), within(1e-5f));
      assertThat(out[2]).isNegative();
    }
    assertThat(RoughGlass.refract(0.9f, 0, (float) Math.sqrt(0.19), normal, 1 / 1.5f, out))
        .isFalse();
    for (float rough = 0; rough <= 1; rough += 0.25f) {
      for (float cos = 0.05f; cos <= 1; cos += 0.19f) {
        assertThat(RoughGlass.directionalAlbedo(cos, rough, 1.5f)).isBetween(0.3f, 1.0001f);
        assertThat(Sheen.directionalAlbedo(cos, rough)).isBetween(0f, 1f);
      }
    }
  }
}
