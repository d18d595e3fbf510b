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
  /** Attributes that {@link ExrHeader} holds as fields, or that follow from them. */
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
          "tiles",
          "name",
          "type",
          "version",
          "maxSamplesPerPixel",
          "chunkCount");

  static final int TILED = 0x200;
  static final int LONG_NAMES = 0x400;
  static final int DEEP = 0x800;
  static final int MULTI_PART = 0x1000;
  private static final int MAX_PARTS = 4096;

  /** The most chunks of a part: 65,536 x 65,536 pixels in tiles of 32 x 32. */
  private static final long MAX_CHUNKS = 1 << 22;

  /** There are more bytes to come, if the file has them. */
  static final class EndsInside extends ExrException {
    private static final long serialVersionUID = 1;

    EndsInside() {
      super("the file ends inside its header");
    }
  }

  private final ByteBuffer in;
  private boolean multiPart;

  HeaderParser(ByteBuffer in) {
    this.in = in;
  }

  /** Whether chunks tell the number of their part; once parsed. */
  boolean isMultiPart() {
    return multiPart;
  }

  /** Reads magic, version and all headers; the buffer is left at the tables of chunks. */
  List<ExrHeader> parse() throws ExrException {
    try {
      if (in.getInt() != ExrWriter.MAGIC) {
        throw new ExrException("not an OpenEXR file: the first four bytes are wrong");
      }
      int version = in.getInt();
      if ((version & 0xff) != 2) {
        throw new ExrException("OpenEXR version %d, expected 2".formatted(version & 0xff));
      }
      int flags = version & ~0xff;
      if ((flags & ~(TILED | LONG_NAMES | DEEP | MULTI_PART)) != 0) {
        throw new ExrException("a file with the flags %x, which are unknown".formatted(flags));
      }
      multiPart = (flags & MULTI_PART) != 0;
      List<ExrHeader> heads = new ArrayList<>();
      if (!multiPart) {
        heads.add(head((flags & TILED) != 0));
      } else {
        while (in.get(in.position()) != 0) {
          heads.add(head(false));
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
      for (ExrHeader head : heads) {
        if (!names.add(head.name())) {
          throw new ExrException("two parts have the name '%s'".formatted(head.name()));
        }
      }
      return heads;
    } catch (BufferUnderflowException | IndexOutOfBoundsException e) {
      throw new EndsInside();
    } catch (IllegalArgumentException e) {
      throw new ExrException(String.valueOf(e.getMessage()));
    }
  }

  private ExrHeader head(boolean tiled) throws ExrException {
    Map<String, byte[]> values = new LinkedHashMap<>();
    Map<String, Attribute> others = new LinkedHashMap<>();
    while (true) {
      String name = text();
      if (name.isEmpty()) {
        break;
      }
      String type = text();
      int size = in.getInt();
      if (size < 0) {
        throw new ExrException("attribute %s of %d bytes".formatted(name, size));
      }
      if (size > in.remaining()) {
        throw new EndsInside();
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
    boolean deep = type.startsWith("deep");
    boolean byTiles = type.isEmpty() ? tiled : type.equals("tiledimage") || type.equals("deeptile");
    if (!List.of("", "scanlineimage", "tiledimage", "deepscanline", "deeptile").contains(type)) {
      throw new ExrException("a part of the unknown type %s".formatted(type));
    }
    ExrHeader head =
        new ExrHeader(
            new String(values.getOrDefault("name", new byte[0]), StandardCharsets.UTF_8),
            choice(Compression.values(), need(values, "compression", 1)[0], "compression"),
            box(need(values, "dataWindow", 16), "dataWindow"),
            box(need(values, "displayWindow", 16), "displayWindow"),
            screen(values),
            values.containsKey("lineOrder")
                ? choice(LineOrder.values(), need(values, "lineOrder", 1)[0], "line order")
                : LineOrder.INCREASING,
            byTiles ? tiles(need(values, "tiles", 9)) : null,
            deep,
            others,
            channels(need(values, "channels", 1)));
    if (head.chunks() > MAX_CHUNKS) {
      throw new ExrException("%d chunks, at most %d".formatted(head.chunks(), MAX_CHUNKS));
    }
    return head;
  }

  private static byte[] need(Map<String, byte[]> values, String name, int size)
      throws ExrException {
    byte[] value = values.get(name);
    if (value == null || value.length < size) {
      throw new ExrException("header without attribute " + name);
    }
    return value;
  }

  private static <T> T choice(T[] all, int code, String what) throws ExrException {
    if (code < 0 || code >= all.length) {
      throw new ExrException("the unknown %s %d".formatted(what, code));
    }
    return all[code];
  }

  private static ByteBuffer little(byte[] value) {
    return ByteBuffer.wrap(value).order(ByteOrder.LITTLE_ENDIAN);
  }

  private static Screen screen(Map<String, byte[]> values) {
    byte[] aspect = values.getOrDefault("pixelAspectRatio", new byte[0]);
    byte[] center = values.getOrDefault("screenWindowCenter", new byte[0]);
    byte[] width = values.getOrDefault("screenWindowWidth", new byte[0]);
    return new Screen(
        aspect.length < 4 ? 1 : little(aspect).getFloat(),
        center.length < 8 ? 0 : little(center).getFloat(),
        center.length < 8 ? 0 : little(center).getFloat(4),
        width.length < 4 ? 1 : little(width).getFloat());
  }

  private static Tiles tiles(byte[] value) throws ExrException {
    ByteBuffer b = little(value);
    int width = b.getInt();
    int height = b.getInt();
    int mode = b.get();
    Tiles.Mode of = choice(Tiles.Mode.values(), mode & 0xf, "kind of levels");
    return new Tiles(width, height, of, mode >> 4 == 1);
  }

  private static Box box(byte[] value, String name) throws ExrException {
    ByteBuffer b = little(value);
    Box box = new Box(b.getInt(), b.getInt(), b.getInt(), b.getInt());
    long width = (long) box.maxX() - box.minX() + 1;
    long height = (long) box.maxY() - box.minY() + 1;
    if (width < 1 || height < 1 || width > 1 << 20 || height > 1 << 20) {
      throw new ExrException("%s of %d x %d pixels".formatted(name, width, height));
    }
    return box;
  }

  private static List<Channel> channels(byte[] value) throws ExrException {
    ByteBuffer b = little(value);
    HeaderParser names = new HeaderParser(b);
    List<Channel> channels = new ArrayList<>();
    while (true) {
      String name = names.text();
      if (name.isEmpty()) {
        return channels;
      }
      int type = b.getInt();
      boolean linear = b.getInt() << 24 != 0;
      int xSampling = b.getInt();
      int ySampling = b.getInt();
      if (type < 0 || type >= PixelType.values().length) {
        throw new ExrException("channel %s has unknown type %d".formatted(name, type));
      }
      if (!channels.isEmpty() && channels.getLast().name().compareTo(name) >= 0) {
        throw new ExrException(
            "channel %s after %s: expected ascending names"
                .formatted(name, channels.getLast().name()));
      }
      channels.add(new Channel(name, PixelType.values()[type], linear, xSampling, ySampling));
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
