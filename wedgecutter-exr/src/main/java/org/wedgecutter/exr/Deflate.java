package org.wedgecutter.exr;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.zip.DataFormatException;
import java.util.zip.Deflater;
import java.util.zip.Inflater;

/** Deflated bytes (RFC 1950 and 1951), and what makes numbers shorter by them. */
final class Deflate {
  /** The level that the OpenEXR project's library takes by default. */
  private static final int LEVEL = 4;

  private static final VarHandle LONG =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
  private static final long EVERY_OTHER = 0x00ff00ff00ff00ffL;
  private static final int MOST_ADDED = 127 * Long.BYTES;

  private Deflate() {}

  /** Making one takes longer than packing a line, so each thread keeps its own. */
  private static final ThreadLocal<Deflater> DEFLATER =
      ThreadLocal.withInitial(() -> new Deflater(LEVEL));

  private static final ThreadLocal<Inflater> INFLATER = ThreadLocal.withInitial(Inflater::new);

  /** Deflates bytes. */
  static byte[] pack(byte[] bytes) {
    return pack(bytes, bytes.length);
  }

  /** Deflates the first of some bytes. */
  static byte[] pack(byte[] bytes, int count) {
    Deflater deflater = DEFLATER.get();
    deflater.reset();
    deflater.setInput(bytes, 0, count);
    deflater.finish();
    byte[] out = Scratch.bytes(Scratch.Use.PACKED, count + count / 100 + 64);
    int size = 0;
    while (!deflater.finished()) {
      if (size == out.length) {
        out = Arrays.copyOf(out, 2 * size);
      }
      size += deflater.deflate(out, size, out.length - size);
    }
    return Arrays.copyOf(out, size);
  }

  /** Inflates bytes to exactly so many. */
  static byte[] unpack(ByteBuffer packed, int size) throws ExrException {
    byte[] out = new byte[size];
    unpack(packed, out, size);
    return out;
  }

  /** Inflates bytes to exactly so many, into an array. */
  static void unpack(ByteBuffer packed, byte[] out, int size) throws ExrException {
    // error messages come from zlib alone, so that they are the same on every machine
    if (!QuickInflate.unpack(packed, out, size)) {
      unpackByZlib(packed, out, size);
    }
  }

  /** The same on every machine. */
  static void unpackByZlib(ByteBuffer packed, byte[] out, int size) throws ExrException {
    Inflater inflater = INFLATER.get();
    inflater.reset();
    inflater.setInput(packed.array(), packed.arrayOffset() + packed.position(), packed.remaining());
    int made = 0;
    try {
      while (made < size) {
        int got = inflater.inflate(out, made, size - made);
        if (got == 0
            && (inflater.finished() || inflater.needsInput() || inflater.needsDictionary())) {
          throw new ExrException("deflated data ends after %d of %d bytes".formatted(made, size));
        }
        made += got;
      }
    } catch (DataFormatException e) {
      throw new ExrException("not deflated data: " + e.getMessage());
    }
  }

  /** Puts bytes at even places before those at odd ones; each becomes its step from the last. */
  static byte[] predict(byte[] raw) {
    byte[] out = new byte[raw.length];
    predict(raw, out);
    return out;
  }

  /** The same, into an array that may be longer. */
  static void predict(byte[] raw, byte[] split) {
    int n = raw.length;
    int half = (n + 1) / 2;
    // the first is no step; 128 makes it one
    int before = 128;
    for (int i = 0; i < half; i++) {
      int now = raw[2 * i];
      split[i] = (byte) (now - before + 128);
      before = now;
    }
    for (int i = 0; i < n / 2; i++) {
      int now = raw[2 * i + 1];
      split[half + i] = (byte) (now - before + 128);
      before = now;
    }
  }

  /** Takes {@link #predict} back for so many bytes. */
  static void restore(byte[] coded, byte[] raw, int n) {
    restore(coded, raw, n, new int[] {0, n});
  }

  /**
   * Takes {@link #predict} back for some of so many bytes. The steps between them are only added
   * up, which is quicker.
   *
   * @param spans where some begin and where they end, in pairs, ascending; even but for the last
   *     end
   */
  static void restore(byte[] coded, byte[] raw, int n, int[] spans) {
    int half = (n + 1) / 2;
    // the first is no step; 128 makes it one
    int now = 128;
    int i = 0;
    for (int s = 0; s < spans.length; s += 2) {
      int from = spans[s] / 2;
      now += sum(coded, i, from);
      for (i = from; i < (spans[s + 1] + 1) / 2; i++) {
        now += coded[i] - 128;
        raw[2 * i] = (byte) now;
      }
    }
    now += sum(coded, i, half);
    i = half;
    for (int s = 0; s < spans.length; s += 2) {
      int from = half + spans[s] / 2;
      now += sum(coded, i, from);
      for (i = from; i < half + spans[s + 1] / 2; i++) {
        now += coded[i] - 128;
        raw[2 * (i - half) + 1] = (byte) now;
      }
    }
  }

  /** Returns what some steps come to; only its last eight bits count. Eight are added at once. */
  private static int sum(byte[] coded, int from, int end) {
    int sum = 128 * (end - from);
    int i = from;
    while (i + Long.BYTES <= end) {
      // sums of every other byte; each has room for so many pairs
      long pairs = 0;
      int stop = Math.min(end - Long.BYTES, i + MOST_ADDED);
      for (; i <= stop; i += Long.BYTES) {
        long eight = (long) LONG.get(coded, i);
        pairs += (eight & EVERY_OTHER) + (eight >>> 8 & EVERY_OTHER);
      }
      sum += (int) (pairs + (pairs >>> 16) + (pairs >>> 32) + (pairs >>> 48));
    }
    for (; i < end; i++) {
      sum += coded[i];
    }
    return sum;
  }
}
