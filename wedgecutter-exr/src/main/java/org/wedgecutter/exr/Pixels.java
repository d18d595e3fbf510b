package org.wedgecutter.exr;

import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;
import java.nio.ByteOrder;
import java.util.Map;
import java.util.SortedMap;
import java.util.function.Predicate;

/** Numbers of channels to the bytes of chunks and back. */
final class Pixels {
  private static final ValueLayout.OfFloat FLOAT =
      ValueLayout.JAVA_FLOAT_UNALIGNED.withOrder(ByteOrder.LITTLE_ENDIAN);
  private static final ValueLayout.OfInt WHOLE =
      ValueLayout.JAVA_INT_UNALIGNED.withOrder(ByteOrder.LITTLE_ENDIAN);

  /** Stands for the numbers of a channel that are not taken over. */
  private static final Samples SKIPPED = new Samples.Real(new float[0]);

  private Pixels() {}

  private static boolean isSkipped(Samples samples) {
    return samples instanceof Samples.Real real && real.values().length == 0;
  }

  /** Returns channels whose numbers are all 0. */
  static SortedMap<Channel, Samples> empty(Iterable<Channel> channels, Box window) {
    SortedMap<Channel, Samples> out = ExrPart.newChannels();
    for (Channel c : channels) {
      out.put(c, samples(c, c.samples(window)));
    }
    return out;
  }

  /** Returns channels whose numbers are all 0, of which some are skipped. */
  static SortedMap<Channel, Samples> empty(
      Iterable<Channel> channels, Box window, Predicate<Channel> wanted) {
    SortedMap<Channel, Samples> out = ExrPart.newChannels();
    for (Channel c : channels) {
      out.put(c, wanted.test(c) ? samples(c, c.samples(window)) : SKIPPED);
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
    each(channels, window, block, raw, 0, Pixels::put);
    return raw;
  }

  /**
   * Takes over the numbers of a flat chunk; lines beyond the window are left out.
   *
   * @param at where in the bytes the chunk begins
   */
  static void decode(byte[] raw, int at, Map<Channel, Samples> channels, Box window, Block block) {
    each(channels, window, block, raw, at, Pixels::get);
  }

  /** Copies numbers between bytes and samples. */
  private interface Row {
    void copy(byte[] bytes, int at, PixelType type, Samples samples, int from, int count);
  }

  private static void each(
      Map<Channel, Samples> channels, Box window, Block block, byte[] bytes, int begin, Row row) {
    int at = begin;
    for (int y = block.minY(); y < block.minY() + block.height(); y++) {
      for (Map.Entry<Channel, Samples> e : channels.entrySet()) {
        Channel c = e.getKey();
        if (!block.hasRow(c, y)) {
          continue;
        }
        int columns = block.columns(c);
        if (y >= window.minY() && y <= window.maxY() && !isSkipped(e.getValue())) {
          int line = Block.sampled(window.minY(), y - window.minY() + 1, c.ySampling()) - 1;
          int before = Block.sampled(window.minX(), block.minX() - window.minX(), c.xSampling());
          int length = Block.sampled(window.minX(), window.width(), c.xSampling());
          row.copy(bytes, at, c.type(), e.getValue(), line * length + before, columns);
        }
        at += columns * c.type().bytes();
      }
    }
  }

  /** Puts numbers among bytes. */
  static void put(byte[] out, int at, PixelType type, Samples samples, int from, int count) {
    MemorySegment bytes = MemorySegment.ofArray(out);
    switch (samples) {
      case Samples.Whole whole -> MemorySegment.copy(whole.values(), from, bytes, WHOLE, at, count);
      case Samples.Real real when type == PixelType.FLOAT ->
          MemorySegment.copy(real.values(), from, bytes, FLOAT, at, count);
      case Samples.Real real -> Half.of(real.values(), from, out, at, count);
    }
  }

  /** Takes numbers from among bytes. */
  static void get(byte[] in, int at, PixelType type, Samples samples, int from, int count) {
    MemorySegment bytes = MemorySegment.ofArray(in);
    switch (samples) {
      case Samples.Whole whole -> MemorySegment.copy(bytes, WHOLE, at, whole.values(), from, count);
      case Samples.Real real when type == PixelType.FLOAT ->
          MemorySegment.copy(bytes, FLOAT, at, real.values(), from, count);
      case Samples.Real real -> Half.toFloats(in, at, real.values(), from, count);
    }
  }
}
