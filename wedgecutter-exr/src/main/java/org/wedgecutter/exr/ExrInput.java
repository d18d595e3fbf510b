package org.wedgecutter.exr;

import java.io.Closeable;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * An OpenEXR file that is read as far as it is asked for: its headers first, then whole parts or
 * some lines of them. Chunks are unpacked by several threads.
 *
 * <p>The file is not trusted: sizes are checked against its length before memory is taken, and any
 * wrong byte ends in an {@link ExrException}.
 */
public final class ExrInput implements Closeable {
  private static final int FIRST_LOOK = 1 << 16;
  private static final int LARGEST_HEADER = 1 << 28;
  private static final long MOST_SAMPLES = 1L << 29;

  /** What a compression without a bound may claim, by the file's length, and whatever that is. */
  private static final long PLAUSIBLE = 1100;

  private static final long SMALL = 1L << 28;

  private final ByteSource source;
  private final List<ExrHeader> headers;
  private final long[] tables;
  private final Map<Integer, List<Chunk>> found = new HashMap<>();
  private final boolean numbered;

  private ExrInput(ByteSource source) throws IOException {
    this.source = source;
    int look = FIRST_LOOK;
    ByteBuffer in = source.read(0, look);
    HeaderParser parser = new HeaderParser(in);
    List<ExrHeader> parsed;
    while (true) {
      try {
        parsed = parser.parse();
        break;
      } catch (HeaderParser.EndsInside e) {
        if (look >= source.size() || look >= LARGEST_HEADER) {
          throw new ExrException("the file ends inside its header");
        }
        look *= 4;
        in = source.read(0, look);
        parser = new HeaderParser(in);
      }
    }
    headers = List.copyOf(parsed);
    numbered = parser.isMultiPart();
    tables = new long[headers.size()];
    long at = in.position();
    for (int p = 0; p < tables.length; p++) {
      tables[p] = at;
      at += 8 * headers.get(p).chunks();
      if (at > source.size()) {
        throw new ExrException("the file ends inside its table of chunks");
      }
    }
  }

  /** Opens a file and reads its headers. The message of an exception begins with its name. */
  public static ExrInput open(Path file) throws IOException {
    ByteSource bytes = ByteSource.open(file);
    try {
      return new ExrInput(bytes);
    } catch (ExrException e) {
      bytes.close();
      throw new ExrException("%s: %s".formatted(file, e.getMessage()));
    } catch (IOException | RuntimeException e) {
      bytes.close();
      throw e;
    }
  }

  /** Reads the headers of a file that is in memory. */
  public static ExrInput of(byte[] file) throws ExrException {
    try {
      return new ExrInput(ByteSource.of(file));
    } catch (ExrException e) {
      throw e;
    } catch (IOException e) {
      throw new UncheckedIOException("memory is always read", e);
    }
  }

  /** Returns the header of each part. */
  public List<ExrHeader> headers() {
    return headers;
  }

  @Override
  public void close() throws IOException {
    source.close();
  }

  // ---- whole parts

  /** Reads a part with all its levels. */
  public ExrPart part(int number) throws IOException {
    ExrHeader header = headers.get(number);
    require(header, header.samples());
    List<Box> windows = header.windows();
    List<Chunk> chunks = chunks(number);
    if (header.deep()) {
      return deep(header, windows, chunks);
    }
    List<SortedMap<Channel, Samples>> pixels = new ArrayList<>();
    windows.forEach(w -> pixels.add(Pixels.empty(header.channels(), w)));
    Codec codec = Codec.of(header.compression());
    each(
        chunks,
        c -> {
          Block block = c.place.block();
          ByteBuffer raw = flat(c, codec);
          int level = c.place.level();
          Pixels.decode(
              raw.array(), raw.arrayOffset(), pixels.get(level), windows.get(level), block);
        });
    List<Level> levels = new ArrayList<>();
    for (int l = 0; l < windows.size(); l++) {
      levels.add(
          new Level(header.levelX(l), header.levelY(l), windows.get(l), null, pixels.get(l)));
    }
    return new ExrPart(header, levels);
  }

  /**
   * Reads some channels of the full picture of a flat part. All chunks are unpacked, but only what
   * is asked for is put together and takes memory.
   *
   * @param wanted tells a channel by its name
   * @return a part of these channels, with the attributes of the whole
   */
  public ExrPart part(int number, Predicate<String> wanted) throws IOException {
    return part(number, wanted, Integer.MIN_VALUE, Integer.MAX_VALUE);
  }

