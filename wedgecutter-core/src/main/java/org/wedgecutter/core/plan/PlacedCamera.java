package org.wedgecutter.core.plan;

import java.util.List;
import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.scene.SceneCamera;

/**
 * A camera that is kept in the plan, as numbers: for a scene that has none, or whose own are not
 * wanted, or one that was matched to a photograph. It stands still and has no depth of field.
 *
 * @param eye where it stands: x, y, z, metres
 * @param target what it looks at: x, y, z, metres; not the eye
 * @param angle the whole vertical angle of view, degrees, above 0 and below 180
 * @param roll by how much it is turned about its axis, degrees, clockwise as it looks; 0 is upright
 * @param projection where its picture departs from a pinhole's
 */
public record PlacedCamera(
    List<Double> eye, List<Double> target, double angle, double roll, Projection projection) {
  /** Its name in file names and documents. */
  public static final String NAME = "placed";

  private static final double LEAST = 1e-9;
  private static final double MOST_SHIFT = 10;

  /**
   * @throws IllegalArgumentException if this is no camera, saying why
   */
  public PlacedCamera {
    eye = List.copyOf(eye);
    target = List.copyOf(target);
    if (eye.size() != 3 || target.size() != 3) {
      throw new IllegalArgumentException("eye and target have three numbers each");
    }
    if (!(angle > 0 && angle < 180)) {
      throw new IllegalArgumentException("the angle lies above 0 and below 180 degrees");
    }
    double away = 0;
    for (int k = 0; k < 3; k++) {
      away += Math.abs(eye.get(k) - target.get(k));
    }
    if (!(away > LEAST) || Double.isInfinite(away)) {
      throw new IllegalArgumentException("the eye stands apart from the target");
    }
    if (!(Math.abs(roll) <= 360)) {
      throw new IllegalArgumentException("roll lies between -360 and 360 degrees");
    }
    if (!(Math.abs(projection.right()) <= MOST_SHIFT && Math.abs(projection.up()) <= MOST_SHIFT)) {
      throw new IllegalArgumentException("shift lies between -10 and 10 heights of the picture");
    }
    if (!(Math.abs(projection.k1()) <= 1 && Math.abs(projection.k2()) <= 1)) {
      throw new IllegalArgumentException("distortion lies between -1 and 1");
    }
    if (!projection.holds()) {
      throw new IllegalArgumentException("with this distortion the picture would fold over itself");
    }
  }

  /** An upright pinhole whose axis goes through the picture's middle. */
  public PlacedCamera(List<Double> eye, List<Double> target, double angle) {
    this(eye, target, angle, 0, Projection.NONE);
  }

  /** Returns it at another place, looking elsewhere. */
  public PlacedCamera placed(List<Double> from, List<Double> at) {
    return new PlacedCamera(from, at, angle, roll, projection);
  }

  /** Returns it with another vertical angle of view, degrees. */
  public PlacedCamera withAngle(double degrees) {
    return new PlacedCamera(eye, target, degrees, roll, projection);
  }

  /** Returns it turned about its axis: degrees from upright, clockwise. */
  public PlacedCamera withRoll(double degrees) {
    return new PlacedCamera(eye, target, angle, degrees, projection);
  }

  /** Returns it with another projection. */
  public PlacedCamera with(Projection next) {
    return new PlacedCamera(eye, target, angle, roll, next);
  }

  /** Returns the camera for tracing. */
  public SceneCamera camera() {
    Vector3f from = vector(eye);
    Vector3f ahead = vector(target).sub(from).normalize();
    Vector3f up = Math.abs(ahead.y) > 0.9999f ? new Vector3f(0, 0, -1) : new Vector3f(0, 1, 0);
    Vector3f right = new Vector3f(ahead).cross(up).normalize();
    up = new Vector3f(right).cross(ahead);
    if (roll != 0) {
      float by = (float) Math.toRadians(roll);
      right.rotateAxis(by, ahead.x, ahead.y, ahead.z);
      up.rotateAxis(by, ahead.x, ahead.y, ahead.z);
    }
    Matrix4f placed =
        new Matrix4f(
            right.x, right.y, right.z, 0, up.x, up.y, up.z, 0, -ahead.x, -ahead.y, -ahead.z, 0,
            from.x, from.y, from.z, 1);
    return new SceneCamera(
        NAME, -1, placed, (float) Math.toRadians(angle), SceneCamera.Lens.PINHOLE, projection);
  }

  private static Vector3f vector(List<Double> v) {
    return new Vector3f(v.get(0).floatValue(), v.get(1).floatValue(), v.get(2).floatValue());
  }

  /**
   * Returns a camera that shows a box, from the front, a little from the right and from above.
   *
   * @param box min x, y, z, max x, y, z, metres
   * @param aspect width of the picture by its height
   */
  public static PlacedCamera framing(float[] box, double aspect) {
    double angle = 35;
    double radius = 0;
    double[] middle = new double[3];
    for (int k = 0; k < 3; k++) {
      middle[k] = (box[k] + box[k + 3]) / 2.0;
      radius += Math.pow((box[k + 3] - box[k]) / 2.0, 2);
    }
    radius = Math.sqrt(radius) > 0 ? Math.sqrt(radius) : 1;
    double half = Math.toRadians(angle) / 2;
    double narrow = Math.min(half, Math.atan(Math.tan(half) * aspect));
    double distance = radius / Math.sin(narrow);
    double[] from = {0.45, 0.4, 1};
    double length = Math.sqrt(from[0] * from[0] + from[1] * from[1] + 1);
    Double[] eye = new Double[3];
    for (int k = 0; k < 3; k++) {
      eye[k] = rounded(middle[k] + distance * from[k] / length, radius);
    }
    return new PlacedCamera(
        List.of(eye),
        List.of(rounded(middle[0], radius), rounded(middle[1], radius), rounded(middle[2], radius)),
        angle);
  }

  /** To a thousandth of the scene's size, so that the plan has short numbers. */
  private static double rounded(double value, double size) {
    double unit = Math.pow(10, Math.floor(Math.log10(size)) - 3);
    return unit >= 1 ? Math.round(value / unit) * unit : Math.round(value / unit) / (1 / unit);
  }

  /** Returns the camera turned about its target. */
  public PlacedCamera turned(double degreesAcross, double degreesUp) {
    double[] d = away();
    double distance = Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
    double across = Math.atan2(d[0], d[2]) + Math.toRadians(degreesAcross);
    double up =
        Math.clamp(
            Math.asin(d[1] / distance) + Math.toRadians(degreesUp),
            -Math.toRadians(89),
            Math.toRadians(89));
    return placed(
        List.of(
            target.get(0) + distance * Math.cos(up) * Math.sin(across),
            target.get(1) + distance * Math.sin(up),
            target.get(2) + distance * Math.cos(up) * Math.cos(across)),
        target);
  }

  /** Returns the camera nearer to its target, or farther away. */
  public PlacedCamera at(double timesTheDistance) {
    double[] d = away();
    return placed(
        List.of(
            target.get(0) + timesTheDistance * d[0],
            target.get(1) + timesTheDistance * d[1],
            target.get(2) + timesTheDistance * d[2]),
        target);
  }

  /**
   * Returns the camera and its target moved within the picture's plane.
   *
   * @param right by parts of the picture's height
   * @param up by parts of the picture's height
   */
  public PlacedCamera moved(double right, double up) {
    double[] d = away();
    double distance = Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
    double height = 2 * distance * Math.tan(Math.toRadians(angle) / 2);
    Matrix4f m = camera().in(new Matrix4f[0]);
    double[] by = {
      height * (right * m.m00() + up * m.m10()),
      height * (right * m.m01() + up * m.m11()),
      height * (right * m.m02() + up * m.m12())
    };
    return placed(added(eye, by), added(target, by));
  }

  private static List<Double> added(List<Double> to, double[] by) {
    return List.of(to.get(0) + by[0], to.get(1) + by[1], to.get(2) + by[2]);
  }

  private double[] away() {
    return new double[] {
      eye.get(0) - target.get(0), eye.get(1) - target.get(1), eye.get(2) - target.get(2)
    };
  }
}
