package org.wedgecutter.exr;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;

/** Writes images as OpenEXR scanline files, of one part or several. */
public final class ExrWriter {
  static final int MAGIC = 20000630;
  static final int LONG_NAMES = 0x400;
  static final int MULTI_PART = 0x1000;
  private static final int SHORT_NAME = 31;

  /** Most bytes of a name of a channel or attribute. */
  public static final int MOST_NAME = 255;

  private ExrWriter() {}

  /** Writes the image to the stream and flushes it; the stream stays open. */
  public static void write(ExrImage image, OutputStream out) throws IOException {
    List<ExrPart> parts = image.parts();
    boolean multi = parts.size() > 1;
    List<List<byte[]>> chunks = new ArrayList<>();
    for (ExrPart part : parts) {
      chunks.add(encodeChunks(part));
    }
    byte[] headers =
        headers(parts.stream().map(Head::of).toList(), chunks.stream().map(List::size).toList());

    int count = chunks.stream().mapToInt(List::size).sum();
    int chunkHead = multi ? 12 : 8;
    ByteBuffer offsets = little(8 * count);
    long at = headers.length + 8L * count;
    for (List<byte[]> partChunks : chunks) {
      for (byte[] chunk : partChunks) {
        offsets.putLong(at);
        at += chunkHead + chunk.length;
      }
    }
    out.write(headers);
    out.write(offsets.array());
    for (int p = 0; p < parts.size(); p++) {
      ExrPart part = parts.get(p);
      int y = part.dataWindow().minY();
      for (byte[] chunk : chunks.get(p)) {
        ByteBuffer head = little(chunkHead);
        if (multi) {
          head.putInt(p);
        }
        out.write(head.putInt(y).putInt(chunk.length).array());
        out.write(chunk);
        y += part.compression().linesPerChunk();
      }
    }
    out.flush();
  }

  private static List<byte[]> encodeChunks(ExrPart part) {
    int height = part.dataWindow().height();
    int lines = part.compression().linesPerChunk();
    List<byte[]> chunks = new ArrayList<>();
    for (int y = 0; y < height; y += lines) {
      byte[] raw = encodeLines(part, y, Math.min(height, y + lines));
      chunks.add(ChunkCodec.pack(raw, part.compression()));
    }
    return chunks;
  }

  private static byte[] encodeLines(ExrPart part, int from, int to) {
    return encodeLines(part.channels(), part.dataWindow().width(), from, to);
  }

  /** Returns some lines as they are before they are packed. */
  static byte[] encodeLines(SortedMap<Channel, Samples> channels, int width, int from, int to) {
    int lineBytes = channels.keySet().stream().mapToInt(c -> c.type().bytes()).sum() * width;
    ByteBuffer out = little(Math.multiplyExact(lineBytes, to - from));
    for (int y = from; y < to; y++) {
      for (Map.Entry<Channel, Samples> e : channels.entrySet()) {
        putLine(out, e.getKey().type(), e.getValue(), y * width, width);
      }
    }
    return out.array();
  }

  private static void putLine(
      ByteBuffer out, PixelType type, Samples samples, int from, int width) {
    switch (samples) {
      case Samples.Whole whole -> {
        for (int i = from; i < from + width; i++) {
          out.putInt(whole.values()[i]);
        }
      }
      case Samples.Real real when type == PixelType.HALF -> {
        for (int i = from; i < from + width; i++) {
          out.putShort(Float.floatToFloat16(real.values()[i]));
        }
      }
      case Samples.Real real -> {
        for (int i = from; i < from + width; i++) {
          out.putFloat(real.values()[i]);
        }
      }
    }
  }

  /** What a header tells of a part. */
  record Head(
      String name,
      Compression compression,
      Box dataWindow,
      Box displayWindow,
      Map<String, Attribute> attributes,
      Collection<Channel> channels) {
    static Head of(ExrPart part) {
      return new Head(
          part.name(),
          part.compression(),
          part.dataWindow(),
          part.displayWindow(),
          part.attributes(),
          part.channels().keySet());
    }

    private boolean longNames() {
      return attributes.keySet().stream().anyMatch(ExrWriter::isLong)
          || channels.stream().anyMatch(c -> isLong(c.name()));
    }
  }