  private ExrPart part(int number, Predicate<String> wanted, int first, int last)
      throws IOException {
    ExrHeader header = headers.get(number);
    if (header.deep()) {
      throw new IllegalArgumentException("a deep part");
    }
    Box window = lines(header.dataWindow(), first, last);
    require(
        header,
        header.channels().stream()
            .filter(c -> wanted.test(c.name()))
            .mapToLong(c -> c.samples(window))
            .sum());
    SortedMap<Channel, Samples> pixels =
        Pixels.empty(header.channels(), window, c -> wanted.test(c.name()));
    Codec codec = Codec.of(header.compression());
    boolean any = header.channels().stream().anyMatch(c -> wanted.test(c.name()));
    List<Chunk> needed = any ? chunks(number, window) : List.of();
    each(
        needed,
        c -> {
          int[] spans = c.place.block().spans(channel -> wanted.test(channel.name()));
          ByteBuffer raw = flat(c, codec, spans);
          Pixels.decode(raw.array(), raw.arrayOffset(), pixels, window, c.place.block());
        });
    pixels.keySet().removeIf(c -> !wanted.test(c.name()));
    return new ExrPart(
        header.name(),
        header.compression(),
        window,
        header.displayWindow(),
        header.attributes(),
        pixels);
  }

  /**
   * Returns the channels of all flat parts that have the data window of the first part: what {@link
   * #flat} reads. Of those of one name the first part's counts.
   */
  public List<Channel> flatChannels() {
    List<Channel> out = new ArrayList<>();
    for (ExrHeader header : headers) {
      for (Channel c : isFlat(header) ? header.channels() : List.<Channel>of()) {
        if (out.stream().noneMatch(o -> o.name().equals(c.name()))) {
          out.add(c);
        }
      }
    }
    return out;
  }

  private boolean isFlat(ExrHeader header) {
    return !header.deep() && header.dataWindow().equals(headers.getFirst().dataWindow());
  }

  /**
   * Reads some channels of all flat parts that have the data window of the first part, as if all
   * were of one part. Parts that hold none of them are not unpacked.
   *
   * @param wanted tells a channel by its name
   * @return a part of these channels, with the attributes of all parts; of those of one name the
   *     first part's count
   * @throws IllegalArgumentException if the first part is deep
   */
  public ExrPart flat(Predicate<String> wanted) throws IOException {
    return flat(wanted, Integer.MIN_VALUE, Integer.MAX_VALUE);
  }

  /**
   * Reads the same of some lines; chunks that hold none of them are not unpacked.
   *
   * @param first line, counted as in the data window
   * @param last line
   * @return a part whose data window has these lines as far as there are any, and at least one: the
   *     nearest
   */
  public ExrPart flat(Predicate<String> wanted, int first, int last) throws IOException {
    ExrPart out = part(0, wanted, first, last);
    Map<String, Attribute> attributes = new LinkedHashMap<>(out.attributes());
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    channels.putAll(out.channels());
    for (int p = 1; p < headers.size(); p++) {
      Predicate<String> open =
          name ->
              wanted.test(name) && channels.keySet().stream().noneMatch(c -> c.name().equals(name));
      if (isFlat(headers.get(p))) {
        headers.get(p).attributes().forEach(attributes::putIfAbsent);
        if (headers.get(p).channels().stream().anyMatch(c -> open.test(c.name()))) {
          channels.putAll(part(p, open, first, last).channels());
        }
      }
    }
    return new ExrPart(
        out.name(), out.compression(), out.dataWindow(), out.displayWindow(), attributes, channels);
  }

