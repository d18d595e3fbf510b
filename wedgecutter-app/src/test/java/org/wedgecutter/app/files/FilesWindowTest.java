package org.wedgecutter.app.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import javafx.scene.control.Labeled;
import javafx.scene.control.ListView;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.testing.ShotFolder;

/** Files, steps and what must not be lost, on a real window. */
class FilesWindowTest {
  @TempDir private Path dir;
  private final FileAsker asker = mock(FileAsker.class);
  private RealWindow window;
  private Path plan;

  @BeforeEach
  void open() throws Exception {
    window = new RealWindow();
    RealWindow.fx(() -> {
      window.setAsker(asker);
      return null;
    });
    Path kept = StateFolder.path().resolve("unsaved");
    if (Files.isDirectory(kept)) {
      try (var files = Files.list(kept)) {
        for (Path file : files.toList()) {
          Files.delete(file);
        }
      }
    }
    plan = ShotFolder.make(dir);
    window.openWhole(plan);
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  private void asksToSave(Path file) {
    when(asker.toSave(anyString(), any(), anyString())).thenReturn(file);
  }

  private void asksToOpen(Path... files) {
    var stub = when(asker.toOpen(anyString(), any(String[].class)));
    for (Path file : files) {
      stub = stub.thenReturn(file);
    }
  }

  private void plan(String item) throws Exception {
    window.click("plan-menu");
    window.choose(item);
  }

  private void awaitFile(Path file) throws Exception {
    window.await(file + " is there", () -> Files.isRegularFile(file));
    window.settle();
  }

  private void awaitBanner(String text) throws Exception {
    window.await(
        "a banner with " + text,
        () -> {
          Labeled now = (Labeled) window.stage().getScene().getRoot().lookup("#banner-text");
          return now != null && now.getText().contains(text);
        });
    window.settle();
  }

  private void front(KeyCode role) throws Exception {
    window.clickCell(0, 0);
    window.press(role);
  }

  @Test
  void unsavedEditsAreOfferedAfterACrash() throws Exception {
    front(KeyCode.U);
    Path kept = StateFolder.path().resolve("unsaved");
    window.await(
        "a copy is kept",
        () -> {
          try (var files = Files.list(kept)) {
            return files.anyMatch(f -> f.getFileName().toString().startsWith("set.wedge"));
          } catch (java.io.IOException e) {
            return false;
          }
        });
    // as after a crash: the window goes without saving
    window.close();
    window = new RealWindow();
    window.open(plan);
    awaitBanner("Unsaved changes to set.wedge found");
    window.click("recover");
    window.await(
        "the edit is back",
        () -> {
          var now = window.planNow();
          return now != null && now.layers().getFirst().cell("Front").role() == Role.UNSEEN;
        });
    assertThat(window.text("save-state")).contains("restore unsaved changes");
    window.press(KeyCode.CONTROL, KeyCode.S);
    window.await(
        "saved",
        () ->
            "saved"
                .equals(
                    ((Labeled) window.stage().getScene().getRoot().lookup("#save-state"))
                        .getText()));
    assertThat(PlanReader.read(plan).layers().getFirst().cell("Front").role())
        .isEqualTo(Role.UNSEEN);
    window.await(
        "the copy is gone",
        () -> {
          try (var files = Files.list(kept)) {
            return files.findAny().isEmpty();
          } catch (java.io.IOException e) {
            return false;
          }
        });
  }

  @Test
  void aPlanThatSomebodyChangesIsNoticed() throws Exception {
    front(KeyCode.U);
    Files.writeString(
        plan,
        ShotFolder.PLAN
            .replace("\"Back\", \"rule\"", "\"Rear\", \"rule\"")
            .replace("{\"Back\":", "{\"Rear\":"));
    awaitBanner("changed on disk");
    window.click("load-changed");
    window.await("taken over", () -> window.planNow().collection("Rear").isPresent());
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.plan().collection("Rear")).as("what was here is a step away").isEmpty();
    assertThat(window.cell(0, "Front").role()).isEqualTo(Role.UNSEEN);
  }

  @Test
  void savingDoesNotOverwriteWhatSomebodyChangedUnasked() throws Exception {
    front(KeyCode.U);
    Files.writeString(plan, ShotFolder.PLAN + "\n");
    window.press(KeyCode.CONTROL, KeyCode.S);
    awaitBanner("changed on disk since you opened it");
    assertThat(Files.readString(plan)).isEqualTo(ShotFolder.PLAN + "\n");
    Path other = dir.resolve("mine.wedge");
    asksToSave(other);
    window.press(KeyCode.CONTROL, KeyCode.SHIFT, KeyCode.S);
    awaitFile(other);
    assertThat(PlanReader.read(other).layers().getFirst().cell("Front").role())
        .isEqualTo(Role.UNSEEN);
    assertThat(window.text("shot-name")).isEqualTo("mine");
  }

