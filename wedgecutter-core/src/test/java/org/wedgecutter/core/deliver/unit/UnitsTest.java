package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitFolder;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.io.FileDigest;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.Corpus;
import org.wedgecutter.core.testing.ShotFolder;

/** Units of work: what is done stays done, whoever did it, and only what changed is made again. */
class UnitsTest {
  @TempDir Path dir;

  private static DeliveryOrder order(LoadedShot shot, Path out, List<Integer> frames) {
    return new DeliveryOrder(
        out, List.of(), frames, true, FrameRenderer.Settings.of(shot, 1, 0, 2, false), true);
  }

  private static Delivery render(LoadedShot shot, DeliveryOrder order) throws Exception {
    return new DeliveryRenderer(shot, order).run((f, p, s) -> {});
  }

  private Delivery render(LoadedShot shot, String name) throws Exception {
    return render(shot, order(shot, dir.resolve(name), List.of(1, 2)));
  }

  private static LoadedShot edited(LoadedShot shot, String from, String to) throws Exception {
    assertThat(ShotFolder.PLAN).contains(from);
    Plan plan = PlanReader.parse(ShotFolder.PLAN.replace(from, to), shot.file());
    return shot.withPlan(plan).withPicturesOf(plan);
  }

  private static Map<String, String> digests(LoadedShot shot) throws Exception {
    Map<String, String> out = new TreeMap<>();
    for (Unit u :
        new DeliveryRenderer(shot, order(shot, Path.of("nowhere"), List.of(1, 2))).units()) {
      out.put(u.key().name(), u.digest());
    }
    return out;
  }

  /** The bytes of every picture of a delivery. */
  private static Map<String, String> bytes(Path folder) throws IOException {
    Map<String, String> out = new TreeMap<>();
    try (var files = Files.walk(folder)) {
      for (Path f : files.filter(p -> p.toString().endsWith(".exr")).toList()) {
        out.put(folder.relativize(f).toString(), FileDigest.sha256(f));
      }
    }
    return out;
  }

  private static final Map<String, String> HARMLESS = new LinkedHashMap<>();
  private static final Map<String, String> FELT = new LinkedHashMap<>();

  static {
    HARMLESS.put("\"hue\": 1", "\"hue\": 5");
    HARMLESS.put(
        "\"name\": \"Front\", \"rule\": \"front\"",
        "\"name\": \"Front\", \"rule\": \"name:front\"");
    HARMLESS.put(
        "{\"layer\": \"Back\", \"join\": \"plus\"}", "{\"layer\": \"Back\", \"join\": \"over\"}");
    HARMLESS.put("\"frames\": \"1-2\"", "\"frames\": \"1-20\"");
    FELT.put("\"colour\": \"half\"", "\"colour\": \"float\"");
    FELT.put("\"bounces\": 2", "\"bounces\": 1");
    FELT.put("\"image\": \"sky.hdr\"", "\"image\": \"sky.hdr\", \"turn\": 90");
    FELT.put(
        "{\"Back\": {\"role\": \"Seen\"}}",
        "{\"Back\": {\"role\": \"Seen\"}, \"Front\": {\"role\": \"Unseen\"}}");
    FELT.put(
        "{\"Front\": {\"role\": \"Seen\"}}",
        "{\"Front\": {\"role\": \"Seen\", \"overrides\": [{\"property\": \"material.base-color\","
            + " \"verb\": \"set\", \"value\": [0.9, 0.1, 0.1], \"on\": true}]}}");
    // passes that come on in one layer leave the files of the others as they are
    FELT.put(
        "\"passes\": true",
        "\"passes\": true, \"more\": [\"depth\", \"deep\"], \"left_out\": {"
            + "\"Back\": [\"depth\", \"deep\"], \"Floor\": [\"depth\", \"deep\"]}");
  }

