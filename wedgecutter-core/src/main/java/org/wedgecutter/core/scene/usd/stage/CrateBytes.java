package org.wedgecutter.core.scene.usd.stage;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import net.jpountz.lz4.LZ4Exception;
import net.jpountz.lz4.LZ4Factory;
import net.jpountz.lz4.LZ4SafeDecompressor;
import org.wedgecutter.core.io.Budget;
import org.wedgecutter.core.io.InputException;

/**
 * The bytes of a crate file, with its ways of packing: LZ4 blocks, and whole numbers as differences
 * of as few bytes as they need. All that is read is within the file and the budget.
 */
final class CrateBytes {
  /** Largest part that LZ4 packs at once. */
  private static final int MAX_CHUNK = 0x7E000000;

  private static final LZ4SafeDecompressor LZ4 = LZ4Factory.safeInstance().safeDecompressor();

  private final byte[] bytes;
  private final ByteBuffer in;
  private final Path file;
  private final Budget budget;

  CrateBytes(byte[] bytes, Path file, Budget budget) {
    this.bytes = bytes;
    this.file = file;
    this.budget = budget;
    in = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
  }

  InputException wrong(String problem) {
    return new InputException(file, "byte " + in.position(), problem);
  }

  int size() {
    return bytes.length;
  }

  long at() {
    return in.position();
  }

  void seek(long position) throws InputException {
    if (position < 0 || position > bytes.length) {
      throw wrong("leads to byte %d, beyond the end of the file".formatted(position));
    }
    in.position((int) position);
  }

  private void need(long count) throws InputException {
    if (count < 0 || count > in.remaining()) {
      throw wrong("the file ends too early");
    }
  }

  int u8() throws InputException {
    need(1);
    return in.get() & 0xff;
  }

  int i32() throws InputException {
    need(4);
    return in.getInt();
  }

  long i64() throws InputException {
    need(8);
    return in.getLong();
  }

  double f64() throws InputException {
    need(8);
    return in.getDouble();
  }

  /**
   * Reads a count of items.
   *
   * @param least bytes that each takes in the file
   */
  int count(long least) throws InputException {
    return checked(i64(), least);
  }

  /** Returns a count that the rest of the file can hold. */
  int checked(long count, long least) throws InputException {
    if (count < 0 || count > in.remaining() / Math.max(1, least)) {
      throw wrong("has a count of %d, more than the file can hold".formatted(count));
    }
    return (int) count;
  }

  /**
   * Returns a count of items that are packed, and takes memory for them.
   *
   * @param each bytes of an item in memory
   */
  int packed(long count, int each) throws InputException {
    if (count < 0 || count > (Integer.MAX_VALUE - 16) / Math.max(1, each)) {
      throw wrong("has a count of %d, far too many".formatted(count));
    }
    budget.take(count * each, file, "byte " + in.position());
    return (int) count;
  }

  byte[] raw(int count) throws InputException {
    byte[] out = new byte[count];
    part(count, 1, 1).get(out);
    return out;
  }

  float[] floats(int count) throws InputException {
    float[] out = new float[count];
    part(count, 4, 4).asFloatBuffer().get(out);
    return out;
  }

  float[] halves(int count) throws InputException {
    ByteBuffer from = part(count, 2, 4);
    float[] out = new float[count];
    for (int i = 0; i < count; i++) {
      out[i] = Float.float16ToFloat(from.getShort());
    }
    return out;
  }

  double[] doubles(int count) throws InputException {
    double[] out = new double[count];
    part(count, 8, 8).asDoubleBuffer().get(out);
    return out;
  }

  int[] ints(int count) throws InputException {
    int[] out = new int[count];
    part(count, 4, 4).asIntBuffer().get(out);
    return out;
  }

  long[] longs(int count) throws InputException {
    long[] out = new long[count];
    part(count, 8, 8).asLongBuffer().get(out);
    return out;
  }

