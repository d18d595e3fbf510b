package org.wedgecutter.exr;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.CharBuffer;
import java.util.Arrays;

/**
 * PIZ: 16-bit values, remapped to a dense range, transformed by a Haar wavelet, and Huffman coded.
 * Lossless.
 *
 * <p>Layout: uint16 first and last byte of the bitmap that are not 0, these bytes (bit {@code v &
 * 7} of byte {@code v >> 3} tells that {@code v} is used; 0 always is), int32 bytes of the code,
 * the code. Each channel is changed by itself, wholes and floats as two pictures, the lower halves
 * and the upper.
 */
final class PizCodec implements Codec {
  private static final int BITMAP = 1 << 13;
  private static final int VALUES = 1 << 16;

  @Override
  public byte[] pack(byte[] raw, Block block) {
    char[] numbers = numbers(block.split(raw));
    byte[] bitmap = new byte[BITMAP];
    for (char v : numbers) {
      bitmap[v >> 3] |= (byte) (1 << (v & 7));
    }
    // 0 is not noted: it counts as used
    bitmap[0] &= ~1;
    int first = 0;
    while (first < BITMAP && bitmap[first] == 0) {
      first++;
    }
    int last = BITMAP - 1;
    while (last > 0 && bitmap[last] == 0) {
      last--;
    }
    if (first == BITMAP) {
      first = BITMAP - 1;
      last = 0;
    }
    char[] number = new char[VALUES];
    int used = 0;
    for (int v = 0; v < VALUES; v++) {
      if (v == 0 || (bitmap[v >> 3] >> (v & 7) & 1) != 0) {
        number[v] = (char) used++;
      }
    }
    for (int k = 0; k < numbers.length; k++) {
      numbers[k] = number[numbers[k]];
    }
    wavelets(numbers, block, used - 1, true);
    byte[] code = Huffman.pack(numbers, numbers.length);
    int size = last >= first ? last - first + 1 : 0;
    return ByteBuffer.allocate(8 + size + code.length)
        .order(ByteOrder.LITTLE_ENDIAN)
        .putShort((short) first)
        .putShort((short) last)
        .put(bitmap, size == 0 ? 0 : first, size)
        .putInt(code.length)
        .put(code)
        .array();
  }

  @Override
  public void unpack(ByteBuffer packed, Block block, byte[] out, int size) throws ExrException {
    ByteBuffer in = packed.slice().order(ByteOrder.LITTLE_ENDIAN);
    if (in.remaining() < 4) {
      throw new ExrException("PIZ data without its bitmap");
    }
    int first = Short.toUnsignedInt(in.getShort());
    int last = Short.toUnsignedInt(in.getShort());
    byte[] bitmap = new byte[BITMAP];
    if (last >= BITMAP || (first <= last && in.remaining() < last - first + 1)) {
      throw new ExrException("PIZ data with a bitmap of the bytes %d to %d".formatted(first, last));
    }
    if (first <= last) {
      in.get(bitmap, first, last - first + 1);
    }
    char[] value = Scratch.values(VALUES);
    int used = 0;
    for (int v = 0; v < VALUES; v++) {
      if (v == 0 || (bitmap[v >> 3] >> (v & 7) & 1) != 0) {
        value[used++] = (char) v;
      }
    }
    Arrays.fill(value, used, VALUES, (char) 0);
    int bytes = in.remaining() < 4 ? -1 : in.getInt();
    if (bytes < 0 || bytes > in.remaining()) {
      throw new ExrException("PIZ data with a code that goes beyond its chunk");
    }
    in.limit(in.position() + bytes);
    int count = Math.toIntExact(block.bytes() / 2);
    char[] numbers = Scratch.numbers(count);
    Huffman.unpack(in, numbers, count);
    wavelets(numbers, block, used - 1, false);
    for (int k = 0; k < count; k++) {
      numbers[k] = value[numbers[k]];
    }
    rows(numbers, block, out, size);
  }

  /** Writes the bytes of a chunk, line by line, from the numbers of its channels. */
  private static void rows(char[] numbers, Block block, byte[] raw, int size) {
    CharBuffer out = ByteBuffer.wrap(raw, 0, size).order(ByteOrder.LITTLE_ENDIAN).asCharBuffer();
    int count = block.channels().size();
    int[] at = new int[count];
    for (int c = 0, from = 0; c < count; c++) {
      at[c] = from;
      from += Math.toIntExact(block.bytes(block.channels().get(c)) / 2);
    }
    for (int y = block.minY(); y < block.minY() + block.height(); y++) {
      for (int c = 0; c < count; c++) {
        Channel channel = block.channels().get(c);
        if (block.hasRow(channel, y)) {
          int length = block.columns(channel) * channel.type().bytes() / 2;
          out.put(numbers, at[c], length);
          at[c] += length;
        }
      }
    }
  }

