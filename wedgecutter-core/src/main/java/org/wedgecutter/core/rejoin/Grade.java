package org.wedgecutter.core.rejoin;

import java.util.List;
import java.util.function.DoubleUnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Correction;

/**
 * A correction as arithmetic on premultiplied, scene-linear pixels. A linear one is a matrix and an
 * offset, which is multiplied by alpha; any other is a function of each channel, applied to colours
 * that are divided by alpha and multiplied by it afterwards. Light without alpha (a glow, haze) is
 * corrected as it is. No result is NaN or infinite.
 *
 * <p>Sources: rotation of hue, the matrix of the Filter Effects Module Level 1 of the W3C;
 * chromaticity of a black body, Y. Kim et al., "Design of Advanced Color Temperature Control System
 * for HDTV Applications", 2002; curve without overshoot, F. Fritsch and R. Carlson, "Monotone
 * Piecewise Cubic Interpolation", 1980.
 */
final class Grade {
  private static final double RED = 0.2126;
  private static final double GREEN = 0.7152;
  private static final double BLUE = 0.0722;
  private static final double DAYLIGHT = 6504;

  /** Octaves of the table, from {@code 2^-16} on, and its places in each. */
  private static final int LOWEST = -16;

  private static final int OCTAVES = 30;
  private static final int PLACES = 10;

  /** Bits of a float below a place's, and the number of the first place. */
  private static final int BELOW = 23 - PLACES;

  private static final int FIRST = (LOWEST + 127) << PLACES;

  /** How far a value is moved to see what a function does to an error. */
  private static final double STEP = 1e-3;

  private final double[] matrix;
  private final double[] offset;
  private final boolean isLinear;

  /** What alpha is multiplied by. */
  private final float alphaFactor;

  private final DoubleUnaryOperator function;

  /**
   * The function at places whose distance is a share of their value, above zero and below; made
   * when first needed.
   */
  private volatile float @Nullable [] above;

  private volatile float @Nullable [] below;

  private Grade(double[] matrix, double[] offset) {
    this(matrix, offset, 1);
  }

  private Grade(double[] matrix, double[] offset, double alphaFactor) {
    this.matrix = matrix;
    this.offset = offset;
    this.alphaFactor = (float) alphaFactor;
    isLinear = true;
    function = x -> x;
  }

  private Grade(DoubleUnaryOperator function) {
    matrix = diagonal(1, 1, 1);
    offset = new double[3];
    isLinear = false;
    alphaFactor = 1;
    this.function = function;
  }

  /** Returns what a correction does. */
  static Grade of(Correction c) {
    List<Double> v = c.values();
    return switch (c.type()) {
      case EXPOSURE -> {
        double f = Math.pow(2, v.get(0));
        yield new Grade(diagonal(f, f, f), new double[3]);
      }
      case GAIN -> new Grade(diagonal(v.get(0), v.get(1), v.get(2)), new double[3]);
      case OFFSET -> new Grade(diagonal(1, 1, 1), new double[] {v.get(0), v.get(1), v.get(2)});
      case GAMMA -> {
        double exponent = 1 / v.get(0);
        yield new Grade(x -> Math.signum(x) * Math.pow(Math.abs(x), exponent));
      }
      case SATURATION -> new Grade(saturation(v.get(0)), new double[3]);
      case HUE -> new Grade(hue(Math.toRadians(v.get(0))), new double[3]);
      case CONTRAST -> {
        double exponent = v.get(0);
        double pivot = v.get(1);
        yield new Grade(x -> Math.signum(x) * pivot * Math.pow(Math.abs(x) / pivot, exponent));
      }
      case TEMPERATURE -> new Grade(temperature(v.get(0)), new double[3]);
      case CURVE -> new Grade(curve(v));
      case SOFT_CLIP -> {
        double from = v.get(0);
        double room = v.get(1) - from;
        yield new Grade(x -> x <= from ? x : from + room * -Math.expm1((from - x) / room));
      }
      case FADE -> new Grade(diagonal(v.get(0), v.get(0), v.get(0)), new double[3], v.get(0));
      case SHADOW, BLUR, GLOW, DEFOCUS, DISTORTION, SURFACE ->
          throw new IllegalArgumentException("no grade: " + c.type().word());
    };
  }

  /** Returns the matrix of a linear correction without an offset, row by row; else null. */
  static double @Nullable [] matrix(Correction c) {
    if (c.type().isSpatial() || c.type() == Correction.Type.SHADOW) {
      return null;
    }
    Grade g = of(c);
    return g.isLinear && c.type() != Correction.Type.OFFSET ? g.matrix.clone() : null;
  }

  /** Returns the luminance of a colour with Rec. 709 primaries. */
  static double luminance(double red, double green, double blue) {
    return RED * red + GREEN * green + BLUE * blue;
  }

  private static double[] diagonal(double r, double g, double b) {
    return new double[] {r, 0, 0, 0, g, 0, 0, 0, b};
  }

