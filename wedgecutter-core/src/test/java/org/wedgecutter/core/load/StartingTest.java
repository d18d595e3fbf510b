package org.wedgecutter.core.load;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.joml.Matrix4f;
import org.joml.Vector4f;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.carry.Carry;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.export.UsdPlan;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.usd.UsdReader;
import org.wedgecutter.core.testing.GltfText;
import org.wedgecutter.core.testing.HandCamera;
import org.wedgecutter.core.testing.ShotFolder;

/** Scenes that lack a camera or light open with a picture all the same. */
class StartingTest {
  @TempDir Path dir;

  /** A panel without camera and light. */
  private Path bare() throws Exception {
    GltfText text = new GltfText(new float[] {-1, -1, 0, 1, -1, 0, 0, 1, 0});
    text.root.remove(List.of("cameras", "extensions", "extensionsUsed", "animations"));
    var nodes = text.root.putArray("nodes");
    nodes
        .addObject()
        .put("name", "panel")
        .put("mesh", 0)
        .putArray("translation")
        .add(3)
        .add(0)
        .add(0);
    ((ObjectNode) text.at("/scenes/0")).putArray("nodes").add(0);
    ((ObjectNode) text.at("/materials/0")).remove("emissiveFactor");
    Path file = dir.resolve("bare.glb");
    Files.write(file, text.glb());
    return file;
  }

  private static List<Mistake> found(LoadedShot shot) {
    return PlanCheck.check(shot.plan(), shot.members(), shot.resolve(1)).stream()
        .map(Finding::kind)
        .toList();
  }

