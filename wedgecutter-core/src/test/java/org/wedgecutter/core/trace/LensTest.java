package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.HandCamera;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/** Rolled, shifted and bent pictures show things where a camera that is worked out by hand does. */
class LensTest {
  private static final int W = 96;
  private static final int H = 54;

  @ParameterizedTest
  @CsvSource({
    "0, 0, 0, 0, 0",
    "0.3, 0, 0, 0, 0",
    "0, 0.2, -0.15, 0, 0",
    "0, 0, 0, -0.2, 0.05",
    "-0.4, -0.1, 0.12, 0.15, -0.03"
  })
  void whatIsTracedStandsWhereTheHandPutsIt(
      double roll, double right, double up, double k1, double k2) {
    HandCamera eye = new HandCamera(0.5, 1, 6, -0.1, -0.1, roll, 40, right, up, k1, k2);
    double[][] places = {{0, 0.5, 0}, {1.6, 1.2, 0.5}, {-1.5, 0.2, -1}};
    SceneMaker maker = new SceneMaker();
    for (int k = 0; k < places.length; k++) {
      double[] p = places[k];
      maker.mesh("/spot" + k, SceneMaker.sphere(0.06, 12), SceneMaker.glowing(1), p[0], p[1], p[2]);
    }
    Scene scene = maker.camera(eye.placed().camera()).scene();
    FragmentSums traced = Traces.trace(scene, Environment.DARK, Traces.job(scene, 1), W, H, 64);
    for (int k = 0; k < places.length; k++) {
      Picture p = traced.picture(0, Traces.set(scene, "/spot" + k));
      double sum = 0;
      double x = 0;
      double y = 0;
      for (int i = 0; i < W * H; i++) {
        float a = p.rgba()[4 * i + 3];
        sum += a;
        x += a * (i % W + 0.5);
        y += a * (i / W + 0.5);
      }
      double[] place = places[k];
      double[] there = eye.sees(place[0], place[1], place[2], W, H);
      assertThat(sum).isPositive();
      assertThat(x / sum).isCloseTo(there[0], within(0.06));
      assertThat(y / sum).isCloseTo(there[1], within(0.06));
    }
  }

  @Test
  void aPlaceIsProjectedWhereItsRayComesFrom() {
    HandCamera eye = new HandCamera(0.5, 1.5, 6, 0.2, -0.3, 0.2, 50, 0.1, -0.2, -0.25, 0.04);
    Scene scene = new SceneMaker().camera(eye.placed().camera()).scene();
    CameraView view = Traces.frame(scene, Environment.DARK).view(scene.cameras().getFirst(), W, H);
    Plane ground = new Plane(new double[3], new double[] {1, 0, 0}, new double[] {0, 0, 1});
    double[] on = new double[2];
    double[] back = new double[2];
    int met = 0;
    for (int y = 0; y < H; y += 6) {
      for (int x = 0; x < W; x += 6) {
        if (view.onPlane(x, y, ground, on) && Math.hypot(on[0], on[1]) < 100) {
          met++;
          assertThat(view.project(new double[] {on[0], 0, on[1]}, back)).isTrue();
          assertThat(back[0]).isCloseTo(x + 0.5, within(2e-3));
          assertThat(back[1]).isCloseTo(y + 0.5, within(2e-3));
          double[] hand = eye.sees(on[0], 0, on[1], W, H);
          assertThat(hand[0]).isCloseTo(x + 0.5, within(2e-3));
          assertThat(hand[1]).isCloseTo(y + 0.5, within(2e-3));
        }
      }
    }
    assertThat(met).isGreaterThan(40);
  }

  @ParameterizedTest
  @CsvSource({"0, 0", "-0.3, 0", "0.4, 0", "-0.5, 0.3", "0.2, -0.1", "-0.33, 0.001", "0, -0.19"})
  void bendingUndoesStraightening(double k1, double k2) {
    Projection lens = new Projection(0, 0, k1, k2);
    assertThat(lens.holds()).isTrue();
    for (double r = 0; r <= 1; r += 0.01) {
      assertThat(lens.bent(r * lens.straightening(r * r))).isCloseTo(r, within(1e-9));
    }
    // what no place of the picture shows stays outside of it, and a number
    assertThat(lens.bent(1e6)).isGreaterThanOrEqualTo(0.99).isFinite();
  }

  @ParameterizedTest
  @CsvSource({"-0.34, 0", "-1, 0.1", "0, -0.21", "1, -1"})
  void aPictureThatWouldFoldIsNone(double k1, double k2) {
    assertThat(new Projection(0, 0, k1, k2).holds()).isFalse();
  }
}