  /**
   * Reads some lines of the full picture of a flat part.
   *
   * @param first line, in the part's window
   * @param count lines
   * @return every channel's samples of these lines
   */
  public SortedMap<Channel, Samples> lines(int number, int first, int count) throws IOException {
    ExrHeader header = headers.get(number);
    Box all = header.dataWindow();
    if (header.deep() || count < 1 || first < all.minY() || first > all.maxY() - count + 1) {
      throw new IllegalArgumentException(
          "%d lines from %d of a part of type %s with the lines %d to %d"
              .formatted(count, first, header.type(), all.minY(), all.maxY()));
    }
    Box window = new Box(all.minX(), first, all.maxX(), first + count - 1);
    long samples = header.channels().stream().mapToLong(c -> c.samples(window)).sum();
    require(header, samples);
    SortedMap<Channel, Samples> out = Pixels.empty(header.channels(), window);
    Codec codec = Codec.of(header.compression());
    each(
        chunks(number, window),
        c -> {
          ByteBuffer raw = flat(c, codec);
          Pixels.decode(raw.array(), raw.arrayOffset(), out, window, c.place.block());
        });
    return out;
  }

  /** Returns a window with some of its lines. */
  private static Box lines(Box all, int first, int last) {
    int top = Math.clamp(first, all.minY(), all.maxY());
    return new Box(all.minX(), top, all.maxX(), Math.clamp(last, top, all.maxY()));
  }

  /** Returns the chunks of the full picture that hold lines of a window. */
  private List<Chunk> chunks(int number, Box window) throws IOException {
    return chunks(number).stream()
        .filter(c ->
            c.place.level() == 0
                && c.place.block().minY() <= window.maxY()
                && c.place.block().minY() + c.place.block().height() > window.minY())
        .toList();
  }

  /** Refuses claims that the file is too short for, before memory is taken for them. */
  private void require(ExrHeader header, long samples) throws IOException {
    if (samples > MOST_SAMPLES) {
      throw new ExrException("%d samples, at most %d are read".formatted(samples, MOST_SAMPLES));
    }
    long bytes = 0;
    for (Box w : header.windows()) {
      if (header.deep()) {
        // a count for each pixel; samples are checked once the counts are known
        bytes += 4L * w.width() * w.height();
      } else {
        for (Channel c : header.channels()) {
          bytes += c.type().bytes() * c.samples(w);
        }
      }
    }
    if (bytes > 8 * MOST_SAMPLES) {
      throw new ExrException("%d bytes of pixels or counts".formatted(bytes));
    }
    long size = source.size();
    long least = bytes / header.compression().mostPerByte();
    if (least > size
        || (header.compression().mostPerByte() > PLAUSIBLE
            && bytes > Math.max(SMALL, PLAUSIBLE * size))) {
      throw new ExrException(
          "the header claims pixels of %d bytes; the file has %d".formatted(bytes, size));
    }
  }

  // ---- chunks

  /**
   * A chunk.
   *
   * @param at where it begins
   * @param data where its data begin, behind its coordinates
   */
  private record Chunk(ExrHeader.Place place, long at, long data) {}

  /**
   * Returns a chunk of a part of lines as it stands in a file of one part: its line, its size and
   * its packed bytes.
   *
   * @param k number of the chunk in the table
   */
  ByteBuffer packed(int number, int k) throws IOException {
    Chunk chunk = chunks(number).get(k);
    int size = source.read(chunk.data, 4).order(ByteOrder.LITTLE_ENDIAN).getInt();
    if (size < 0 || size > source.size() - chunk.data) {
      throw new ExrException(
          "the chunk at byte %d claims %d bytes, beyond the file".formatted(chunk.at, size));
    }
    return source.read(chunk.data - 4, 8 + size);
  }

  /** Returns the chunks of a part; they are found once. */
  private synchronized List<Chunk> chunks(int number) throws IOException {
    List<Chunk> known = found.get(number);
    if (known == null) {
      known = find(number);
      found.put(number, known);
    }
    return known;
  }