  private static char[] numbers(byte[][] planes) {
    int count = 0;
    for (byte[] plane : planes) {
      count += plane.length / 2;
    }
    char[] out = new char[count];
    int at = 0;
    for (byte[] plane : planes) {
      ByteBuffer.wrap(plane)
          .order(ByteOrder.LITTLE_ENDIAN)
          .asCharBuffer()
          .get(out, at, plane.length / 2);
      at += plane.length / 2;
    }
    return out;
  }

  private static void wavelets(char[] numbers, Block block, int most, boolean forward) {
    int at = 0;
    for (Channel channel : block.channels()) {
      int columns = block.columns(channel);
      int rows = block.rows(channel);
      int halves = channel.type().bytes() / 2;
      for (int h = 0; h < halves; h++) {
        Wavelet w = new Wavelet(numbers, at + h, columns, halves, rows, columns * halves, most);
        if (forward) {
          w.forward();
        } else {
          w.back();
        }
      }
      at += columns * rows * halves;
    }
  }

  /**
   * A Haar wavelet in two dimensions, in place, over pairs, pairs of pairs, and so on. A pair
   * becomes its mean and its difference; where numbers may need all 16 bits, both are taken modulo
   * 2^16.
   */
  private static final class Wavelet {
    private final char[] a;
    private final int from;
    private final int columns;
    private final int step;
    private final int rows;
    private final int line;
    private final boolean small;

    /**
     * @param step distance of columns
     * @param line distance of rows
     * @param most largest number
     */
    Wavelet(char[] a, int from, int columns, int step, int rows, int line, int most) {
      this.a = a;
      this.from = from;
      this.columns = columns;
      this.step = step;
      this.rows = rows;
      this.line = line;
      small = most < 1 << 14;
    }

    void forward() {
      int side = Math.min(columns, rows);
      for (int p = 1; 2 * p <= side; p *= 2) {
        level(p, true);
      }
    }

    void back() {
      int side = Math.min(columns, rows);
      int p = 1;
      while (2 * p <= side) {
        p *= 2;
      }
      for (p /= 2; p >= 1; p /= 2) {
        level(p, false);
      }
    }

    /** All squares of four numbers that are {@code p} apart, and what is left at the ends. */
    private void level(int p, boolean forward) {
      int right = step * p;
      int down = line * p;
      int y = 0;
      for (; y + 2 * p <= rows; y += 2 * p) {
        int at = from + y * line;
        int x = 0;
        if (forward) {
          for (; x + 2 * p <= columns; x += 2 * p, at += 2 * right) {
            apart(at, at + right);
            apart(at + down, at + down + right);
            apart(at, at + down);
            apart(at + right, at + right + down);
          }
        } else if (small) {
          for (; x + 2 * p <= columns; x += 2 * p, at += 2 * right) {
            square(at, right, down);
          }
        } else {
          for (; x + 2 * p <= columns; x += 2 * p, at += 2 * right) {
            together(at, at + down);
            together(at + right, at + right + down);
            together(at, at + right);
            together(at + down, at + down + right);
          }
        }
        if ((columns & p) != 0) {
          pair(at, at + down, forward);
        }
      }
      if ((rows & p) != 0) {
        int at = from + y * line;
        for (int x = 0; x + 2 * p <= columns; x += 2 * p, at += 2 * right) {
          pair(at, at + right, forward);
        }
      }
    }

    private void pair(int i, int j, boolean forward) {
      if (forward) {
        apart(i, j);
      } else {
        together(i, j);
      }
    }

    private void apart(int i, int j) {
      if (small) {
        int x = (short) a[i];
        int y = (short) a[j];
        a[i] = (char) (x + y >> 1);
        a[j] = (char) (x - y);
      } else {
        int x = a[i] + 0x8000 & 0xffff;
        int mean = x + a[j] >> 1;
        int difference = x - a[j];
        a[i] = (char) (difference < 0 ? mean + 0x8000 : mean);
        a[j] = (char) difference;
      }
    }

    private void together(int i, int j) {
      if (small) {
        int mean = (short) a[i];
        int difference = (short) a[j];
        int x = (short) (mean + (difference & 1) + (difference >> 1));
        a[i] = (char) x;
        a[j] = (char) (x - difference);
      } else {
        int y = a[i] - (a[j] >> 1) & 0xffff;
        a[i] = (char) (a[j] + y - 0x8000);
        a[j] = (char) y;
      }
    }

    /** Four numbers at once, of 14 bits at most. */
    private void square(int at, int right, int down) {
      int m0 = (short) a[at];
      int d0 = (short) a[at + down];
      int m1 = (short) a[at + right];
      int d1 = (short) a[at + right + down];
      int p = (short) (m0 + (d0 & 1) + (d0 >> 1));
      int q = (short) (p - d0);
      int r = (short) (m1 + (d1 & 1) + (d1 >> 1));
      int s = (short) (r - d1);
      int x = p + (r & 1) + (r >> 1);
      int y = q + (s & 1) + (s >> 1);
      a[at] = (char) x;
      a[at + right] = (char) (x - r);
      a[at + down] = (char) y;
      a[at + down + right] = (char) (y - s);
    }
  }
}
