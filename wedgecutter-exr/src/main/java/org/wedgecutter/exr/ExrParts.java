package org.wedgecutter.exr;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.SeekableByteChannel;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Puts parts of files together into one of several. Their packed pixels are copied as they are, so
 * that neither memory nor precision is spent on them.
 */
public final class ExrParts {
  private ExrParts() {}

  /**
   * A part of a file.
   *
   * @param number of the part in its file
   * @param name that it gets
   */
  public record Source(ExrInput file, int number, String name) {
    /** Returns its header. */
    public ExrHeader header() {
      return file.headers().get(number);
    }
  }

  /**
   * Writes a file of several parts.
   *
   * @param parts of lines, not deep, with the same display window and names that are all different
   * @param more further attributes of the first part
   * @param out where it is written, from where it is; it stays open
   * @throws IllegalArgumentException if names or parts are others
   */
  public static void join(List<Source> parts, Map<String, Attribute> more, SeekableByteChannel out)
      throws IOException {
    List<String> names = parts.stream().map(Source::name).toList();
    List<ExrHeader> heads = new ArrayList<>();
    for (int k = 0; k < parts.size(); k++) {
      ExrHeader h = parts.get(k).header();
      if (h.deep() || h.tiles() != null) {
        throw new IllegalArgumentException("a part of type " + h.type());
      }
      if (!h.displayWindow().equals(parts.getFirst().header().displayWindow())) {
        throw new IllegalArgumentException("parts with different display windows");
      }
      if (names.indexOf(names.get(k)) != k || names.get(k).isEmpty()) {
        throw new IllegalArgumentException("parts need names, all different");
      }
      Map<String, Attribute> attributes = new LinkedHashMap<>(h.attributes());
      attributes.putAll(k == 0 ? more : Map.of());
      heads.add(
          new ExrHeader(
              names.get(k),
              h.compression(),
              h.dataWindow(),
              h.displayWindow(),
              h.screen(),
              h.lineOrder(),
              null,
              false,
              attributes,
              h.channels()));
    }
    long begin = out.position();
    byte[] head = ExrWriter.headers(heads);
    int chunks = 0;
    for (ExrHeader h : heads) {
      chunks = Math.addExact(chunks, Math.toIntExact(h.chunks()));
    }
    ByteBuffer offsets = ExrWriter.little(Math.multiplyExact(8, chunks));
    put(out, ByteBuffer.wrap(head));
    put(out, ByteBuffer.allocate(offsets.capacity()));
    for (int part = 0; part < heads.size(); part++) {
      for (int k = 0; k < heads.get(part).chunks(); k++) {
        offsets.putLong(out.position() - begin);
        // a file of one part does not number its chunks
        if (heads.size() > 1) {
          put(out, ExrWriter.little(4).putInt(part).flip());
        }
        put(out, parts.get(part).file.packed(parts.get(part).number, k));
      }
    }
    long end = out.position();
    out.position(begin + head.length);
    put(out, offsets.flip());
    out.position(end);
  }

  private static void put(SeekableByteChannel out, ByteBuffer bytes) throws IOException {
    while (bytes.hasRemaining()) {
      out.write(bytes);
    }
  }
}