  @Test
  void aBareSceneOpensWithAPictureAndSaysWhatItWasGiven() throws Exception {
    LoadedShot shot = LoadedShot.load(bare());
    assertThat(found(shot)).contains(Mistake.CAMERA_PLACED, Mistake.LIGHT_NEUTRAL);
    FrameRenderer renderer =
        new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 0.1, 4, 2, false));
    PlanProof proof = PlanProof.prove(shot, 1, renderer, p -> {});
    assertThat(proof.residual().exact()).isTrue();
    RenderedFrame rendered = renderer.render(1, l -> false, true, p -> {});
    Picture seen = rendered.uncut();
    int panel = shot.scene().entity("/panel").orElseThrow().index();
    int at = 4 * (seen.height() / 2 * seen.width() + seen.width() / 2);
    assertThat(rendered.dominant(seen.width() / 2, seen.height() / 2)).isEqualTo(panel);
    // its paint is 0.1, 0.2, 0.3 under light of about a half: neither black nor burnt out
    assertThat(seen.rgba()[at]).isBetween(0.02f, 0.4f);
    assertThat(seen.rgba()[at + 2]).isBetween(0.06f, 0.6f);
  }

  @Test
  void whatASceneHasIsLeftAlone() throws Exception {
    LoadedShot shot = LoadedShot.load(ShotFolder.make(dir).resolveSibling("set.glb"));
    assertThat(shot.plan().requireShot().placed()).isNull();
    assertThat(found(shot)).doesNotContain(Mistake.CAMERA_PLACED);
    assertThat(shot.camera().name()).isNotEqualTo(PlacedCamera.NAME);
  }

  @Test
  void thePlanKeepsTheCameraAndTheSurround() throws Exception {
    LoadedShot shot = LoadedShot.load(bare());
    shot.save();
    LoadedShot again = LoadedShot.load(shot.file());
    assertThat(again.plan().requireShot().placed()).isEqualTo(shot.plan().requireShot().placed());
    assertThat(again.camera()).isEqualTo(shot.camera());
    assertThat(again.environment().level()).isEqualTo(1);
    assertThat(again.environment().image().width()).isGreaterThan(1);
  }

  @Test
  void aPlanWithoutACameraForASceneWithoutOneIsRefusedByItsPlace() throws Exception {
    LoadedShot shot = LoadedShot.load(bare());
    PlanWriter.save(
        shot.plan().withShot(shot.plan().requireShot().with(s -> s.placed = null)), shot.file());
    assertThatThrownBy(() -> LoadedShot.load(shot.file()))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("shot/placed_camera");
  }

  @ParameterizedTest
  @CsvSource({
    "'[0, 0, 0]', '[0, 0, 0]', 35",
    "'[0, 0, 1e400]', '[0, 0, 0]', 35",
    "'[0, 0]', '[0, 0, 0]', 35",
    "'[0, 0, 1]', '[0, 0, 0]', 0",
    "'[0, 0, 1]', '[0, 0, 0]', 180"
  })
  void noCameraIsRefusedByItsPlace(String eye, String target, String angle) {
    String text =
        ShotFolder.PLAN.replace(
            "\"frames\"",
            "\"placed_camera\": {\"eye\": %s, \"target\": %s, \"angle\": %s}, \"frames\""
                .formatted(eye, target, angle));
    assertThatThrownBy(() -> PlanReader.parse(text, dir.resolve("x.wedge")))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("placed_camera");
  }

  @Test
  void aCameraOfThePlanStaysWithItsScene() throws Exception {
    LoadedShot bare = LoadedShot.load(bare());
    LoadedShot own = LoadedShot.load(ShotFolder.make(dir.resolve("own")));
    Carry.Carried toOwn = Carry.carry(bare.plan(), bare.members(), own.members(), "set.glb", "");
    assertThat(toOwn.plan().requireShot().placed()).isNull();
    assertThat(toOwn.report().notes()).anyMatch(n -> n.contains("belongs to the other scene"));
    Carry.Carried toBare = Carry.carry(own.plan(), own.members(), bare.members(), "bare.glb", "");
    assertThat(toBare.plan().requireShot().placed()).isEqualTo(bare.plan().requireShot().placed());
    assertThat(toBare.report().notes()).anyMatch(n -> n.contains("has no camera"));
  }

  /** Where a place is in the picture: across and up, -1 to 1 at the borders. */
  private static Vector4f seen(SceneCamera camera, double aspect, float x, float y, float z) {
    Matrix4f view = camera.in(new Matrix4f[0]).invert(new Matrix4f());
    Matrix4f all = new Matrix4f().perspective(camera.verticalView(), (float) aspect, 1e-6f, 1e5f);
    Vector4f p = all.mul(view, new Matrix4f()).transform(new Vector4f(x, y, z, 1));
    return p.div(p.w);
  }

  @ParameterizedTest
  @CsvSource({"-1,-2,-3,4,5,6,1.78", "0,0,0,0.001,0.002,0.001,1", "-900,0,-900,900,40,900,0.5"})
  void theWholeBoxIsInThePicture(
      float x, float y, float z, float x2, float y2, float z2, double aspect) {
    float[] box = {x, y, z, x2, y2, z2};
    SceneCamera camera = PlacedCamera.framing(box, aspect).camera();
    float most = 0;
    for (int c = 0; c < 8; c++) {
      Vector4f p =
          seen(camera, aspect, box[3 * (c & 1)], box[1 + 3 * (c >> 1 & 1)], box[2 + 3 * (c >> 2)]);
      most = Math.max(most, Math.max(Math.abs(p.x), Math.abs(p.y)));
    }
    assertThat(most).isBetween(0.4f, 1f);
  }

  @Test
  void turningKeepsTheDistanceAndMovingTheDirection() {
    PlacedCamera camera = new PlacedCamera(List.of(1.0, 2.0, 6.0), List.of(1.0, 2.0, 1.0), 40);
    PlacedCamera turned = camera.turned(90, 0);
    assertThat(turned.eye().get(0)).isCloseTo(6, within(1e-9));
    assertThat(turned.eye().get(2)).isCloseTo(1, within(1e-9));
    // straight up is a place where there is no right and left
    assertThat(camera.turned(0, 500).eye().get(1)).isBetween(6.9, 7.0);
    assertThat(camera.at(0.5).eye()).containsExactly(1.0, 2.0, 3.5);
    PlacedCamera moved = camera.moved(0.5, 0);
    // half of the picture's height at the target
    double half = 5 * Math.tan(Math.toRadians(20));
    assertThat(moved.eye().get(0) - 1).isCloseTo(half, within(1e-6));
    assertThat(moved.target().get(0) - 1).isCloseTo(half, within(1e-6));
  }

  @Test
  void theCameraIsPartOfThePlanAsText() throws Exception {
    LoadedShot shot = LoadedShot.load(bare());
    String text = UsdPlan.text(shot);
    assertThat(text).contains("rel camera = </Render/Camera>");
    // our reader finds the same camera in it
    var scene = UsdReader.parse(text, dir.resolve("plan.usda"));
    SceneCamera read = scene.cameras().getFirst();
    SceneCamera own = shot.camera();
    assertThat(read.verticalView()).isCloseTo(own.verticalView(), within(1e-5f));
    assertThat(read.in(scene.pose(0)).equals(own.in(new Matrix4f[0]), 1e-4f)).isTrue();
  }

  @Test
  void aMatchedCameraIsPartOfThePlanAsText() throws Exception {
    LoadedShot shot = LoadedShot.load(bare());
    HandCamera eye = new HandCamera(1, 2, 6, 0.1, -0.2, 0.3, 45, 0.125, -0.0625, 0, 0);
    shot =
        shot.withPlan(
            shot.plan().withShot(shot.plan().requireShot().with(s -> s.placed = eye.placed())));
    SceneCamera read =
        UsdReader.parse(UsdPlan.text(shot), dir.resolve("plan.usda")).cameras().getFirst();
    assertThat(read.projection().right()).isCloseTo(0.125, within(1e-6));
    assertThat(read.projection().up()).isCloseTo(-0.0625, within(1e-6));
  }

  @Test
  void levelAndTurnApplyToTheSurround() throws Exception {
    LoadedShot shot = LoadedShot.load(bare());
    Shot brighter =
        shot.plan()
            .requireShot()
            .withEnvironment(
                new Shot.EnvironmentDef(
                    Shot.EnvironmentDef.NEUTRAL,
                    0,
                    3,
                    shot.plan().requireShot().environment().extra()));
    Picture once = uncut(shot);
    Picture thrice = uncut(shot.withPlan(shot.plan().withShot(brighter)));
    double a = 0;
    double b = 0;
    for (int k = 0; k < once.rgba().length; k += 4) {
      a += once.rgba()[k];
      b += thrice.rgba()[k];
    }
    assertThat(b / a).isCloseTo(3, within(1e-3));
  }

  private static Picture uncut(LoadedShot shot) {
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 0.05, 2, 2, false))
        .render(1, l -> false, true, p -> {})
        .uncut();
  }
}
