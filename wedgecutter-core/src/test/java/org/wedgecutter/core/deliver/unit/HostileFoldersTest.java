package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.export.HandOver;
import org.wedgecutter.core.image.PictureFiles;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.load.NumberedPictures;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.survey.SurveyStore;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/**
 * Shots and deliveries that a mail or an archive can carry: whatever links lie in them, nothing
 * outside is read into them, changed or deleted.
 */
class HostileFoldersTest {
  private static final String SECRET = "root:x-secret-word:0";

  @TempDir Path dir;
  private Path outside;
  private Path out;
  private LoadedShot shot;
  private Map<String, String> before;

  @BeforeEach
  void prepare() throws Exception {
    outside = Files.createDirectories(dir.resolve("outside"));
    out = dir.resolve("out");
    Files.writeString(outside.resolve("secret"), SECRET);
    Files.writeString(outside.resolve("0000.exr"), "a band of somebody else");
    Files.writeString(outside.resolve("start-file"), "# a shell's start file\n");
    for (int k = 0; k < 300; k++) {
      Files.writeString(outside.resolve("%032x.json.gz".formatted(k)), "kept");
    }
    shot = ShotFolder.load(dir.resolve("shot"));
    before = contents(outside);
  }

  @AfterEach
  void nothingOutsideHasChanged() throws Exception {
    assertThat(contents(outside)).isEqualTo(before);
  }