  /** Finds the chunks of a part by its table. */
  private List<Chunk> find(int number) throws IOException {
    ExrHeader header = headers.get(number);
    List<ExrHeader.Place> places = header.places();
    Map<List<Integer>, Integer> byPlace = new HashMap<>();
    for (int k = 0; k < places.size() && header.tiles() != null; k++) {
      ExrHeader.Place p = places.get(k);
      byPlace.put(List.of(p.x(), p.y(), header.levelX(p.level()), header.levelY(p.level())), k);
    }
    ByteBuffer table = source.read(tables[number], Math.multiplyExact(8, places.size()));
    BitSet seen = new BitSet();
    List<Chunk> out = new ArrayList<>();
    int head = (numbered ? 4 : 0) + (header.tiles() == null ? 4 : 16);
    for (int k = 0; k < places.size(); k++) {
      long at = table.getLong();
      ByteBuffer in = at < 0 ? ByteBuffer.allocate(0) : source.read(at, head);
      if (in.remaining() < head) {
        throw new ExrException("a chunk begins at byte %d, beyond the file".formatted(at));
      }
      if (numbered && in.getInt() != number) {
        throw new ExrException("the chunk at byte %d is of another part".formatted(at));
      }
      int which = header.tiles() == null ? line(header, in.getInt()) : tile(byPlace, in);
      if (which < 0) {
        throw new ExrException(
            "the chunk at byte %d is for a wrong %s"
                .formatted(at, header.tiles() == null ? "line" : "tile"));
      }
      // as many chunks as there are places in the table: if none comes twice, none is missing
      if (seen.get(which)) {
        throw new ExrException("the table of chunks names chunk %d twice".formatted(which));
      }
      seen.set(which);
      out.add(new Chunk(places.get(which), at, at + head));
    }
    return out;
  }

  private static int line(ExrHeader header, int line) {
    long from = (long) line - header.dataWindow().minY();
    int lines = header.compression().linesPerChunk();
    return from < 0 || from >= header.dataWindow().height() || from % lines != 0
        ? -1
        : (int) (from / lines);
  }

  private static int tile(Map<List<Integer>, Integer> byPlace, ByteBuffer in) {
    List<Integer> key = List.of(in.getInt(), in.getInt(), in.getInt(), in.getInt());
    return byPlace.getOrDefault(key, -1);
  }

  private interface ChunkReader {
    void read(Chunk chunk) throws IOException;
  }

  /** Reads chunks by several threads; an error's message names the chunk. */
  private static void each(List<Chunk> chunks, ChunkReader reader) throws IOException {
    try {
      IntStream.range(0, chunks.size())
          .parallel()
          .forEach(k -> {
            try {
              reader.read(chunks.get(k));
            } catch (ExrException e) {
              throw new UncheckedIOException(
                  new ExrException(
                      "the chunk at byte %d: %s".formatted(chunks.get(k).at, e.getMessage())));
            } catch (IOException e) {
              throw new UncheckedIOException(e);
            }
          });
    } catch (UncheckedIOException e) {
      throw e.getCause();
    }
  }

  /** Returns the unpacked bytes of a flat chunk, in an array from its offset on. */
  private ByteBuffer flat(Chunk c, Codec codec) throws IOException {
    return flat(c, codec, new int[] {0, Math.toIntExact(c.place.block().bytes())});
  }

  /**
   * The same of which only some bytes are needed.
   *
   * @param spans where they begin and end
   */
  private ByteBuffer flat(Chunk c, Codec codec, int[] spans) throws IOException {
    int size = Math.toIntExact(c.place.block().bytes());
    ByteBuffer length = source.read(c.data, 4);
    ByteBuffer packed = packed(c.data + 4, length.remaining() < 4 ? -1 : length.getInt());
    return codec.full(packed, c.place.block(), size, spans);
  }

  private ByteBuffer packed(long at, long size) throws IOException {
    if (size < 0 || size > source.size() - at || size > Integer.MAX_VALUE - 8) {
      throw new ExrException("%d bytes, beyond the file".formatted(size));
    }
    ByteBuffer in = source.read(at, (int) size);
    if (in.remaining() < size) {
      throw new ExrException("%d bytes, beyond the file".formatted(size));
    }
    return in;
  }

  // ---- deep

  /** Sizes of a deep chunk: packed counts, packed samples, samples unpacked. */
  private record DeepSizes(long counts, long packed, long unpacked) {}

  private DeepSizes deepSizes(Chunk c) throws IOException {
    ByteBuffer in = source.read(c.data, 24);
    if (in.remaining() < 24) {
      throw new ExrException("ends inside its sizes");
    }
    return new DeepSizes(in.getLong(), in.getLong(), in.getLong());
  }

