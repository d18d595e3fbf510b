package org.wedgecutter.app.station.shot;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.testing.RealWindow;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.AddedObject;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.testing.GltfText;
import org.wedgecutter.core.testing.ShotFolder;

/**
 * The first step of the job: frames, size, rate, camera and materials of a scene's new plan; and a
 * scene that changes on disk while it is open.
 */
class ShotSettingsWindowTest {
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

  private void scene(Path file) throws Exception {
    window.open(file);
    window.await("the scene is open", () -> window.planNow() != null);
    window.settle();
    window.click("station-shot");
  }

  private void small() throws Exception {
    window.enter("shot-width", "32");
    window.enter("shot-height", "24");
  }

  private Shot shot() throws Exception {
    return window.plan().requireShot();
  }

  private float[] colours() {
    Picture p = window.pictures() == null ? null : window.pictures().uncut();
    return p == null ? new float[0] : p.rgba().clone();
  }

  private void awaitOther(String what, float[] than) throws Exception {
    window.await(what, 60, () -> window.whole() && !java.util.Arrays.equals(colours(), than));
  }

  @Test
  void aNewPlanBeginsWithTheShotsFramesSizeAndRate() throws Exception {
    ShotFolder.make(dir);
    scene(dir.resolve("set.glb"));
    window.enter("shot-frames", "1-4");
    window.press(KeyCode.TAB);
    assertThat(shot().frames().frames()).containsExactly(1, 2, 3, 4);
    window.enter("shot-width", "64");
    window.enter("shot-height", "32");
    window.enter("shot-fps", "25");
    assertThat(List.of(shot().width(), shot().height())).containsExactly(64, 32);
    assertThat(shot().fps()).isEqualTo(25);
    window.await(
        "it is traced at its size",
        60,
        () ->
            window.whole()
                && window.pictures().uncut().height() * 2 == window.pictures().uncut().width());
    // the timeline has the frames, and its keys go through them
    window.find("timeline", javafx.scene.Node.class);
    RealWindow.fx(() -> {
      window.stage().getScene().lookup("#timeline").requestFocus();
      return null;
    });
    window.press(KeyCode.END);
    assertThat(window.frame()).isEqualTo(4);
    // a range without the frame that is shown goes to the nearest
    window.enter("shot-frames", "1-3");
    assertThat(window.frame()).isEqualTo(3);
    window.enter("shot-frames", "3-1");
    assertThat(window.text("shot-trouble")).contains("3-1");
    assertThat(shot().frames().frames()).containsExactly(1, 2, 3);
  }

  @Test
  void aCameraOfThePlansOwnIsChosenAndTheScenesAgain() throws Exception {
    ShotFolder.make(dir);
    scene(dir.resolve("set.glb"));
    small();
    window.await("traced", 60, window::whole);
    float[] before = colours();
    window.pick("shot-camera", "");
    assertThat(shot().placed()).isNotNull();
    awaitOther("it is another view", before);
    assertThat(window.shows("shot-camera-eye-x")).isTrue();
    window.pick("shot-camera", "main");
    assertThat(shot().placed()).isNull();
    window.await(
        "as it was", 60, () -> window.whole() && java.util.Arrays.equals(colours(), before));
  }

  @Test
  void groundAndFogAreAddedChangedRemovedAndUndone() throws Exception {
    ShotFolder.make(dir);
    scene(dir.resolve("set.glb"));
    small();
    window.await("traced", 60, window::whole);
    float[] before = colours();
    window.click("add-ground");
    awaitOther("the ground is in the picture", before);
    assertThat(shot().added()).hasSize(1);
    assertThat(window.sheet()).isNotNull();
    float[] grey = colours();
    window.enter("added-ground-colour", "0.8 0.1 0.1");
    awaitOther("the ground is red", grey);
    // what is wrong is reported, and stays to be corrected
    window.enter("added-ground-colour", "0.8 0.1");
    assertThat(window.text("added-trouble")).contains("2 numbers, expected 3");
    window.press(KeyCode.ESCAPE);
    window.click("add-ground-fog");
    window.await("it is added", 60, () -> window.planNow().requireShot().added().size() == 2);
    window.enter("added-ground-fog-density", "1:0 3:0.5");
    assertThat(((AddedObject.Fog) shot().added().get(1)).densityAt(2)).isEqualTo(0.25);
    window.enter("added-ground-fog-density", "3:0 1:0.5");
    assertThat(window.text("added-trouble")).contains("frames of keys must increase");
    window.click("added-ground-fog-remove");
    window.click("added-ground-remove");
    window.await(
        "as it was", 60, () -> window.whole() && java.util.Arrays.equals(colours(), before));
    // each step back brings the scene of that step
    for (int k = 0; k < 5; k++) {
      window.press(KeyCode.CONTROL, KeyCode.Z);
    }
    window.await(
        "the grey ground again",
        60,
        () -> window.whole() && java.util.Arrays.equals(colours(), grey));
    assertThat(shot().added()).hasSize(1);
  }

