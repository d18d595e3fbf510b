package org.wedgecutter.core.trace;

/** The point of a triangle that is nearest to a place. */
final class Nearest {
  private Nearest() {}

  /**
   * Returns the point.
   *
   * <p>Source: C. Ericson, "Real-Time Collision Detection", 2005, section 5.1.5.
   *
   * @param t first corner and the edges to the others
   */
  static double[] point(float[] t, double[] p) {
    double apx = p[0] - t[0];
    double apy = p[1] - t[1];
    double apz = p[2] - t[2];
    double d1 = t[3] * apx + t[4] * apy + t[5] * apz;
    double d2 = t[6] * apx + t[7] * apy + t[8] * apz;
    double aa = (double) t[3] * t[3] + (double) t[4] * t[4] + (double) t[5] * t[5];
    double bb = (double) t[6] * t[6] + (double) t[7] * t[7] + (double) t[8] * t[8];
    double ab = (double) t[3] * t[6] + (double) t[4] * t[7] + (double) t[5] * t[8];
    double det = aa * bb - ab * ab;
    double u = det > 0 ? (bb * d1 - ab * d2) / det : 0;
    double v = det > 0 ? (aa * d2 - ab * d1) / det : 0;
    if (u < 0 || v < 0 || u + v > 1 || det <= 0) {
      // on one of the edges
      double best = Double.POSITIVE_INFINITY;
      double[] uv = new double[2];
      double[][] tried = {
        {clamp(aa > 0 ? d1 / aa : 0), 0},
        {0, clamp(bb > 0 ? d2 / bb : 0)},
        between(aa, bb, ab, d1, d2)
      };
      for (double[] e : tried) {
        double far =
            e[0] * e[0] * aa
                + e[1] * e[1] * bb
                + 2 * e[0] * e[1] * ab
                - 2 * (e[0] * d1 + e[1] * d2);
        if (far < best) {
          best = far;
          uv = e;
        }
      }
      u = uv[0];
      v = uv[1];
    }
    return new double[] {
      t[0] + u * t[3] + v * t[6], t[1] + u * t[4] + v * t[7], t[2] + u * t[5] + v * t[8]
    };
  }

  /** On the edge between the second and the third corner. */
  private static double[] between(double aa, double bb, double ab, double d1, double d2) {
    double length = aa - 2 * ab + bb;
    double along = clamp(length > 0 ? (d2 - d1 + aa - ab) / length : 0);
    return new double[] {1 - along, along};
  }

  private static double clamp(double x) {
    return Math.max(0, Math.min(1, x));
  }
}
