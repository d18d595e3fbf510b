package org.wedgecutter.core.survey;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.ShotFolder;

class SurveyStoreTest {
  @TempDir Path dir;
  private LoadedShot shot;
  private FrameRenderer.Settings quick;

  @BeforeEach
  void load() throws Exception {
    shot = ShotFolder.load(dir);
    quick = Surveyor.quick(shot, 1);
  }

  private FrameSurvey look(LoadedShot of) {
    return new Surveyor(of, quick, new SurveyStore(of)).look(1, p -> {});
  }

  private List<Path> kept() throws Exception {
    Path folder = SurveyStore.folder(shot.file());
    if (!Files.isDirectory(folder)) {
      return List.of();
    }
    try (Stream<Path> all = Files.list(folder)) {
      return all.toList();
    }
  }

  @Test
  void aSecondLookTracesNothingAndTellsTheSame() throws Exception {
    FrameSurvey first = look(shot);
    assertThat(kept()).hasSize(1);
    // another run, as it were: times would differ in their last digits if it were traced again
    FrameSurvey second = look(LoadedShot.load(shot.file()));
    assertThat(second.costs()).isEqualTo(first.costs());
    assertThat(second.layers()).isEqualTo(first.layers());
    assertThat(second.uncut()).isEqualTo(first.uncut());
    assertThat(second.coverage()).isEqualTo(first.coverage());
    assertThat(second.interplay().pairs()).isEqualTo(first.interplay().pairs());
    assertThat(second.interplay().light()).isEqualTo(first.interplay().light());
    assertThat(second.written()).isEqualTo(first.written());
  }

  @Test
  void whatATraceDependsOnMakesItAnother() throws Exception {
    look(shot);
    look(
        shot.withPlan(PlanEdits.cell(shot.plan(), "Floor", "Front", c -> c.withRole(Role.ABSENT))));
    assertThat(kept()).hasSize(2);
    look(shot.withPlan(LayerEdits.layer(shot.plan(), "Front", l -> l.withRender(false))));
    assertThat(kept()).hasSize(3);
    // an edit that is undone is known
    look(shot);
    assertThat(kept()).hasSize(3);
    Path scene = dir.resolve("sky.hdr");
    byte[] sky = Files.readAllBytes(scene);
    sky[sky.length - 1] = (byte) 140;
    Files.write(scene, sky);
    look(LoadedShot.load(shot.file()));
    assertThat(kept()).hasSize(4);
  }

  @Test
  void aFileThatDoesNotFitIsMadeAgain() throws Exception {
    FrameSurvey first = look(shot);
    Path file = kept().getFirst();
    String json;
    try (var in = new GZIPInputStream(Files.newInputStream(file))) {
      json = new String(in.readAllBytes(), StandardCharsets.UTF_8);
    }
    String[] spoilt = {
      "",
      "{}",
      "null",
      json.replaceFirst("\"frame\":1", "\"frame\":2"),
      json.replaceFirst("\"coverage\":\\[", "\"coverage\":[0.5,"),
      json.replaceFirst("\"of\":\\d+", "\"of\":99999"),
      json.replaceFirst("\"by\":\\d+", "\"by\":-1"),
      json.replaceFirst("\"layers\":\\[\\d", "\"layers\":[17"),
      json.replaceFirst("\"samples\":\\d+", "\"samples\":0"),
      json.replaceFirst("\"written\":\\[", "\"written\":[0.1,"),
    };
    for (String text : spoilt) {
      assertThat(text).isNotEqualTo(json);
      try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(file))) {
        out.write(text.getBytes(StandardCharsets.UTF_8));
      }
      assertThat(new SurveyStore(shot).read(shot, quick, 1)).as(text).isEmpty();
    }
    Files.writeString(file, "not zipped");
    assertThat(new SurveyStore(shot).read(shot, quick, 1)).isEmpty();
    assertThat(look(shot).coverage()).isEqualTo(first.coverage());
    assertThat(new SurveyStore(shot).read(shot, quick, 1)).isPresent();
  }

  @Test
  void aSceneWithoutAPlanLeavesNothingBehind() throws Exception {
    Files.delete(shot.file());
    look(LoadedShot.load(dir.resolve("set.glb")));
    try (Stream<Path> all = Files.list(dir)) {
      assertThat(all.map(f -> f.getFileName().toString()))
          .containsExactlyInAnyOrder("set.glb", "sky.hdr");
    }
  }

  @Test
  void aFolderThatCannotBeWrittenIsNoHindrance() throws Exception {
    Files.writeString(SurveyStore.folder(shot.file()), "a file stands in its place");
    assertThat(look(shot).frame()).isEqualTo(1);
  }

  @Test
  void thereAreNeverTooManyFiles() throws Exception {
    Path folder = Files.createDirectories(SurveyStore.folder(shot.file()));
    for (int k = 0; k < 300; k++) {
      Path old = folder.resolve("%064x.json.gz".formatted(k));
      Files.writeString(old, "");
      old.toFile().setLastModified(1_000_000L * (k + 1));
    }
    Path theirs = Files.writeString(folder.resolve("notes.json.gz"), "somebody's");
    theirs.toFile().setLastModified(1000);
    look(shot);
    assertThat(kept())
        .hasSize(257)
        .contains(theirs)
        .doesNotContain(folder.resolve("%064x.json.gz".formatted(0)));
    assertThat(new SurveyStore(shot).read(shot, quick, 1)).isPresent();
  }
}