  @Test
  void twoClicksAddTwoObjectsOfDifferentNames() throws Exception {
    ShotFolder.make(dir);
    scene(dir.resolve("set.glb"));
    small();
    window.await("traced", 60, window::whole);
    RealWindow.fx(() -> {
      Button add = (Button) window.stage().getScene().lookup("#add-ground");
      add.fire();
      add.fire();
      return null;
    });
    window.await("both", 60, () -> window.planNow().requireShot().added().size() == 2);
    assertThat(shot().added()).extracting(AddedObject::name).containsExactly("ground", "ground 2");
  }

  @Test
  void aSetOfMaterialsIsChosenAndUndone() throws Exception {
    GltfText text = new GltfText(new float[] {-1, -1, 0, 1, -1, 0, 0, 1, 0});
    ObjectNode worn = text.root.withArray("materials").addObject().put("name", "worn");
    worn.putArray("emissiveFactor").add(0).add(1).add(0);
    text.at("/extensions")
        .putObject("KHR_materials_variants")
        .putArray("variants")
        .addObject()
        .put("name", "old");
    text.at("/meshes/0/primitives/0")
        .putObject("extensions")
        .putObject("KHR_materials_variants")
        .putArray("mappings")
        .addObject()
        .put("material", 1)
        .putArray("variants")
        .add(0);
    scene(text.gltf(dir.resolve("worn.gltf")));
    small();
    window.await("traced", 60, window::whole);
    float[] before = colours();
    window.pick("shot-variant", "old");
    window.await("it is in the plan", () -> window.planNow().requireShot().variant().equals("old"));
    awaitOther("it shines green", before);
    assertThat(colours()[4 * (32 * 12 + 16) + 1]).isGreaterThan(0.9f);
    // after a reload the set of before is read again, too
    Files.writeString(dir.resolve("worn.gltf"), Files.readString(dir.resolve("worn.gltf")) + "\n");
    window.await("a banner says so", 20, () -> banner("worn.gltf changed on disk"));
    window.click("reload-scene");
    window.settle();
    window.await("read again", 60, window::whole);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(shot().variant()).isEmpty();
    window.await(
        "as it was", 60, () -> window.whole() && java.util.Arrays.equals(colours(), before));
  }

  @Test
  void theVariantsOfAStageAreChosenSetBySetAndUndone() throws Exception {
    String set =
        """
        #usda 1.0
        def Xform "chair" ( prepend variantSets = ["wood", "size"] ) {
          variantSet "wood" = { "oak" { def Sphere "knob" { } } "ash" { } }
          variantSet "size" = { "small" { def Cube "seat" { } } "large" { def Cone "seat" { } } }
        }
        def Sphere "ball" { }
        """;
    scene(Files.writeString(dir.resolve("set.usd"), set));
    small();
    window.await("traced", 60, window::whole);
    window.pick("shot-variant-chair-wood", "oak");
    window.await("one", () -> shown().equals("/chair{wood=oak}"));
    window.pick("shot-variant-chair-size", "large");
    window.await("both", () -> shown().equals("/chair{wood=oak} /chair{size=large}"));
    window.await("traced again", 60, window::whole);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(shot().variant()).isEmpty();
  }

  private String shown() {
    return window.planNow().requireShot().variant();
  }

  @Test
  void aSceneThatChangesOnDiskIsToldAndReadAgainUnderThePlan() throws Exception {
    ShotFolder.make(dir);
    Path file = dir.resolve("set.glb");
    scene(dir.resolve("set.wedge"));
    window.click("shot-settings");
    window.await("traced", 60, window::whole);
    window.enter("shot-samples", "3");
    window.await("traced", 60, window::whole);
    float[] before = colours();
    // the front one is moved out of the picture
    byte[] bytes = Files.readAllBytes(file);
    String all = new String(bytes, java.nio.charset.StandardCharsets.ISO_8859_1);
    assertThat(all).contains("[0.4,0,1]");
    Files.write(
        file,
        all.replace("[0.4,0,1]", "[9.4,0,1]")
            .getBytes(java.nio.charset.StandardCharsets.ISO_8859_1));
    window.await("a banner says so", 20, () -> banner("set.glb changed on disk"));
    assertThat(colours()).as("until then nothing changes").isEqualTo(before);
    window.click("reload-scene");
    awaitOther("it is gone", before);
    assertThat(shot().samples()).as("the edit").isEqualTo(3);
    window.press(KeyCode.CONTROL, KeyCode.Z);
    assertThat(shot().samples()).as("its undo").isEqualTo(2);
  }

  private boolean banner(String text) {
    return window.stage().getScene().getRoot().lookupAll(".label").stream()
        .anyMatch(n -> n instanceof javafx.scene.control.Label l && l.getText().contains(text));
  }

  @Test
  void theFormStaysWhileSomebodyTypesAndTheSurveyGoesOn() throws Exception {
    ShotFolder.make(dir);
    scene(dir.resolve("set.glb"));
    small();
    String frames = shot().frames().text();
    ChoiceBox<?> camera = window.find("shot-camera", ChoiceBox.class);
    window.set("shot-frames", "1-");
    window.await("traced", 60, window::whole);
    window.settle();
    assertThat(window.find("shot-camera", ChoiceBox.class)).isSameAs(camera);
    assertThat(window.find("shot-frames", TextField.class).getText()).isEqualTo("1-");
    assertThat(shot().frames().text()).isEqualTo(frames);
  }
}
