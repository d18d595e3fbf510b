package org.wedgecutter.exr;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.List;

/**
 * PXR24: floats rounded to 24 bits; each row of a channel as differences from number to number, the
 * highest byte of all of them first; all of it deflated. Halves and wholes lose nothing.
 */
final class Pxr24Codec implements Codec {
  private static final VarHandle INTS =
      MethodHandles.byteArrayViewVarHandle(int[].class, ByteOrder.LITTLE_ENDIAN);
  private static final VarHandle SHORTS =
      MethodHandles.byteArrayViewVarHandle(short[].class, ByteOrder.LITTLE_ENDIAN);

  @Override
  public byte[] pack(byte[] raw, Block block) {
    ByteBuffer in = ByteBuffer.wrap(raw).order(ByteOrder.LITTLE_ENDIAN);
    byte[] out = new byte[size(block)];
    int at = 0;
    for (int y = block.minY(); y < block.minY() + block.height(); y++) {
      for (Channel channel : block.channels()) {
        if (block.hasRow(channel, y)) {
          int columns = block.columns(channel);
          int bytes = bytes(channel.type());
          int before = 0;
          for (int x = 0; x < columns; x++) {
            int now =
                switch (channel.type()) {
                  case UINT -> in.getInt();
                  case HALF -> in.getShort();
                  case FLOAT -> rounded(in.getInt());
                };
            int difference = now - before;
            before = now;
            for (int b = 0; b < bytes; b++) {
              out[at + b * columns + x] = (byte) (difference >> 8 * (bytes - 1 - b));
            }
          }
          at += bytes * columns;
        }
      }
    }
    return Deflate.pack(out);
  }

  @Override
  public void unpack(ByteBuffer packed, Block block, byte[] out, int size) throws ExrException {
    int steps = size(block);
    byte[] in = Scratch.bytes(Scratch.Use.STEPS, steps);
    Deflate.unpack(packed, in, steps);
    int at = 0;
    int to = 0;
    for (int y = block.minY(); y < block.minY() + block.height(); y++) {
      for (Channel channel : block.channels()) {
        if (block.hasRow(channel, y)) {
          int columns = block.columns(channel);
          switch (channel.type()) {
            case UINT -> wholes(in, at, out, to, columns);
            case HALF -> halves(in, at, out, to, columns);
            case FLOAT -> floats(in, at, out, to, columns);
          }
          at += bytes(channel.type()) * columns;
          to += channel.type().bytes() * columns;
        }
      }
    }
  }

  private static void wholes(byte[] in, int at, byte[] out, int to, int columns) {
    int now = 0;
    for (int x = 0; x < columns; x++) {
      now +=
          in[at + x] << 24
              | (in[at + columns + x] & 0xff) << 16
              | (in[at + 2 * columns + x] & 0xff) << 8
              | in[at + 3 * columns + x] & 0xff;
      INTS.set(out, to + 4 * x, now);
    }
  }

  private static void halves(byte[] in, int at, byte[] out, int to, int columns) {
    int now = 0;
    for (int x = 0; x < columns; x++) {
      now += in[at + x] << 8 | in[at + columns + x] & 0xff;
      SHORTS.set(out, to + 2 * x, (short) now);
    }
  }

  private static void floats(byte[] in, int at, byte[] out, int to, int columns) {
    int now = 0;
    for (int x = 0; x < columns; x++) {
      now +=
          in[at + x] << 16 | (in[at + columns + x] & 0xff) << 8 | in[at + 2 * columns + x] & 0xff;
      INTS.set(out, to + 4 * x, now << 8);
    }
  }

  private static int bytes(PixelType type) {
    return type == PixelType.FLOAT ? 3 : type.bytes();
  }

  private static int size(Block block) {
    long sum = 0;
    List<Channel> channels = block.channels();
    for (Channel c : channels) {
      sum += (long) bytes(c.type()) * block.columns(c) * block.rows(c);
    }
    return Math.toIntExact(sum);
  }

  /** The bits of a float without the last eight, rounded to nearest; never to infinity. */
  static int rounded(int bits) {
    int sign = bits >>> 31 << 23;
    int exponent = bits & 0x7f800000;
    int mantissa = bits & 0x7fffff;
    if (exponent == 0x7f800000) {
      // a NaN stays one, whichever of its bits are lost
      int kept = mantissa >> 8;
      return sign | exponent >> 8 | kept | (mantissa != 0 && kept == 0 ? 1 : 0);
    }
    int near = (exponent | mantissa) + (mantissa & 0x80) >> 8;
    return sign | (near >= 0x7f8000 ? (exponent | mantissa) >> 8 : near);
  }
}
