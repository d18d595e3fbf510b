package org.wedgecutter.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;
import javafx.scene.Node;
import javafx.scene.control.Labeled;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.sheet.Row;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.app.viewer.KeptFrames;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.testing.ShotFolder;

/** The other stations, the timeline, and an empty window. */
class StationsWindowTest {
  @TempDir Path dir;
  private RealWindow window;

  @BeforeEach
  void open() throws Exception {
    window = new RealWindow();
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  @Test
  void anEmptyWindowSaysWhatToDoAndIgnoresKeys() throws Exception {
    assertThat(RealWindow.fx(() -> labels())).contains("Open a plan (.wedge) or a scene");
    for (KeyCode key :
        new KeyCode[] {KeyCode.S, KeyCode.DELETE, KeyCode.F2, KeyCode.DIGIT4, KeyCode.W}) {
      window.press(key);
    }
    window.press(KeyCode.CONTROL, KeyCode.Z);
    window.press(KeyCode.CONTROL, KeyCode.S);
    assertThat(RealWindow.fx(() -> window.planNow() == null)).isTrue();
  }

  private String labels() {
    StringBuilder out = new StringBuilder();
    window
        .stage()
        .getScene()
        .getRoot()
        .lookupAll(".label")
        .forEach(n -> out.append(((Labeled) n).getText()).append('\n'));
    return out.toString();
  }

  @Test
  void theShotStationShowsTheHierarchyWithMotion() throws Exception {
    window.openWhole(ShotFolder.make(dir));
    window.click("station-shot");
    var rows = RealWindow.fx(() -> sheetRows());
    assertThat(rows.stream().map(Row::label).toList())
        .containsExactly("front", "back", "floor", "environment");
    assertThat(rows.get(0).motion()).hasSize(2);
    assertThat(rows.get(1).motion()).isEmpty();
    window.clickCell(2, 0);
    window.settle();
    assertThat(RealWindow.fx(() -> labels()))
        .contains("/floor covers", "% of the frame in layer Floor");
    window.clickCell(0, 0);
    assertThat(RealWindow.fx(() -> labels())).contains("/front in layer Floor: Holdout");
  }

  private java.util.List<Row> sheetRows() {
    return window.sheetNow().rows();
  }

  @Test
  void theTimelineChangesTheFrameByMouseAndKeys() throws Exception {
    window.openWhole(ShotFolder.make(dir));
    float[] one = RealWindow.fx(() -> window.pictures().uncut().rgba());
    Timeline timeline = window.find("timeline", Timeline.class);
    window.click(timeline, RealWindow.fx(() -> timeline.centre(2)), 20);
    window.await("frame 2 is whole", () -> window.pictures().frame() == 2 && window.whole());
    assertThat(RealWindow.fx(() -> window.pictures().uncut().rgba())).isNotEqualTo(one);
    window.press(KeyCode.LEFT);
    window.await("frame 1 again", () -> window.pictures().frame() == 1 && window.whole());
    assertThat(RealWindow.fx(() -> window.pictures().uncut().rgba())).isEqualTo(one);
    window.press(KeyCode.END);
    window.await("the last frame", () -> window.pictures().frame() == 2);
  }

  @Test
  void framesAreTracedAndPlayedInALoopAndPlaybackStopsWhereItIs() throws Exception {
    window.openWhole(ShotFolder.make(dir));
    Timeline timeline = window.find("timeline", Timeline.class);
    assertThat(RealWindow.fx(() -> timeline.kept(2))).isEqualTo(KeptFrames.State.MISSING);
    Labeled status = window.find("viewer-status", Labeled.class);
    window.press(KeyCode.L);
    window.await(
        "frame 2 is shown whole", () -> status.getText().matches("frame 2, kept.* 2 samples"));
    assertThat(window.frame()).as("the plan's frame waits").isEqualTo(1);
    int[] second = window.look(window.find("viewer", Node.class).lookup(".canvas-of-pictures"));
    window.await("it goes round", () -> status.getText().startsWith("frame 1, kept"));
    window.await("and on", () -> status.getText().startsWith("frame 2, kept"));
    window.click("play");
    assertThat(window.frame()).isEqualTo(2);
    window.await("frame 2 is whole", () -> window.pictures().frame() == 2 && window.whole());
    assertThat(window.picture()).as("what was played is what is traced").isEqualTo(second);
    // an edit ends it, and is shown
    window.press(KeyCode.L);
    window.clickCell(0, 0);
    window.press(KeyCode.U);
    window.await("the edit is traced", () -> window.whole());
    assertThat(RealWindow.fx(() -> timeline.lookup("#play").getAccessibleText()))
        .startsWith("play");
    assertThat(window.frame()).isEqualTo(2);
    assertThat(status.getText()).doesNotContain("kept");
  }

  @Test
  void theFramesThatMatterStandAsPicturesAboveTheTimelineOfTheShotStation() throws Exception {
    window.openWhole(ShotFolder.make(dir));
    Timeline timeline = window.find("timeline", Timeline.class);
    double low = RealWindow.fx(timeline::getHeight);
    window.click("station-shot");
    window.await("there are pictures", 240, () -> timeline.getHeight() > low + 20);
    // both frames matter: the front turns between them
    window.await("both", 240, () -> timeline.pictured().size() == 2);
    double second = RealWindow.fx(() -> timeline.pictured().get(2));
    window.click(timeline, second, 15);
    assertThat(window.frame()).isEqualTo(2);
    window.click(timeline, RealWindow.fx(() -> timeline.pictured().get(1)), 15);
    assertThat(window.frame()).isEqualTo(1);
    window.click("station-cut");
    window.await("they are gone", () -> timeline.getHeight() == low);
  }

  @Test
  void aDeliveryIsRenderedFromTheWindowAndProvedFromItsFiles() throws Exception {
    window.openWhole(ShotFolder.make(dir));
    window.click("station-render");
    assertThat(RealWindow.fx(() -> sheetRows()).stream().map(Row::label))
        .containsExactly("frame 1", "frame 2");
    window.set("render-samples", "1");
    window.click("render-start");
    Labeled tells = window.find("render-tells", Labeled.class);
    window.await("the files are proved", () -> tells.getText().contains("Verified on disk"));
    assertThat(window.text("render-tells"))
        .contains("8 files in", "2 of 2 frames rejoin within half rounding");
    Delivery delivery = Delivery.read(dir.resolve("set-v001"));
    assertThat(delivery.frames()).containsExactly(1, 2);
    assertThat(delivery.samples()).isEqualTo(1);
    assertThat(RealWindow.fx(() -> sheetRows()).getFirst().detail()).endsWith(" s");
    try (Stream<Path> files = Files.walk(dir.resolve("set-v001"))) {
      assertThat(files.filter(f -> f.toString().endsWith(".exr"))).hasSize(8);
    }
  }

  @Test
  void aRunningDeliveryCanBeStopped() throws Exception {
    window.openWhole(ShotFolder.make(dir));
    window.click("station-render");
    window.set("render-samples", "200000");
    window.set("render-frames", "1");
    window.click("render-start");
    window.settle();
    window.click("render-stop");
    Labeled tells = window.find("render-tells", Labeled.class);
    window.await("it says so", () -> tells.getText().contains("Stopped"));
    assertThat(Delivery.read(dir.resolve("set-v001")).files()).isEmpty();
    assertThat(window.find("render-continue", Node.class).isVisible()).isTrue();
  }

  @Test
  void wrongNumbersAreToldAndNothingStarts() throws Exception {
    window.openWhole(ShotFolder.make(dir));
    window.click("station-render");
    window.set("render-frames", "one");
    window.click("render-start");
    assertThat(window.text("render-tells")).contains("for example 1-24x2,30");
    window.set("render-frames", "1");
    window.set("render-scale", "big");
    window.click("render-start");
    assertThat(window.text("render-tells")).contains("must be numbers");
    window.set("render-scale", "99");
    window.click("render-start");
    assertThat(window.text("render-tells")).contains("up to 8");
    assertThat(Files.exists(dir.resolve("set-v001"))).isFalse();
  }

  @Test
  void aSceneAloneOpensWithOneLayer() throws Exception {
    ShotFolder.make(dir);
    window.open(dir.resolve("set.glb"));
    window.await("it is open", () -> window.planNow() != null);
    assertThat(window.plan().layers()).hasSize(1);
    Labeled chip = window.find("proof-chip", Labeled.class);
    window.await("it rejoins", () -> chip.getText().equals("rejoins exactly"));
  }

  private static String text(TextField field) throws Exception {
    return RealWindow.fx(() -> field.getText());
  }

  @Test
  void theRenderStationTakesFramesAndSamplesFromThePlanAsItIs() throws Exception {
    window.openWhole(ShotFolder.make(dir.resolve("a")));
    window.click("station-render");
    TextField frames = window.find("render-frames", TextField.class);
    TextField samples = window.find("render-samples", TextField.class);
    assertThat(text(frames)).isEqualTo("1-2");
    window.set("render-frames", "2");
    Path other = ShotFolder.changed(dir.resolve("b"), "\"samples\": 2", "\"samples\": 3").file();
    window.openWhole(other);
    assertThat(text(frames)).as("of the shot that is open").isEqualTo("1-2");
    assertThat(text(samples)).isEqualTo("3");
    window.set("render-samples", "7");
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(text(samples)).as("what was typed stays").isEqualTo("7");
  }
}
