package org.wedgecutter.app.station.output;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Map;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Labeled;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.files.FileAsker;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.RadianceHdr;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.testing.ShotFolder;

/** What is written and how it is traced: passes, the shot's settings, plates, links, by hand. */
class OutputWindowTest {
  @TempDir private Path dir;
  private final FileAsker asker = mock(FileAsker.class);
  private RealWindow window;

  @BeforeEach
  void open() throws Exception {
    window = new RealWindow();
    RealWindow.fx(() -> {
      window.setAsker(asker);
      return null;
    });
    window.openWhole(ShotFolder.make(dir));
  }

  @AfterEach
  void close() throws Exception {
    window.close();
  }

  private SheetView sheet() {
    return window.sheetNow();
  }

  private Node viewer() throws Exception {
    return window.find("viewer", javafx.scene.layout.Region.class);
  }

  private void whole() throws Exception {
    window.await("the pictures are whole", window::whole);
    window.settle();
  }

  private void onScreen() throws Exception {
    whole();
    // images are made off the interface thread: a smaller one may still be on the screen
    Labeled status = window.find("viewer-status", Labeled.class);
    window.await(
        "they are on the screen",
        () -> status.getText().contains("40×24") && status.getText().contains("2 samples"));
    window.settle();
  }

  private Shot shot() throws Exception {
    return window.plan().requireShot();
  }

