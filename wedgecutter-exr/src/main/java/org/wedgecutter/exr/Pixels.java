package org.wedgecutter.exr;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Map;
import java.util.SortedMap;

/** Numbers of channels to the bytes of chunks and back. */
final class Pixels {
  private Pixels() {}

  /** Returns channels whose numbers are all 0. */
  static SortedMap<Channel, Samples> empty(Iterable<Channel> channels, Box window) {
    SortedMap<Channel, Samples> out = ExrPart.newChannels();
    for (Channel c : channels) {
      out.put(c, samples(c, c.samples(window)));
    }
    return out;
  }

  static Samples samples(Channel channel, long count) {
    int size = Math.toIntExact(count);
    return channel.type() == PixelType.UINT
        ? new Samples.Whole(new int[size])
        : new Samples.Real(new float[size]);
  }

  /** Returns the bytes of a flat chunk. */
  static byte[] encode(Map<Channel, Samples> channels, Box window, Block block) {
    byte[] raw = new byte[Math.toIntExact(block.bytes())];
    each(channels, window, block, ByteBuffer.wrap(raw).order(ByteOrder.LITTLE_ENDIAN), Pixels::put);
    return raw;
  }

  /** Takes over the numbers of a flat chunk; lines beyond the window are left out. */
  static void decode(byte[] raw, Map<Channel, Samples> channels, Box window, Block block) {
    each(channels, window, block, ByteBuffer.wrap(raw).order(ByteOrder.LITTLE_ENDIAN), Pixels::get);
  }

  /** Copies numbers between a buffer, which goes on, and samples. */
  private interface Row {
    void copy(ByteBuffer bytes, PixelType type, Samples samples, int from, int count);
  }

  private static void each(
      Map<Channel, Samples> channels, Box window, Block block, ByteBuffer bytes, Row row) {
    for (int y = block.minY(); y < block.minY() + block.height(); y++) {
      for (Map.Entry<Channel, Samples> e : channels.entrySet()) {
        Channel c = e.getKey();
        if (!block.hasRow(c, y)) {
          continue;
        }
        int columns = block.columns(c);
        if (y < window.minY() || y > window.maxY()) {
          bytes.position(bytes.position() + columns * c.type().bytes());
          continue;
        }
        int line = Block.sampled(window.minY(), y - window.minY() + 1, c.ySampling()) - 1;
        int before = Block.sampled(window.minX(), block.minX() - window.minX(), c.xSampling());
        int length = Block.sampled(window.minX(), window.width(), c.xSampling());
        row.copy(bytes, c.type(), e.getValue(), line * length + before, columns);
      }
    }
  }

  /** Puts numbers into a buffer. */
  static void put(ByteBuffer out, PixelType type, Samples samples, int from, int count) {
    switch (samples) {
      case Samples.Whole whole -> out.asIntBuffer().put(whole.values(), from, count);
      case Samples.Real real when type == PixelType.FLOAT ->
          out.asFloatBuffer().put(real.values(), from, count);
      case Samples.Real real -> {
        short[] halves = new short[count];
        Half.of(real.values(), from, count, halves);
        out.asShortBuffer().put(halves);
      }
    }
    out.position(out.position() + count * type.bytes());
  }

  /** Takes numbers from a buffer. */
  static void get(ByteBuffer in, PixelType type, Samples samples, int from, int count) {
    switch (samples) {
      case Samples.Whole whole -> in.asIntBuffer().get(whole.values(), from, count);
      case Samples.Real real when type == PixelType.FLOAT ->
          in.asFloatBuffer().get(real.values(), from, count);
      case Samples.Real real -> {
        short[] halves = new short[count];
        in.asShortBuffer().get(halves);
        Half.toFloats(halves, real.values(), from, count);
      }
    }
    in.position(in.position() + count * type.bytes());
  }
}
