package org.wedgecutter.app.station.render;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.List;
import javafx.scene.control.Button;
import javafx.scene.control.Labeled;
import javafx.scene.control.ListView;
import javafx.scene.control.ProgressBar;
import javafx.scene.image.ImageView;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.testing.ShotFolder;

/** The queue, and the board on which each cell tells its own state. */
class RenderWindowTest {
  @TempDir Path dir;

  private RealWindow window;

  @BeforeEach
  void open() throws Exception {
    window = new RealWindow();
    window.openWhole(ShotFolder.make(dir));
    window.click("station-render");
    window.set("render-samples", "1");
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  private String cell(int row, int column) throws Exception {
    return RealWindow.fx(() -> cellNow(row, column));
  }

  private String cellNow(int row, int column) {
    window.sheetNow().select(row, column, false);
    return ((Labeled) window.stage().getScene().lookup("#render-cell")).getText();
  }

  private boolean tells(String text) {
    return ((Labeled) window.stage().getScene().lookup("#render-tells")).getText().contains(text);
  }

  private boolean isVisible(String id) {
    return window.stage().getScene().lookup("#" + id).isVisible();
  }

  private List<String> lines() throws Exception {
    return RealWindow.fx(this::linesNow);
  }

  private List<String> linesNow() {
    return list().getItems().stream().map(j -> j.name() + ": " + j.line()).toList();
  }

  @SuppressWarnings("unchecked")
  private ListView<DeliveryJob> list() {
    return (ListView<DeliveryJob>) window.stage().getScene().lookup("#render-list");
  }

  private void choose(int delivery) throws Exception {
    RealWindow.fx(() -> {
      list().getSelectionModel().select(delivery);
      return null;
    });
  }

  @Test
  void theBoardTellsEachCellAndShowsItsPicture() throws Exception {
    assertThat(cell(0, 1)).isEqualTo("Back, frame 1: to render");
    window.click("render-start");
    window.await("it is proved", 120, () -> tells("Verified on disk: 2 of 2"));
    assertThat(cell(1, 2)).startsWith("Front, frame 2: done, ").contains(" on ");
    ImageView picture = window.find("render-picture", ImageView.class);
    window.await("its picture is there", () -> picture.getImage() != null);
    assertThat(lines()).containsExactly("set-v001: done \u00b7 8 of 8");
    assertThat(isVisible("render-continue")).isFalse();
  }

  @Test
  void aDeliveryRestsAndGoesOnWhileAnotherWaits() throws Exception {
    window.set("render-samples", "400");
    window.click("render-start");
    window.await("it renders", () -> isVisible("render-pause"));
    window.click("render-pause");
    Button pause = window.find("render-pause", Button.class);
    window.await("it rests", () -> pause.getText().equals("Resume"));
    ProgressBar bar = (ProgressBar) window.stage().getScene().lookup(".render-bar .progress-bar");
    // what is at a sample when it is to pause ends that sample first
    double at = -1;
    for (double now = RealWindow.fx(bar::getProgress); now != at; ) {
      at = now;
      Thread.sleep(500);
      now = RealWindow.fx(bar::getProgress);
    }
    assertThat(at).as("it paused before it was whole").isLessThan(1);
    window.set("render-samples", "1");
    window.click("render-start");
    window.await("another waits", () -> linesNow().size() == 2);
    assertThat(lines().get(0)).startsWith("set-v001: paused");
    assertThat(lines().get(1)).startsWith("set-v002: waiting");
    choose(0);
    window.click("render-stop");
    window.await("it stopped", () -> tells("Stopped."));
    choose(1);
    window.await("the other is rendered", 120, () -> tells("Verified on disk: 2 of 2"));
    assertThat(Delivery.read(dir.resolve("set-v002")).samples()).isEqualTo(1);
  }

  @Test
  void aFileThatCannotBeWrittenHoldsUpAndIsTriedAgain() throws Exception {
    Path inTheWay = dir.resolve("set-v001/set/Back");
    window.set("render-samples", "3000");
    window.click("render-start");
    window.await("it renders", () -> isVisible("render-pause"));
    Files.createDirectories(inTheWay.getParent());
    Files.writeString(inTheWay, "not a folder");
    window.await("it is blocked", 120, () -> tells("Blocked: "));
    assertThat(lines()).singleElement().asString().contains("blocked");
    Files.delete(inTheWay);
    window.click("render-continue");
    window.await("it is proved", 120, () -> tells("Verified on disk: 2 of 2"));
    assertThat(cell(0, 1)).startsWith("Back, frame 1: done");
  }

  @Test
  void whatAnEditTouchesIsStaleAndIsRenderedAgainAlone() throws Exception {
    // a typed range that is not the plan's: an edit does not take the delivery off the board
    window.set("render-frames", "1,2");
    window.click("render-start");
    window.await("it is proved", 120, () -> tells("Verified on disk: 2 of 2"));
    Path front = dir.resolve("set-v001/set/Front/set_Front.0001.exr");
    Files.setLastModifiedTime(front, FileTime.fromMillis(1000));
    window.click("station-cut");
    window.clickCell(0, 1);
    window.press(KeyCode.U);
    window.click("station-render");
    window.await("the board tells it", () -> cellNow(0, 1).contains("stale"));
    assertThat(cell(0, 2)).startsWith("Front, frame 1: done");
    assertThat(window.find("render-continue", Button.class).getText())
        .isEqualTo("Render what changed");
    window.click("render-continue");
    window.await("all is done", 120, () -> tells("8 files in"));
    window.await("it is proved", 120, () -> tells("Verified on disk"));
    assertThat(cell(0, 1)).startsWith("Back, frame 1: done");
    assertThat(Files.getLastModifiedTime(front)).isEqualTo(FileTime.fromMillis(1000));
  }

  @Test
  void onlySelectedCellsAreRenderedAndADeliveryOfOthersIsFollowed() throws Exception {
    window.clickCell(1, 0);
    window.click("render-only");
    window.click("render-start");
    window.await("it is rendered", 120, () -> tells("1 files in"));
    assertThat(Delivery.read(dir.resolve("set-v001")).files())
        .extracting(e -> e.layer() + " " + e.frame())
        .containsExactly("Floor 2");
    // another process begins a delivery beside the plan
    Path other = dir.resolve("set-v007");
    Files.createDirectories(other);
    Files.copy(dir.resolve("set-v001/delivery.json"), other.resolve("delivery.json"));
    Files.createDirectories(other.resolve("units"));
    Files.writeString(
        other.resolve("units/Floor.0002.running"),
        "{\"machine\": \"elsewhere\", \"process\": 1, \"started\": 1, \"share\": 0.25}");
    window.await(
        "it is found",
        () -> linesNow().stream().anyMatch(l -> l.startsWith("set-v007: rendered elsewhere")));
    choose(1);
    assertThat(cell(0, 0)).isEqualTo("Floor, frame 2: running, 25 % on elsewhere");
  }
}
