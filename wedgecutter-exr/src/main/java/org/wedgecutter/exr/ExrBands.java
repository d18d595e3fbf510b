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
 * Writes an OpenEXR scanline file of one part band by band, from the top, so that no more than a
 * band of it is in memory. The file is the same as if it had been written whole.
 */
public final class ExrBands implements Closeable {
  private final SeekableByteChannel out;
  private final ExrHeader head;
  private final List<ExrHeader.Place> places;
  private final long table;
  private final ByteBuffer offsets;
  private int line;

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
        ExrHeader.of(
            "", compression, dataWindow, displayWindow, attributes, List.copyOf(channels)));
  }

  /**
   * Begins a file with a header: writes it.
   *
   * @param out where it is written, from where it is; it stays open
   * @param head of lines from the top, flat or deep
   * @throws IllegalArgumentException if it is of tiles, or has a compression that is not written
   */
  public ExrBands(SeekableByteChannel out, ExrHeader head) throws IOException {
    ExrWriter.check(head);
    if (head.tiles() != null || head.lineOrder() != LineOrder.INCREASING) {
      throw new IllegalArgumentException("bands are of lines from the top");
    }
    this.out = out;
    this.head = head;
    places = head.places();
    byte[] header = ExrWriter.headers(List.of(head));
    table = out.position() + header.length;
    offsets = ExrWriter.little(8 * places.size());
    put(ByteBuffer.wrap(header));
    put(ByteBuffer.allocate(8 * places.size()));
  }

  /**
   * Writes the next lines.
   *
   * @param band as many samples of every channel as the lines have pixels
   * @throws IllegalArgumentException if channels or numbers of samples are not those of the file,
   *     or if lines that are not the last do not fill their chunks
   */
  public void write(SortedMap<Channel, Samples> band) throws IOException {
    write(null, band);
  }

  /**
   * Writes the next lines of a deep file.
   *
   * @param counts how many samples each of their pixels has
   * @param band every channel's samples, those of each pixel after those of the one before
   * @throws IllegalArgumentException if channels or numbers of samples are not those of the file,
   *     or if lines that are not the last do not fill their chunks
   */
  public void write(int @Nullable [] counts, SortedMap<Channel, Samples> band) throws IOException {
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
              ExrHeader.Place place = places.get(first + k);
              return counts == null
                  ? ExrWriter.flat(head, place, Pixels.encode(band, window, place.block()))
                  : ExrWriter.deep(head, place, level);
            });
    for (byte[] chunk : chunks) {
      offsets.putLong(out.position());
      put(ByteBuffer.wrap(chunk));
    }
    line += lines;
  }

  /**
   * Ends the file.
   *
   * @throws IOException if lines are missing
   */
  @Override
  public void close() throws IOException {
    if (line < head.dataWindow().height()) {
      throw new IOException(
          "%d lines of %d were written".formatted(line, head.dataWindow().height()));
    }
    long end = out.position();
    out.position(table);
    put(offsets.flip());
    out.position(end);
  }

  private void put(ByteBuffer bytes) throws IOException {
    while (bytes.hasRemaining()) {
      out.write(bytes);
    }
  }
}
