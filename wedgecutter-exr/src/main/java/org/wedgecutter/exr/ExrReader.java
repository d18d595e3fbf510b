package org.wedgecutter.exr;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.SortedMap;

/**
 * Reads flat OpenEXR scanline files, of one part or several, packed by none, RLE, ZIPS or ZIP. The
 * file is not trusted: sizes are checked before memory is taken, and any wrong byte ends in an
 * {@link ExrException}.
 */
public final class ExrReader {
  private static final long MAX_FILE = 1L << 31;

  private ExrReader() {}

  /** Reads a file whole. The message of an exception begins with the file's name. */
  public static ExrImage read(Path file) throws IOException {
    if (Files.size(file) >= MAX_FILE) {
      throw new ExrException("%s: larger than 2 GiB".formatted(file));
    }
    try {
      return read(Files.readAllBytes(file));
    } catch (ExrException e) {
      throw new ExrException("%s: %s".formatted(file, e.getMessage()));
    }
  }

  /** Reads the bytes of a file. */
  public static ExrImage read(byte[] file) throws ExrException {
    ByteBuffer in = ByteBuffer.wrap(file).order(ByteOrder.LITTLE_ENDIAN);
    List<HeaderParser.Head> heads = new HeaderParser(in).parse();
    long bytes = 0;
    for (HeaderParser.Head head : heads) {
      bytes += head.leastBytes();
    }
    if (bytes > file.length) {
      throw new ExrException(
          "the headers claim pixels that need %d bytes at least; the file has %d"
              .formatted(bytes, file.length));
    }
    List<ExrPart> parts = new ArrayList<>();
    int table = in.position();
    for (int p = 0; p < heads.size(); p++) {
      HeaderParser.Head head = heads.get(p);
      if (table + 8L * head.chunkCount() > file.length) {
        throw new ExrException("the file ends inside its offset table");
      }
      parts.add(part(in, head, table, heads.size() > 1 ? p : -1));
      table += 8 * head.chunkCount();
    }
    return new ExrImage(parts);
  }

  private static ExrPart part(ByteBuffer in, HeaderParser.Head head, int table, int number)
      throws ExrException {
    Box box = head.dataWindow();
    int pixels = box.width() * box.height();
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    for (Channel channel : head.channels()) {
      channels.put(
          channel,
          channel.type() == PixelType.UINT
              ? new Samples.Whole(new int[pixels])
              : new Samples.Real(new float[pixels]));
    }
    BitSet read = new BitSet();
    for (int c = 0; c < head.chunkCount(); c++) {
      int chunk = chunk(in, head, channels, in.getLong(table + 8 * c), number);
      // as many chunks as there are places in the table: if none comes twice, none is missing
      if (read.get(chunk)) {
        throw new ExrException(
            "the table of chunks names the chunk of line %d twice"
                .formatted(box.minY() + chunk * head.compression().linesPerChunk()));
      }
      read.set(chunk);
    }
    return new ExrPart(
        head.name(), head.compression(), box, head.displayWindow(), head.attributes(), channels);
  }

  /** Reads a chunk and returns its number, from the top. */
  private static int chunk(
      ByteBuffer in,
      HeaderParser.Head head,
      SortedMap<Channel, Samples> channels,
      long offset,
      int number)
      throws ExrException {
    int headSize = number >= 0 ? 12 : 8;
    if (offset < 0 || offset > in.limit() - headSize) {
      throw new ExrException("a chunk begins at byte %d, beyond the file".formatted(offset));
    }
    int at = (int) offset;
    if (number >= 0) {
      if (in.getInt(at) != number) {
        throw new ExrException("the chunk at byte %d is of another part".formatted(offset));
      }
      at += 4;
    }
    Box box = head.dataWindow();
    int lines = head.compression().linesPerChunk();
    long line = (long) in.getInt(at) - box.minY();
    int size = in.getInt(at + 4);
    if (line < 0 || line >= box.height() || line % lines != 0) {
      throw new ExrException("the chunk at byte %d is for a wrong line".formatted(offset));
    }
    if (size < 0 || size > in.limit() - at - 8) {
      throw new ExrException("the chunk at byte %d goes beyond the file".formatted(offset));
    }
    int from = (int) line;
    int to = Math.min(box.height(), from + lines);
    long rawSize = 0;
    for (Channel channel : channels.keySet()) {
      rawSize += (long) channel.type().bytes() * box.width() * (to - from);
    }
    byte[] packed = new byte[size];
    in.get(at + 8, packed);
    byte[] raw;
    try {
      raw = ChunkCodec.unpack(packed, Math.toIntExact(rawSize), head.compression());
    } catch (ExrException e) {
      throw new ExrException("the chunk at byte %d: %s".formatted(offset, e.getMessage()));
    }
    decodeLines(ByteBuffer.wrap(raw).order(ByteOrder.LITTLE_ENDIAN), channels, from, to, box);
    return from / lines;
  }

  private static void decodeLines(
      ByteBuffer raw, SortedMap<Channel, Samples> channels, int from, int to, Box box) {
    int width = box.width();
    for (int y = from; y < to; y++) {
      for (var entry : channels.entrySet()) {
        int start = y * width;
        switch (entry.getValue()) {
          case Samples.Whole whole -> {
            for (int i = start; i < start + width; i++) {
              whole.values()[i] = raw.getInt();
            }
          }
          case Samples.Real real when entry.getKey().type() == PixelType.HALF -> {
            for (int i = start; i < start + width; i++) {
              real.values()[i] = Float.float16ToFloat(raw.getShort());
            }
          }
          case Samples.Real real -> {
            for (int i = start; i < start + width; i++) {
              real.values()[i] = raw.getFloat();
            }
          }
        }
      }
    }
  }
}
