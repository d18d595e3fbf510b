package org.wedgecutter.core.match;

import java.util.ArrayList;
import java.util.List;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.CameraMarks;
import org.wedgecutter.core.plan.CameraMarks.Axis;
import org.wedgecutter.core.plan.PlacedCamera;

/**
 * What a camera would show of the ground at height 0, as lines in the picture: x and y of their
 * points, pixels from the left and the top. They are bent as the lens bends.
 *
 * @param spacing distance of the grid's lines, metres: 1, 2 or 5 times a power of ten
 * @param grid the grid, about where the camera looks
 * @param horizon the horizon; empty if it is not in sight
 * @param axes from the origin along x, y and z, as long as the grid's spacing; those in sight
 */
public record GroundLines(
    double spacing, List<double[]> grid, List<double[]> horizon, List<OfAxis> axes) {
  private static final int LINES = 10;
  private static final int STEPS = 40;
  private static final double FAR = 50;

  /** An axis in the picture. */
  public record OfAxis(Axis axis, double[] line) {}

  /** Returns what a camera shows. */
  public static GroundLines of(PlacedCamera camera, int width, int height) {
    Pose pose = Pose.of(camera, width, height);
    Vector3d eye = pose.eye();
    double high = Math.max(1e-6, Math.abs(eye.y));
    double spacing = round(high / 2);
    Vector3d middle = middle(pose, high);
    double x = Math.rint(middle.x / spacing) * spacing;
    double z = Math.rint(middle.z / spacing) * spacing;
    double reach = LINES * spacing;
    List<double[]> grid = new ArrayList<>();
    for (int k = -LINES; k <= LINES; k++) {
      double by = k * spacing;
      add(
          grid,
          pose,
          new Vector3d(x + by, 0, z - reach),
          new Vector3d(x + by, 0, z + reach),
          STEPS);
      add(
          grid,
          pose,
          new Vector3d(x - reach, 0, z + by),
          new Vector3d(x + reach, 0, z + by),
          STEPS);
    }
    List<OfAxis> axes = new ArrayList<>();
    for (Axis axis : Axis.values()) {
      Vector3d end = new Vector3d();
      end.setComponent(axis.ordinal(), spacing);
      List<double[]> line = new ArrayList<>();
      add(line, pose, new Vector3d(), end, STEPS);
      line.forEach(l -> axes.add(new OfAxis(axis, l)));
    }
    return new GroundLines(spacing, grid, horizon(pose), axes);
  }

  /** Where the lower part of the picture shows the ground; below the camera if nowhere. */
  private static Vector3d middle(Pose pose, double high) {
    for (double down : new double[] {0.8, 1}) {
      Vector3d d = pose.ray(pose.straight(new CameraMarks.At(0.5, down))).normalize();
      double t = -pose.eye().y / d.y;
      if (t > 0 && t < FAR * high) {
        return d.mul(t).add(pose.eye());
      }
    }
    return new Vector3d(pose.eye());
  }

  private static List<double[]> horizon(Pose pose) {
    List<double[]> out = new ArrayList<>();
    Run run = new Run(out);
    for (int k = 0; k <= 360; k++) {
      double turn = Math.toRadians(k);
      run.next(pose.direction(new Vector3d(Math.sin(turn), 0, -Math.cos(turn))));
    }
    run.end();
    return out;
  }

  /** Adds what is in sight of a straight line in the world, as lines of so many steps. */
  static void add(List<double[]> to, Pose pose, Vector3d from, Vector3d until, int steps) {
    Run run = new Run(to);
    for (int k = 0; k <= steps; k++) {
      run.next(pose.pixel(from.lerp(until, (double) k / steps, new Vector3d())));
    }
    run.end();
  }

  /** Points that follow one another; what is out of sight ends a line. */
  private static final class Run {
    private final List<double[]> out;
    private final List<double[]> points = new ArrayList<>();

    Run(List<double[]> out) {
      this.out = out;
    }

    void next(double @Nullable [] point) {
      if (point == null) {
        end();
      } else {
        points.add(point);
      }
    }

    void end() {
      if (points.size() > 1) {
        double[] line = new double[2 * points.size()];
        for (int k = 0; k < points.size(); k++) {
          line[2 * k] = points.get(k)[0];
          line[2 * k + 1] = points.get(k)[1];
        }
        out.add(line);
      }
      points.clear();
    }
  }

  private static double round(double metres) {
    double power = Math.pow(10, Math.floor(Math.log10(metres)));
    double by = metres / power;
    return power * (by < 1.5 ? 1 : by < 3.5 ? 2 : by < 7.5 ? 5 : 10);
  }
}
