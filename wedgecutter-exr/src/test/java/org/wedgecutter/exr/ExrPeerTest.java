package org.wedgecutter.exr;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.SortedMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Random pictures of every kind, written here and read by the OpenEXR project's own library, and
 * the other way about. That library is driven by a small program that is compiled first.
 */
class ExrPeerTest {
  @TempDir static Path tools;
  private static Path peer;

  @TempDir Path dir;

  @BeforeAll
  static void compile() throws Exception {
    peer = tools.resolve("peer");
    Path source = Path.of("src/test/native/peer.cpp").toAbsolutePath();
    run(
        tools,
        "sh",
        "-c",
        "g++ -O1 -std=c++17 -o peer '%s' $(pkg-config --cflags --libs OpenEXR)".formatted(source));
  }

  private static void run(Path where, String... command) throws Exception {
    Process process =
        new ProcessBuilder(command).directory(where.toFile()).redirectErrorStream(true).start();
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor()).as("%s: %s", List.of(command), out).isZero();
  }

  private Path copy(Path from, Compression to, String kind) throws Exception {
    Path out = dir.resolve("%s-%s-%d.exr".formatted(to, kind, System.nanoTime()));
    run(dir, peer.toString(), "copy", from.toString(), out.toString(), to.name(), kind);
    return out;
  }

  private Path write(ExrPart... parts) throws Exception {
    Path file = dir.resolve("ours-%d.exr".formatted(System.nanoTime()));
    try (var out = Files.newOutputStream(file)) {
      ExrWriter.write(new ExrImage(List.of(parts)), out);
    }
    return file;
  }

  // ---- random pictures

  private static final String[] NAMES = {
    "R", "G", "B", "A", "Z", "diffuse.R", "diffuse.G", "diffuse.B", "id", "Y", "BY", "RY", "N.X"
  };

  /**
   * A part with random channels. Numbers are any bits where nothing may be lost; otherwise they are
   * like light.
   *
   * @param sub whether channels may be sub-sampled
   */
  private static ExrPart random(
      String name, long seed, Compression compression, boolean anyBits, boolean sub) {
    Random random = new Random(seed);
    int x = 2 * (random.nextInt(20) - 10);
    int y = 2 * (random.nextInt(20) - 10);
    Box box = new Box(x, y, x + 2 * random.nextInt(40) + 1, y + 2 * random.nextInt(40) + 1);
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    for (String n : NAMES) {
      if (random.nextInt(3) > 0 || (n.equals("Z") && channels.isEmpty())) {
        int sampling = sub && random.nextInt(4) == 0 ? 2 : 1;
        PixelType type = PixelType.values()[random.nextInt(3)];
        Channel c = new Channel(n, type, random.nextInt(5) == 0, sampling, sampling);
        channels.put(c, numbers(random, c, (int) c.samples(box), anyBits));
      }
    }
    Map<String, Attribute> attributes = new LinkedHashMap<>();
    attributes.put("owner", new Attribute.Text("nobody"));
    ExrHeader header =
        ExrHeader.of(
            name, compression, box, Box.ofSize(40, 30), attributes, List.copyOf(channels.keySet()));
    return new ExrPart(header, List.of(new Level(0, 0, box, null, channels)));
  }

  private static Samples numbers(Random random, Channel c, int count, boolean anyBits) {
    int kind = random.nextInt(3);
    if (c.type() == PixelType.UINT) {
      int[] out = new int[count];
      for (int k = 0; k < count; k++) {
        out[k] = kind == 0 ? 7 : kind == 1 ? k / 5 : random.nextInt();
      }
      return new Samples.Whole(out);
    }
    float[] out = new float[count];
    for (int k = 0; k < count; k++) {
      double light =
          kind == 0 ? 0.18 : Math.abs(Math.sin(k * 0.02) * 2 + 0.3 * random.nextGaussian());
      out[k] =
          !anyBits || kind < 2
              ? (float) light
              : c.type() == PixelType.HALF
                  ? Half.toFloat((short) random.nextInt())
                  : Float.intBitsToFloat(random.nextInt());
      if (c.type() == PixelType.HALF) {
        out[k] = Half.toFloat(Half.of(out[k]));
      }
    }
    return new Samples.Real(out);
  }

  private static ExrPart as(ExrPart part, Compression compression, Tiles tiles, LineOrder order) {
    ExrHeader h = part.header();
    ExrHeader next =
        new ExrHeader(
            h.name(),
            compression,
            h.dataWindow(),
            h.displayWindow(),
            h.screen(),
            order,
            tiles,
            h.deep(),
            h.attributes(),
            h.channels());
    List<Level> levels = new ArrayList<>();
    List<Box> windows = next.windows();
    for (int l = 0; l < windows.size(); l++) {
      levels.add(
          new Level(
              next.levelX(l),
              next.levelY(l),
              windows.get(l),
              part.counts(),
              cropped(part, windows.get(l))));
    }
    return new ExrPart(next, levels);
  }

  /** The top left of a picture without sub-sampling, as the peer fills smaller levels. */
  private static SortedMap<Channel, Samples> cropped(ExrPart part, Box box) {
    Box full = part.dataWindow();
    if (box.equals(full)) {
      return part.channels();
    }
    SortedMap<Channel, Samples> out = ExrPart.newChannels();
    part.channels()
        .forEach((c, s) -> {
          Samples small = Pixels.samples(c, c.samples(box));
          for (int y = 0; y < box.height(); y++) {
            Object from = s instanceof Samples.Real r ? r.values() : ((Samples.Whole) s).values();
            Object to =
                small instanceof Samples.Real r ? r.values() : ((Samples.Whole) small).values();
            System.arraycopy(from, y * full.width(), to, y * box.width(), box.width());
          }
          out.put(c, small);
        });
    return out;
  }

  // ---- comparing

  private static int[] bits(Samples samples) {
    return switch (samples) {
      case Samples.Whole w -> w.values();
      case Samples.Real r -> {
        int[] out = new int[r.values().length];
        for (int k = 0; k < out.length; k++) {
          out[k] = Float.floatToRawIntBits(r.values()[k]);
        }
        yield out;
      }
    };
  }

  private static void assertSamePixels(ExrPart is, ExrPart was) {
    assertThat(is.levels()).hasSameSizeAs(was.levels());
    for (int l = 0; l < is.levels().size(); l++) {
      Level a = is.levels().get(l);
      Level b = was.levels().get(l);
      assertThat(a.window()).isEqualTo(b.window());
      assertThat(a.counts()).isEqualTo(b.counts());
      assertThat(a.channels().keySet()).containsExactlyElementsOf(b.channels().keySet());
      int level = l;
      a.channels()
          .forEach((c, s) ->
              assertThat(Arrays.equals(bits(s), bits(b.channels().get(c))))
                  .as("%s of level %d", c, level)
                  .isTrue());
    }
  }

  private static ExrPart first(Path file) throws Exception {
    return ExrReader.read(file).parts().getFirst();
  }

  private static Tiles tiles(String kind) {
    boolean up = kind.endsWith("up");
    return switch (kind) {
      case "tiles" -> Tiles.of(13, 9);
      case "mip", "mipup" -> new Tiles(13, 9, Tiles.Mode.MIP, up);
      case "rip", "ripup" -> new Tiles(13, 9, Tiles.Mode.RIP, up);
      default -> null;
    };
  }

  private static final List<String> KINDS =
      List.of("lines", "up", "tiles", "mip", "mipup", "rip", "ripup");

  static Stream<Arguments> lossless() {
    return Arrays.stream(Compression.values())
        .filter(Compression::isLossless)
        .flatMap(c -> KINDS.stream().map(k -> Arguments.of(c, k)));
  }

  @ParameterizedTest
  @MethodSource("lossless")
  void whatTheyWriteIsReadBitForBit(Compression compression, String kind) throws Exception {
    for (int seed = 0; seed < 6; seed++) {
      boolean flat = tiles(kind) == null;
      ExrPart part = random("", 31L * seed + kind.hashCode(), Compression.NONE, true, flat);
      Path theirs = copy(write(part), compression, kind);
      ExrPart read = first(theirs);
      assertThat(read.compression()).isEqualTo(compression);
      assertThat(read.header().tiles()).isEqualTo(tiles(kind));
      assertSamePixels(read, as(part, compression, tiles(kind), read.header().lineOrder()));
    }
  }

  @ParameterizedTest
  @MethodSource("lossless")
  void whatIsWrittenHereTheyReadBitForBit(Compression compression, String kind) throws Exception {
    for (int seed = 0; seed < 6; seed++) {
      boolean flat = tiles(kind) == null;
      ExrPart part = random("", 37L * seed + kind.hashCode(), Compression.NONE, true, flat);
      LineOrder order = kind.equals("up") ? LineOrder.DECREASING : LineOrder.INCREASING;
      ExrPart ours = as(part, compression, tiles(kind), order);
      Path file = write(ours);
      assertSamePixels(first(file), ours);
      assertSamePixels(first(copy(file, Compression.NONE, "lines")), part);
      List<Level> levels = ours.levels();
      Level last = levels.getLast();
      if (levels.size() > 1) {
        Path plain = dir.resolve("level.exr");
        run(
            dir,
            peer.toString(),
            "level",
            file.toString(),
            plain.toString(),
            Integer.toString(last.x()),
            Integer.toString(last.y()));
        assertThat(first(plain).channels().values().stream().map(ExrPeerTest::bits).toList())
            .usingRecursiveComparison()
            .isEqualTo(last.channels().values().stream().map(ExrPeerTest::bits).toList());
      }
    }
  }

  @Test
  void severalPartsOfSeveralKindsGoBothWays() throws Exception {
    ExrPart a = random("a", 1, Compression.PIZ, true, true);
    ExrPart b = random("b", 2, Compression.ZIP, true, false);
    ExrPart c =
        as(
            random("c", 3, Compression.RLE, true, false),
            Compression.RLE,
            Tiles.of(8, 8),
            LineOrder.INCREASING);
    Path ours = write(a, b, c);
    List<ExrPart> back = ExrReader.read(copy(ours, Compression.ZIPS, "lines")).parts();
    assertSamePixels(back.get(0), a);
    assertSamePixels(back.get(1), b);
    assertSamePixels(back.get(2), as(c, Compression.ZIPS, null, LineOrder.INCREASING));
  }

  // ---- with loss: both unpack the same file

  static Stream<Arguments> lossy() {
    return Arrays.stream(Compression.values())
        .filter(c -> !c.isLossless())
        .flatMap(c -> Stream.of("lines", "tiles").map(k -> Arguments.of(c, k)));
  }

  @ParameterizedTest
  @MethodSource("lossy")
  void whatTheyPackWithLossBothUnpackAlike(Compression compression, String kind) throws Exception {
    for (int seed = 0; seed < 8; seed++) {
      ExrPart part = random("", 41L * seed + 5, Compression.NONE, false, kind.equals("lines"));
      Path theirs = copy(write(part), compression, kind);
      assertAlike(first(theirs), first(copy(theirs, Compression.NONE, "lines")), part, compression);
    }
  }

  @ParameterizedTest
  @MethodSource("lossy")
  void whatIsPackedHereWithLossBothUnpackAlike(Compression compression, String kind)
      throws Exception {
    if (!compression.isWritten()) {
      return;
    }
    for (int seed = 0; seed < 8; seed++) {
      ExrPart part = random("", 43L * seed + 5, Compression.NONE, false, kind.equals("lines"));
      Path ours = write(as(part, compression, tiles(kind), LineOrder.INCREASING));
      assertAlike(first(ours), first(copy(ours, Compression.NONE, "lines")), part, compression);
    }
  }

  private static void assertAlike(
      ExrPart ours, ExrPart theirs, ExrPart was, Compression compression) {
    boolean dwa = compression == Compression.DWAA || compression == Compression.DWAB;
    ours.channels()
        .forEach((c, s) -> {
          Samples other = theirs.channels().get(c);
          if (!dwa || s instanceof Samples.Whole) {
            assertThat(bits(s)).as("%s", c).isEqualTo(bits(other));
          }
          if (s instanceof Samples.Real real) {
            float[] right = ((Samples.Real) was.channels().get(c)).values();
            for (int k = 0; k < right.length; k++) {
              float v = real.values()[k];
              // sums in another order, and a rounding to halves before and after a curve
              assertThat(v)
                  .as("%s at %d", c, k)
                  .isCloseTo(
                      ((Samples.Real) other).values()[k],
                      within(dwa ? 0.004f * Math.max(0.05f, Math.abs(v)) : 0));
              assertThat(v)
                  .as("%s at %d beside what was packed", c, k)
                  .isCloseTo(right[k], within(loss(compression) * Math.max(0.3f, right[k])));
            }
          }
        });
  }

  private static float loss(Compression compression) {
    return switch (compression) {
      case PXR24 -> 1f / (1 << 15);
      // six bits for the largest step of a square
      case B44, B44A -> 0.6f;
      default -> 0.12f;
    };
  }

  // ---- deep

  private static ExrPart deep(long seed, Compression compression) {
    Random random = new Random(seed);
    int x = random.nextInt(20) - 10;
    int y = random.nextInt(20) - 10;
    Box box = new Box(x, y, x + random.nextInt(40), y + random.nextInt(40));
    int[] counts = new int[box.width() * box.height()];
    int all = 0;
    for (int p = 0; p < counts.length; p++) {
      counts[p] = random.nextInt(3) == 0 ? 0 : random.nextInt(5);
      all += counts[p];
    }
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    for (String n : List.of("A", "R", "Z", "ZBack", "id")) {
      Channel c =
          new Channel(
              n,
              n.equals("id")
                  ? PixelType.UINT
                  : n.startsWith("Z") ? PixelType.FLOAT : PixelType.HALF);
      channels.put(c, numbers(random, c, all, true));
    }
    ExrHeader header =
        new ExrHeader(
            "deep",
            compression,
            box,
            box,
            Screen.PLAIN,
            LineOrder.INCREASING,
            null,
            true,
            Map.of(),
            List.copyOf(channels.keySet()));
    return new ExrPart(header, List.of(new Level(0, 0, box, counts, channels)));
  }

  @ParameterizedTest
  @ValueSource(strings = {"NONE", "RLE", "ZIPS"})
  void deepPicturesGoBothWays(String compression) throws Exception {
    Compression packing = Compression.valueOf(compression);
    for (int seed = 0; seed < 6; seed++) {
      ExrPart part = deep(seed, packing);
      Path ours = write(part);
      assertSamePixels(first(ours), part);
      assertSamePixels(first(copy(ours, packing, "deep")), part);
      ExrPart tiles = first(copy(ours, packing, "deeptiles"));
      assertThat(tiles.header().type()).isEqualTo("deeptile");
      assertSamePixels(tiles, part);
    }
  }

  // ---- attributes

  @Test
  void everyStandardAttributeSurvivesTheirHands() throws Exception {
    Map<String, Attribute> all = new LinkedHashMap<>();
    all.put("aText", new Attribute.Text("né"));
    all.put("anInt", new Attribute.Int(-3));
    all.put("aFloat", new Attribute.Real(0.25f));
    all.put("aDouble", new Attribute.Double(Math.PI));
    all.put("aRational", new Attribute.Rational(24000, 1001));
    all.put("chromaticities", Attribute.Chromaticities.BT709);
    all.put("am44f", new Attribute.Matrix(new float[16]));
    all.put("am33f", new Attribute.Reals("m33f", 1, 2, 3, 4, 5, 6, 7, 8, 9));
    all.put("am33d", new Attribute.Doubles("m33d", 1, 2, 3, 4, 5, 6, 7, 8, 9));
    all.put("am44d", new Attribute.Doubles("m44d", new double[16]));
    all.put("av2i", new Attribute.Ints("v2i", 1, -2));
    all.put("av3i", new Attribute.Ints("v3i", 1, -2, 3));
    all.put("av2f", new Attribute.Reals("v2f", 1, -2));
    all.put("av3f", new Attribute.Reals("v3f", 1, -2, 3));
    all.put("av2d", new Attribute.Doubles("v2d", 1, -2));
    all.put("av3d", new Attribute.Doubles("v3d", 1, -2, 3));
    all.put("abox2i", new Attribute.Ints("box2i", 1, -2, 3, 4));
    all.put("abox2f", new Attribute.Reals("box2f", 1, -2, 3, 4));
    all.put("akeycode", new Attribute.Ints("keycode", 1, 2, 3, 4, 5, 4, 64));
    all.put("atimecode", new Attribute.Ints("timecode", 0x01020304, 5));
    all.put("envmap", new Attribute.Code("envmap", (byte) 1));
    all.put("texts", new Attribute.Texts(List.of("one", "", "three")));
    all.put("preview", new Attribute.Preview(2, 1, new byte[] {1, 2, 3, 4, 5, 6, 7, 8}));
    all.put("anAttributeWhoseNameIsLongerThanThirtyOne", new Attribute.Int(1));
    all.put("unknown", new Attribute.Raw("of.a.stranger", new byte[] {1, 2, 3}));
    Box box = Box.ofSize(3, 2);
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    channels.put(new Channel("R", PixelType.HALF), new Samples.Real(new float[6]));
    ExrHeader header =
        new ExrHeader(
            "",
            Compression.ZIP,
            box,
            new Box(-1, -2, 9, 9),
            new Screen(2, 0.5f, -0.25f, 3),
            LineOrder.INCREASING,
            null,
            false,
            all,
            List.copyOf(channels.keySet()));
    Path ours = write(new ExrPart(header, List.of(new Level(0, 0, box, null, channels))));
    ExrHeader back = first(copy(ours, Compression.ZIP, "lines")).header();
    assertThat(back.screen()).isEqualTo(header.screen());
    assertThat(back.displayWindow()).isEqualTo(header.displayWindow());
    assertThat(back.attributes().keySet()).containsAll(all.keySet());
    all.forEach((name, value) -> {
      Attribute found = back.attributes().get(name);
      assertThat(found.type()).as(name).isEqualTo(value.type());
      assertThat(found.getClass()).as(name).isEqualTo(value.getClass());
      assertThat(found.encode()).as(name).isEqualTo(value.encode());
    });
  }
}
