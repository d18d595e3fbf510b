package org.wedgecutter.exr;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/**
 * Numbers of IEEE 754 binary16 to floats and back. A NaN keeps its bits, which conversions of the
 * processor may change.
 */
final class Half {
  private static final int EXPONENT = 0x7c00;
  private static final int MANTISSA = 0x3ff;

  private static final VarHandle BITS =
      MethodHandles.byteArrayViewVarHandle(short[].class, ByteOrder.LITTLE_ENDIAN);
  private static final VarHandle FOUR =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);

  private Half() {}

  /** Converts numbers that stand among bytes, little-endian. */
  static void toFloats(byte[] halves, int at, float[] out, int from, int count) {
    // this loop and the next become vector instructions
    for (int k = 0; k < count; k++) {
      out[from + k] = Float.float16ToFloat((short) BITS.get(halves, at + 2 * k));
    }
    if (hasNaN(halves, at, count)) {
      for (int k = 0; k < count; k++) {
        out[from + k] = toFloat((short) BITS.get(halves, at + 2 * k));
      }
    }
  }

  /** Converts numbers to bytes, little-endian. */
  static void of(float[] values, int from, byte[] out, int at, int count) {
    for (int k = 0; k < count; k++) {
      BITS.set(out, at + 2 * k, Float.floatToFloat16(values[from + k]));
    }
    if (hasNaN(out, at, count)) {
      for (int k = 0; k < count; k++) {
        BITS.set(out, at + 2 * k, of(values[from + k]));
      }
    }
  }

  /** Whether any number is a NaN: only then its magnitude carries into the highest bit. */
  private static boolean hasNaN(byte[] halves, int at, int count) {
    int end = at + 2 * count;
    int p = at;
    long a = 0;
    long b = 0;
    long c = 0;
    long d = 0;
    // sixteen at a time: the compiler makes no vector instructions of this
    for (; p <= end - 32; p += 32) {
      a |= carries(halves, p);
      b |= carries(halves, p + 8);
      c |= carries(halves, p + 16);
      d |= carries(halves, p + 24);
    }
    a |= b | c | d;
    for (; p < end; p += 2) {
      a |= ((short) BITS.get(halves, p) & 0x7fff) + MANTISSA;
    }
    return (a & 0x8000_8000_8000_8000L) != 0;
  }

  private static long carries(byte[] halves, int at) {
    return ((long) FOUR.get(halves, at) & 0x7fff_7fff_7fff_7fffL) + 0x03ff_03ff_03ff_03ffL;
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
