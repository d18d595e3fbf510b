package org.wedgecutter.exr;

import java.util.Arrays;

/** Writes bits, the highest of each number first. */
final class BitWriter {
  private byte[] out;
  private int size;
  private long pending;
  private int bits;

  BitWriter(int guess) {
    out = new byte[Math.max(64, guess)];
  }

  /**
   * Writes the lowest bits of a number.
   *
   * @param count at most 58
   */
  void put(long value, int count) {
    if (bits + count > 63) {
      flush();
    }
    pending = pending << count | value;
    bits += count;
  }

  /** Leaves fewer than eight bits. */
  private void flush() {
    if (size + 8 > out.length) {
      out = Arrays.copyOf(out, 2 * out.length);
    }
    while (bits >= 8) {
      bits -= 8;
      out[size++] = (byte) (pending >>> bits);
    }
    pending &= (1L << bits) - 1;
  }

  /** Returns the number of bits so far. */
  long length() {
    return 8L * size + bits;
  }

  /** Returns all bytes, the last filled with zeros. */
  byte[] bytes() {
    flush();
    byte[] all = Arrays.copyOf(out, size + (bits > 0 ? 1 : 0));
    if (bits > 0) {
      all[size] = (byte) (pending << 8 - bits);
    }
    return all;
  }
}