  /**
   * Returns the next items and goes on behind them.
   *
   * @param each bytes of an item in the file
   * @param held bytes of an item in memory, which are taken from the budget
   */
  private ByteBuffer part(int count, int each, int held) throws InputException {
    need((long) each * count);
    budget.take((long) held * count, file, "byte " + in.position());
    ByteBuffer out = in.slice(in.position(), each * count).order(ByteOrder.LITTLE_ENDIAN);
    in.position(in.position() + each * count);
    return out;
  }

  /**
   * Unpacks LZ4: a byte that counts the parts, 0 for one that fills the rest; parts have their size
   * in front.
   *
   * @param packed bytes in the file
   * @param largest bytes that may come out
   */
  ByteBuffer unpack(long packed, int largest) throws InputException {
    need(packed);
    if (packed < 1) {
      throw wrong("has packed data of %d bytes".formatted(packed));
    }
    // LZ4 makes at most 255 bytes of one
    int room = (int) Math.min(largest, packed * 255 + 64);
    budget.take(room, file, "byte " + in.position());
    byte[] out = new byte[room];
    int end = in.position() + (int) packed;
    int parts = in.get() & 0xff;
    int made = 0;
    try {
      if (parts == 0) {
        made = LZ4.decompress(bytes, in.position(), end - in.position(), out, 0, room);
      }
      for (int k = 0; k < parts; k++) {
        int size = i32();
        if (size < 0 || size > end - in.position()) {
          throw wrong("has a packed part of %d bytes".formatted(size));
        }
        made +=
            LZ4.decompress(bytes, in.position(), size, out, made, Math.min(MAX_CHUNK, room - made));
        in.position(in.position() + size);
      }
    } catch (LZ4Exception e) {
      throw new InputException(
          file, "byte " + in.position(), "has packed data that cannot be unpacked", e);
    }
    in.position(end);
    return ByteBuffer.wrap(out, 0, made).order(ByteOrder.LITTLE_ENDIAN);
  }

  /** Takes numbers in order. */
  private interface Sink {
    void put(int index, long value);
  }

  /** Reads packed 32-bit whole numbers, with the size of the packed data in front. */
  int[] packedInts(int count) throws InputException {
    int[] out = new int[count];
    packed(count, Integer.BYTES, (i, value) -> out[i] = (int) value);
    return out;
  }

  /** Reads packed 64-bit whole numbers; as {@link #packedInts}. */
  long[] packedLongs(int count) throws InputException {
    long[] out = new long[count];
    packed(count, Long.BYTES, (i, value) -> out[i] = value);
    return out;
  }

  /**
   * Each number is the one before and a difference: the commonest one, which stands in front, or
   * one of as few bytes as it needs. Codes of two bits for all of them tell which; the differences
   * follow.
   *
   * @param each bytes of a number
   */
  private void packed(int count, int each, Sink sink) throws InputException {
    long size = i64();
    if (count == 0) {
      need(size);
      in.position(in.position() + (int) size);
      return;
    }
    ByteBuffer codes = unpack(size, largest(count, each));
    long rest = each + (2L * count + 7) / 8;
    if (rest > codes.limit()) {
      throw wrong("has packed numbers that end too early");
    }
    long common = each == Long.BYTES ? codes.getLong(0) : codes.getInt(0);
    int at = (int) rest;
    long value = 0;
    for (int i = 0; i < count; i++) {
      int code = codes.get(each + i / 4) >> (2 * (i % 4)) & 3;
      // the three sizes: 1, 2 and 4 bytes for numbers of 4, 2, 4 and 8 for those of 8
      int bytesOf = code == 0 ? 0 : each >> (3 - code);
      if (at + bytesOf > codes.limit()) {
        throw wrong("has packed numbers that end too early");
      }
      value +=
          switch (bytesOf) {
            case 0 -> common;
            case 1 -> codes.get(at);
            case 2 -> codes.getShort(at);
            case 4 -> codes.getInt(at);
            default -> codes.getLong(at);
          };
      at += bytesOf;
      sink.put(i, value);
    }
  }

  private int largest(int count, int each) throws InputException {
    long out = each + (2L * count + 7) / 8 + (long) count * each;
    if (out > Integer.MAX_VALUE - 16) {
      throw wrong("has too many packed numbers");
    }
    return (int) out;
  }
}
