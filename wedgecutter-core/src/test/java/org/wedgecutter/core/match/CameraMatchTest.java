package org.wedgecutter.core.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.plan.CameraMarks;
import org.wedgecutter.core.plan.CameraMarks.At;
import org.wedgecutter.core.plan.CameraMarks.Axis;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.testing.HandCamera;

/** Cameras are found again from pictures of known things, which this test projects itself. */
class CameraMatchTest {
  private static final int W = 960;
  private static final int H = 540;

  private static final HandCamera STANDING = HandCamera.of(1.5, 1.7, 6, -0.3, -0.15, 0.03, 40);

  private static At at(HandCamera eye, double x, double y, double z) {
    double[] p = eye.sees(x, y, z, W, H);
    return new At(p[0] / W, p[1] / H);
  }

  private static CameraMarks.AxisLine line(
      HandCamera eye, Axis along, double x, double y, double z, double length) {
    return new CameraMarks.AxisLine(
        along,
        at(eye, x, y, z),
        at(
            eye,
            x + (along == Axis.X ? length : 0),
            y + (along == Axis.Y ? length : 0),
            z + (along == Axis.Z ? length : 0)));
  }

  private static CameraMarks.Point point(HandCamera eye, double x, double y, double z) {
    return new CameraMarks.Point(at(eye, x, y, z), List.of(x, y, z));
  }

  private static void isFound(HandCamera eye, CameraMatch.Fit fit, double metres, double degrees) {
    PlacedCamera c = fit.camera();
    assertThat(c.eye().get(0)).isCloseTo(eye.x(), within(metres));
    assertThat(c.eye().get(1)).isCloseTo(eye.y(), within(metres));
    assertThat(c.eye().get(2)).isCloseTo(eye.z(), within(metres));
    assertThat(c.angle()).isCloseTo(eye.angle(), within(degrees));
    assertThat(c.roll()).isCloseTo(Math.toDegrees(eye.roll()), within(degrees));
    double[] d = new double[3];
    double far = 0;
    for (int k = 0; k < 3; k++) {
      d[k] = c.target().get(k) - c.eye().get(k);
      far += d[k] * d[k];
    }
    assertThat(Math.toDegrees(Math.asin(d[1] / Math.sqrt(far))))
        .isCloseTo(Math.toDegrees(eye.pitch()), within(degrees));
    assertThat(Math.toDegrees(Math.atan2(d[0], -d[2])))
        .isCloseTo(Math.toDegrees(eye.yaw()), within(degrees));
  }

  private static CameraMarks marks(CameraMarks.Mark... all) {
    return CameraMarks.NONE.with(List.of(all));
  }

  private static CameraMatch.Fit fit(CameraMarks marks) {
    return Objects.requireNonNull(CameraMatch.of(marks, W, H, null));
  }

  @Test
  void aBoxWhoseCornersAreKnownGivesTheWholeCamera() {
    List<CameraMarks.Mark> corners = new ArrayList<>();
    for (int k = 0; k < 7; k++) {
      corners.add(point(STANDING, k & 1, k >> 1 & 1, (k >> 2) - 1));
    }
    CameraMatch.Fit fit = fit(CameraMarks.NONE.with(corners));
    isFound(STANDING, fit, 1e-4, 1e-3);
    assertThat(fit.error()).isLessThan(1e-3);
    assertThat(fit.open()).isEmpty();
  }