  private static double[] saturation(double s) {
    double r = (1 - s) * RED;
    double g = (1 - s) * GREEN;
    double b = (1 - s) * BLUE;
    return new double[] {r + s, g, b, r, g + s, b, r, g, b + s};
  }

  private static double[] hue(double angle) {
    double c = Math.cos(angle);
    double s = Math.sin(angle);
    return new double[] {
      RED + c * (1 - RED) - s * RED,
      GREEN - c * GREEN - s * GREEN,
      BLUE - c * BLUE + s * (1 - BLUE),
      RED - c * RED + s * 0.143,
      GREEN + c * (1 - GREEN) + s * 0.140,
      BLUE - c * BLUE - s * 0.283,
      RED - c * RED - s * (1 - RED),
      GREEN - c * GREEN + s * GREEN,
      BLUE + c * (1 - BLUE) + s * BLUE
    };
  }

  /** Gains that turn white into the colour of a black body, of the same luminance. */
  private static double[] temperature(double kelvin) {
    double[] there = blackBody(kelvin);
    double[] here = blackBody(DAYLIGHT);
    double[] gain = new double[3];
    double y = 0;
    double[] weights = {RED, GREEN, BLUE};
    for (int c = 0; c < 3; c++) {
      gain[c] = Math.max(0, there[c]) / here[c];
      y += weights[c] * gain[c];
    }
    return diagonal(gain[0] / y, gain[1] / y, gain[2] / y);
  }

  /** Linear BT.709 colour of a black body, of any brightness. */
  private static double[] blackBody(double kelvin) {
    double t = Math.max(1667, Math.min(25000, kelvin));
    double a = 1e9 / (t * t * t);
    double b = 1e6 / (t * t);
    double c = 1e3 / t;
    double x =
        t <= 4000
            ? -0.2661239 * a - 0.2343589 * b + 0.8776956 * c + 0.179910
            : -3.0258469 * a + 2.1070379 * b + 0.2226347 * c + 0.240390;
    double y;
    if (t <= 2222) {
      y = -1.1063814 * x * x * x - 1.34811020 * x * x + 2.18555832 * x - 0.20219683;
    } else if (t <= 4000) {
      y = -0.9549476 * x * x * x - 1.37418593 * x * x + 2.09137015 * x - 0.16748867;
    } else {
      y = 3.0817580 * x * x * x - 5.87338670 * x * x + 3.75112997 * x - 0.37001483;
    }
    double bigX = x / y;
    double bigZ = (1 - x - y) / y;
    return new double[] {
      3.2404542 * bigX - 1.5371385 - 0.4985314 * bigZ,
      -0.9692660 * bigX + 1.8760108 + 0.0415560 * bigZ,
      0.0556434 * bigX - 0.2040259 + 1.0572252 * bigZ
    };
  }

  private static DoubleUnaryOperator curve(List<Double> points) {
    int n = points.size() / 2;
    double[] x = new double[n];
    double[] y = new double[n];
    for (int k = 0; k < n; k++) {
      x[k] = points.get(2 * k);
      y[k] = points.get(2 * k + 1);
    }
    double[] slope = slopes(x, y);
    return v -> {
      if (v <= x[0]) {
        return y[0] + slope[0] * (v - x[0]);
      }
      if (v >= x[n - 1]) {
        return y[n - 1] + slope[n - 1] * (v - x[n - 1]);
      }
      int k = 0;
      while (v > x[k + 1]) {
        k++;
      }
      double h = x[k + 1] - x[k];
      double t = (v - x[k]) / h;
      double t2 = t * t;
      double t3 = t2 * t;
      return (2 * t3 - 3 * t2 + 1) * y[k]
          + (t3 - 2 * t2 + t) * h * slope[k]
          + (3 * t2 - 2 * t3) * y[k + 1]
          + (t3 - t2) * h * slope[k + 1];
    };
  }

  private static double[] slopes(double[] x, double[] y) {
    int n = x.length;
    double[] between = new double[n - 1];
    for (int k = 0; k + 1 < n; k++) {
      between[k] = (y[k + 1] - y[k]) / (x[k + 1] - x[k]);
    }
    double[] out = new double[n];
    out[0] = between[0];
    out[n - 1] = between[n - 2];
    for (int k = 1; k + 1 < n; k++) {
      out[k] = between[k - 1] * between[k] <= 0 ? 0 : (between[k - 1] + between[k]) / 2;
    }
    for (int k = 0; k + 1 < n; k++) {
      if (between[k] == 0) {
        out[k] = out[k + 1] = 0;
        continue;
      }
      double a = out[k] / between[k];
      double b = out[k + 1] / between[k];
      double length = Math.hypot(a, b);
      if (length > 3) {
        out[k] = 3 * a / length * between[k];
        out[k + 1] = 3 * b / length * between[k];
      }
    }
    return out;
  }

