package org.wedgecutter.core.match;

import java.util.List;
import org.joml.Matrix3d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.CameraMarks.At;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.scene.Projection;

/**
 * A camera in the making.
 *
 * @param turn from the world to the camera, which looks along -z with y up
 * @param eye where it stands, metres
 * @param focal focal length in heights of the picture
 * @param projection where it departs from a pinhole
 * @param width of the picture, pixels
 * @param height of the picture, pixels
 */
record Pose(
    Matrix3d turn, Vector3d eye, double focal, Projection projection, double width, double height) {
  /** What is seen at more than 87 degrees from the axis lies far outside of any picture. */
  private static final double NEAR = 0.05;

  private static final double USUAL_DISTANCE = 5;
  private static final double FARTHEST_TARGET = 500;

  static Pose of(PlacedCamera camera, int width, int height) {
    Vector3d eye = new Vector3d(camera.eye().get(0), camera.eye().get(1), camera.eye().get(2));
    Vector3d ahead =
        new Vector3d(camera.target().get(0), camera.target().get(1), camera.target().get(2))
            .sub(eye)
            .normalize();
    Vector3d right = level(ahead);
    right.rotateAxis(Math.toRadians(camera.roll()), ahead.x, ahead.y, ahead.z);
    Vector3d up = new Vector3d(right).cross(ahead);
    Matrix3d toWorld =
        new Matrix3d(right.x, right.y, right.z, up.x, up.y, up.z, -ahead.x, -ahead.y, -ahead.z);
    return new Pose(
        toWorld.transpose(),
        eye,
        0.5 / Math.tan(Math.toRadians(camera.angle()) / 2),
        camera.projection(),
        width,
        height);
  }

  /** Where right is for an upright camera that looks along a direction. */
  private static Vector3d level(Vector3d ahead) {
    Vector3d up = Math.abs(ahead.y) > 0.9999 ? new Vector3d(0, 0, -1) : new Vector3d(0, 1, 0);
    return new Vector3d(ahead).cross(up).normalize();
  }

  /** Returns it turned by a small rotation, given as a vector along its axis, radians. */
  Pose turned(double x, double y, double z) {
    double angle = Math.sqrt(x * x + y * y + z * z);
    if (angle == 0) {
      return this;
    }
    Matrix3d by = new Matrix3d().rotation(angle, x / angle, y / angle, z / angle);
    return new Pose(by.mul(turn), eye, focal, projection, width, height);
  }

  Pose with(Vector3d at, double focalLength, Projection next) {
    return new Pose(turn, at, focalLength, next, width, height);
  }

  /** Returns it standing elsewhere. */
  Pose at(Vector3d place) {
    return with(place, focal, projection);
  }

  /** The focal length in pixels. */
  double pixels() {
    return focal * height;
  }

  /**
   * Where a pinhole would show what the picture shows at a place: pixels right of the axis and
   * above it.
   */
  Straight straight(At at) {
    double[] s = projection.straight(at.right() * width, at.down() * height, width, height);
    return new Straight(s[0], s[1]);
  }

  /** Pixels right of the axis and above it, in a pinhole's picture. */
  record Straight(double a, double b) {}

  /** Returns the direction in the world of a place in a pinhole's picture, of any length. */
  Vector3d ray(Straight s) {
    return turn.transpose(new Matrix3d()).transform(new Vector3d(s.a, s.b, -pixels()));
  }

  /** Returns a place of the world as the camera sees it: right, up, and minus the depth. */
  Vector3d seen(Vector3d place) {
    return turn.transform(new Vector3d(place).sub(eye));
  }

  /** Returns where in the picture a place is seen: pixels from the left and the top. */
  double @Nullable [] pixel(Vector3d place) {
    return shown(seen(place));
  }

  /** Returns where in the picture a direction of the world is seen, infinitely far away. */
  double @Nullable [] direction(Vector3d ahead) {
    return shown(turn.transform(new Vector3d(ahead)));
  }

  private double @Nullable [] shown(Vector3d seen) {
    double size = seen.length();
    if (!(-seen.z > NEAR * size)) {
      return null;
    }
    double scale = pixels() / -seen.z;
    return projection.shown(scale * seen.x, scale * seen.y, width, height);
  }

  /** Returns the camera for a plan, its numbers rounded to what shows in no picture. */
  PlacedCamera camera() {
    Matrix3d toWorld = turn.transpose(new Matrix3d());
    Vector3d ahead = toWorld.transform(new Vector3d(0, 0, -1));
    Vector3d right = toWorld.transform(new Vector3d(1, 0, 0));
    double distance = ahead.y < 0 && eye.y > 0 ? -eye.y / ahead.y : USUAL_DISTANCE;
    if (distance > FARTHEST_TARGET || distance < 1e-3) {
      distance = USUAL_DISTANCE;
    }
    Vector3d flat = level(ahead);
    Vector3d down = new Vector3d(ahead).cross(flat);
    double roll = Math.toDegrees(Math.atan2(right.dot(down), right.dot(flat)));
    return new PlacedCamera(
        List.of(rounded(eye.x), rounded(eye.y), rounded(eye.z)),
        List.of(
            rounded(eye.x + distance * ahead.x),
            rounded(eye.y + distance * ahead.y),
            rounded(eye.z + distance * ahead.z)),
        rounded(Math.toDegrees(2 * Math.atan(0.5 / focal))),
        rounded(roll),
        new Projection(
            rounded(projection.right()),
            rounded(projection.up()),
            rounded(projection.k1()),
            rounded(projection.k2())));
  }

  private static double rounded(double v) {
    return Math.rint(v * 1e6) / 1e6 + 0.0;
  }

  /** Returns a camera at a place, turned about the vertical, then up. */
  static Matrix3d looking(double yaw, double pitch) {
    return new Quaterniond().rotationX(-pitch).rotateY(-yaw).get(new Matrix3d());
  }
}
