package org.wedgecutter.exr;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.IntFunction;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Writes images as OpenEXR files: of lines or of tiles with their smaller pictures, deep ones of
 * lines, of one part or several. Chunks are packed by several threads.
 *
 * <p>The attribute {@code dwaCompressionLevel} of a part sets how lossy DWA is.
 */
public final class ExrWriter {
  static final int MAGIC = 20000630;
  private static final int SHORT_NAME = 31;

  /** Most bytes of a name of a channel or attribute. */
  public static final int MOST_NAME = 255;

  private ExrWriter() {}

  /**
   * Writes the image to the stream and flushes it; the stream stays open.
   *
   * @throws IllegalArgumentException if a part has a compression that is not written, or is deep
   *     and of tiles; if parts differ in display window or pixel aspect ratio, which the format
   *     wants alike
   */
  public static void write(ExrImage image, OutputStream out) throws IOException {
    List<ExrPart> parts = image.parts();
    boolean multi = parts.size() > 1;
    ExrHeader first = parts.getFirst().header();
    for (ExrPart part : parts) {
      if (!part.displayWindow().equals(first.displayWindow())
          || part.header().screen().pixelAspectRatio() != first.screen().pixelAspectRatio()) {
        throw new IllegalArgumentException(
            "part '%s' has another display window or pixel aspect ratio than '%s'"
                .formatted(part.name(), first.name()));
      }
    }
    List<byte[][]> chunks = new ArrayList<>();
    for (ExrPart part : parts) {
      chunks.add(chunks(part));
    }
    byte[] headers = headers(parts.stream().map(ExrPart::header).toList());
    int count = chunks.stream().mapToInt(c -> c.length).sum();
    int number = multi ? 4 : 0;
    ByteBuffer offsets = little(8 * count);
    long at = headers.length + 8L * count;
    for (int p = 0; p < parts.size(); p++) {
      byte[][] own = chunks.get(p);
      boolean up = parts.get(p).header().lineOrder() == LineOrder.DECREASING;
      long[] places = new long[own.length];
      for (int k = 0; k < own.length; k++) {
        int c = up ? own.length - 1 - k : k;
        places[c] = at;
        at += number + own[c].length;
      }
      for (long place : places) {
        offsets.putLong(place);
      }
    }
    out.write(headers);
    out.write(offsets.array());
    for (int p = 0; p < parts.size(); p++) {
      byte[][] own = chunks.get(p);
      boolean up = parts.get(p).header().lineOrder() == LineOrder.DECREASING;
      for (int k = 0; k < own.length; k++) {
        if (multi) {
          out.write(little(4).putInt(p).array());
        }
        out.write(own[up ? own.length - 1 - k : k]);
      }
    }
    out.flush();
  }

  /** Packs all chunks, each with its coordinates and sizes, in the order of the table. */
  private static byte[][] chunks(ExrPart part) {
    ExrHeader header = part.header();
    check(header);
    List<ExrHeader.Place> places = header.places();
    return packed(
        places.size(),
        k -> {
          ExrHeader.Place place = places.get(k);
          Level level = part.levels().get(place.level());
          return level.counts() == null
              ? flat(header, place, Pixels.encode(level.channels(), level.window(), place.block()))
              : deep(header, place, level);
        });
  }

  /** Makes chunks by several threads. */
  static byte[][] packed(int count, IntFunction<byte[]> chunk) {
    return IntStream.range(0, count).parallel().mapToObj(chunk).toArray(byte[][]::new);
  }

  static void check(ExrHeader header) {
    if (!header.compression().isWritten()) {
      throw new IllegalArgumentException(header.compression() + " is read only");
    }
    if (header.deep() && header.tiles() != null) {
      throw new IllegalArgumentException("deep tiles are read only");
    }
    if (header.deep() && !header.compression().isForDeep()) {
      throw new IllegalArgumentException(
          "deep parts are not packed by %s; expected NONE, RLE or ZIPS"
              .formatted(header.compression()));
    }
  }

  /** Returns a flat chunk with its coordinates and its size. */
  static byte[] flat(ExrHeader header, ExrHeader.Place place, byte[] raw) {
    byte[] packed = codec(header).shorter(raw, place.block());
    ByteBuffer out = little((header.tiles() == null ? 8 : 20) + packed.length);
    if (header.tiles() == null) {
      out.putInt(place.block().minY());
    } else {
      out.putInt(place.x()).putInt(place.y());
      out.putInt(header.levelX(place.level())).putInt(header.levelY(place.level()));
    }
    return out.putInt(packed.length).put(packed).array();
  }

  private static Codec codec(ExrHeader header) {
    Float level = level(header.attributes());
    return Codec.of(header.compression(), level == null ? DwaCodec.LEVEL : level);
  }

  private static @Nullable Float level(Map<String, Attribute> attributes) {
    return attributes.get("dwaCompressionLevel") instanceof Attribute.Real r ? r.value() : null;
  }