  @ParameterizedTest
  @ValueSource(doubles = {0.25, 0.4, -0.9, 2, 3})
  void linesAlongTwoAxesAnOriginAndADistanceGiveTheWholeCamera(double turn) {
    HandCamera eye =
        HandCamera.of(0.4 - 4 * Math.sin(turn), 1.7, 4 * Math.cos(turn), turn, -0.3, -0.05, 50);
    CameraMatch.Fit fit =
        fit(
            marks(
                line(eye, Axis.X, -1, 0, 0, 2.5),
                line(eye, Axis.X, -1, 0, -1, 2),
                line(eye, Axis.Z, -0.5, 0, -1.2, 2),
                line(eye, Axis.Z, 1, 0, -1, 1.5),
                line(eye, Axis.Y, 0, 0, 0, 1),
                point(eye, 0, 0, 0),
                new CameraMarks.Distance(
                    at(eye, -0.7, 0, 0.2), at(eye, 0.7, 0, -0.3), Math.hypot(1.4, 0.5))));
    assertThat(fit.error()).isLessThan(1e-3);
    assertThat(fit.open()).isEmpty();
    // lines do not say in which of both directions an axis goes: from behind, x and z are mirrored
    if (Math.abs(turn) < 1.5) {
      isFound(eye, fit, 1e-3, 1e-2);
    } else {
      assertThat(fit.camera().angle()).isCloseTo(50, within(1e-2));
      assertThat(fit.camera().eye().get(1)).isCloseTo(1.7, within(1e-3));
      assertThat(fit.camera().eye().get(0)).isCloseTo(-eye.x(), within(1e-3));
    }
  }

  @Test
  void theHorizonAndTheCamerasHeightScaleThePicture() {
    HandCamera eye = HandCamera.of(0, 1.55, 0, 0, -0.2, 0.08, 35);
    CameraMatch.Fit fit =
        fit(
            marks(
                    new CameraMarks.Horizon(at(eye, -4e6, 1.55, -1e7), at(eye, 4e6, 1.55, -1e7)),
                    line(eye, Axis.Z, 0.5, 0, -3, -3),
                    line(eye, Axis.X, -1, 0, -6, 2),
                    line(eye, Axis.Z, -0.5, 0, -4, -8),
                    point(eye, 0.5, 0, -6))
                .withCameraHeight(1.55)
                .withAngle(35.0));
    isFound(eye, fit, 1e-3, 1e-3);
    assertThat(fit.angleDeviation()).isZero();
  }

  @Test
  void shiftAndDistortionAreFoundWhereTheyAreAskedFor() {
    HandCamera bent = new HandCamera(1, 1.4, 5, -0.2, -0.1, 0, 45, 0.08, -0.05, -0.12, 0.02);
    List<CameraMarks.Mark> grid = new ArrayList<>();
    for (int k = 0; k < 5; k++) {
      for (int m = 0; m < 4; m++) {
        grid.add(point(bent, k - 2, m * 0.8, (k * m) % 3 - 2));
      }
    }
    CameraMatch.Fit fit = fit(CameraMarks.NONE.with(grid).solving(true, true));
    isFound(bent, fit, 1e-3, 1e-2);
    Projection lens = fit.camera().projection();
    assertThat(lens.right()).isCloseTo(0.08, within(1e-4));
    assertThat(lens.up()).isCloseTo(-0.05, within(1e-4));
    assertThat(lens.k1()).isCloseTo(-0.12, within(1e-3));
    assertThat(lens.k2()).isCloseTo(0.02, within(1e-3));
    CameraMatch.Fit without = fit(CameraMarks.NONE.with(grid));
    assertThat(without.error()).isGreaterThan(1);
    assertThat(without.camera().projection()).isEqualTo(Projection.NONE);
  }

  @Test
  void whatIsOpenIsTold() {
    assertThat(CameraMatch.of(CameraMarks.NONE, W, H, null)).isNull();
    assertThat(fit(marks(line(STANDING, Axis.X, 0, 0, 0, 1))).open()).hasSize(3);
    // lines and no distance: the picture could be of a model
    CameraMatch.Fit lines =
        fit(
            marks(
                line(STANDING, Axis.X, -1, 0, 0, 3),
                line(STANDING, Axis.X, -1, 0, 2, 3),
                line(STANDING, Axis.Z, -1, 0, -1, 3),
                line(STANDING, Axis.Z, 1.5, 0, -1, 3)));
    assertThat(lines.open()).hasSize(1).first().asString().contains("distance on the ground");
    assertThat(lines.camera().angle()).isCloseTo(40, within(0.01));
  }

