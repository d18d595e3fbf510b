package org.wedgecutter.core.scene;

/**
 * How a camera's picture departs from that of a pinhole whose axis goes through the picture's
 * middle.
 *
 * <p>Distortion is radial, about the axis: what the picture shows at the distance r from it, a
 * pinhole would show at {@code r (1 + k1 r^2 + k2 r^4)}, with r in halves of the picture's diagonal
 * (D. Brown, "Close-Range Camera Calibration", 1971, radial terms). Negative factors are a
 * barrel's.
 *
 * @param right how far the picture's middle lies to the right of the axis, in heights of the
 *     picture
 * @param up how far it lies above the axis, in heights of the picture
 * @param k1 factor of the distance's second power
 * @param k2 factor of its fourth power
 */
public record Projection(double right, double up, double k1, double k2) {
  /** A pinhole whose axis goes through the middle. */
  public static final Projection NONE = new Projection(0, 0, 0, 0);

  private static final int STEPS = 40;

  /** Whether the picture is bent. */
  public boolean isBent() {
    return k1 != 0 || k2 != 0;
  }

  /** Returns what a distance from the axis is multiplied by, given its square. */
  public double straightening(double r2) {
    return 1 + r2 * (k1 + k2 * r2);
  }

  /**
   * Returns the distance in the picture of what a pinhole shows at a distance, both in halves of
   * the diagonal: the inverse of {@code r (1 + k1 r^2 + k2 r^4)}; beyond what the lens can show,
   * the farthest that it does.
   */
  public double bent(double straight) {
    if (!isBent() || straight == 0) {
      return straight;
    }
    double low = 0;
    double high = farthest();
    if (high * straightening(high * high) <= straight) {
      return high;
    }
    double r = Math.min(straight, high);
    for (int k = 0; k < STEPS; k++) {
      double r2 = r * r;
      double error = r * straightening(r2) - straight;
      if (error > 0) {
        high = r;
      } else {
        low = r;
      }
      double step = error / (1 + r2 * (3 * k1 + 5 * k2 * r2));
      if (Math.abs(step) <= 1e-14 * r) {
        return r;
      }
      // Newton's step, or half of what is left where it leaves the bounds
      double next = r - step;
      r = next > low && next < high ? next : (low + high) / 2;
    }
    return r;
  }

  /**
   * Returns where in the picture a pinhole's place is shown: pixels from the left and the top.
   *
   * @param rightOfAxis pixels in a pinhole's picture
   * @param aboveAxis likewise
   */
  public double[] shown(double rightOfAxis, double aboveAxis, double width, double height) {
    double straight = 2 * Math.hypot(rightOfAxis, aboveAxis) / Math.hypot(width, height);
    double by = straight > 0 ? bent(straight) / straight : 1;
    return new double[] {
      width / 2 - right * height + by * rightOfAxis, height / 2 + up * height - by * aboveAxis
    };
  }

  /**
   * Returns where a pinhole would show what is at a place of the picture: pixels right of the axis
   * and above it.
   *
   * @param x pixels from the left
   * @param y pixels from the top
   */
  public double[] straight(double x, double y, double width, double height) {
    double a = x - width / 2 + right * height;
    double b = height / 2 - y + up * height;
    double half = Math.hypot(width, height) / 2;
    double by = straightening((a * a + b * b) / (half * half));
    return new double[] {a * by, b * by};
  }

  /** The distance up to which what lies farther out is shown farther out. */
  private double farthest() {
    // 1 + 3 k1 q + 5 k2 q^2 = 0 in the square of the distance
    double b = 3 * k1;
    double a = 5 * k2;
    double most = 1e3;
    double q;
    if (a == 0) {
      q = b < 0 ? -1 / b : most;
    } else {
      double d = b * b - 4 * a;
      if (d < 0) {
        return most;
      }
      double root = Math.sqrt(d);
      double one = (-b - root) / (2 * a);
      double two = (-b + root) / (2 * a);
      double least = Math.min(one, two);
      q = least > 0 ? least : Math.max(one, two);
    }
    return q > 0 ? Math.min(most, Math.sqrt(q)) : most;
  }

  /**
   * Whether every place of a picture that is at most twice as high as wide shows one direction:
   * distances from the axis grow up to its farthest corner.
   */
  public boolean holds() {
    double corner = Math.hypot(0.25 + Math.abs(right), 0.5 + Math.abs(up));
    return farthest() > corner / (Math.hypot(0.5, 1) / 2);
  }
}