  @Test
  void whatAPassIsLimitedToChangesTheDigestsOfThoseThatHaveIt() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    String albedo =
        "\"passes\": true, \"more\": [\"albedo\"], \"left_out\": {\"Back\": [\"albedo\"]}";
    String from = "\"passes\": true";
    Map<String, String> all = digests(edited(shot, from, albedo));
    Map<String, String> limited =
        digests(edited(shot, from, albedo + ", \"limited_to\": {\"albedo\": \"Front\"}"));
    assertThat(limited.get("Front.0001")).isNotEqualTo(all.get("Front.0001"));
    assertThat(limited.get("Back.0001")).isEqualTo(all.get("Back.0001"));
  }

  @Test
  void whatChangesAPixelChangesItsDigestAndWhatChangesNoneDoesNot() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Map<String, String> before = digests(shot);
    Map<String, String> pictures = bytes(render(shot, "before").folder());
    List<Map.Entry<String, String>> edits = new ArrayList<>(HARMLESS.entrySet());
    edits.addAll(FELT.entrySet());
    int number = 0;
    for (Map.Entry<String, String> edit : edits) {
      LoadedShot after = edited(shot, edit.getKey(), edit.getValue());
      Map<String, String> now = digests(after);
      Map<String, String> rendered = bytes(render(after, "after" + number++).folder());
      for (String unit : before.keySet()) {
        String layer = unit.substring(0, unit.indexOf('.'));
        String file = "set/%s/set_%s.exr".formatted(layer, unit);
        assertThat(now.get(unit).equals(before.get(unit)))
            .as("%s after %s", unit, edit)
            .isEqualTo(rendered.get(file).equals(pictures.get(file)));
      }
      assertThat(now.equals(before)).as("%s", edit).isEqualTo(HARMLESS.containsKey(edit.getKey()));
    }
  }

  @Test
  void aChangeOfTheSceneTouchesWhatDependsOnIt() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Map<String, String> before = digests(shot);
    Path scene = dir.resolve("shot/set.glb");
    byte[] glb = Files.readAllBytes(scene);
    // a corner of the one mesh that all three objects share
    byte[] corner = {0, 0, (byte) 0x80, (byte) 0xbf};
    int at = indexOf(glb, corner);
    glb[at + 2] = 0x40;
    Files.write(scene, glb);
    assertThat(digests(LoadedShot.load(shot.file())).values())
        .doesNotContainAnyElementsOf(before.values());
    assertThat(digests(ShotFolder.load(dir.resolve("again")))).isEqualTo(before);
  }

  @Test
  void whatOnlyTheCameraSeesCountsAllTheSame() throws Exception {
    String seen = "\"cells\": {\"Front\": {\"role\": \"Seen\"}}";
    LoadedShot shot =
        ShotFolder.changed(
            dir.resolve("shot"), seen, "\"cells\": {\"Front\": " + HeldFramesTest.INERT + "}");
    UnitDigests digests = new UnitDigests(shot, FrameRenderer.Settings.of(shot, 1, 0, 1, false));
    assertThat(digests.of(2, 1)).isNotEqualTo(digests.of(2, 2));
  }

  private static int indexOf(byte[] in, byte[] what) {
    for (int i = 0; i + what.length <= in.length; i++) {
      if (java.util.Arrays.equals(in, i, i + what.length, what, 0, what.length)) {
        return i;
      }
    }
    throw new AssertionError("not found");
  }

  @Test
  void aFinishedUnitOutlivesAnEditThatDoesNotTouchIt() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Path out = dir.resolve("out");
    render(shot, order(shot, out, List.of(1)));
    try (var all = Files.walk(out)) {
      for (Path f : all.filter(p -> p.toString().endsWith(".exr")).toList()) {
        Files.setLastModifiedTime(f, FileTime.fromMillis(1000));
      }
    }
    LoadedShot harmless = edited(shot, "\"hue\": 1", "\"hue\": 5");
    assertThat(render(harmless, order(harmless, out, List.of(1, 2))).files()).hasSize(8);
    Path back = out.resolve("set/Back/set_Back.0001.exr");
    assertThat(Files.getLastModifiedTime(back)).isEqualTo(FileTime.fromMillis(1000));
    assertThat(Delivery.read(out).plan()).isEqualTo(harmless.plan());

    String from = "{\"Back\": {\"role\": \"Seen\"}}";
    LoadedShot felt = edited(shot, from, FELT.get(from));
    assertThatThrownBy(() -> render(felt, order(felt, out, List.of(1, 2))))
        .hasMessageContaining("2 of 8 files are of an earlier state")
        .hasMessageContaining("'Back' at frame 1");
    DeliveryStatus stale = DeliveryStatus.read(out, felt);
    assertThat(stale.count(UnitState.STALE)).isEqualTo(2);
    assertThat(stale.count(UnitState.DONE)).isEqualTo(6);
    List<String> made =
        made(new DeliveryRenderer(felt, order(felt, out, List.of(1, 2)).changing(true)));
    assertThat(made).containsExactly("Back.0001", "Back.0002");
    assertThat(Files.getLastModifiedTime(out.resolve("set/Front/set_Front.0001.exr")))
        .isEqualTo(FileTime.fromMillis(1000));
    assertThat(bytes(out)).isEqualTo(bytes(render(felt, "whole").folder()));
  }

  /** Renders, and returns the units that were begun, in order. */
  private static List<String> made(DeliveryRenderer renderer) throws IOException {
    List<String> made = new ArrayList<>();
    renderer.run(
        new DeliveryRenderer.Progress() {
          @Override
          public void at(int frame, double frameShare, double share) {}

          @Override
          public void unit(Unit unit, UnitState state) {
            if (state == UnitState.RUNNING) {
              made.add(unit.key().name());
            }
          }
        });
    return made;
  }

  @Test
  void sharesOfTheWorkMakeTheSameDelivery() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Path out = dir.resolve("out");
    for (int k : new int[] {2, 3, 1}) {
      render(shot, order(shot, out, List.of(1, 2)).withShare(new DeliveryOrder.Share(k, 3)));
    }
    assertThat(bytes(out)).hasSize(8).isEqualTo(bytes(render(shot, "whole").folder()));
    assertThat(DeliveryStatus.read(out).count(UnitState.DONE)).isEqualTo(8);
    assertThatThrownBy(() -> new DeliveryOrder.Share(4, 3)).hasMessageContaining("expected K/N");
  }

  @Test
  void aPlanOfAnotherShapeStillTellsTheStateOfTheDelivery() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Path out = dir.resolve("out");
    render(shot, order(shot, out, List.of(1)));
    LoadedShot wide = edited(shot, "\"size\": [40, 24]", "\"size\": [90, 24]");
    assertThat(DeliveryStatus.read(out, wide).count(UnitState.DONE)).isEqualTo(4);
  }

  @Test
  void cellsAloneAreRendered() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Delivery cells =
        render(
            shot,
            order(shot, dir.resolve("out"), List.of(1, 2))
                .withCells(Map.of("Back", Set.of(2), "uncut", Set.of(1))));
    assertThat(cells.files())
        .extracting(e -> e.layer() + " " + e.frame())
        .containsExactly("uncut 1", "Back 2");
  }

  @Test
  void recordsThatDoNotFitAreToldAndMadeAgain() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Path out = dir.resolve("out");
    render(shot, order(shot, out, List.of(1)));
    Map<String, String> whole = bytes(out);
    Files.write(out.resolve("set/Back/set_Back.0001.exr"), new byte[] {1});
    Files.writeString(out.resolve("units/Front.0001.json"), "{\"wedgecutter_unit\": 1}");
    Files.copy(out.resolve("units/Floor.0001.json"), out.resolve("units/Other.0001.json"));
    DeliveryStatus status = DeliveryStatus.read(out);
    assertThat(status.problems())
        .hasSize(3)
        .anyMatch(f -> f.contains("Front.0001.json") && f.contains("layer"))
        .anyMatch(f -> f.contains("Other.0001.json: is the record of another unit"))
        .anyMatch(f -> f.contains("Back.0001: its file is missing or of another size"));
    assertThat(status.count(UnitState.WAITING)).isEqualTo(2);
    render(shot, order(shot, out, List.of(1)));
    assertThat(bytes(out)).isEqualTo(whole);
  }

  @Test
  void whatAnotherProcessIsAtIsPutOffAndTakenOverWhenThatIsSilent() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Path out = dir.resolve("out");
    Path mark = out.resolve("units/Floor.0001.running");
    Files.createDirectories(mark.getParent());
    Files.writeString(
        mark, "{\"machine\": \"elsewhere\", \"process\": 1, \"started\": 2, \"share\": 0.5}");
    Files.setLastModifiedTime(
        mark, FileTime.from(Instant.now().minusSeconds(UnitFolder.SILENT - 2)));
    List<String> made = made(new DeliveryRenderer(shot, order(shot, out, List.of(1, 2))));
    assertThat(made.getFirst()).isEqualTo("Floor.0002");
    assertThat(made).hasSize(8).contains("Floor.0001");
  }

  @Test
  void aFileThatCannotBeWrittenIsToldAndTriedAgain() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    Path out = dir.resolve("out");
    Path inTheWay = out.resolve("set/Back");
    Files.createDirectories(inTheWay.getParent());
    Files.writeString(inTheWay, "a file where a folder should be");
    assertThatThrownBy(() -> render(shot, order(shot, out, List.of(1))))
        .isInstanceOf(IOException.class);
    DeliveryStatus failed = DeliveryStatus.read(out);
    assertThat(failed.cells())
        .filteredOn(c -> c.state() == UnitState.FAILED)
        .extracting(c -> c.unit().layer())
        .contains("Back");
    List<String> told = new ArrayList<>();
    new DeliveryRenderer(shot, order(shot, out, List.of(1)))
        .run(
            new DeliveryRenderer.Progress() {
              @Override
              public void at(int frame, double frameShare, double share) {}

              @Override
              public boolean goesOn(IOException why) {
                told.add(String.valueOf(why.getMessage()));
                try {
                  Files.deleteIfExists(inTheWay);
                } catch (IOException e) {
                  throw new java.io.UncheckedIOException(e);
                }
                return true;
              }
            });
    assertThat(told).hasSize(1);
    assertThat(bytes(out))
        .isEqualTo(bytes(render(shot, order(shot, dir.resolve("whole"), List.of(1))).folder()));
    assertThat(DeliveryStatus.read(out).count(UnitState.DONE)).isEqualTo(4);
  }

  /** Renders a shot until it is killed. */
  static final class Victim {
    private Victim() {}

    public static void main(String[] args) throws Exception {
      LoadedShot shot = LoadedShot.load(Path.of(args[0]));
      renderWide(shot, Path.of(args[1]));
    }
  }

  /** Two frames of two bands each. */
  private static DeliveryOrder wide(LoadedShot shot, Path out) {
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(shot, 8, 2, 2, false);
    return new DeliveryOrder(out, List.of(), List.of(1, 2), true, settings, true);
  }

  private static Delivery renderWide(LoadedShot shot, Path out) throws IOException {
    return new DeliveryRenderer(shot, wide(shot, out), 1 << 15).run((f, p, s) -> {});
  }

  private static Process victim(LoadedShot shot, Path out) throws IOException {
    return new ProcessBuilder(
            Path.of(System.getProperty("java.home"), "bin", "java").toString(),
            "--add-modules",
            "jdk.incubator.vector",
            "-Djdk.incubator.vector.VECTOR_ACCESS_OOB_CHECK=0",
            "-cp",
            System.getProperty("java.class.path"),
            Victim.class.getName(),
            shot.file().toString(),
            out.toString())
        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
        .redirectError(ProcessBuilder.Redirect.DISCARD)
        .start();
  }

  private static void delete(Path folder) throws IOException {
    try (var all = Files.walk(folder)) {
      for (Path p : all.sorted(java.util.Comparator.reverseOrder()).toList()) {
        Files.delete(p);
      }
    }
  }

  @Test
  void killedAtAnyMomentItGoesOnToTheSameBytes() throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    long begun = System.nanoTime();
    Map<String, String> whole = bytes(renderWide(shot, dir.resolve("whole")).folder());
    assertThat(whole).hasSize(8);
    long usual = (System.nanoTime() - begun) / 1_000_000;
    Path out = dir.resolve("out");
    Random random = new Random(Long.getLong("wedgecutter.seed", 5));
    int kills = Corpus.many(1, 50);
    int amidst = 0;
    for (int k = 0; amidst < kills; k++) {
      Process process = victim(shot, out);
      long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(60);
      while (process.isAlive() && !Delivery.isDelivery(out) && System.nanoTime() < until) {
        Thread.sleep(5);
      }
      boolean ended = process.waitFor(random.nextLong(1 + usual / 2), TimeUnit.MILLISECONDS);
      process.destroyForcibly().waitFor();
      if (ended) {
        assertThat(process.exitValue()).isZero();
        assertThat(bytes(out)).as("after run %d", k).isEqualTo(whole);
        delete(out);
      } else {
        amidst++;
        // what stands under its name is whole, at every moment
        Map<String, String> there = bytes(out);
        there.keySet().removeIf(f -> f.startsWith(UnitFolder.NAME) || f.contains("/."));
        assertThat(whole).as("after kill %d", k).containsAllEntriesOf(there);
        DeliveryStatus.read(out);
      }
    }
    renderWide(shot, out);
    assertThat(bytes(out)).isEqualTo(whole);
    try (var files = Files.walk(out)) {
      assertThat(files.map(p -> String.valueOf(p.getFileName())))
          .noneMatch(n -> n.endsWith(".part") || n.endsWith(".bands"));
    }
  }
}