  @Test
  void stepsAreListedAndCanBeGoneTo() throws Exception {
    front(KeyCode.U);
    window.press(KeyCode.A);
    window.press(KeyCode.S);
    plan("Edit history");
    ListView<?> list = window.find("history", ListView.class);
    assertThat(list.getItems()).hasSize(4);
    RealWindow.fx(() -> {
      list.getSelectionModel().select(1);
      return null;
    });
    window.settle();
    assertThat(window.cell(0, "Front").role()).isEqualTo(Role.UNSEEN);
    RealWindow.fx(() -> {
      list.getSelectionModel().select(3);
      return null;
    });
    window.settle();
    assertThat(window.cell(0, "Front").role()).isEqualTo(Role.SEEN);
  }

  @Test
  void recentFilesAreInTheMenu() throws Exception {
    Path other = ShotFolder.make(dir.resolve("other"));
    asksToOpen(other);
    window.press(KeyCode.CONTROL, KeyCode.O);
    window.await(
        "the other is open",
        () -> {
          var list = new RecentFiles(StateFolder.path()).list();
          return !list.isEmpty() && list.getFirst().equals(other.toAbsolutePath().normalize());
        });
    window.settle();
    window.click("plan-menu");
    window.choose("Open recent", dir.getFileName() + "/set.wedge");
    window.await(
        "the first again",
        () ->
            new RecentFiles(StateFolder.path())
                .list()
                .getFirst()
                .equals(plan.toAbsolutePath().normalize()));
  }

  @Test
  void partsGoOutAndComeIn() throws Exception {
    Path layer = dir.resolve("front.json");
    asksToSave(layer);
    window.menu(-1, 2, "Export layer");
    awaitFile(layer);
    asksToOpen(layer);
    window.menu(-1, 0, "Import layer");
    awaitBanner("layer Front is new");
    assertThat(window.plan().layers().stream().map(LayerDef::name))
        .containsExactly("Floor", "Front 2", "Back", "Front");
    Path cells = dir.resolve("cells.json");
    asksToSave(cells);
    window.menu(-1, 3, "Export cells");
    awaitFile(cells);
    Path all = dir.resolve("all.json");
    asksToSave(all);
    plan("Export collections");
    awaitFile(all);
    assertThat(Files.readString(all)).contains("\"Floor\"");
  }

  @Test
  void aPlanIsCarriedWithAReport() throws Exception {
    Path next = dir.resolve("next");
    ShotFolder.make(next);
    Files.delete(next.resolve("set.wedge"));
    Path out = next.resolve("carried.wedge");
    asksToOpen(next.resolve("set.glb"));
    asksToSave(out);
    plan("Carry to");
    window.await(
        "the report", () -> window.stage().getScene().getRoot().lookup("#carry-rest") != null);
    window.settle();
    assertThat(window.text("carry-0")).isEqualTo("1");
    assertThat(window.text("carry-rest")).isEqualTo("nothing");
    assertThat(window.text("shot-name")).isEqualTo("carried");
    Path template = next.resolve("t.wedge");
    asksToSave(template);
    plan("Save as template");
    awaitFile(template);
    assertThat(PlanReader.read(template).shot()).isNull();
  }

  @Test
  void whatIsNewInTheSceneIsMarked() throws Exception {
    window.press(KeyCode.CONTROL, KeyCode.S);
    window.await(
        "saved",
        () -> {
          try {
            return Files.readString(plan).contains("\"known\"");
          } catch (java.io.IOException e) {
            return false;
          }
        });
    // the saved plan did not know of the back yet
    Files.writeString(plan, Files.readString(plan).replace("      \"/back\",\n", ""));
    window.openWhole(plan);
    var sheet = window.sheet();
    String detail = RealWindow.fx(() -> sheet.rows().get(1).detail());
    assertThat(detail).isEqualTo("1 new  1");
  }

  private long copies() {
    try (var files = Files.list(StateFolder.path().resolve("unsaved"))) {
      return files.filter(f -> !f.getFileName().toString().startsWith(".")).count();
    } catch (java.io.IOException e) {
      return 0;
    }
  }

  @Test
  void aSceneBesideItsPlanOffersThePlanAndNeverReplacesIt() throws Exception {
    String kept = Files.readString(plan);
    window.open(dir.resolve("set.glb"));
    awaitBanner("This scene already has a plan, set.wedge");
    assertThat(window.plan().layers()).hasSize(1);
    assertThat(window.text("save-state")).isEqualTo("not saved yet");
    window.press(KeyCode.CONTROL, KeyCode.S);
    awaitFile(dir.resolve("set-2.wedge"));
    assertThat(window.text("save-state")).isEqualTo("saved");
    assertThat(plan).as("the plan with all its layers").hasContent(kept.strip());
    window.click("open-plan");
    window.await("the plan is open", () -> window.planNow().layers().size() == 3);
  }

