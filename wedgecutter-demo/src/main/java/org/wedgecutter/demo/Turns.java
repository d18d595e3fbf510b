package org.wedgecutter.demo;

/** Quaternions x, y, z, w, and short names for places. */
final class Turns {
  private Turns() {}

  /** The turn that points -z from one place to another with y up. */
  static double[] look(double[] from, double[] to) {
    double x = to[0] - from[0];
    double y = to[1] - from[1];
    double z = to[2] - from[2];
    double yaw = Math.atan2(-x, -z);
    double pitch = Math.atan2(y, Math.hypot(x, z));
    return product(axis(0, 1, 0, yaw), axis(1, 0, 0, pitch));
  }

  static double[] axis(double x, double y, double z, double angle) {
    double s = Math.sin(angle / 2);
    return new double[] {x * s, y * s, z * s, Math.cos(angle / 2)};
  }

  static double[] product(double[] a, double[] b) {
    return new double[] {
      a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
      a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
      a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3],
      a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2]
    };
  }

  static double[] v(double... values) {
    return values;
  }
}
