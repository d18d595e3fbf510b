package org.wedgecutter.exr;

/**
 * The discrete cosine transform of eight by eight numbers, orthonormal, and its inverse: {@code
 * F(u) = c(u) sum f(x) cos((2x + 1) u pi / 16)}, with {@code c(0) = sqrt(1/8)} and otherwise 1/2,
 * over lines and then over columns (N. Ahmed, T. Natarajan, K. R. Rao: Discrete cosine transform,
 * 1974).
 */
final class Dct {
  private static final float[] C = new float[8];

  static {
    for (int k = 0; k < 8; k++) {
      C[k] = (float) (0.5 * Math.cos(k * Math.PI / 16));
    }
    C[0] = (float) (0.5 * Math.sqrt(0.5));
  }

  private Dct() {}

  /** Transforms 64 numbers, line by line, in place. */
  static void forward(float[] f) {
    for (int k = 0; k < 8; k++) {
      forward(f, 8 * k, 1);
    }
    for (int k = 0; k < 8; k++) {
      forward(f, k, 8);
    }
  }

  /**
   * Transforms 64 numbers back, in place.
   *
   * @param lines how many lines have any that is not 0
   */
  static void back(float[] f, int lines) {
    for (int k = 0; k < lines; k++) {
      back(f, 8 * k, 1);
    }
    for (int k = 0; k < 8; k++) {
      back(f, k, 8);
    }
  }

  private static void forward(float[] f, int at, int step) {
    // even coefficients see the sums of opposite numbers, odd ones their differences
    float s0 = f[at] + f[at + 7 * step];
    float s1 = f[at + step] + f[at + 6 * step];
    float s2 = f[at + 2 * step] + f[at + 5 * step];
    float s3 = f[at + 3 * step] + f[at + 4 * step];
    float d0 = f[at] - f[at + 7 * step];
    float d1 = f[at + step] - f[at + 6 * step];
    float d2 = f[at + 2 * step] - f[at + 5 * step];
    float d3 = f[at + 3 * step] - f[at + 4 * step];
    f[at] = C[0] * (s0 + s1 + s2 + s3);
    f[at + 2 * step] = C[2] * (s0 - s3) + C[6] * (s1 - s2);
    f[at + 4 * step] = C[4] * (s0 - s1 - s2 + s3);
    f[at + 6 * step] = C[6] * (s0 - s3) - C[2] * (s1 - s2);
    f[at + step] = C[1] * d0 + C[3] * d1 + C[5] * d2 + C[7] * d3;
    f[at + 3 * step] = C[3] * d0 - C[7] * d1 - C[1] * d2 - C[5] * d3;
    f[at + 5 * step] = C[5] * d0 - C[1] * d1 + C[7] * d2 + C[3] * d3;
    f[at + 7 * step] = C[7] * d0 - C[5] * d1 + C[3] * d2 - C[1] * d3;
  }

  private static void back(float[] f, int at, int step) {
    float f0 = C[0] * f[at];
    float f4 = C[4] * f[at + 4 * step];
    float f2 = f[at + 2 * step];
    float f6 = f[at + 6 * step];
    float a = f0 + f4;
    float b = f0 - f4;
    float c = C[2] * f2 + C[6] * f6;
    float d = C[6] * f2 - C[2] * f6;
    float f1 = f[at + step];
    float f3 = f[at + 3 * step];
    float f5 = f[at + 5 * step];
    float f7 = f[at + 7 * step];
    float e0 = C[1] * f1 + C[3] * f3 + C[5] * f5 + C[7] * f7;
    float e1 = C[3] * f1 - C[7] * f3 - C[1] * f5 - C[5] * f7;
    float e2 = C[5] * f1 - C[1] * f3 + C[7] * f5 + C[3] * f7;
    float e3 = C[7] * f1 - C[5] * f3 + C[3] * f5 - C[1] * f7;
    f[at] = a + c + e0;
    f[at + 7 * step] = a + c - e0;
    f[at + step] = b + d + e1;
    f[at + 6 * step] = b + d - e1;
    f[at + 2 * step] = b - d + e2;
    f[at + 5 * step] = b - d - e2;
    f[at + 3 * step] = a - c + e3;
    f[at + 4 * step] = a - c - e3;
  }
}
