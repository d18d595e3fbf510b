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
    int largest = 0;
    for (int k = 0; k < count; k++) {
      out[from + k] = Float.float16ToFloat(halves[k]);
    }
    for (int k = 0; k < count; k++) {
      largest = Math.max(largest, halves[k] & 0x7fff);
    }
    for (int k = 0; k < count && largest > EXPONENT; k++) {
      out[from + k] = toFloat(halves[k]);
    }
  }

  /** Converts numbers in bulk. */
  static void of(float[] values, int from, int count, short[] out) {
    int largest = 0;
    for (int k = 0; k < count; k++) {
      out[k] = Float.floatToFloat16(values[from + k]);
    }
    for (int k = 0; k < count; k++) {
      largest = Math.max(largest, out[k] & 0x7fff);
    }
    for (int k = 0; k < count && largest > EXPONENT; k++) {
      out[k] = of(values[from + k]);
    }
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