  /** A deep chunk: sums of counts along each line, and of each line each channel's samples. */
  static byte[] deep(ExrHeader header, ExrHeader.Place place, Level level) {
    int[] counts = level.counts();
    Block b = place.block();
    if (counts == null) {
      throw new IllegalArgumentException("a deep part without counts");
    }
    int width = b.width();
    int first = (b.minY() - level.window().minY()) * width;
    int from = 0;
    for (int k = 0; k < first; k++) {
      from += counts[k];
    }
    ByteBuffer table = little(4 * width * b.height());
    int all = 0;
    for (int y = 0; y < b.height(); y++) {
      int sum = 0;
      for (int x = 0; x < width; x++) {
        sum += counts[first + y * width + x];
        table.putInt(sum);
      }
      all += sum;
    }
    int bytes = header.channels().stream().mapToInt(c -> c.type().bytes()).sum();
    byte[] raw = new byte[Math.multiplyExact(all, bytes)];
    int to = 0;
    int at = from;
    for (int y = 0; y < b.height(); y++) {
      int line = table.getInt(4 * (width * (y + 1) - 1));
      for (Map.Entry<Channel, Samples> e : level.channels().entrySet()) {
        PixelType type = e.getKey().type();
        Pixels.put(raw, to, type, e.getValue(), at, line);
        to += line * type.bytes();
      }
      at += line;
    }
    byte[] packedTable = codec(header).shorter(table.array(), b);
    byte[] packed = codec(header).shorter(raw, b);
    return little(28 + packedTable.length + packed.length)
        .putInt(b.minY())
        .putLong(packedTable.length)
        .putLong(packed.length)
        .putLong(raw.length)
        .put(packedTable)
        .put(packed)
        .array();
  }

  // ---- headers

  /** Returns all that stands before the table of places of chunks. */
  static byte[] headers(List<ExrHeader> parts) {
    boolean multi = parts.size() > 1;
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    int version = 2;
    for (ExrHeader h : parts) {
      version |= isLong(h) ? HeaderParser.LONG_NAMES : 0;
      version |= h.deep() ? HeaderParser.DEEP : 0;
      version |= !multi && !h.deep() && h.tiles() != null ? HeaderParser.TILED : 0;
    }
    version |= multi ? HeaderParser.MULTI_PART : 0;
    all.writeBytes(little(8).putInt(MAGIC).putInt(version).array());
    parts.forEach(h -> putHeader(all, h, multi));
    if (multi) {
      all.write(0);
    }
    return all.toByteArray();
  }

  private static boolean isLong(ExrHeader header) {
    return header.attributes().keySet().stream().anyMatch(ExrWriter::isLong)
        || header.channels().stream().anyMatch(c -> isLong(c.name()));
  }

  private static void putHeader(ByteArrayOutputStream out, ExrHeader h, boolean multi) {
    h.attributes().keySet().forEach(ExrWriter::check);
    h.channels().forEach(c -> check(c.name()));
    put(out, "channels", "chlist", channelList(h.channels()));
    put(out, "compression", "compression", new byte[] {(byte) h.compression().ordinal()});
    put(out, "dataWindow", "box2i", box(h.dataWindow()));
    put(out, "displayWindow", "box2i", box(h.displayWindow()));
    put(out, "lineOrder", "lineOrder", new byte[] {(byte) h.lineOrder().ordinal()});
    Screen s = h.screen();
    put(out, "pixelAspectRatio", "float", new Attribute.Real(s.pixelAspectRatio()).encode());
    put(
        out,
        "screenWindowCenter",
        "v2f",
        little(8).putFloat(s.centerX()).putFloat(s.centerY()).array());
    put(out, "screenWindowWidth", "float", new Attribute.Real(s.width()).encode());
    if (multi || h.deep() || !h.name().isEmpty()) {
      put(out, "name", "string", h.name().getBytes(StandardCharsets.UTF_8));
    }
    Tiles t = h.tiles();
    if (t != null) {
      int mode = t.mode().ordinal() | (t.roundUp() ? 16 : 0);
      put(
          out,
          "tiles",
          "tiledesc",
          little(9).putInt(t.width()).putInt(t.height()).put((byte) mode).array());
    }
    if (multi || h.deep()) {
      put(out, "type", "string", h.type().getBytes(StandardCharsets.UTF_8));
      put(out, "chunkCount", "int", new Attribute.Int((int) h.chunks()).encode());
    }
    if (h.deep()) {
      put(out, "version", "int", new Attribute.Int(1).encode());
    }
    h.attributes().forEach((name, value) -> put(out, name, value.type(), value.encode()));
    out.write(0);
  }

  private static byte[] channelList(List<Channel> channels) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (Channel c : channels) {
      out.writeBytes(c.name().getBytes(StandardCharsets.UTF_8));
      out.write(0);
      // type, "perceptually linear" with three spare bytes, x and y sampling
      out.writeBytes(
          little(16)
              .putInt(c.type().ordinal())
              .putInt(c.perceptuallyLinear() ? 1 : 0)
              .putInt(c.xSampling())
              .putInt(c.ySampling())
              .array());
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
