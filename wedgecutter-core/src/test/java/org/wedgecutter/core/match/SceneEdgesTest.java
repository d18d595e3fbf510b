package org.wedgecutter.core.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.plan.CameraMarks.Axis;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.HandCamera;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/** What is drawn over a photograph stands where a camera that is worked out by hand sees it. */
class SceneEdgesTest {
  private static final int W = 400;
  private static final int H = 300;
  private static final HandCamera EYE =
      new HandCamera(0.5, 1.6, 5, -0.1, -0.2, 0.05, 40, 0.05, -0.02, -0.1, 0.02);

  private static Scene scene() {
    return new SceneMaker()
        .mesh("/box", SceneMaker.box(0.5), SceneMaker.matte(0.5), 0, 0.5, 0)
        .mesh("/ball", SceneMaker.sphere(0.4, 32), SceneMaker.matte(0.5), 2, 0.5, 0)
        .camera(0.8, 0, 0, 4)
        .scene();
  }

  @Test
  void aBoxHasTwelveEdgesAndASmoothBallNone() {
    Scene scene = scene();
    HandCamera straight = HandCamera.of(0.5, 1.6, 5, -0.1, -0.2, 0.05, 40);
    List<double[]> box =
        SceneEdges.of(scene, Traces.set(scene, "/box"), 0).in(straight.placed(), W, H);
    assertThat(box).hasSize(12);
    assertThat(SceneEdges.of(scene, Traces.set(scene, "/ball"), 0).in(straight.placed(), W, H))
        .isEmpty();
    for (double[] line : box) {
      for (int end = 0; end < 4; end += 2) {
        double x = line[end];
        double y = line[end + 1];
        assertThat(corners(straight))
            .anySatisfy(c -> {
              assertThat(c[0]).isCloseTo(x, within(0.01));
              assertThat(c[1]).isCloseTo(y, within(0.01));
            });
      }
    }
  }

  private static List<double[]> corners(HandCamera eye) {
    double[][] out = new double[8][];
    for (int k = 0; k < 8; k++) {
      out[k] = eye.sees((k & 1) - 0.5, k >> 1 & 1, (k >> 2) - 0.5, W, H);
    }
    return Arrays.asList(out);
  }

  @Test
  void aBentPictureBendsThem() {
    Scene scene = scene();
    List<double[]> box = SceneEdges.of(scene, Traces.set(scene, "/box"), 0).in(EYE.placed(), W, H);
    assertThat(box).hasSize(12);
    for (double[] line : box) {
      assertThat(corners(EYE))
          .anySatisfy(c -> {
            assertThat(c[0]).isCloseTo(line[0], within(0.01));
            assertThat(c[1]).isCloseTo(line[1], within(0.01));
          });
    }
    assertThat(box).anySatisfy(l -> assertThat(sag(l)).isGreaterThan(0.1));
  }

  /** How far a line's middle is from the one between its ends. */
  private static double sag(double[] line) {
    int last = line.length - 2;
    int middle = line.length / 4 * 2;
    double dx = line[last] - line[0];
    double dy = line[last + 1] - line[1];
    return Math.abs(dx * (line[middle + 1] - line[1]) - dy * (line[middle] - line[0]))
        / Math.hypot(dx, dy);
  }

  @Test
  void theGroundsAxesBeginAtTheOriginAndTheHorizonIsAtTheEyesHeight() {
    GroundLines ground = GroundLines.of(EYE.placed(), W, H);
    double[] origin = EYE.sees(0, 0, 0, W, H);
    assertThat(ground.axes()).extracting(GroundLines.OfAxis::axis).containsExactly(Axis.values());
    double d = ground.spacing();
    for (GroundLines.OfAxis axis : ground.axes()) {
      double[] line = axis.line();
      assertThat(line[0]).isCloseTo(origin[0], within(0.01));
      assertThat(line[1]).isCloseTo(origin[1], within(0.01));
      Axis of = axis.axis();
      double[] end =
          EYE.sees(of == Axis.X ? d : 0, of == Axis.Y ? d : 0, of == Axis.Z ? d : 0, W, H);
      assertThat(line[line.length - 2]).isCloseTo(end[0], within(0.01));
    }
    double[] far = EYE.sees(1e7 * Math.sin(-0.1), 1.6, -1e7 * Math.cos(-0.1), W, H);
    double nearest = Double.MAX_VALUE;
    for (double[] line : ground.horizon()) {
      for (int k = 0; k < line.length; k += 2) {
        nearest = Math.min(nearest, Math.hypot(line[k] - far[0], line[k + 1] - far[1]));
      }
    }
    assertThat(nearest).as("a degree lies about 7 pixels apart").isLessThan(5);
    assertThat(ground.grid()).isNotEmpty();
  }
}
