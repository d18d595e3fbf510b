package org.wedgecutter.app.station.shot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import javafx.scene.Node;
import javafx.scene.control.Labeled;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.files.FileAsker;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.RadianceHdr;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.CameraMarks;
import org.wedgecutter.core.plan.CameraMarks.At;
import org.wedgecutter.core.plan.CameraMarks.Axis;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.testing.HandCamera;
import org.wedgecutter.core.testing.ShotFolder;

/** The camera is matched to a picture by hand. */
class CameraWindowTest {
  private static final int W = 160;
  private static final int H = 90;
  private static final HandCamera EYE = HandCamera.of(0.5, 1.6, 5, -0.1, -0.2, 0.05, 40);

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

  /** A plan of the scene, at a small size. */
  private Path plan(CameraMarks marks) throws Exception {
    ShotFolder.make(dir);
    LoadedShot shot = LoadedShot.load(dir.resolve("set.glb"));
    Path file = dir.resolve("own.wedge");
    PlanWriter.save(
        shot.plan()
            .withShot(
                shot.plan()
                    .requireShot()
                    .with(s -> {
                      s.width = W;
                      s.height = H;
                      s.samples = 1;
                      s.marks = marks;
                    })),
        file);
    return file;
  }

  private void show(CameraMarks marks) throws Exception {
    window.openWhole(plan(marks));
    window.click("station-shot");
    window.click("shot-match");
  }

  private CameraMarks marks() throws Exception {
    return window.plan().requireShot().marks();
  }

  private static At at(double x, double y, double z) {
    double[] p = EYE.sees(x, y, z, W, H);
    return new At(p[0] / W, p[1] / H);
  }

  private static CameraMarks corners() {
    List<CameraMarks.Mark> all = new ArrayList<>();
    for (int k = 0; k < 8; k++) {
      double x = 2 * (k & 1) - 1.0;
      double y = k >> 1 & 1;
      double z = 2 * (k >> 2) - 1.0;
      all.add(new CameraMarks.Point(at(x, y, z), List.of(x, y, z)));
    }
    return CameraMarks.NONE.with(all);
  }

  @Test
  void aMarkIsAddedDraggedTypedRemovedAndEachIsOneStep() throws Exception {
    show(CameraMarks.NONE);
    window.click("match-add-line-z");
    assertThat(marks().marks()).hasSize(1);
    CameraMarks.AxisLine line = (CameraMarks.AxisLine) marks().marks().getFirst();
    assertThat(line.along()).isEqualTo(Axis.Z);
    window.await("undetermined values are listed", () -> isSeen("match-open"));
    window.drag(
        window.canvas(),
        window.onCanvas(line.to().right(), line.to().down()),
        window.onCanvas(0.8, 0.9));
    At moved = marks().marks().getFirst().ends().getLast();
    assertThat(moved.right()).isCloseTo(0.8, within(0.01));
    assertThat(moved.down()).isCloseTo(0.9, within(0.01));
    assertThat(marks().marks().getFirst().ends().getFirst()).isEqualTo(line.from());
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(marks().marks()).containsExactly(line);
    // typed to a hundredth of a pixel; half a place is none
    window.enter("match-1-at-2", "100.25 40.5");
    At typed = marks().marks().getFirst().ends().getLast();
    assertThat(typed.right() * W).isCloseTo(100.25, within(1e-9));
    window.enter("match-1-at-2", "100.25");
    assertThat(window.text("match-trouble")).contains("expected 2 numbers");
    assertThat(marks().marks().getFirst().ends().getLast()).isEqualTo(typed);
    // at another station nothing is drawn, and nothing can be dragged
    window.press(KeyCode.ESCAPE);
    window.click("station-cut");
    window.drag(
        window.canvas(), window.onCanvas(typed.right(), typed.down()), window.onCanvas(0.2, 0.2));
    assertThat(marks().marks().getFirst().ends().getLast()).isEqualTo(typed);
    window.click("station-shot");
    window.click("match-1-remove");
    assertThat(marks().marks()).isEmpty();
    window.await("there is nothing to use", () -> !isSeen("match-use"));
  }

