package org.wedgecutter.exr;

import java.nio.ByteBuffer;
import java.util.Arrays;

/**
 * RLE: bytes prepared by {@link Deflate#predict}, as runs. A run is (count - 1, byte); a stretch
 * without runs is (-count, bytes).
 */
final class RunLengthCodec implements Codec {
  private static final int MIN_RUN = 3;
  private static final int MAX_RUN = 128;

  @Override
  public byte[] pack(byte[] raw, Block block) {
    return packRuns(Deflate.predict(raw));
  }

  @Override
  public void unpack(ByteBuffer packed, Block block, byte[] out, int size) throws ExrException {
    byte[] steps = Scratch.bytes(Scratch.Use.STEPS, size);
    unpackRuns(Codec.bytes(packed), steps, size);
    Deflate.restore(steps, out, size);
  }

  /** Returns bytes as runs. */
  static byte[] packRuns(byte[] in) {
    byte[] out = new byte[in.length * 3 / 2 + 2];
    int size = 0;
    int start = 0;
    while (start < in.length) {
      int end = runEnd(in, start);
      if (end - start >= MIN_RUN) {
        out[size++] = (byte) (end - start - 1);
        out[size++] = in[start];
      } else {
        end = literalEnd(in, start);
        out[size++] = (byte) (start - end);
        System.arraycopy(in, start, out, size, end - start);
        size += end - start;
      }
      start = end;
    }
    return Arrays.copyOf(out, size);
  }

  private static int runEnd(byte[] in, int start) {
    int end = start + 1;
    while (end < in.length && in[end] == in[start] && end - start < MAX_RUN) {
      end++;
    }
    return end;
  }

  private static int literalEnd(byte[] in, int start) {
    int end = start + 1;
    while (end < in.length
        && end - start < MAX_RUN - 1
        && !(end + 2 < in.length && in[end] == in[end + 1] && in[end] == in[end + 2])) {
      end++;
    }
    return end;
  }

  /** Writes the bytes that runs stand for, which must be so many. */
  static void unpackRuns(byte[] in, byte[] out, int rawSize) throws ExrException {
    int size = 0;
    int at = 0;
    while (at < in.length) {
      int count = in[at++];
      int length = count < 0 ? -count : count + 1;
      int needed = count < 0 ? length : 1;
      if (length > rawSize - size || needed > in.length - at) {
        throw new ExrException("run lengths beyond the chunk");
      }
      if (count < 0) {
        System.arraycopy(in, at, out, size, length);
      } else {
        Arrays.fill(out, size, size + length, in[at]);
      }
      at += needed;
      size += length;
    }
    if (size != rawSize) {
      throw new ExrException("run lengths give %d of %d bytes".formatted(size, rawSize));
    }
  }
}