  @Test
  void aFileThatAppearedUnderThePlansNameIsNotReplacedUnasked() throws Exception {
    Path alone = dir.resolve("alone");
    Files.createDirectories(alone);
    Files.copy(dir.resolve("set.glb"), alone.resolve("set.glb"));
    window.open(alone.resolve("set.glb"));
    window.await("the scene is open", () -> window.planNow().layers().size() == 1);
    Files.writeString(alone.resolve("set.wedge"), "somebody else's");
    window.press(KeyCode.CONTROL, KeyCode.S);
    awaitBanner("changed on disk since you opened it");
    assertThat(alone.resolve("set.wedge")).hasContent("somebody else's");
  }

  @Test
  void closingWithUnsavedChangesAsks() throws Exception {
    java.util.concurrent.atomic.AtomicBoolean closed =
        new java.util.concurrent.atomic.AtomicBoolean();
    assertThat(window.mayClose(() -> closed.set(true))).as("nothing is unsaved").isTrue();
    front(KeyCode.U);
    assertThat(window.mayClose(() -> closed.set(true))).isFalse();
    awaitBanner("set has unsaved changes.");
    window.click("banner-close");
    assertThat(closed).isFalse();
    window.mayClose(() -> closed.set(true));
    window.click("close-save");
    window.await("it is saved and closes", closed::get);
    assertThat(PlanReader.read(plan).layers().getFirst().cell("Front").role())
        .isEqualTo(Role.UNSEEN);
    window.await("no copy is left", () -> copies() == 0);
    front(KeyCode.A);
    closed.set(false);
    window.mayClose(() -> closed.set(true));
    window.click("close-discard");
    window.await("it closes", closed::get);
    window.close();
    window = new RealWindow();
    window.openWhole(plan);
    assertThat(window.cell(0, "Front").role()).as("discarded").isEqualTo(Role.UNSEEN);
    assertThat(window.shows("recover")).isFalse();
  }

  @Test
  void theLastEditIsKeptThoughTheWindowGoesAtOnce() throws Exception {
    front(KeyCode.U);
    // without a pause in which a copy is made
    window.close();
    window = new RealWindow();
    window.await("the copy is there", () -> copies() == 1);
    window.open(plan);
    awaitBanner("Unsaved changes to set.wedge found");
  }

  @Test
  void aSaveThatRunsWhenTheWindowClosesIsFinished() throws Exception {
    front(KeyCode.U);
    window.press(KeyCode.CONTROL, KeyCode.S);
    window.close();
    window = new RealWindow();
    window.await(
        "the plan is whole on the disk",
        () -> {
          try {
            return PlanReader.read(plan).layers().getFirst().cell("Front").role() == Role.UNSEEN;
          } catch (java.io.IOException e) {
            return false;
          }
        });
    assertThat(dir.toFile().list((folder, name) -> name.endsWith(".part"))).isEmpty();
  }

  @Test
  void saveAsTakesItsCopyOfUnsavedChangesAlong() throws Exception {
    front(KeyCode.U);
    window.await("a copy is kept", () -> copies() == 1);
    Path other = dir.resolve("other.wedge");
    // without its extension, which is added
    asksToSave(dir.resolve("other"));
    plan("Save as");
    awaitFile(other);
    window.await("nothing is unsaved under either name", () -> copies() == 0);
    front(KeyCode.A);
    window.await("a copy under the new name", () -> copies() == 1);
    window.close();
    window = new RealWindow();
    window.open(plan);
    window.await("the old plan is open", () -> window.planNow() != null);
    window.settle();
    assertThat(window.shows("recover")).as("nothing of the old plan is unsaved").isFalse();
    window.open(other);
    awaitBanner("Unsaved changes to other.wedge found");
  }

  @Test
  void aFailedSaveAsStaysWithThePlanThatIsThere() throws Exception {
    front(KeyCode.U);
    Path other = dir.resolve("other.wedge");
    Files.createDirectories(other.resolve("in the way"));
    asksToSave(other);
    plan("Save as");
    awaitBanner("Could not save the plan");
    window.await("its copy is kept", () -> copies() == 1);
    window.press(KeyCode.CONTROL, KeyCode.S);
    window.await("saved under its own name", () -> copies() == 0);
    assertThat(PlanReader.read(plan).layers().getFirst().cell("Front").role())
        .isEqualTo(Role.UNSEEN);
  }

  @Test
  void errorsThatNothingCaughtAreTold() throws Exception {
    window.uncaught(new OutOfMemoryError("Java heap space"));
    awaitBanner("there is not enough memory");
    window.uncaught(new IllegalStateException("a gear broke"));
    awaitBanner("a gear broke");
  }
}
