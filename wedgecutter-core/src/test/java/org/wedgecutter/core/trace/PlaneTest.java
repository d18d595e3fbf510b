package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/** Where pixels lie on planes of any tilt, and the planes of surfaces. */
class PlaneTest {
  private static final Scene EMPTY = new SceneMaker().camera(0.6, 0, 1, 5).scene();

  @Test
  void pixelsAndPlacesOfAPlaneAreEachOthersInverse() {
    SceneTracer.Frame frame = new SceneTracer(EMPTY).at(0, Environment.DARK);
    CameraView view = frame.view(EMPTY.cameras().getFirst(), 64, 48);
    Random random = new Random(2);
    int met = 0;
    for (int run = 0; run < 30; run++) {
      double[] normal = {random.nextGaussian(), random.nextGaussian(), random.nextGaussian()};
      double[] centre = {random.nextGaussian(), random.nextGaussian(), -random.nextDouble() * 4};
      Plane plane = Plane.of(centre, normal).turned(360 * random.nextDouble());
      assertThat(Plane.dot(plane.first(), plane.second())).isCloseTo(0, within(1e-12));
      assertThat(Plane.dot(plane.first(), normal)).isCloseTo(0, within(1e-12));
      double[] at = new double[2];
      double[] pixel = new double[2];
      for (int y = 0; y < 48; y += 5) {
        for (int x = 0; x < 64; x += 9) {
          if (view.onPlane(x, y, plane, at) && Math.hypot(at[0], at[1]) < 50) {
            assertThat(view.project(plane.place(at[0], at[1]), pixel)).isTrue();
            assertThat(pixel[0]).isCloseTo(x + 0.5, within(1e-3));
            assertThat(pixel[1]).isCloseTo(y + 0.5, within(1e-3));
            met++;
          }
        }
      }
    }
    assertThat(met).isGreaterThan(300);
    Plane level = Plane.of(new double[] {0, -0.5, 0}, new double[] {0, 1, 0});
    assertThat(level.first()).containsExactly(1, 0, 0);
    assertThat(level.second()).containsExactly(0, 0, 1);
    assertThat(view.onPlane(32, 2, level, new double[2])).as("the sky meets no floor").isFalse();
    assertThat(view.project(new double[] {0, 0, 9}, new double[2])).as("behind").isFalse();
  }

  @Test
  void aBallStandsOnTheWallBesideItAndOnTheFloorBelowIt() {
    Scene scene =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(8, 8), SceneMaker.matte(1), 0, -2, 0)
            .mesh("/wall", SceneMaker.wall(8, 8), SceneMaker.matte(1), 0, 0, -3)
            .mesh("/ball", SceneMaker.sphere(0.5, 12), SceneMaker.matte(1), 1, 0.5, -1)
            .camera(1, 0, 0, 8)
            .scene();
    SceneTracer.Frame frame = Traces.frame(scene, Environment.DARK);
    EntitySet ball = Traces.set(scene, "/ball");
    Plane floor = frame.plane(Traces.set(scene, "/floor"), ball, null, 1);
    near(floor.centre(), 1, -2, -1);
    near(floor.normal(), 0, 1, 0);
    Plane wall = frame.plane(Traces.set(scene, "/wall"), ball, null, 1);
    near(wall.centre(), 1, 0.5, -3);
    near(wall.normal(), 0, 0, 1);
    near(wall.first(), 1, 0, 0);
    near(wall.second(), 0, -1, 0);
    double[] given = {-2, 3, 0};
    near(frame.plane(Traces.set(scene, "/wall"), ball, given, 1).centre(), -2, 3, -3);
    near(frame.plane(Traces.set(scene, "/floor"), ball, given, 1).centre(), -2, -2, 0);
  }

  private static void near(double[] v, double x, double y, double z) {
    assertThat(v[0]).isCloseTo(x, within(1e-5));
    assertThat(v[1]).isCloseTo(y, within(1e-5));
    assertThat(v[2]).isCloseTo(z, within(1e-5));
  }

  @Test
  void theNearestPointOfATriangleIsNearerThanAllOthers() {
    Random random = new Random(9);
    for (int run = 0; run < 400; run++) {
      float[] t = new float[9];
      for (int k = 0; k < 9; k++) {
        t[k] = (float) random.nextGaussian();
      }
      double[] p = {2 * random.nextGaussian(), 2 * random.nextGaussian(), random.nextGaussian()};
      double found = far(Nearest.point(t, p), p);
      for (int k = 0; k < 200; k++) {
        double u = random.nextDouble();
        double v = random.nextDouble() * (1 - u);
        double[] at = {
          t[0] + u * t[3] + v * t[6], t[1] + u * t[4] + v * t[7], t[2] + u * t[5] + v * t[8]
        };
        assertThat(found).isLessThanOrEqualTo(far(at, p) + 1e-9);
      }
    }
  }

  private static double far(double[] a, double[] b) {
    return Math.hypot(Math.hypot(a[0] - b[0], a[1] - b[1]), a[2] - b[2]);
  }
}