  /**
   * Corrects pixels.
   *
   * @param c red, green, blue, alpha of each
   * @param scale becomes the scale of the new pixels' errors; null if that is not asked for
   */
  void apply(float[] c, float @Nullable [] scale) {
    if (isLinear) {
      linear(c, false);
      if (scale != null) {
        linear(scale, true);
      }
    } else {
      if (scale != null) {
        errors(c, scale);
      }
      float[] positive = above();
      for (int p = 0; p < c.length; p += 4) {
        float alpha = c[p + 3];
        if (alpha > 0) {
          float inverse = 1 / alpha;
          c[p] = at(c[p], alpha, inverse, positive);
          c[p + 1] = at(c[p + 1], alpha, inverse, positive);
          c[p + 2] = at(c[p + 2], alpha, inverse, positive);
        } else {
          // a function that lifts black would fill what is empty
          c[p] = c[p] == 0 ? 0 : at(c[p], 1, 1, positive);
          c[p + 1] = c[p + 1] == 0 ? 0 : at(c[p + 1], 1, 1, positive);
          c[p + 2] = c[p + 2] == 0 ? 0 : at(c[p + 2], 1, 1, positive);
        }
      }
    }
  }

  /** Returns the function of a premultiplied value, by a table where one reaches. */
  private float at(float premultiplied, float alpha, float inverse, float[] positive) {
    float x = premultiplied * inverse;
    int bits = Float.floatToRawIntBits(x);
    int at = ((bits & Integer.MAX_VALUE) >>> BELOW) - FIRST;
    if (at >= 0 && at < OCTAVES << PLACES) {
      float[] places = bits < 0 ? below() : positive;
      float t = (bits & (1 << BELOW) - 1) * (1f / (1 << BELOW));
      return bounded(alpha * (places[at] + t * (places[at + 1] - places[at])));
    }
    return finite(value(premultiplied, alpha));
  }

  private float[] above() {
    float[] known = above;
    if (known == null) {
      known = table(1);
      above = known;
    }
    return known;
  }

  private float[] below() {
    float[] known = below;
    if (known == null) {
      known = table(-1);
      below = known;
    }
    return known;
  }

  /** Between two places the function is nearly straight: a relative step of a thousandth. */
  private float[] table(int sign) {
    float[] made = new float[(OCTAVES << PLACES) + 1];
    for (int k = 0; k < made.length; k++) {
      made[k] = finite(function.applyAsDouble(sign * Float.intBitsToFloat(k + FIRST << BELOW)));
    }
    return made;
  }

  /**
   * @param errors whether the numbers are the scales of errors, of which each part adds to the
   *     whole
   */
  private void linear(float[] c, boolean errors) {
    // in locals: of an array the compiler must assume that writing colours changes it
    float rr = factor(matrix[0], errors);
    float rg = factor(matrix[1], errors);
    float rb = factor(matrix[2], errors);
    float gr = factor(matrix[3], errors);
    float gg = factor(matrix[4], errors);
    float gb = factor(matrix[5], errors);
    float br = factor(matrix[6], errors);
    float bg = factor(matrix[7], errors);
    float bb = factor(matrix[8], errors);
    float or = factor(offset[0], errors);
    float og = factor(offset[1], errors);
    float ob = factor(offset[2], errors);
    float oa = alphaFactor;
    for (int p = 0; p < c.length; p += 4) {
      float r = c[p];
      float g = c[p + 1];
      float b = c[p + 2];
      float a = c[p + 3];
      c[p] = bounded(rr * r + rg * g + rb * b + or * a);
      c[p + 1] = bounded(gr * r + gg * g + gb * b + og * a);
      c[p + 2] = bounded(br * r + bg * g + bb * b + ob * a);
      c[p + 3] = oa * a;
    }
  }

  private static float factor(double of, boolean errors) {
    return (float) (errors ? Math.abs(of) : of);
  }

  private void errors(float[] c, float[] s) {
    for (int p = 0; p < c.length; p += 4) {
      double alpha = c[p + 3];
      for (int k = 0; k < 3; k++) {
        double error = STEP * s[p + k];
        double now = value(c[p + k], alpha);
        double up = Math.abs(value(c[p + k] + error, alpha) - now);
        double down = Math.abs(value(c[p + k] - error, alpha) - now);
        s[p + k] = finite(Math.max(up, down) / STEP);
      }
    }
  }

  private double value(double premultiplied, double alpha) {
    if (!(alpha > 0)) {
      // a function that lifts black would fill what is empty
      return premultiplied == 0 ? 0 : function.applyAsDouble(premultiplied);
    }
    return alpha * function.applyAsDouble(premultiplied / alpha);
  }

  /** Returns a number within the bounds of a float; 0 for none. */
  static float bounded(float value) {
    // NaN comes from light beyond all bounds with both signs; it fails both comparisons
    return Math.abs(value) <= Float.MAX_VALUE ? value : finite(value);
  }

  private static float finite(double value) {
    if (Double.isNaN(value)) {
      return 0;
    }
    return (float) Math.max(-Float.MAX_VALUE, Math.min(Float.MAX_VALUE, value));
  }
}
