package org.wedgecutter.core.trace.light;

/**
 * Fast inverse trigonometry for table look-ups, in a tenth of the library's time: off by less than
 * 2e-6 radians, which is a five-hundredth of a pixel of an image of 8192 by 4096.
 *
 * <p>The arc tangent of 0 to 1 is an odd polynomial fitted by Chebyshev's points; other angles are
 * brought there by symmetry, the arc cosine by half angles.
 */
final class FastAngles {
  private static final float HALF_PI = (float) (Math.PI / 2);

  private FastAngles() {}

  /** Returns the angle of (x, y) from the x axis, -pi to pi; 0 for (0, 0). */
  static float atan2(float y, float x) {
    float ax = Math.abs(x);
    float ay = Math.abs(y);
    float most = Math.max(ax, ay);
    if (!(most > 0)) {
      return 0;
    }
    float angle = unit(Math.min(ax, ay) / most);
    angle = ay > ax ? HALF_PI - angle : angle;
    angle = x < 0 ? (float) Math.PI - angle : angle;
    return y < 0 ? -angle : angle;
  }

  /** Returns the angle of a cosine from -1 to 1, 0 to pi. */
  static float acos(float cos) {
    return 2 * atan2((float) Math.sqrt(Math.max(0, 1 - cos)), (float) Math.sqrt(1 + cos));
  }

  /** Arc tangent of 0 to 1. */
  private static float unit(float t) {
    float s = t * t;
    return t * (C0 + s * (C1 + s * (C2 + s * (C3 + s * (C4 + s * (C5 + s * (C6 + s * C7)))))));
  }

  private static final float C0 = 0.999999881f;
  private static final float C1 = -0.333318114f;
  private static final float C2 = 0.199669614f;
  private static final float C3 = -0.140032902f;
  private static final float C4 = 0.0986886546f;
  private static final float C5 = -0.0588297546f;
  private static final float C6 = 0.0237805191f;
  private static final float C7 = -0.00455979211f;
}
