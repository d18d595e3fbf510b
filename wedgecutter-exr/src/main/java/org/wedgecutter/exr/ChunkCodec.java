package org.wedgecutter.exr;

import java.util.Arrays;
import java.util.zip.DataFormatException;
import java.util.zip.Deflater;
import java.util.zip.Inflater;

/** Packs and unpacks the bytes of one chunk; see the package description for the layout. */
final class ChunkCodec {
  private static final int MIN_RUN = 3;
  private static final int MAX_RUN = 128;

  private ChunkCodec() {}

  /** Returns the packed bytes, or {@code raw} itself if packing gains nothing. */
  static byte[] pack(byte[] raw, Compression compression) {
    byte[] packed =
        switch (compression) {
          case NONE -> raw;
          case RLE -> packRuns(predict(raw));
          case ZIPS, ZIP -> deflate(predict(raw));
        };
    return packed.length < raw.length ? packed : raw;
  }

  /** Returns exactly {@code rawSize} bytes. */
  static byte[] unpack(byte[] packed, int rawSize, Compression compression) throws ExrException {
    if (packed.length == rawSize) {
      return packed;
    }
    return switch (compression) {
      case NONE ->
          throw new ExrException("%d bytes, expected %d".formatted(packed.length, rawSize));
      case RLE -> restore(unpackRuns(packed, rawSize));
      case ZIPS, ZIP -> restore(inflate(packed, rawSize));
    };
  }

  private static byte[] predict(byte[] raw) {
    int n = raw.length;
    byte[] split = new byte[n];
    int half = (n + 1) / 2;
    for (int i = 0; i < n; i++) {
      split[(i & 1) == 0 ? i / 2 : half + i / 2] = raw[i];
    }
    int before = n > 0 ? split[0] : 0;
    for (int i = 1; i < n; i++) {
      int now = split[i];
      split[i] = (byte) (now - before + 128);
      before = now;
    }
    return split;
  }

  private static byte[] restore(byte[] coded) {
    int n = coded.length;
    for (int i = 1; i < n; i++) {
      coded[i] = (byte) (coded[i - 1] + coded[i] - 128);
    }
    byte[] raw = new byte[n];
    int half = (n + 1) / 2;
    for (int i = 0; i < n; i++) {
      raw[i] = coded[(i & 1) == 0 ? i / 2 : half + i / 2];
    }
    return raw;
  }

  private static byte[] deflate(byte[] bytes) {
    try (Deflater deflater = new Deflater(6)) {
      deflater.setInput(bytes);
      deflater.finish();
      byte[] out = new byte[bytes.length + bytes.length / 100 + 64];
      int size = 0;
      while (!deflater.finished()) {
        if (size == out.length) {
          out = Arrays.copyOf(out, 2 * size);
        }
        size += deflater.deflate(out, size, out.length - size);
      }
      return Arrays.copyOf(out, size);
    }
  }

  private static byte[] inflate(byte[] packed, int rawSize) throws ExrException {
    try (Inflater inflater = new Inflater()) {
      inflater.setInput(packed);
      byte[] out = new byte[rawSize];
      int size = 0;
      while (size < rawSize) {
        int got = inflater.inflate(out, size, rawSize - size);
        if (got == 0
            && (inflater.finished() || inflater.needsInput() || inflater.needsDictionary())) {
          throw new ExrException(
              "deflated data ends after %d of %d bytes".formatted(size, rawSize));
        }
        size += got;
      }
      return out;
    } catch (DataFormatException e) {
      throw new ExrException("not deflated data: " + e.getMessage());
    }
  }

  /** A run is (count - 1, byte); a stretch without runs is (-count, bytes). */
  private static byte[] packRuns(byte[] in) {
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

  private static byte[] unpackRuns(byte[] in, int rawSize) throws ExrException {
    byte[] out = new byte[rawSize];
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
    return out;
  }
}