  private ExrPart deep(ExrHeader header, List<Box> windows, List<Chunk> chunks) throws IOException {
    Codec codec = Codec.of(header.compression());
    List<int[]> counts = new ArrayList<>();
    windows.forEach(w -> counts.add(new int[Math.multiplyExact(w.width(), w.height())]));
    each(
        chunks,
        c -> {
          int l = c.place.level();
          counts(c, codec, counts.get(l), windows.get(l), header.tiles());
        });
    long bytes = header.channels().stream().mapToLong(c -> c.type().bytes()).sum();
    List<Level> levels = new ArrayList<>();
    for (int l = 0; l < windows.size(); l++) {
      int level = l;
      long[] starts = starts(counts.get(l));
      long all = starts[starts.length - 1];
      if (all * bytes / header.compression().mostPerByte() > source.size() || all > MOST_SAMPLES) {
        throw new ExrException("the counts claim %d samples of %d bytes".formatted(all, bytes));
      }
      SortedMap<Channel, Samples> pixels = ExrPart.newChannels();
      header.channels().forEach(c -> pixels.put(c, Pixels.samples(c, all)));
      each(
          chunks.stream().filter(c -> c.place.level() == level).toList(),
          c -> samples(c, codec, starts, windows.get(level), pixels, bytes));
      levels.add(
          new Level(header.levelX(l), header.levelY(l), windows.get(l), counts.get(l), pixels));
    }
    return new ExrPart(header, levels);
  }

  private static long[] starts(int[] counts) {
    long[] out = new long[counts.length + 1];
    for (int k = 0; k < counts.length; k++) {
      out[k + 1] = out[k] + counts[k];
    }
    return out;
  }

  /** Reads how many samples the pixels of a chunk have: in each line the sum so far. */
  private void counts(Chunk c, Codec codec, int[] counts, Box window, @Nullable Tiles tiles)
      throws IOException {
    Block b = c.place.block();
    DeepSizes sizes = deepSizes(c);
    int needed = 4 * b.width() * b.height();
    ByteBuffer in =
        table(packed(c.data + 24, sizes.counts), codec, b, needed, tiles)
            .order(ByteOrder.LITTLE_ENDIAN);
    for (int y = 0; y < b.height(); y++) {
      int before = 0;
      int at = (b.minY() + y - window.minY()) * window.width() + b.minX() - window.minX();
      for (int x = 0; x < b.width(); x++) {
        int sum = in.getInt();
        if (sum < before) {
          throw new ExrException("counts of samples that become less");
        }
        counts[at + x] = sum - before;
        before = sum;
      }
    }
  }

  /**
   * Returns the unpacked counts of a chunk. For tiles at the border some programs pack a table as
   * long as that of a whole tile, of which the beginning counts.
   */
  private static ByteBuffer table(
      ByteBuffer packed, Codec codec, Block block, int needed, @Nullable Tiles tiles)
      throws ExrException {
    long whole = tiles == null ? needed : 4L * tiles.width() * tiles.height();
    int given = packed.remaining();
    if (given == needed || given == whole) {
      return packed;
    }
    try {
      return codec.full(packed, block, needed);
    } catch (ExrException e) {
      // a whole tile is no more than this many times what there is, so it takes no more memory
      if (whole == needed || whole / 1100 > given) {
        throw e;
      }
      return codec.full(packed, block, (int) whole);
    }
  }

  /** Reads the samples of a chunk: of each line each channel's, of each channel each pixel's. */
  private void samples(
      Chunk c, Codec codec, long[] starts, Box window, Map<Channel, Samples> pixels, long bytes)
      throws IOException {
    Block b = c.place.block();
    DeepSizes sizes = deepSizes(c);
    long count = 0;
    int[] lines = new int[b.height()];
    for (int y = 0; y < b.height(); y++) {
      lines[y] = (b.minY() + y - window.minY()) * window.width() + b.minX() - window.minX();
      count += starts[lines[y] + b.width()] - starts[lines[y]];
    }
    if (count * bytes != sizes.unpacked || sizes.unpacked > Integer.MAX_VALUE - 8) {
      throw new ExrException(
          "%d bytes of samples, expected %d".formatted(sizes.unpacked, count * bytes));
    }
    ByteBuffer raw =
        codec.full(packed(c.data + 24 + sizes.counts, sizes.packed), b, (int) sizes.unpacked);
    int at = raw.arrayOffset();
    for (int line : lines) {
      int from = (int) starts[line];
      int length = (int) (starts[line + b.width()] - from);
      for (Map.Entry<Channel, Samples> e : pixels.entrySet()) {
        PixelType type = e.getKey().type();
        Pixels.get(raw.array(), at, type, e.getValue(), from, length);
        at += length * type.bytes();
      }
    }
  }
}
