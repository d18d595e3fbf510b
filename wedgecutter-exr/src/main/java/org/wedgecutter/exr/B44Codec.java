package org.wedgecutter.exr;

import java.nio.ByteBuffer;

/**
 * B44 and B44A: halves in squares of four by four, each in 14 bytes; in B44A a square of one value
 * in 3. Wholes and floats stay as they are. Read only.
 *
 * <p>A square holds its first value in 16 bits, the number of bits by which all differences are
 * shifted, and fifteen differences of 6 bits: down the first column, then from column to column.
 * Values are ordered as whole numbers: the sign turned, negative ones inverted. A channel that is
 * marked as perceptually linear holds {@code exp(v / 8)} of its values.
 */
final class B44Codec implements Codec {
  private static final int SIDE = 4;
  private static final int FLAT = 13 << 2;

  @Override
  public byte[] pack(byte[] raw, Block block) {
    throw new IllegalArgumentException("B44 is read only; expected another compression");
  }

  @Override
  public void unpack(ByteBuffer in, Block block, byte[] out, int size) throws ExrException {
    byte[] packed = Codec.bytes(in);
    byte[][] planes = new byte[block.channels().size()][];
    int at = 0;
    for (int c = 0; c < planes.length; c++) {
      Channel channel = block.channels().get(c);
      planes[c] = new byte[Math.toIntExact(block.bytes(channel))];
      if (channel.type() == PixelType.HALF) {
        at = squares(packed, at, planes[c], block.columns(channel), block.rows(channel), channel);
      } else if (packed.length - at < planes[c].length) {
        throw new ExrException("B44 data end inside channel " + channel.name());
      } else {
        System.arraycopy(packed, at, planes[c], 0, planes[c].length);
        at += planes[c].length;
      }
    }
    block.join(planes, out);
  }

  private static int squares(
      byte[] in, int start, byte[] plane, int columns, int rows, Channel channel)
      throws ExrException {
    int at = start;
    int[] s = new int[SIDE * SIDE];
    for (int y = 0; y < rows; y += SIDE) {
      for (int x = 0; x < columns; x += SIDE) {
        boolean flat = at + 3 <= in.length && (in[at + 2] & 0xff) >= FLAT;
        int size = flat ? 3 : 14;
        if (at + size > in.length) {
          throw new ExrException("B44 data end inside channel " + channel.name());
        }
        square(in, at, flat, s);
        at += size;
        for (int j = 0; j < SIDE && y + j < rows; j++) {
          for (int i = 0; i < SIDE && x + i < columns; i++) {
            int half = s[SIDE * j + i];
            if (channel.perceptuallyLinear()) {
              half = logarithm(half);
            }
            int to = 2 * ((y + j) * columns + x + i);
            plane[to] = (byte) half;
            plane[to + 1] = (byte) (half >> 8);
          }
        }
      }
    }
    return at;
  }

  /** Reads a square, line by line. */
  private static void square(byte[] in, int at, boolean flat, int[] s) {
    s[0] = (in[at] & 0xff) << 8 | in[at + 1] & 0xff;
    if (flat) {
      java.util.Arrays.fill(s, s[0]);
    } else {
      int shift = (in[at + 2] & 0xff) >> 2;
      int bias = 0x20 << shift;
      // the differences are 15 numbers of 6 bits, from the last two bits of the third byte on
      int bit = 8 * (at + 2) + 6;
      for (int k = 0; k < 15; k++, bit += 6) {
        int two =
            (in[bit >> 3] & 0xff) << 8
                | ((bit >> 3) + 1 < in.length ? in[(bit >> 3) + 1] & 0xff : 0);
        int difference = (two >> 10 - (bit & 7) & 0x3f) << shift;
        int to = k < 3 ? SIDE * (k + 1) : SIDE * ((k - 3) % SIDE) + (k - 3) / SIDE + 1;
        int before = k < 3 ? to - SIDE : to - 1;
        s[to] = s[before] + difference - bias & 0xffff;
      }
    }
    for (int k = 0; k < s.length; k++) {
      s[k] = (s[k] & 0x8000) != 0 ? s[k] & 0x7fff : ~s[k] & 0xffff;
    }
  }

  private static int logarithm(int half) {
    float v = Float.float16ToFloat((short) half);
    return Float.isFinite(v) && v >= 0
        ? Float.floatToFloat16((float) (8 * Math.log(v))) & 0xffff
        : 0;
  }
}
