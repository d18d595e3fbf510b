package org.wedgecutter.exr;

/**
 * Numbers of IEEE 754 binary16 to floats and back. A NaN keeps its bits, which conversions of the
 * processor may change.
 */
final class Half {
  private static final int EXPONENT = 0x7c00;
  private static final int MANTISSA = 0x3ff;

  private Half() {}

  static float toFloat(short half) {
    if ((half & EXPONENT) == EXPONENT && (half & MANTISSA) != 0) {
      return Float.intBitsToFloat((half & 0x8000) << 16 | 0x7f800000 | (half & MANTISSA) << 13);
    }
    return Float.float16ToFloat(half);
  }

  static short of(float value) {
    if (value != value) {
      int bits = Float.floatToRawIntBits(value);
      int mantissa = bits >> 13 & MANTISSA;
      return (short) (bits >>> 16 & 0x8000 | EXPONENT | (mantissa == 0 ? 0x200 : mantissa));
    }
    return Float.floatToFloat16(value);
  }
}