  @Test
  void aPassIsSwitchedOnAndLookedAt() throws Exception {
    window.click("station-output");
    window.goTo("normal", 0);
    assertThat(window.text("headline")).isEqualTo("Pass normal — whole shot");
    window.click("pass-on");
    assertThat(window.plan().output().more()).containsExactly(Output.More.NORMAL);
    onScreen();
    int[] beauty = window.picture();
    window.pick("pass", "N");
    window.awaitPicture("the pass is shown", beauty, false);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.plan().output().more()).isEmpty();
    onScreen();
    window.awaitPicture("the beauty is back", beauty, true);
  }

  @Test
  void theEndsOfTheDepthRampAreTypedAndWhatIsBeyondIsHatched() throws Exception {
    window.click("station-output");
    window.goTo("depth ramp", 1);
    window.click("pass-on");
    whole();
    window.enter("pass-far", "far");
    assertThat(window.text("pass-trouble")).contains("'far': expected a number from");
    assertThat(window.plan().output().far()).isEqualTo(10);
    int[] before = window.picture();
    window.enter("pass-far", "4.5");
    assertThat(window.plan().output().far()).isEqualTo(4.5);
    whole();
    window.awaitPicture("what is beyond is hatched", before, false);
    window.enter("pass-near", "2");
    assertThat(window.plan().output().near()).isEqualTo(2);
  }

  @Test
  void settingsOfTheWholeShotAreTyped() throws Exception {
    window.click("station-output");
    window.goTo("samples", -1);
    assertThat(window.text("headline")).isEqualTo("Settings — whole shot");
    window.enter("shot-samples", "3");
    assertThat(shot().samples()).isEqualTo(3);
    window.enter("shot-samples", "2.5");
    assertThat(window.text("shot-trouble")).contains("expected a whole number");
    window.enter("shot-bounces-glass", "5");
    window.enter("shot-bounces-media", "70");
    assertThat(window.text("shot-trouble")).contains("0 to 64");
    window.enter("shot-shutter", "0.5");
    window.enter("shot-denoise", "0.25");
    window.click("shot-see-through");
    assertThat(shot().bounces().glass()).isEqualTo(5);
    assertThat(shot().bounces().media()).isEqualTo(1);
    assertThat(shot().shutter()).isEqualTo(0.5);
    assertThat(shot().denoise()).isEqualTo(0.25);
    assertThat(shot().seeThrough()).isTrue();
    whole();
    assertThat(window.pictures().residual().exact()).isTrue();
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(shot().seeThrough()).isFalse();
  }

  @Test
  void aPlateIsChosenStoodInForAndTakenAway() throws Exception {
    Picture plate = Picture.empty(48, 20);
    Arrays.fill(plate.rgba(), 0.25f);
    try (var out = Files.newOutputStream(dir.resolve("plate.hdr"))) {
      RadianceHdr.write(plate, out);
    }
    when(asker.toOpen(anyString(), any(String[].class))).thenReturn(dir.resolve("plate.hdr"));
    window.click("station-output");
    window.goTo("size", -1);
    window.click("shot-choose-plate");
    window.await("the plate is in the plan", () -> planShot().plate().exists());
    window.pick("shot-stand-ins", "Floor");
    assertThat(shot().plate()).isEqualTo(new Shot.PlateDef("plate.hdr", "Floor", shot().extra()));
    whole();
    assertThat(window.pictures().plate()).isNotNull();
    window.clickCell(0, 1);
    window.press(KeyCode.DIGIT5);
    assertThat(window.find("look-plate", javafx.scene.control.ToggleButton.class).isSelected())
        .isTrue();
    window.goTo("size", -1);
    window.click("shot-plate-size");
    assertThat(shot().width() + " x " + shot().height()).isEqualTo("48 x 20");
    whole();
    assertThat(window.pictures().uncut().height()).isEqualTo(20);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    window.goTo("size", -1);
    window.click("shot-no-plate");
    assertThat(shot().plate().exists()).isFalse();
    assertThat(window.find("look-plate", Node.class).isVisible()).isFalse();
    window.press(KeyCode.CONTROL, KeyCode.Z);
    whole();
    assertThat(window.pictures().plate()).as("undo brings it back").isNotNull();
  }

  private Shot planShot() {
    return window.planNow().requireShot();
  }

  @Test
  void aPictureElsewhereIsRefusedAndNothingChanges(@TempDir Path other) throws Exception {
    when(asker.toOpen(anyString(), any(String[].class))).thenReturn(other.resolve("plate.hdr"));
    window.click("station-output");
    window.goTo("size", -1);
    Shot before = shot();
    window.click("shot-choose-environment");
    assertThat(window.shows("banner")).isTrue();
    assertThat(shot()).isEqualTo(before);
  }

  @Test
  void aLightIsLinkedAndLightsAreGrouped() throws Exception {
    window.clickCell(2, 0);
    RealWindow.fx(() -> {
      sheet().select(2, 0, false);
      return null;
    });
    window.click(sheet(), 10, RealWindow.fx(() -> sheet().centre(2, -1))[1]);
    window.goTo("/environment", 0);
    window.pick("link", "Front");
    assertThat(shot().links()).isEqualTo(Map.of("/environment", "Front"));
    window.pick("link", "");
    assertThat(shot().links()).isEmpty();
    window.click("station-output");
    window.goTo("lights", 0);
    window.click("pass-on");
    window.click("light-group-Floor");
    assertThat(window.plan().output().lightGroups()).containsExactly("Floor");
    assertThat(window.find("light-group-Floor", CheckBox.class).isSelected()).isTrue();
    whole();
    assertThat(window.pictures().passTitles()).contains("light.Floor", "light.other");
  }

  @Test
  void interplayAndFaultsAreTold() throws Exception {
    window.click("station-shot");
    window.goTo("floor", 2);
    assertThat(RealWindow.fx(() -> sheet().getAccessibleText()))
        .contains("in layer Front: Holdout", "interplay:");
    assertThat(window.pictures().facts().invalidSamples()).isZero();
  }

  @Test
  void aCatchersReachIsDrawnOverThePicture() throws Exception {
    window.clickCell(2, 0);
    window.press(KeyCode.C);
    whole();
    int[] before = window.picture();
    window.enter("catcher-reach", "1.5 x 0.8");
    window.enter("catcher-turn", "30");
    window.enter("catcher-soft", "0.5");
    window.enter("catcher-centre", "0 0 0");
    CatcherTuning.Reach reach = window.cell(0, "Floor").catching().tuning().reach();
    assertThat(reach.turn()).isEqualTo(30);
    assertThat(reach.soft()).isEqualTo(0.5);
    assertThat(reach.centre()).isEqualTo(new CatcherTuning.Place(0, 0, 0));
    whole();
    window.awaitPicture("an ellipse is drawn", before, false);
    window.enter("catcher-centre", "here");
    assertThat(window.text("catcher-trouble")).contains("expected x y z");
    window.enter("catcher-tint", "0.2 0.1 0");
    assertThat(window.cell(0, "Floor").catching().tuning().tint().text()).isEqualTo("0.2 0.1 0");
    window.click("catcher-lights-Floor");
    assertThat(window.cell(0, "Floor").catching().tuning().lights()).containsExactly("Floor");
  }

  @Test
  void aPassComesOnInOneLayerAloneByKeyAndIsTakenOutOfAnother() throws Exception {
    window.click("station-output");
    window.goTo("depth", 1);
    RealWindow.fx(() -> {
      sheet().requestFocus();
      return null;
    });
    window.press(KeyCode.SPACE);
    Output output = window.plan().output();
    assertThat(output.more()).containsExactly(Output.More.DEPTH);
    assertThat(output.leftOut("Back")).isEmpty();
    assertThat(output.leftOut("Floor")).containsExactly("depth");
    assertThat(output.leftOut("Front")).containsExactly("depth");
    window.goTo("depth", 2);
    window.click("pass-on-layer");
    assertThat(window.plan().output().leftOut("Front")).isEmpty();
    window.click("pass-on");
    assertThat(window.plan().output().leftOut()).isEmpty();
    window.click("preset-mattes");
    assertThat(window.plan().output().passes()).isFalse();
    assertThat(window.plan().output().more())
        .containsExactlyInAnyOrder(Output.More.DEPTH, Output.More.IDS);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.plan().output().passes()).isTrue();
  }

  @Test
  void filesAreNamedWithATreeOfWhatWouldBeWritten() throws Exception {
    window.click("station-output");
    window.goTo("files", 0);
    assertThat(window.text("headline")).isEqualTo("Files — whole shot");
    assertThat(window.text("files-count")).startsWith("8 files, ");
    javafx.scene.control.TreeView<?> tree =
        window.find("files-tree", javafx.scene.control.TreeView.class);
    assertThat(RealWindow.fx(() -> tree.getRoot().getChildren().getFirst().getValue()))
        .isEqualTo("set/");
    window.set("files-name", "{layr}/{frame}");
    assertThat(window.text("files-trouble")).contains("unknown field {layr}");
    window.set("files-name", "{layer}/{shot}.{frame:3}");
    window.click("files-name");
    window.press(KeyCode.ENTER);
    assertThat(window.plan().output().name()).isEqualTo("{layer}/{shot}.{frame:3}");
    javafx.scene.control.TreeView<?> next =
        window.find("files-tree", javafx.scene.control.TreeView.class);
    assertThat(
            RealWindow.fx(
                () -> next.getRoot().getChildren().getFirst().getChildren().getFirst().getValue()))
        .isEqualTo("set.001.exr");
    window.goTo("PNG 8 bit, sRGB", 0);
    window.click("copy-on");
    assertThat(window.plan().output().copies()).containsExactly(Output.Copy.PNG8);
  }
}
