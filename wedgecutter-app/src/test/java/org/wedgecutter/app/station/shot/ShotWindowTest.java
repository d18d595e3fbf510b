package org.wedgecutter.app.station.shot;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.TreeView;
import javafx.scene.image.ImageView;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.panel.FactGrid;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.survey.Matter;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.testing.ShotFolder;

/** The Shot station read by a stranger: its pages, a pixel, the timeline, and a proposed cut. */
class ShotWindowTest {
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

  private String label(String id) throws Exception {
    Label label = window.find(id, Label.class);
    return RealWindow.fx(label::getText);
  }

  private boolean has(String id) {
    return window.stage().getScene().getRoot().lookup("#" + id) != null;
  }

  private FactGrid.Facts facts(String id) throws Exception {
    FactGrid grid = window.find(id, FactGrid.class);
    return RealWindow.fx(grid::facts);
  }

  private void openAtShot() throws Exception {
    window.openWhole(ShotFolder.make(dir));
    window.click("station-shot");
    window.await("the motion is read", () -> has("motion-strips"));
  }

  @Test
  void theOrderInDepthIsReadByArrowsAndSaidInASentence() throws Exception {
    openAtShot();
    window.click("shot-order");
    FactGrid.Facts facts = facts("order-grid");
    assertThat(facts.rows()).containsExactly("Front", "Back", "Floor");
    assertThat(facts.cells().get(0).get(1).text()).isEqualTo("front");
    assertThat(facts.cells().get(1).get(0).text()).isEqualTo("behind");
    window.click("order-grid");
    for (KeyCode key : new KeyCode[] {KeyCode.UP, KeyCode.UP, KeyCode.LEFT, KeyCode.LEFT}) {
      window.press(key);
    }
    window.press(KeyCode.RIGHT);
    assertThat(label("shot-sentence"))
        .isEqualTo("Front is in front of Back wherever they overlap.");
  }

