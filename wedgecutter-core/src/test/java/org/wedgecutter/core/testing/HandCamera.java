package org.wedgecutter.core.testing;

import java.util.List;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.scene.Projection;

/**
 * A camera that is worked out here, by angles, one after the other: what the program's cameras are
 * held against.
 *
 * @param x where it stands, with y and z, metres
 * @param yaw radians from -z towards x
 * @param pitch radians upwards
 * @param roll radians clockwise about the line of sight
 * @param angle the whole vertical angle of view, degrees
 * @param right how far the picture's middle lies right of the axis, in its heights
 * @param up how far it lies above
 * @param k1 distortion by the square of the distance, in halves of the diagonal
 * @param k2 distortion by its fourth power
 */
public record HandCamera(
    double x,
    double y,
    double z,
    double yaw,
    double pitch,
    double roll,
    double angle,
    double right,
    double up,
    double k1,
    double k2) {
  /** A pinhole whose axis goes through the middle. */
  public static HandCamera of(
      double x, double y, double z, double yaw, double pitch, double roll, double angle) {
    return new HandCamera(x, y, z, yaw, pitch, roll, angle, 0, 0, 0, 0);
  }

  /** Returns where it sees a place: pixels from the left and from the top. */
  public double[] sees(double px, double py, double pz, int width, int height) {
    double dx = px - x;
    double dy = py - y;
    double dz = pz - z;
    // about the vertical, then about the level axis, then about the line of sight
    double rx = Math.cos(yaw) * dx + Math.sin(yaw) * dz;
    double rz = Math.cos(yaw) * dz - Math.sin(yaw) * dx;
    double ry = Math.cos(pitch) * dy + Math.sin(pitch) * rz;
    double depth = Math.sin(pitch) * dy - Math.cos(pitch) * rz;
    double a = Math.cos(roll) * rx - Math.sin(roll) * ry;
    double b = Math.sin(roll) * rx + Math.cos(roll) * ry;
    double f = height / 2.0 / Math.tan(Math.toRadians(angle) / 2);
    double u = f * a / depth;
    double v = f * b / depth;
    double straight = 2 * Math.hypot(u, v) / Math.hypot(width, height);
    double r = straight;
    for (int k = 0; k < 200; k++) {
      r = straight / (1 + k1 * r * r + k2 * r * r * r * r);
    }
    double by = straight > 0 ? r / straight : 1;
    return new double[] {
      width / 2.0 + u * by - right * height, height / 2.0 - v * by + up * height
    };
  }

  /** Returns the same camera as a plan has it. */
  public PlacedCamera placed() {
    return new PlacedCamera(
        List.of(x, y, z),
        List.of(
            x + 3 * Math.sin(yaw) * Math.cos(pitch),
            y + 3 * Math.sin(pitch),
            z - 3 * Math.cos(yaw) * Math.cos(pitch)),
        angle,
        Math.toDegrees(roll),
        new Projection(right, up, k1, k2));
  }
}
