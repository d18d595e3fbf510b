package org.wedgecutter.core.trace;

/**
 * A plane in the world with axes of its own.
 *
 * @param centre its origin: x, y, z in metres
 * @param first unit vector in it; on level ground the world's x
 * @param second unit vector in it, at right angles to the first; on level ground the world's z
 */
public record Plane(double[] centre, double[] first, double[] second) {
  /** Returns the plane through a place with a normal; the first axis is as near to x as can be. */
  public static Plane of(double[] centre, double[] normal) {
    double[] n = unit(normal);
    // along x the plane has no axis near x
    double[] towards = Math.abs(n[0]) > 0.99 ? new double[] {0, 0, -n[0]} : new double[] {1, 0, 0};
    double along = dot(towards, n);
    double[] first =
        unit(
            new double[] {
              towards[0] - along * n[0], towards[1] - along * n[1], towards[2] - along * n[2]
            });
    return new Plane(centre, first, cross(first, n));
  }

  /** Returns it with its axes turned by degrees, from the first away from the second. */
  public Plane turned(double degrees) {
    double cos = Math.cos(Math.toRadians(degrees));
    double sin = Math.sin(Math.toRadians(degrees));
    double[] a = new double[3];
    double[] b = new double[3];
    for (int k = 0; k < 3; k++) {
      a[k] = cos * first[k] - sin * second[k];
      b[k] = sin * first[k] + cos * second[k];
    }
    return new Plane(centre, a, b);
  }

  /** Returns the place at distances along the axes. */
  public double[] place(double a, double b) {
    double[] out = new double[3];
    for (int k = 0; k < 3; k++) {
      out[k] = centre[k] + a * first[k] + b * second[k];
    }
    return out;
  }

  /** Returns the unit normal. */
  double[] normal() {
    return cross(second, first);
  }

  static double dot(double[] a, double[] b) {
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  }

  private static double[] cross(double[] a, double[] b) {
    return new double[] {
      a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]
    };
  }

  private static double[] unit(double[] v) {
    double length = Math.max(1e-300, Math.sqrt(dot(v, v)));
    return new double[] {v[0] / length, v[1] / length, v[2] / length};
  }
}