  /** For conditions that are waited for, on the window's thread. */
  private boolean isSeen(String id) {
    Node node = window.stage().getScene().lookup("#" + id);
    for (Node n = node; n != null; n = n.getParent()) {
      if (!n.isVisible()) {
        return false;
      }
    }
    return node != null;
  }

  @Test
  void theMatchedCameraIsUsedAndFollowsNothingUntilItIsUsedAgain() throws Exception {
    show(corners());
    window.await("it is found", () -> isSeen("match-use"));
    assertThat(window.text("match-found")).contains("fit error 0.00 px", "angle of view 40.00°");
    assertThat(RealWindow.fx(() -> isSeen("match-open"))).isFalse();
    window.click("match-use");
    PlacedCamera used = Objects.requireNonNull(window.plan().requireShot().placed());
    assertThat(used.angle()).isCloseTo(40, within(0.01));
    assertThat(used.eye().get(1)).isCloseTo(1.6, within(0.001));
    assertThat(used.roll()).isCloseTo(Math.toDegrees(0.05), within(0.01));
    // the error of a wrong place shows at its mark, and changes nothing that is used
    window.enter("match-3-place", "-1 2 -1");
    window.await("the error shows", () -> isOff(3));
    assertThat(window.plan().requireShot().placed()).isEqualTo(used);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.plan().requireShot().placed()).isNull();
    assertThat(marks()).isEqualTo(corners());
  }

  @Test
  void whatIsHalfTypedStaysWhileACameraIsFound() throws Exception {
    show(corners());
    window.await("it is found", () -> isSeen("match-use"));
    window.enter("match-1-place", "-1 0 -1.5");
    window.click("match-height");
    window.type("1.");
    window.await("the new error shows", () -> isOff(1));
    window.type("6");
    window.press(KeyCode.ENTER);
    assertThat(marks().cameraHeight()).isEqualTo(1.6);
  }

  /** Whether a mark shows an error of a tenth of a pixel or more. */
  private boolean isOff(int mark) {
    return window.stage().getScene().lookup("#match-%d-error".formatted(mark)) instanceof Labeled l
        && !l.getText().isEmpty()
        && !l.getText().startsWith("0.0");
  }

  @Test
  void groundIsAddedAsAStandInOfThePlate() throws Exception {
    Picture plate = Picture.empty(W, H);
    Arrays.fill(plate.rgba(), 0.25f);
    try (var out = Files.newOutputStream(dir.resolve("plate.0001.hdr"))) {
      RadianceHdr.write(plate, out);
    }
    FileAsker asker = mock(FileAsker.class);
    when(asker.toOpen(anyString(), any(String[].class))).thenReturn(dir.resolve("plate.0001.hdr"));
    window.setAsker(asker);
    show(corners());
    window.await("it is found", () -> isSeen("match-use"));
    window.click("match-use");
    window.click("shot-settings");
    window.click("shot-choose-plate");
    window.await("it is in the plan", () -> window.planNow().requireShot().plate().exists());
    // numbered footage is taken as such
    assertThat(window.plan().requireShot().plate().image()).isEqualTo("plate.{frame:4}.hdr");
    window.click("shot-match");
    window.click("match-ground");
    window.await("it is added", 60, () -> !window.planNow().requireShot().added().isEmpty());
    Shot shot = window.plan().requireShot();
    assertThat(shot.added().getFirst().path()).isEqualTo("/added/plate ground");
    assertThat(shot.plate().standIns()).isEqualTo("plate ground");
    // what the camera does not see of the scene is the plate
    window.await("it is traced", 60, window::whole);
    float[] seen = window.pictures().uncut().rgba();
    assertThat(seen[4 * (5 * W + 5)]).isCloseTo(0.25f, within(1e-3f));
    assertThat(seen[4 * ((H - 5) * W + 5)]).isCloseTo(0.25f, within(1e-3f));
  }
}
