package org.wedgecutter.exr;

import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Reads the headers of a file; every size is checked before memory is taken for it. */
final class HeaderParser {
  private static final Set<String> OWN =
      Set.of(
          "channels",
          "compression",
          "dataWindow",
          "displayWindow",
          "lineOrder",
          "pixelAspectRatio",
          "screenWindowCenter",
          "screenWindowWidth",
          "name",
          "type",
          "chunkCount");
  private static final long MAX_SAMPLES = 1L << 29;
  private static final int MAX_PARTS = 4096;

  /** A part before its pixels are read. */
  record Head(
      String name,
      Compression compression,
      Box dataWindow,
      Box displayWindow,
      List<Channel> channels,
      Map<String, Attribute> attributes) {
    int chunkCount() {
      int lines = compression.linesPerChunk();
      return (dataWindow.height() + lines - 1) / lines;
    }

    /** Returns how many bytes the pixels take at least, however well they are packed. */
    long leastBytes() {
      long line = 0;
      for (Channel channel : channels) {
        line += (long) channel.type().bytes() * dataWindow.width();
      }
      // 8 bytes in the table and 8 before each chunk
      return line * dataWindow.height() / compression.mostPerByte() + 16L * chunkCount();
    }
  }

  private final ByteBuffer in;

  HeaderParser(ByteBuffer in) {
    this.in = in;
  }

  /** Reads magic, version and all headers; the buffer is left at the offset tables. */
  List<Head> parse() throws ExrException {
    try {
      if (in.getInt() != ExrWriter.MAGIC) {
        throw new ExrException("not an OpenEXR file: the first four bytes are wrong");
      }
      int version = in.getInt();
      if ((version & 0xff) != 2) {
        throw new ExrException("OpenEXR version %d, expected 2".formatted(version & 0xff));
      }
      int flags = version & ~0xff;
      if ((flags & ~(ExrWriter.LONG_NAMES | ExrWriter.MULTI_PART)) != 0) {
        throw new ExrException("tiled and deep files are not read; expected flat scanlines");
      }
      List<Head> heads = new ArrayList<>();
      if ((flags & ExrWriter.MULTI_PART) == 0) {
        heads.add(head());
      } else {
        while (in.get(in.position()) != 0) {
          heads.add(head());
          if (heads.size() > MAX_PARTS) {
            throw new ExrException("more than %d parts".formatted(MAX_PARTS));
          }
        }
        in.get();
      }
      if (heads.isEmpty()) {
        throw new ExrException("no parts");
      }
      Set<String> names = new HashSet<>();
      for (Head head : heads) {
        if (!names.add(head.name())) {
          throw new ExrException("two parts have the name '%s'".formatted(head.name()));
        }
      }
      long samples = 0;
      for (Head head : heads) {
        Box box = head.dataWindow();
        samples += (long) box.width() * box.height() * Math.max(1, head.channels().size());
      }
      if (samples > MAX_SAMPLES) {
        throw new ExrException("%d samples, at most %d are read".formatted(samples, MAX_SAMPLES));
      }
      return heads;
    } catch (BufferUnderflowException | IndexOutOfBoundsException e) {
      throw new ExrException("the file ends inside its header");
    }
  }

  private Head head() throws ExrException {
    Map<String, byte[]> values = new LinkedHashMap<>();
    Map<String, Attribute> others = new LinkedHashMap<>();
    while (true) {
      String name = text();
      if (name.isEmpty()) {
        break;
      }
      String type = text();
      int size = in.getInt();
      if (size < 0 || size > in.remaining()) {
        throw new ExrException("attribute %s: %d bytes, beyond the file".formatted(name, size));
      }
      byte[] value = new byte[size];
      in.get(value);
      if (OWN.contains(name)) {
        values.put(name, value);
      } else {
        others.put(name, Attribute.decode(type, value));
      }
    }
    String type = new String(values.getOrDefault("type", new byte[0]), StandardCharsets.UTF_8);
    if (!type.isEmpty() && !type.equals("scanlineimage")) {
      throw new ExrException("part of type %s, expected scanlineimage".formatted(type));
    }
    return new Head(
        new String(values.getOrDefault("name", new byte[0]), StandardCharsets.UTF_8),
        compression(need(values, "compression", 1)),
        box(need(values, "dataWindow", 16), "dataWindow"),
        box(need(values, "displayWindow", 16), "displayWindow"),
        channels(need(values, "channels", 1)),
        others);
  }

  private static byte[] need(Map<String, byte[]> values, String name, int size)
      throws ExrException {
    byte[] value = values.get(name);
    if (value == null || value.length < size) {
      throw new ExrException("header without attribute " + name);
    }
    return value;
  }

  private static Compression compression(byte[] value) throws ExrException {
    if (value[0] < 0 || value[0] >= Compression.values().length) {
      throw new ExrException(
          "compression %d is not read; expected none, RLE, ZIPS or ZIP".formatted(value[0]));
    }
    return Compression.values()[value[0]];
  }

  private static Box box(byte[] value, String name) throws ExrException {
    ByteBuffer b = ByteBuffer.wrap(value).order(ByteOrder.LITTLE_ENDIAN);
    Box box = new Box(b.getInt(), b.getInt(), b.getInt(), b.getInt());
    long width = (long) box.maxX() - box.minX() + 1;
    long height = (long) box.maxY() - box.minY() + 1;
    if (width < 1 || height < 1 || width > 1 << 20 || height > 1 << 20) {
      throw new ExrException("%s of %d x %d pixels".formatted(name, width, height));
    }
    return box;
  }

  private static List<Channel> channels(byte[] value) throws ExrException {
    ByteBuffer b = ByteBuffer.wrap(value).order(ByteOrder.LITTLE_ENDIAN);
    HeaderParser names = new HeaderParser(b);
    List<Channel> channels = new ArrayList<>();
    while (true) {
      String name = names.text();
      if (name.isEmpty()) {
        return channels;
      }
      int type = b.getInt();
      b.getInt();
      int xSampling = b.getInt();
      int ySampling = b.getInt();
      if (type < 0 || type >= PixelType.values().length) {
        throw new ExrException("channel %s has unknown type %d".formatted(name, type));
      }
      if (xSampling != 1 || ySampling != 1) {
        throw new ExrException("channel %s is subsampled, which is not read".formatted(name));
      }
      Channel channel = new Channel(name, PixelType.values()[type]);
      if (channels.stream().anyMatch(c -> c.name().equals(name))) {
        throw new ExrException("channel %s appears twice".formatted(name));
      }
      channels.add(channel);
    }
  }

  private String text() throws ExrException {
    int start = in.position();
    while (in.get() != 0) {
      if (in.position() - start > 256) {
        throw new ExrException("a name in the header is longer than 255 bytes");
      }
    }
    byte[] bytes = new byte[in.position() - start - 1];
    in.get(start, bytes);
    return new String(bytes, StandardCharsets.UTF_8);
  }
}
