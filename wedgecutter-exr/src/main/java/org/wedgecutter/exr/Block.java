package org.wedgecutter.exr;

import java.util.List;
import java.util.function.Predicate;
import java.util.stream.IntStream;

/**
 * The pixels of one chunk: some lines of a part, or a tile of it.
 *
 * <p>Before it is packed, a chunk holds its lines from the top; each line holds each channel's row,
 * channels in the order of the file. A channel that is sub-sampled has rows only in lines whose
 * number its sampling divides, and in them numbers only at such columns.
 *
 * @param channels in the order of the file
 * @param minX first column
 * @param minY first line
 * @param width columns
 * @param height lines
 */
record Block(List<Channel> channels, int minX, int minY, int width, int height) {
  /** Returns how many numbers from {@code first} on a sampling divides. */
  static int sampled(int first, int count, int sampling) {
    return Math.floorDiv(first + count - 1, sampling) - Math.floorDiv(first - 1, sampling);
  }

  /** Returns how many numbers a row of a channel has. */
  int columns(Channel channel) {
    return sampled(minX, width, channel.xSampling());
  }

  /** Returns how many rows a channel has. */
  int rows(Channel channel) {
    return sampled(minY, height, channel.ySampling());
  }

  /** Whether a channel has a row in a line. */
  boolean hasRow(Channel channel, int line) {
    return Math.floorMod(line, channel.ySampling()) == 0;
  }

  /** Returns the number of bytes of a channel. */
  long bytes(Channel channel) {
    return (long) channel.type().bytes() * columns(channel) * rows(channel);
  }

  /** Returns the number of bytes of all channels. */
  long bytes() {
    return channels.stream().mapToLong(this::bytes).sum();
  }

  /**
   * Returns where the rows of some channels stand in the chunk: where each begins and where it
   * ends, in pairs, from the top.
   */
  int[] spans(Predicate<Channel> wanted) {
    IntStream.Builder out = IntStream.builder();
    int at = 0;
    for (int y = minY; y < minY + height; y++) {
      for (Channel channel : channels) {
        if (hasRow(channel, y)) {
          int bytes = columns(channel) * channel.type().bytes();
          if (wanted.test(channel)) {
            out.add(at).add(at + bytes);
          }
          at += bytes;
        }
      }
    }
    return out.build().toArray();
  }

  /**
   * Returns the bytes of each channel by itself, row by row.
   *
   * @param raw as they stand in the chunk
   */
  byte[][] split(byte[] raw) {
    byte[][] out = new byte[channels.size()][];
    for (int c = 0; c < out.length; c++) {
      out[c] = new byte[Math.toIntExact(bytes(channels.get(c)))];
    }
    copy(raw, out, true);
    return out;
  }

  /** Writes the bytes of all channels as they stand in the chunk. */
  void join(byte[][] planes, byte[] raw) {
    copy(raw, planes, false);
  }

  private void copy(byte[] raw, byte[][] planes, boolean apart) {
    int[] at = new int[planes.length];
    int from = 0;
    for (int y = minY; y < minY + height; y++) {
      for (int c = 0; c < planes.length; c++) {
        Channel channel = channels.get(c);
        if (hasRow(channel, y)) {
          int bytes = columns(channel) * channel.type().bytes();
          if (apart) {
            System.arraycopy(raw, from, planes[c], at[c], bytes);
          } else {
            System.arraycopy(planes[c], at[c], raw, from, bytes);
          }
          at[c] += bytes;
          from += bytes;
        }
      }
    }
  }
}