  @Test
  void aPictureFromTheFrontLeavesTheAngleOpen() {
    HandCamera front = HandCamera.of(0, 1.5, 5, 0, 0, 0, 30);
    CameraMatch.Fit fit =
        fit(
            marks(
                line(front, Axis.X, -1, 0, 0, 2),
                line(front, Axis.X, -1, 2, 0, 2),
                line(front, Axis.Y, -1, 0, 0, 2),
                line(front, Axis.Y, 1, 0, 0, 2)));
    assertThat(fit.open()).hasSize(2).first().asString().contains("angle of view");
    assertThat(fit.error()).isLessThan(1e-3);
  }

  @Test
  void deviationsAreThoseOfRepeatedMeasuring() {
    Random random = new Random(5);
    double sum = 0;
    double told = 0;
    int times = 200;
    double by = H / 1000.0;
    PlacedCamera near = null;
    for (int n = 0; n < times; n++) {
      List<CameraMarks.Mark> corners = new ArrayList<>();
      for (int k = 0; k < 8; k++) {
        At at = at(STANDING, 2 * (k & 1), 2 * (k >> 1 & 1), 2 * (k >> 2) - 2);
        corners.add(
            new CameraMarks.Point(
                new At(
                    at.right() + by * random.nextGaussian() / W,
                    at.down() + by * random.nextGaussian() / H),
                List.of(2.0 * (k & 1), 2.0 * (k >> 1 & 1), 2.0 * (k >> 2) - 2)));
      }
      CameraMatch.Fit fit =
          Objects.requireNonNull(CameraMatch.of(CameraMarks.NONE.with(corners), W, H, near));
      near = fit.camera();
      sum += Math.pow(near.angle() - 40, 2);
      told += fit.angleDeviation();
    }
    assertThat(told / times).isCloseTo(Math.sqrt(sum / times), within(0.15 * told / times));
  }

  @Test
  void oneMarkThatIsWrongHasTheLargestError() {
    List<CameraMarks.Mark> corners = new ArrayList<>();
    for (int k = 0; k < 8; k++) {
      corners.add(point(STANDING, k & 1, k >> 1 & 1, (k >> 2) - 1));
    }
    At at = corners.get(3).ends().getFirst();
    corners.set(3, corners.get(3).moved(0, new At(at.right() + 0.05, at.down())));
    CameraMatch.Fit fit = fit(CameraMarks.NONE.with(corners));
    double most = fit.errors().stream().mapToDouble(e -> e).max().orElseThrow();
    assertThat(fit.errors().get(3)).isEqualTo(most).isGreaterThan(10);
  }

  @Test
  void marksThatContradictOrSayNothingEndInACamera() {
    At a = new At(0.3, 0.3);
    List<CameraMarks> all =
        List.of(
            marks(new CameraMarks.AxisLine(Axis.Y, a, a)),
            marks(new CameraMarks.Distance(a, a, 1)),
            marks(
                new CameraMarks.Point(a, List.of(0.0, 0.0, 0.0)),
                new CameraMarks.Point(a, List.of(5.0, 1.0, 0.0))),
            marks(new CameraMarks.Horizon(a, a)),
            marks(
                new CameraMarks.Horizon(new At(-10, 10), new At(10, -10)),
                new CameraMarks.Horizon(a, a)),
            marks(
                    new CameraMarks.AxisLine(Axis.X, a, new At(9, 9)),
                    new CameraMarks.AxisLine(Axis.Y, a, new At(9, 9)),
                    new CameraMarks.AxisLine(Axis.Z, a, new At(9, 9)))
                .solving(true, true),
            marks(new CameraMarks.Point(a, List.of(1e9, -1e9, 1e9)))
                .withCameraHeight(1e6)
                .withAngle(179.9));
    for (CameraMarks each : all) {
      CameraMatch.Fit fit = fit(each);
      assertThat(fit.camera().angle()).isBetween(0.0, 180.0);
      assertThat(fit.errors()).hasSize(each.marks().size());
    }
  }
}