  private static Map<String, String> contents(Path folder) throws IOException {
    Map<String, String> found = new TreeMap<>();
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path file : all.toList()) {
        found.put(
            folder.relativize(file).toString(),
            Files.isRegularFile(file)
                ? Files.readString(file, StandardCharsets.ISO_8859_1)
                : "folder");
      }
    }
    return found;
  }

  /** Puts a link in the place of a file or folder of the delivery. */
  private void link(String name, Path to) throws IOException {
    Path at = out.resolve(name);
    if (Files.isDirectory(at)) {
      Files.move(at, dir.resolve("moved-" + at.getFileName()));
    }
    Files.deleteIfExists(at);
    Files.createDirectories(at.resolveSibling("x").getParent());
    Files.createSymbolicLink(at, to);
  }

  private static DeliveryOrder order(LoadedShot shot, Path out) {
    return new DeliveryOrder(
        out, List.of(), List.of(1, 2), true, FrameRenderer.Settings.of(shot, 1, 0, 2, false), true);
  }

  /** Renders on, whatever comes of it. */
  private void resume() {
    try {
      new DeliveryRenderer(shot, order(shot, out)).run((f, p, s) -> {});
    } catch (IOException e) {
      assertThat(e.getMessage()).containsAnyOf("link", "no regular file");
    }
  }

  @Test
  void bandsBehindALinkAreNotDeleted() throws Exception {
    Renders.delivery(shot, out, 1, false);
    Files.delete(out.resolve("units/Front.0001.json"));
    link("units/Front.0001.bands", outside);
    resume();
    assertThat(out.resolve("units/Front.0001.json")).isRegularFile();
  }

  @ParameterizedTest
  @ValueSource(strings = {"units", "set", "set/Front", "handover", "recipe"})
  void foldersThatAreLinksAreNotWrittenTo(String folder) throws Exception {
    Renders.delivery(shot, out, 1, false);
    if (!folder.startsWith("set")) {
      Files.deleteIfExists(out.resolve("set/Front/set_Front.0001.exr"));
    }
    link(folder, outside);
    resume();
    try {
      HandOver.write(Delivery.read(out), List.of(1), p -> {}, () -> false);
    } catch (IOException e) {
      assertThat(e.getMessage()).containsAnyOf("link", "holds no file");
    }
  }

  @Test
  void theLogDoesNotGoThroughALink() throws Exception {
    Renders.delivery(shot, out, 1, false);
    Files.delete(out.resolve("units/Front.0001.json"));
    link("delivery.log", outside.resolve("start-file"));
    resume();
    assertThat(out.resolve("units/Front.0001.json")).as("work goes on").isRegularFile();
  }

  @Test
  void aLinkInTheLayersPlaceIsNeitherReadNorProved() throws Exception {
    Renders.delivery(shot, out, 1, false);
    Files.move(
        out.resolve("set/Front/set_Front.0001.exr"),
        dir.resolve("elsewhere.exr"),
        StandardCopyOption.REPLACE_EXISTING);
    Files.createSymbolicLink(
        out.resolve("set/Front/set_Front.0001.exr"), dir.resolve("elsewhere.exr"));
    assertThatThrownBy(() -> DeliveryProof.prove(Delivery.read(out), 1))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("symbolic link");
    assertThatThrownBy(() -> DeliveryPictures.layer(Delivery.read(out), "Front", 1))
        .hasMessageContaining("symbolic link");
  }

  @Test
  void aRecipesPictureThatIsALinkOrNoPictureIsNotCopied() throws Exception {
    Path folder = shot.folder();
    String text =
        ShotFolder.PLAN.replace(
            "\"recipe\": {",
            "\"recipe\": {\"background\": {\"kind\": \"picture\", \"picture\": \"sky.png\"}, ");
    LoadedShot with = shot.withPlan(PlanReader.parse(text, shot.file()));
    assertThat(with.plan().recipe().pictures()).containsExactly("sky.png");
    Files.createSymbolicLink(folder.resolve("sky.png"), outside.resolve("secret"));
    assertThatThrownBy(() -> new DeliveryRenderer(with, order(with, out)).run((f, p, s) -> {}))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("symbolic link")
        .hasMessageNotContaining("secret-word");
    Files.delete(folder.resolve("sky.png"));
    Files.writeString(folder.resolve("sky.png"), SECRET);
    assertThatThrownBy(() -> new DeliveryRenderer(with, order(with, out)).run((f, p, s) -> {}))
        .isInstanceOf(InputException.class)
        .hasMessageNotContaining("secret-word");
    assertThat(out.resolve("recipe/sky.png")).doesNotExist();
    assertThat(new NumberedPictures(List.of(folder)).trouble("sky.png", 1)).isNotEmpty();
  }

  @Test
  void aManifestsSourceIsNoWayToReadAFile() throws Exception {
    Renders.delivery(shot, out, 1, false);
    Path manifest = out.resolve("delivery.json");
    Path named = Files.copy(outside.resolve("secret"), dir.resolve("secret.wedge"));
    for (Path to : List.of(outside.resolve("secret"), named)) {
      String text = Files.readString(manifest);
      Files.writeString(
          manifest, text.replaceFirst("\"source\" *: *\"[^\"]*\"", "\"source\": \"" + to + "\""));
      Delivery read = Delivery.read(out);
      assertThat(read.source()).isEqualTo(to.toString());
      if (read.planFile().isPresent()) {
        assertThatThrownBy(() -> LoadedShot.load(read.planFile().get()))
            .hasMessageNotContaining("secret-word");
      }
    }
    assertThat(Delivery.read(out).planFile()).isPresent();
  }

  @Test
  void surveysBehindALinkAreNotSwept() throws Exception {
    Path store = SurveyStore.folder(shot.file());
    Files.createSymbolicLink(store, outside);
    new Surveyor(shot, Surveyor.quick(shot, 2), new SurveyStore(shot))
        .survey(List.of(1, 2), 2, p -> {});
    assertThat(Files.isSymbolicLink(store)).isTrue();
  }

  @ParameterizedTest
  @ValueSource(strings = {"delivery.json", "units/Front.0001.json", "units/Front.0001.running"})
  void pipesAreNotWaitedFor(String name) throws Exception {
    Renders.delivery(shot, out, 1, false);
    Files.deleteIfExists(out.resolve(name));
    Programs.run(out, "mkfifo", name);
    assertTimeoutPreemptively(
        Duration.ofSeconds(20),
        () -> {
          try {
            Delivery.read(out);
            resume();
          } catch (InputException e) {
            assertThat(e.getMessage()).contains("not a delivery");
          }
        });
  }

  @ParameterizedTest
  @ValueSource(strings = {"set.glb", "sky.hdr"})
  void aSceneOrSkyThatIsAPipeIsRefused(String name) throws Exception {
    Files.delete(shot.folder().resolve(name));
    Programs.run(shot.folder(), "mkfifo", name);
    assertTimeoutPreemptively(
        Duration.ofSeconds(20),
        () ->
            assertThatThrownBy(() -> LoadedShot.load(shot.file()))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("a pipe or a device"));
  }

  /** Also what a user names is not waited for, whichever kind of file it is called. */
  @ParameterizedTest
  @ValueSource(strings = {"a.glb", "a.gltf", "a.obj", "a.usda", "a.wedge", "a.exr", "a.png"})
  void whatAUserNamesIsNotWaitedFor(String name) throws Exception {
    Path file = shot.folder().resolve(name);
    Programs.run(shot.folder(), "mkfifo", name);
    for (Path each : List.of(file, Path.of("/dev/zero"))) {
      assertTimeoutPreemptively(
          Duration.ofSeconds(20),
          () ->
              assertThatThrownBy(
                      () -> {
                        if (name.endsWith("exr") || name.endsWith("png")) {
                          PictureFiles.read(each);
                        } else {
                          LoadedShot.load(each);
                        }
                      })
                  .isInstanceOf(InputException.class)
                  .message()
                  .containsAnyOf("a pipe or a device", "expected a picture"));
    }
  }

  @Test
  void aMarkOfTheFutureBlocksNothing() throws Exception {
    Renders.delivery(shot, out, 1, false);
    Files.delete(out.resolve("units/Front.0001.json"));
    Path mark = out.resolve("units/Front.0001.running");
    Files.writeString(
        mark, "{\"machine\": \"elsewhere\", \"process\": 7, \"started\": 1, \"share\": 0}");
    Files.setLastModifiedTime(mark, FileTime.from(Instant.now().plusSeconds(1_000_000)));
    assertTimeoutPreemptively(Duration.ofSeconds(60), this::resume);
    assertThat(out.resolve("units/Front.0001.json")).isRegularFile();
  }

  @Test
  void filesHeldAtFarTooManyFramesAreRefused() throws Exception {
    Renders.delivery(shot, out, 1, false);
    Path manifest = out.resolve("delivery.json");
    ObjectMapper mapper = new ObjectMapper();
    ObjectNode told = (ObjectNode) mapper.readTree(manifest.toFile());
    ObjectNode one = (ObjectNode) told.withArray("files").get(0);
    one.put("held_at", "1-30000");
    for (int k = 0; k < 300; k++) {
      told.withArray("files").add(one.deepCopy().put("layer", "Copy " + k));
    }
    Files.writeString(manifest, told.toString());
    assertThat(Files.size(manifest)).isLessThan(1 << 20);
    assertTimeoutPreemptively(
        Duration.ofSeconds(20),
        () ->
            assertThatThrownBy(() -> Delivery.read(out))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("at most 5000000 are read"));
    one.put("held_at", "1-90000");
    Files.writeString(manifest, told.toString());
    assertThatThrownBy(() -> Delivery.read(out))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("at most 30000 are read");
  }
}
