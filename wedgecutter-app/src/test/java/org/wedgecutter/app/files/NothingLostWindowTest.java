package org.wedgecutter.app.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import javafx.scene.Node;
import javafx.scene.control.Labeled;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.testing.ShotFolder;

/** What was typed, saved, opened or offered is not lost, on a real window. */
class NothingLostWindowTest {
  @TempDir private Path dir;
  private final FileAsker asker = mock(FileAsker.class);
  private RealWindow window;
  private Path plan;

  @BeforeEach
  void make() throws Exception {
    for (Path copy : copies()) {
      Files.delete(copy);
    }
    plan = ShotFolder.make(dir);
    open();
  }

  private void open() throws Exception {
    window = new RealWindow();
    RealWindow.fx(() -> {
      window.setAsker(asker);
      return null;
    });
    window.openWhole(plan);
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  private static List<Path> copies() throws IOException {
    Path folder = StateFolder.path().resolve("unsaved");
    if (!Files.isDirectory(folder)) {
      return List.of();
    }
    try (Stream<Path> files = Files.list(folder)) {
      // not what is being written beside its name
      return files.filter(f -> !f.getFileName().toString().startsWith(".")).sorted().toList();
    }
  }

  private void awaitCopies(int count) throws Exception {
    window.await(
        count + " copies",
        () -> {
          try {
            return copies().size() == count;
          } catch (IOException e) {
            return false;
          }
        });
  }

  private List<String> banners() {
    return window.stage().getScene().getRoot().lookupAll("#banner-text").stream()
        .map(n -> ((Labeled) n).getText())
        .toList();
  }

  private void awaitBanner(String text) throws Exception {
    window.await("a banner with " + text, () -> banners().stream().anyMatch(t -> t.contains(text)));
    window.settle();
  }

  private void front(KeyCode role) throws Exception {
    window.clickCell(0, 0);
    window.press(role);
  }

  private Role onDisk(Path file) throws Exception {
    return PlanReader.read(file).layers().getFirst().cell("Front").role();
  }

  @Test
  void whatIsTypedIsSavedWithoutEnterAndWhatIsWrongStays() throws Exception {
    window.click("station-output");
    window.goTo("depth ramp", 1);
    window.click("pass-on");
    type("pass-far", "4.5");
    window.press(KeyCode.CONTROL, KeyCode.S);
    window.await("saved", () -> far(plan) == 4.5);
    window.settle();
    // the panel is the one that was typed in, with the focus where it was
    TextField far = window.find("pass-far", TextField.class);
    assertThat(far.isFocused()).isTrue();
    type("pass-far", "4.5 or so");
    window.press(KeyCode.CONTROL, KeyCode.S);
    window.settle();
    assertThat(window.find("pass-far", TextField.class).getText()).isEqualTo("4.5 or so");
    assertThat(window.text("pass-trouble")).contains("expected a number");
  }

  /** Types into a field, without Enter or Tab. */
  private void type(String id, String text) throws Exception {
    window.click(id);
    window.press(KeyCode.CONTROL, KeyCode.A);
    window.type(text);
  }

  private static double far(Path file) {
    try {
      return PlanReader.read(file).output().far();
    } catch (IOException e) {
      return 0;
    }
  }

  @Test
  void openingAnotherShotAsksAboutUnsavedChanges() throws Exception {
    Path other = ShotFolder.make(dir.resolve("other"));
    Path third = ShotFolder.make(dir.resolve("third"));
    when(asker.toOpen(anyString(), any(String[].class))).thenReturn(other, other, third);
    front(KeyCode.U);
    window.press(KeyCode.CONTROL, KeyCode.O);
    awaitBanner("has unsaved changes. Open set.wedge?");
    window.click("banner-close");
    assertThat(window.cell(0, "Front").role()).isEqualTo(Role.UNSEEN);
    window.press(KeyCode.CONTROL, KeyCode.O);
    awaitBanner("has unsaved changes. Open set.wedge?");
    window.click("open-save");
    awaitOpen(other);
    assertThat(onDisk(plan)).isEqualTo(Role.UNSEEN);
    assertThat(banners()).isEmpty();
    front(KeyCode.U);
    window.press(KeyCode.CONTROL, KeyCode.O);
    awaitBanner("has unsaved changes");
    window.click("open-discard");
    awaitOpen(third);
    assertThat(PlanReader.read(other).layers().getFirst().cells()).doesNotContainKey("Front");
    assertThat(window.plan().layers().getFirst().cells()).doesNotContainKey("Front");
  }

  private void awaitOpen(Path file) throws Exception {
    window.await(
        file + " is open",
        () -> {
          var list = new RecentFiles(StateFolder.path()).list();
          return !list.isEmpty() && list.getFirst().equals(file.toAbsolutePath().normalize());
        });
    window.await("the state is saved", () -> "saved".equals(state()));
    window.settle();
  }

  private String state() {
    return ((Labeled) window.stage().getScene().getRoot().lookup("#save-state")).getText();
  }

  @Test
  void anOfferStaysBelowLaterMessagesAndItsCopyIsNotOverwritten() throws Exception {
    front(KeyCode.U);
    awaitCopies(1);
    // as after a crash
    window.close();
    open();
    awaitBanner("Unsaved changes to set.wedge found");
    window.uncaught(new IllegalStateException("a fault"));
    awaitBanner("a fault");
    assertThat(banners()).anyMatch(t -> t.contains("Unsaved changes to set.wedge found"));
    // the user goes on without answering
    front(KeyCode.A);
    awaitCopies(2);
    window.close();
    open();
    window.await("both are offered", () -> recovers().size() == 2 && copiesOffered() == 2);
    // the newest is on top
    window.click("recover");
    window.settle();
    assertThat(window.cell(0, "Front").role()).isEqualTo(Role.ABSENT);
  }

  private List<Node> recovers() {
    return List.copyOf(window.stage().getScene().getRoot().lookupAll("#recover"));
  }

  private long copiesOffered() {
    return banners().stream().filter(t -> t.contains("Unsaved changes")).count();
  }

  @Test
  void aDamagedCopyDoesNotKeepItsPlanFromBeingOpened() throws Exception {
    front(KeyCode.U);
    awaitCopies(1);
    window.close();
    Files.writeString(copies().getFirst(), "{\"wedgecutter\": 99}");
    open();
    awaitBanner("A copy of unsaved changes cannot be read");
    Plan now = window.plan();
    assertThat(now.layers()).hasSize(3);
    front(KeyCode.U);
    window.press(KeyCode.CONTROL, KeyCode.S);
    window.await("saved", () -> "saved".equals(state()));
    assertThat(onDisk(plan)).isEqualTo(Role.UNSEEN);
  }
}