  @Test
  void lightAndCostComeWithTheFirstTraceAndTheLightIsAPicture() throws Exception {
    openAtShot();
    window.click("shot-light");
    window.await("the light is read", 120, () -> has("light-grid"));
    assertThat(label("shot-legend")).contains("via the column", "blocks");
    FactGrid grid = window.find("light-grid", FactGrid.class);
    RealWindow.fx(() -> {
      grid.select(2, 1);
      return null;
    });
    assertThat(label("shot-sentence")).startsWith("Of the light on Floor,").contains("via Back");
    window.click("light-picture");
    window.await("the picture is there", 120, () -> picture());
    assertThat(label("light-view-state")).contains("light on Floor via Back");
    window.press(KeyCode.ESCAPE);
    window.click("shot-cost");
    window.await("the costs are there", 120, () -> has("cost-grid"));
    FactGrid.Facts cost = facts("cost-grid");
    assertThat(cost.rows())
        .startsWith("Floor", "Back", "Front", "all layers", "uncut", "… at half the size");
    assertThat(cost.cells().get(0).get(1).text()).endsWith("s");
    assertThat(cost.cells().get(0).get(5).text()).isEqualTo("1,2");
    assertThat(cost.cells().get(3).get(0).sentence()).contains("the uncut shot takes");
    window.await("all is read", 240, () -> surveyed());
    FactGrid costs = window.find("cost-grid", FactGrid.class);
    RealWindow.fx(() -> {
      costs.select(0, 1);
      return null;
    });
    assertThat(label("shot-sentence"))
        .contains(
            "Static except for Front",
            "holding it would save",
            "If held anyway, the error is up to");
    Plan before = window.plan();
    window.click("hold-still");
    Plan held = window.plan();
    assertThat(held.layers()).extracting(l -> l.name()).contains("Floor shadows");
    assertThat(HeldFrames.of(held, LoadedShot.load(dir.resolve("set.wedge")).members()).pictures(0))
        .isEqualTo(1);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.plan()).isEqualTo(before);
  }

  @Test
  void samplesAreSpreadForANoiseOrATimeAndWrittenIntoThePlan() throws Exception {
    openAtShot();
    window.click("shot-cost");
    window.await("the costs are there", 120, () -> has("aim-noise"));
    window.await("all is read", 240, () -> surveyed());
    assertThat(text("aim-time")).matches(".* (s|min|h)");
    Plan before = window.plan();
    window.enter("aim-noise", "0.5");
    assertThat(Double.parseDouble(text("aim-noise"))).isBetween(0.4, 0.5);
    FactGrid.Facts cost = facts("cost-grid");
    List<String> best = cost.cells().subList(0, 3).stream().map(r -> r.get(4).text()).toList();
    assertThat(best).allMatch(t -> Integer.parseInt(t) > 2);
    window.click("use-samples");
    Plan after = window.plan();
    for (int l = 0; l < 3; l++) {
      assertThat(after.layers().get(l).setting(Property.SAMPLES).orElseThrow().text())
          .contains(best.get(l));
    }
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.plan()).isEqualTo(before);
    window.await("all is read again", 240, () -> surveyed() && has("aim-time"));
    window.enter("aim-time", "soon");
    assertThat(label("aim-trouble")).contains("'soon': expected a time above 0");
    window.enter("aim-time", "2 h");
    assertThat(text("aim-time")).isNotEqualTo("soon");
    assertThat(window.plan()).isEqualTo(before);
  }

  private String text(String id) throws Exception {
    TextField field = window.find(id, TextField.class);
    return RealWindow.fx(field::getText);
  }

  @Test
  void theLightOfOneFrameAloneIsThatFrames() throws Exception {
    openAtShot();
    window.click("shot-light");
    window.await("all is read", 240, () -> surveyed() && has("light-grid"));
    FactGrid.Facts all = facts("light-grid");
    window.click("light-one-frame");
    FactGrid.Facts one = facts("light-grid");
    // the front turns, so what it does at the first frame is not what it does on the whole
    assertThat(one).isNotEqualTo(all);
    window.click("light-one-frame");
    assertThat(facts("light-grid")).isEqualTo(all);
  }

  private String proof() {
    return ((javafx.scene.control.Labeled)
            window.stage().getScene().getRoot().lookup("#proof-chip"))
        .getText();
  }

  private boolean picture() {
    var node = window.stage().getScene().getRoot().lookup("#light-view");
    return node instanceof ImageView view && view.getImage() != null;
  }

  @Test
  void aClickInThePictureTellsWhatThePixelIsMadeOf() throws Exception {
    openAtShot();
    var canvas = window.find("viewer", javafx.scene.Node.class).lookup(".canvas-of-pictures");
    var box = RealWindow.fx(canvas::getBoundsInLocal);
    window.click(canvas, box.getCenterX(), box.getCenterY());
    window.await("the pixel is read", () -> has("pixel-tree"));
    @SuppressWarnings("unchecked")
    TreeView<PixelTree.Line> tree = window.find("pixel-tree", TreeView.class);
    List<String> lines =
        RealWindow.fx(
            () -> tree.getRoot().getChildren().stream().map(i -> i.getValue().text()).toList());
    assertThat(lines).isNotEmpty();
    assertThat(lines.getFirst()).contains("of the light, covers", " in ");
    assertThat(lines.getFirst()).matches("/(front|back|floor|environment) .*");
    PixelTree.Line first = RealWindow.fx(() -> tree.getRoot().getChildren().getFirst().getValue());
    RealWindow.fx(() -> {
      tree.getSelectionModel().select(0);
      tree.requestFocus();
      return null;
    });
    window.press(KeyCode.ENTER);
    int column = window.plan().layerIndex(first.layer());
    assertThat(column).isNotNegative();
    assertThat(RealWindow.fx(() -> window.sheetNow().column())).isEqualTo(column);
    assertThat(RealWindow.fx(() -> window.sheetNow().rows().get(window.sheetNow().row()).key()))
        .isEqualTo(
            LoadedShot.load(dir.resolve("set.wedge"))
                .scene()
                .entities()
                .get(first.entity())
                .path());
  }

  @Test
  void theFramesThatMatterAreSteppedThroughByOneKey() throws Exception {
    openAtShot();
    window.await("all is read", 240, () -> surveyed());
    LoadedShot shot = LoadedShot.load(dir.resolve("set.wedge"));
    List<Integer> matters =
        new Surveyor(shot, Surveyor.quick(shot, 1))
            .survey(List.of(1, 2), 4, p -> {}).matters().stream().map(Matter::frame).toList();
    assertThat(matters).isNotEmpty();
    window.press(KeyCode.PERIOD);
    assertThat(window.frame()).isEqualTo(matters.contains(2) ? 2 : 1);
    window.press(KeyCode.COMMA);
    assertThat(window.frame()).isEqualTo(matters.contains(1) || !matters.contains(2) ? 1 : 2);
  }

  private boolean surveyed() {
    var cost = window.stage().getScene().getRoot().lookup("#survey-state");
    return cost instanceof Label label && label.getText().isEmpty();
  }

  @Test
  void aFreshSceneIsOfferedACutThatIsTakenUndoneAndDelivered() throws Exception {
    Path scene = dir.resolve("fresh").resolve("new.glb");
    Files.createDirectories(scene.getParent());
    Files.copy(ShotFolder.make(dir.resolve("shot")).resolveSibling("set.glb"), scene);
    window.open(scene);
    window.await("it is open", () -> has("propose"));
    Plan before = window.plan();
    window.click("propose");
    window.await("a proposal is there", 240, () -> has("proposal-take-0"));
    window.click("proposal-take-0");
    Plan cut = window.plan();
    assertThat(cut.layers().size()).isGreaterThan(1);
    assertThat(cut.collections()).isNotEmpty().allMatch(c -> c.added().isEmpty());
    assertThat(cut.shot()).isEqualTo(before.shot());
    window.await("it rejoins", () -> proof().equals("rejoins exactly"));
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.plan()).isEqualTo(before);
    window.press(KeyCode.CONTROL, KeyCode.SHIFT, KeyCode.Z);
    assertThat(window.plan()).isEqualTo(cut);
    window.press(KeyCode.CONTROL, KeyCode.S);
    window.click("station-render");
    window.set("render-frames", "1");
    window.set("render-samples", "1");
    window.set("render-scale", "0.1");
    window.click("render-start");
    javafx.scene.control.Labeled tells =
        window.find("render-tells", javafx.scene.control.Labeled.class);
    window.await("the delivery is proved", 120, () -> tells.getText().contains("Verified on disk"));
    assertThat(window.text("render-tells")).contains("1 of 1 frames rejoin");
    assertThat(Files.exists(scene.resolveSibling("new.wedge"))).isTrue();
  }

  @Test
  void aProposalStaysWhereItIsWhileOthersArrive() throws Exception {
    Path scene = dir.resolve("fresh").resolve("new.glb");
    Files.createDirectories(scene.getParent());
    Files.copy(ShotFolder.make(dir.resolve("shot")).resolveSibling("set.glb"), scene);
    window.open(scene);
    window.await("it is open", () -> has("propose"));
    window.click("propose");
    window.await("a proposal is there", 240, () -> has("proposal-take-0"));
    var first = window.find("proposal-take-0", javafx.scene.Node.class);
    window.await("it is drawn", () -> placeOf(first).getWidth() > 0);
    window.settle();
    var at = RealWindow.fx(() -> placeOf(first));
    var stop = window.find("proposal-stop", Button.class);
    window.await("all are there", 240, () -> !stop.isVisible());
    assertThat(has("proposal-take-1")).isTrue();
    window.settle();
    assertThat(RealWindow.fx(() -> placeOf(first))).isEqualTo(at);
  }

  private static javafx.geometry.Bounds placeOf(javafx.scene.Node node) {
    return node.localToScene(node.getLayoutBounds());
  }

  @Test
  void aSceneWithoutCameraAndLightOpensWithAPictureAndSaysSo() throws Exception {
    var text = new org.wedgecutter.core.testing.GltfText();
    text.root.remove(List.of("cameras", "extensions", "extensionsUsed", "animations"));
    text.root.putArray("nodes").addObject().put("name", "panel").put("mesh", 0);
    ((com.fasterxml.jackson.databind.node.ObjectNode) text.at("/scenes/0"))
        .putArray("nodes")
        .add(0);
    ((com.fasterxml.jackson.databind.node.ObjectNode) text.at("/materials/0"))
        .remove("emissiveFactor");
    Path scene = dir.resolve("bare.glb");
    Files.write(scene, text.glb());
    window.open(scene);
    window.await(
        "the findings say so",
        () ->
            window.findings().stream()
                .map(f -> f.kind().name())
                .toList()
                .containsAll(List.of("CAMERA_PLACED", "LIGHT_NEUTRAL")));
    window.await("there is a picture", () -> window.brightness() > 0.02);
    PlacedCamera before = window.plan().requireShot().placed();
    var canvas = window.find("viewer", javafx.scene.Node.class).lookup(".canvas-of-pictures");
    var box = RealWindow.fx(canvas::getBoundsInLocal);
    double x = box.getCenterX();
    double y = box.getCenterY();
    window.drag(canvas, new double[] {x, y}, new double[] {x + 60, y}, KeyCode.CONTROL);
    PlacedCamera turned = window.plan().requireShot().placed();
    assertThat(turned.target()).isEqualTo(before.target());
    assertThat(turned.eye()).isNotEqualTo(before.eye());
    assertThat(turned.eye().get(1))
        .isCloseTo(before.eye().get(1), org.assertj.core.data.Offset.offset(1e-6));
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.plan().requireShot().placed()).as("one step back").isEqualTo(before);
    // several turns of the wheel are one step, too
    window.wheel(canvas, new double[] {x, y}, 3, KeyCode.CONTROL);
    assertThat(window.plan().requireShot().placed()).isNotEqualTo(before);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(window.plan().requireShot().placed()).as("one step back").isEqualTo(before);
  }
}
