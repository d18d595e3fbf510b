package org.wedgecutter.exr;

/**
 * Numbers of IEEE 754 binary16 to floats and back. A NaN keeps its bits, which conversions of the
 * processor may change.
 */
final class Half {
  private static final int EXPONENT = 0x7c00;
  private static final int MANTISSA = 0x3ff;

  private Half() {}

  /** Converts numbers in bulk. */
  static void toFloats(short[] halves, float[] out, int from, int count) {
    for (int k = 0; k < count; k++) {
      out[from + k] = Float.float16ToFloat(halves[k]);
    }
    if (hasNaN(halves, count)) {
      for (int k = 0; k < count; k++) {
        out[from + k] = toFloat(halves[k]);
      }
    }
  }

  /** Converts numbers in bulk. */
  static void of(float[] values, int from, int count, short[] out) {
    for (int k = 0; k < count; k++) {
      out[k] = Float.floatToFloat16(values[from + k]);
    }
    if (hasNaN(out, count)) {
      for (int k = 0; k < count; k++) {
        out[k] = of(values[from + k]);
      }
    }
  }

  /** Whether any number is a NaN: only then its magnitude carries into the highest bit. */
  private static boolean hasNaN(short[] halves, int count) {
    int carries = 0;
    for (int k = 0; k < count; k++) {
      carries |= (halves[k] & 0x7fff) + MANTISSA;
    }
    return (carries & 0x8000) != 0;
  }

  static float toFloat(short half) {
    if ((half & EXPONENT) == EXPONENT && (half & MANTISSA) != 0) {
      return Float.intBitsToFloat((half & 0x8000) << 16 | 0x7f800000 | (half & MANTISSA) << 13);
    }
    return Float.float16ToFloat(half);
  }

  static short of(float value) {
    if (Float.isNaN(value)) {
      int bits = Float.floatToRawIntBits(value);
      int mantissa = bits >> 13 & MANTISSA;
      return (short) (bits >>> 16 & 0x8000 | EXPONENT | (mantissa == 0 ? 0x200 : mantissa));
    }
    return Float.floatToFloat16(value);
  }
}
