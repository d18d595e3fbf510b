package org.wedgecutter.core.deliver.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.deliver.file.FilePicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.FileDigest;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.testing.Corpus;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;

/** Deliveries whose files somebody changed: each change by itself, and two at a time. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class FileChangesTest {
  private static final List<String> LAYERS = List.of("Floor", "Back", "Front");

  @TempDir static Path dir;
  private Path clean;
  private int copies;

  /** Does something to the file of a layer at frame 1. */
  private interface Change {
    void to(Path folder, Path file) throws Exception;
  }

  private interface PixelChange {
    void to(float[] rgba, int width, int height);
  }

  private final Map<Sentence, Change> changes = new LinkedHashMap<>();

  @BeforeAll
  void render() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Plan plan = shot.plan();
    Plan wide =
        plan.withShot(
            plan.requireShot()
                .with(s -> {
                  s.width = 96;
                  s.height = 64;
                }));
    clean = dir.resolve("clean");
    Renders.delivery(shot.withPlan(wide), clean, 1, false);
    pixels(Sentence.FILE_EXPOSED, (c, w, h) -> each(c, x -> x * 1.3));
    pixels(Sentence.FILE_GAMMA, (c, w, h) -> each(c, x -> Math.pow(Math.max(0, x), 1 / 2.2)));
    pixels(Sentence.FILE_ENCODED, (c, w, h) -> each(c, FileChangesTest::encoded));
    pixels(Sentence.FILE_TONE_MAPPED, (c, w, h) -> each(c, x -> x / (1 + x)));
    pixels(
        Sentence.FILE_QUANTISED,
        (c, w, h) -> each(c, x -> Math.rint(255 * Math.max(0, Math.min(1, x))) / 255));
    pixels(Sentence.FILE_UNPREMULTIPLIED, (c, w, h) -> alpha(c, a -> 1 / a));
    pixels(Sentence.FILE_PREMULTIPLIED_TWICE, (c, w, h) -> alpha(c, a -> a));
    pixels(Sentence.FILE_CHANNELS, FileChangesTest::swapped);
    pixels(Sentence.FILE_SHIFTED, FileChangesTest::shifted);
    pixels(
        Sentence.FILE_GAIN,
        (c, w, h) -> {
          for (int i = 0; i < c.length; i += 4) {
            c[i] *= 1.4f;
            c[i + 2] *= 0.7f;
          }
        });
    pixels(
        Sentence.FILE_LOG,
        (c, w, h) -> each(c, x -> x <= 0 ? 0 : 0.6 + 0.08 * Math.log(x) / Math.log(2)));
    pixels(Sentence.FILE_EMPTY, (c, w, h) -> java.util.Arrays.fill(c, 0));
    pixels(Sentence.FILE_INVALID, (c, w, h) -> c[4 * (w * h / 2 + w / 2)] = Float.NaN);
    tool(Sentence.FILE_MIRRORED, "--flop");
    tool(Sentence.FILE_MOVED, "--origin", "+2+1");
    tool(Sentence.FILE_UPSIDE_DOWN, "--flip");
    tool(Sentence.FILE_RESIZED, "--resize", "48x32", "--fullpixels");
    tool(Sentence.FILE_FILTERED, "--blur", "5x5");
    tool(Sentence.FILE_CROPPED, "--crop", "70x64+0+0");
    tool(Sentence.FILE_ALPHA, "--ch", "R,G,B");
    tool(Sentence.FILE_RECOMPRESSED, "--compression", "dwaa:200");
    Programs.run(dir, tooled.toArray(String[]::new));
    changes.put(Sentence.FILE_MISSING, (folder, file) -> Files.delete(file));
    changes.put(
        Sentence.FILE_UNREADABLE, (folder, file) -> Files.writeString(file, "not a picture"));
    changes.put(
        Sentence.FILE_EXCHANGED,
        (folder, file) -> {
          Path other = Path.of(file.toString().replace("0001", "0002"));
          // of what stands still both frames are one file
          if (Files.exists(other)) {
            Files.copy(other, file, StandardCopyOption.REPLACE_EXISTING);
          } else {
            Files.copy(
                folder.resolve("set/Front/set_Front.0001.exr"),
                file,
                StandardCopyOption.REPLACE_EXISTING);
          }
        });
  }

  private void pixels(Sentence sentence, PixelChange change) {
    changes.put(
        sentence,
        (folder, file) -> {
          Picture p = ExrFrames.read(file).copy();
          change.to(p.rgba(), p.width(), p.height());
          write(p, file);
        });
  }

  private final List<String> tooled = new ArrayList<>(List.of("oiiotool"));

  /**
   * What an image tool does. It takes longer to start than to change a file: it changes those of
   * all layers in one go, and a compression stays on for those after it.
   */
  private void tool(Sentence sentence, String... command) throws IOException {
    for (String layer : LAYERS) {
      tooled.add(file(clean, layer).toString());
      tooled.addAll(List.of(command));
      tooled.addAll(List.of("-d", "half", "-o", dir.resolve(sentence + layer).toString() + ".exr"));
    }
    changes.put(
        sentence,
        (folder, file) -> {
          String layer = file.getFileName().toString().replaceAll(".*_(.*)\\.\\d+\\.exr", "$1");
          Files.copy(
              dir.resolve(sentence + layer + ".exr"), file, StandardCopyOption.REPLACE_EXISTING);
        });
  }

  private static void write(Picture p, Path file) throws IOException {
    var channels = ExrPart.newChannels();
    String[] names = {"R", "G", "B", "A"};
    for (int c = 0; c < 4; c++) {
      float[] plane = new float[p.width() * p.height()];
      for (int k = 0; k < plane.length; k++) {
        plane[k] = p.rgba()[4 * k + c];
      }
      channels.put(new Channel(names[c], PixelType.HALF), new Samples.Real(plane));
    }
    Box box = Box.ofSize(p.width(), p.height());
    try (var out = Files.newOutputStream(file)) {
      ExrWriter.write(
          new ExrImage(List.of(new ExrPart("", Compression.ZIP, box, box, Map.of(), channels))),
          out);
    }
  }

  private interface Curve {
    double of(double x);
  }

  private static void each(float[] c, Curve curve) {
    for (int i = 0; i < c.length; i++) {
      c[i] = (i & 3) == 3 ? c[i] : (float) curve.of(c[i]);
    }
  }

  private static double encoded(double x) {
    return x <= 0.0031308 ? 12.92 * x : 1.055 * Math.pow(x, 1 / 2.4) - 0.055;
  }

  private static void alpha(float[] c, Curve factor) {
    for (int i = 0; i < c.length; i += 4) {
      for (int k = i; k < i + 3 && c[i + 3] > 0; k++) {
        c[k] *= (float) factor.of(c[i + 3]);
      }
    }
  }

  private static void shifted(float[] c, int width, int height) {
    for (int y = 0; y < height; y++) {
      int line = 4 * width * y;
      System.arraycopy(c, line, c, line + 4, 4 * (width - 1));
    }
  }

  private static void swapped(float[] c, int width, int height) {
    for (int i = 0; i < c.length; i += 4) {
      float red = c[i];
      c[i] = c[i + 2];
      c[i + 2] = red;
    }
  }

  // ---- the tests

  private Path copied(String name) throws IOException {
    Path to = dir.resolve(name);
    try (Stream<Path> all = Files.walk(clean)) {
      for (Path p : all.toList()) {
        Path at = to.resolve(clean.relativize(p).toString());
        if (Files.isDirectory(p)) {
          Files.createDirectories(at);
        } else {
          Files.copy(p, at);
        }
      }
    }
    return to;
  }

  private static Path file(Path folder, String layer) throws IOException {
    return folder.resolve(Delivery.read(folder).held(layer, 1).orElseThrow().path());
  }

  /** A layer's file as each change makes it, which is made once; none where it is deleted. */
  private final Map<String, Optional<byte[]>> made = new ConcurrentHashMap<>();

  private void change(Sentence change, Path folder, String layer) throws Exception {
    Path file = file(folder, layer);
    String key = change + layer;
    Optional<byte[]> known = made.get(key);
    if (known == null) {
      changes.get(change).to(folder, file);
      made.put(key, Files.exists(file) ? Optional.of(Files.readAllBytes(file)) : Optional.empty());
    } else if (known.isPresent()) {
      Files.write(file, known.get());
    } else {
      Files.delete(file);
    }
  }

  /** Whether a change shows in a layer at all: what is grey has red and blue alike. */
  private boolean shows(Sentence change, String layer) throws Exception {
    Path folder = copied("look-%s-%s-%d".formatted(change, layer, copies++));
    Path file = file(folder, layer);
    Picture before = DeliveryPictures.layer(Delivery.read(folder), layer, 1);
    change(change, folder, layer);
    if (!Files.exists(file)
        || change == Sentence.FILE_UNREADABLE
        || change == Sentence.FILE_ALPHA) {
      return true;
    }
    FilePicture read = FilePicture.read(Delivery.read(folder), layer, file, FilePicture.COLOURS);
    if (!read.fits()) {
      return true;
    }
    Picture after = read.picture();
    double difference = 0;
    for (int i = 0; i < before.rgba().length; i++) {
      difference += Math.abs(after.rgba()[i] - before.rgba()[i]);
    }
    return !(difference <= 0.5);
  }

  Stream<Sentence> kinds() {
    return changes.keySet().stream();
  }

  @Test
  void aCleanDeliveryHasNoCauses() throws Exception {
    DeliveryProof proof = DeliveryProof.prove(Delivery.read(clean), 1);
    assertThat(proof.causes()).isEmpty();
    assertThat(proof.exact()).isTrue();
    assertThat(changes).hasSizeGreaterThanOrEqualTo(15);
  }

  @Test
  void whatIsRoundedWhereMuchLightCancelsIsNoChange() throws Exception {
    Path folder = copied("cancels");
    for (String layer : List.of("Floor", "Back")) {
      Path file = file(folder, layer);
      String digest = FileDigest.sha256(file);
      Picture p = ExrFrames.read(file).copy();
      for (int i = 0; i < p.rgba().length; i++) {
        double added = (i & 3) == 3 ? 0 : 300 + 0.37 * (i % 7);
        p.rgba()[i] += (float) (layer.equals("Floor") ? added : -added);
      }
      write(p, file);
      // its records are of somebody who delivers it like that
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path json : all.filter(j -> j.toString().endsWith(".json")).toList()) {
          String text = Files.readString(json).replace(digest, FileDigest.sha256(file));
          Files.writeString(json, text);
        }
      }
    }
    DeliveryProof proof = DeliveryProof.prove(Delivery.read(folder), 1);
    assertThat(proof.residual().max()).as("it is rounded").isGreaterThan(0.05);
    assertThat(proof.causes()).isEmpty();
    assertThat(proof.exact()).isTrue();
  }

  @ParameterizedTest
  @MethodSource("kinds")
  void eachChangeIsRecognised(Sentence change) throws Exception {
    int seen = 0;
    for (String layer : LAYERS) {
      if (showing(change, layer)) {
        seen++;
        Path folder = copied(change + "-" + layer);
        change(change, folder, layer);
        List<Cause> causes = DeliveryProof.prove(Delivery.read(folder), 1).causes();
        assertThat(causes).as("%s of %s", change, layer).isNotEmpty();
        Cause first = causes.getFirst();
        assertThat(first.layer()).isEqualTo(layer);
        assertThat(sentence(first)).as(first.text()).isEqualTo(change);
        assertThat(first.share()).as(first.text()).isGreaterThan(0.5);
        assertThat(causes).hasSize(1);
      }
    }
    assertThat(seen).as("it shows somewhere").isPositive();
  }

  private static Sentence sentence(Cause cause) {
    return cause.message().sentence();
  }

  /** Two changes, each of another layer. */
  private record Pair(Sentence a, String one, Sentence b, String two) {
    @Override
    public String toString() {
      return "%s of %s, %s of %s".formatted(a, one, b, two);
    }
  }

  @Test
  void twoChangesAtATimeAreRecognisedIn95Percent() throws Exception {
    List<Sentence> kinds = List.copyOf(changes.keySet());
    List<Pair> pairs = new ArrayList<>();
    for (int a = 0; a < kinds.size(); a++) {
      for (int b = a + 1; b < kinds.size(); b++) {
        String one = LAYERS.get((a + b) % 3);
        String two = LAYERS.get((a + b + 1) % 3);
        boolean isTaken = (a + b) % Corpus.many(8, 1) == 1 % Corpus.many(8, 1);
        if (isTaken && showing(kinds.get(a), one) && showing(kinds.get(b), two)) {
          pairs.add(new Pair(kinds.get(a), one, kinds.get(b), two));
        }
      }
    }
    List<String> wrong =
        IntStream.range(0, pairs.size())
            .parallel()
            .mapToObj(k -> wrong(pairs.get(k), "pair-" + k))
            .filter(told -> !told.isEmpty())
            .toList();
    assertThat(pairs).hasSizeGreaterThan(20);
    assertThat(1 - (double) wrong.size() / pairs.size())
        .as(String.join("\n", wrong))
        .isGreaterThanOrEqualTo(0.95);
  }

  /** Returns the causes that a pair yields if they are the wrong ones; else nothing. */
  private String wrong(Pair pair, String name) {
    try {
      Path folder = copied(name);
      change(pair.a, folder, pair.one);
      change(pair.b, folder, pair.two);
      List<Cause> causes = DeliveryProof.prove(Delivery.read(folder), 1).causes();
      return isFirst(causes, pair.a, pair.one) && isFirst(causes, pair.b, pair.two)
          ? ""
          : pair + ": " + causes.stream().map(Cause::text).toList();
    } catch (Exception e) {
      return pair + ": " + e;
    }
  }

  private final Map<String, Boolean> shown = new LinkedHashMap<>();

  private boolean showing(Sentence change, String layer) throws Exception {
    String key = change + layer;
    Boolean known = shown.get(key);
    if (known == null) {
      known = shows(change, layer);
      shown.put(key, known);
    }
    return known;
  }

  private static boolean isFirst(List<Cause> causes, Sentence change, String layer) {
    return causes.stream().limit(2).anyMatch(c -> sentence(c) == change && c.layer().equals(layer));
  }

  @Test
  void twoVersionsAreComparedLayerByLayer() throws Exception {
    Path folder = copied("version");
    changes.get(Sentence.FILE_EXPOSED).to(folder, file(folder, "Front"));
    Delivery first = Delivery.read(clean);
    Delivery second = Delivery.read(folder);
    assertThat(DeliveryComparison.of(first, first, 1).isSame()).isTrue();
    DeliveryComparison told = DeliveryComparison.of(first, second, 1);
    assertThat(told.parts())
        .extracting(DeliveryComparison.Part::layer)
        .containsExactly("Floor", "Back", "Front", "uncut", "rejoined");
    assertThat(told.parts())
        .filteredOn(p -> !p.isSame())
        .extracting(DeliveryComparison.Part::layer)
        .containsExactly("Front", "rejoined");
    Delivery fewer =
        second.withFiles(second.files().stream().filter(f -> !f.layer().equals("Back")).toList());
    assertThat(
            DeliveryComparison.of(
                    first,
                    fewer.withRecipe(
                        fewer
                            .plan()
                            .recipe()
                            .withJoins(
                                fewer.plan().recipe().joins().stream()
                                    .filter(s -> !s.layer().equals("Back"))
                                    .toList()),
                        fewer.folder()),
                    1)
                .parts()
                .get(1)
                .there())
        .isEqualTo("first");
  }

  @Test
  void aDeliveryThatSomebodyElseMadeIsLookedAtWithoutDigests() throws Exception {
    List<String> wrong = new ArrayList<>();
    int all = 0;
    for (Sentence change : changes.keySet()) {
      // in one layer each, by turns: with records, every layer had all of them
      List<String> layers = new ArrayList<>(LAYERS);
      for (String layer : LAYERS) {
        if (!showing(change, layer)) {
          layers.remove(layer);
        }
      }
      for (String layer : List.of(layers.get(all % layers.size()))) {
        Path folder = copied("theirs-" + change + "-" + layer);
        change(change, folder, layer);
        List<Cause> causes = DeliveryProof.prove(theirs(folder), 1).causes();
        Cause first = causes.isEmpty() ? null : causes.getFirst();
        all++;
        if (first == null || sentence(first) != change || !first.layer().equals(layer)) {
          wrong.add("%s of %s: %s".formatted(change, layer, causes));
        }
      }
    }
    assertThat(wrong).as(all + " changes").isEmpty();
  }

  /** The delivery as its files are, without records and without its scene. */
  private static Delivery theirs(Path folder) throws IOException {
    Delivery told = Delivery.read(folder);
    List<Delivery.Entry> files = new ArrayList<>();
    for (Delivery.Entry f : told.files()) {
      Path file = folder.resolve(f.path());
      files.add(
          new Delivery.Entry(
              f.path(),
              f.layer(),
              f.frame(),
              f.uncut(),
              f.passes(),
              Files.exists(file) ? FileDigest.sha256(file) : f.sha256(),
              f.bytes(),
              f.samples(),
              f.seconds(),
              f.rays(),
              f.heldAt()));
    }
    return new Delivery(
        folder,
        told.plan(),
        told.width(),
        told.height(),
        told.region(),
        told.samples(),
        told.seed(),
        "",
        List.of(),
        files,
        List.of());
  }
}
