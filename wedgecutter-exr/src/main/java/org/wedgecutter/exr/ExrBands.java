package org.wedgecutter.exr;

import java.io.Closeable;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.SeekableByteChannel;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import org.jspecify.annotations.Nullable;

/**
 * Writes an OpenEXR file of scanline parts band by band, from the top, so that no more than a band
 * of it is in memory. A file of one part is the same as if it had been written whole; of several,
 * the parts' chunks stand in the order in which they come, and the tables tell where.
 */
public final class ExrBands implements Closeable {
  private final SeekableByteChannel out;
  private final List<Part> parts;

  /** Where the file begins. */
  private final long begin;

  private final long table;

  /** A part, and how far it is written. */
  private static final class Part {
    final ExrHeader head;
    final List<ExrHeader.Place> places;
    final ByteBuffer offsets;
    int line;

    Part(ExrHeader head) {
      this.head = head;
      places = head.places();
      offsets = ExrWriter.little(8 * places.size());
    }
  }

  /**
   * Begins a file: writes its header.
   *
   * @param out where it is written, from where it is; it stays open
   * @param dataWindow where there will be pixels
   * @param displayWindow the frame of the picture
   * @param attributes further header attributes, in order
   * @param channels ascending by name
   */
  public ExrBands(
      SeekableByteChannel out,
      Compression compression,
      Box dataWindow,
      Box displayWindow,
      Map<String, Attribute> attributes,
      Collection<Channel> channels)
      throws IOException {
    this(
        out,
        List.of(
            ExrHeader.of(
                "", compression, dataWindow, displayWindow, attributes, List.copyOf(channels))));
  }

  /**
   * Begins a file with the headers of its parts: writes them.
   *
   * @param out where it is written, from where it is; it stays open
   * @param heads of lines from the top, flat or deep; several have names, all different, and the
   *     same display window
   * @throws IllegalArgumentException if one is of tiles, or has a compression that is not written
   */
  public ExrBands(SeekableByteChannel out, List<ExrHeader> heads) throws IOException {
    List<String> names = heads.stream().map(ExrHeader::name).toList();
    for (ExrHeader head : heads) {
      ExrWriter.check(head);
      if (head.tiles() != null || head.lineOrder() != LineOrder.INCREASING) {
        throw new IllegalArgumentException("bands are of lines from the top");
      }
      if (!head.displayWindow().equals(heads.getFirst().displayWindow())) {
        throw new IllegalArgumentException("parts with different display windows");
      }
      if (heads.size() > 1
          && (head.name().isEmpty() || names.stream().filter(head.name()::equals).count() > 1)) {
        throw new IllegalArgumentException("parts need names, all different");
      }
    }
    this.out = out;
    parts = heads.stream().map(Part::new).toList();
    byte[] header = ExrWriter.headers(heads);
    begin = out.position();
    table = begin + header.length;
    put(ByteBuffer.wrap(header));
    for (Part part : parts) {
      put(ByteBuffer.allocate(part.offsets.capacity()));
    }
  }

  /**
   * Writes the next lines of the first part, which is flat.
   *
   * @param band as many samples of every channel as the lines have pixels
   * @throws IllegalArgumentException if channels or numbers of samples are not those of the file,
   *     or if lines that are not the last do not fill their chunks
   */
  public void write(SortedMap<Channel, Samples> band) throws IOException {
    write(0, null, band);
  }

  /**
   * Writes the next lines of a part.
   *
   * @param number of the part
   * @param counts how many samples each of their pixels has, if it is deep
   * @param band every channel's samples; of a deep part those of each pixel after those of the one
   *     before
   * @throws IllegalArgumentException if channels or numbers of samples are not those of the file,
   *     or if lines that are not the last do not fill their chunks
   */
  public void write(int number, int @Nullable [] counts, SortedMap<Channel, Samples> band)
      throws IOException {
    Part part = parts.get(number);
    ExrHeader head = part.head;
    int line = part.line;
    int width = head.dataWindow().width();
    int perChunk = head.compression().linesPerChunk();
    int pixels =
        counts != null ? counts.length : band.isEmpty() ? 0 : band.firstEntry().getValue().size();
    int lines = pixels / width;
    if (head.deep() != (counts != null)
        || !List.copyOf(band.keySet()).equals(head.channels())
        || (counts == null && band.values().stream().anyMatch(s -> s.size() != pixels))
        || pixels % width != 0
        || lines == 0) {
      throw new IllegalArgumentException("a band of other channels or of no whole lines");
    }
    int height = head.dataWindow().height();
    if (line + lines > height || (line + lines < height && lines % perChunk != 0)) {
      throw new IllegalArgumentException(
          "%d lines after %d of %d do not fill chunks of %d"
              .formatted(lines, line, height, perChunk));
    }
    Box window =
        new Box(
            head.dataWindow().minX(),
            head.dataWindow().minY() + line,
            head.dataWindow().maxX(),
            head.dataWindow().minY() + line + lines - 1);
    Level level = new Level(0, 0, window, counts, band);
    int first = line / perChunk;
    byte[][] chunks =
        ExrWriter.packed(
            (lines + perChunk - 1) / perChunk,
            k -> {
              ExrHeader.Place place = part.places.get(first + k);
              return counts == null
                  ? ExrWriter.flat(head, place, Pixels.encode(band, window, place.block()))
                  : ExrWriter.deep(head, place, level);
            });
    for (byte[] chunk : chunks) {
      part.offsets.putLong(out.position() - begin);
      // a file of one part does not number its chunks
      if (parts.size() > 1) {
        put(ExrWriter.little(4).putInt(number).flip());
      }
      put(ByteBuffer.wrap(chunk));
    }
    part.line += lines;
  }

  /**
   * Ends the file.
   *
   * @throws IOException if lines are missing
   */
  @Override
  public void close() throws IOException {
    for (Part part : parts) {
      int height = part.head.dataWindow().height();
      if (part.line < height) {
        throw new IOException("%d lines of %d were written".formatted(part.line, height));
      }
    }
    long end = out.position();
    out.position(table);
    for (Part part : parts) {
      put(part.offsets.flip());
    }
    out.position(end);
  }

  private void put(ByteBuffer bytes) throws IOException {
    while (bytes.hasRemaining()) {
      out.write(bytes);
    }
  }
}