  /**
   * Returns all that stands before the table of places of chunks.
   *
   * @param chunks how many each part has
   */
  static byte[] headers(List<Head> parts, List<Integer> chunks) {
    boolean multi = parts.size() > 1;
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    int version =
        2 | (parts.stream().anyMatch(Head::longNames) ? LONG_NAMES : 0) | (multi ? MULTI_PART : 0);
    all.writeBytes(little(8).putInt(MAGIC).putInt(version).array());
    for (int p = 0; p < parts.size(); p++) {
      putHeader(all, parts.get(p), chunks.get(p), multi);
    }
    if (multi) {
      all.write(0);
    }
    return all.toByteArray();
  }

  private static void putHeader(
      ByteArrayOutputStream out, Head part, int chunkCount, boolean multi) {
    part.attributes.keySet().forEach(ExrWriter::check);
    part.channels.forEach(c -> check(c.name()));
    put(out, "channels", "chlist", channelList(part.channels));
    put(out, "compression", "compression", new byte[] {(byte) part.compression.ordinal()});
    put(out, "dataWindow", "box2i", box(part.dataWindow));
    put(out, "displayWindow", "box2i", box(part.displayWindow));
    put(out, "lineOrder", "lineOrder", new byte[] {0});
    put(out, "pixelAspectRatio", "float", new Attribute.Real(1).encode());
    put(out, "screenWindowCenter", "v2f", new byte[8]);
    put(out, "screenWindowWidth", "float", new Attribute.Real(1).encode());
    if (multi || !part.name.isEmpty()) {
      put(out, "name", "string", part.name.getBytes(StandardCharsets.UTF_8));
    }
    if (multi) {
      put(out, "type", "string", "scanlineimage".getBytes(StandardCharsets.UTF_8));
      put(out, "chunkCount", "int", new Attribute.Int(chunkCount).encode());
    }
    part.attributes.forEach((name, value) -> put(out, name, value.type(), value.encode()));
    out.write(0);
  }

  private static byte[] channelList(Collection<Channel> channels) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (Channel channel : channels) {
      out.writeBytes(channel.name().getBytes(StandardCharsets.UTF_8));
      out.write(0);
      // type, "perceptually linear" with three spare bytes, x and y sampling
      out.writeBytes(
          little(16).putInt(channel.type().ordinal()).putInt(0).putInt(1).putInt(1).array());
    }
    out.write(0);
    return out.toByteArray();
  }

  private static byte[] box(Box box) {
    return little(16)
        .putInt(box.minX())
        .putInt(box.minY())
        .putInt(box.maxX())
        .putInt(box.maxY())
        .array();
  }

  private static void put(ByteArrayOutputStream out, String name, String type, byte[] value) {
    out.writeBytes(name.getBytes(StandardCharsets.UTF_8));
    out.write(0);
    out.writeBytes(type.getBytes(StandardCharsets.UTF_8));
    out.write(0);
    out.writeBytes(little(4).putInt(value.length).array());
    out.writeBytes(value);
  }

  private static void check(String name) {
    if (name.isEmpty() || name.indexOf(0) >= 0 || bytes(name) > MOST_NAME) {
      throw new IllegalArgumentException(
          "'%s' is no name: expected 1 to %d bytes without zeros".formatted(name, MOST_NAME));
    }
  }

  private static int bytes(String name) {
    return name.getBytes(StandardCharsets.UTF_8).length;
  }

  private static boolean isLong(String name) {
    return bytes(name) > SHORT_NAME;
  }

  static ByteBuffer little(int size) {
    return ByteBuffer.allocate(size).order(ByteOrder.LITTLE_ENDIAN);
  }
}
