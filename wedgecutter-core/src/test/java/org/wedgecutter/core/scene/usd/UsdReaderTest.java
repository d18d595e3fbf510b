package org.wedgecutter.core.scene.usd;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.Random;
import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.ShotFolder;

class UsdReaderTest {
  private static final String STAGE = ShotFolder.stage();

  private static Scene read(String text) throws InputException {
    return UsdReader.parse(text, Path.of("t.usda"));
  }

  @Test
  void hierarchyMaterialsLightsAndCamerasAreRead() throws Exception {
    Scene scene = read(STAGE);
    assertThat(scene.entities().stream().map(e -> e.path()))
        .containsExactly(
            "/set/arm/ball", "/set/sun", "/set/panel", "/set/bulb", "/set/block", "/environment");
    var ball = scene.entity("/set/arm/ball").orElseThrow();
    assertThat(ball.tags()).containsExactly("heroes");
    assertThat(ball.moves()).isTrue();
    assertThat(ball.materials()).containsExactly("brass", "glow");
    Mesh mesh = scene.meshes().get(ball.payload());
    assertThat(mesh.triangles()).isEqualTo(3);
    Material last = scene.materials().get(mesh.triangleMaterials()[2]);
    assertThat(last.emission().r()).isEqualTo(2);
    assertThat(mesh.uvs()).isNotNull();
    assertThat(mesh.uvs()[1]).as("v runs downwards here").isEqualTo(1);
    Material brass = scene.material("brass").orElseThrow();
    assertThat(brass.metallic()).isEqualTo(1);
    assertThat(brass.roughness()).isEqualTo(0.25f);
    Light sun = scene.lights().get(scene.entity("/set/sun").orElseThrow().payload());
    assertThat(sun.type()).isEqualTo(Light.Type.DIRECTIONAL);
    assertThat(sun.intensity().r()).isEqualTo(6);
    var panel = scene.entity("/set/panel").orElseThrow();
    assertThat(panel.kind()).isEqualTo(EntityKind.LIGHT);
    Light area = scene.lights().get(panel.payload());
    assertThat(area.type()).isEqualTo(Light.Type.RECTANGLE);
    assertThat(area.intensity().r()).as("by its area").isEqualTo(6);
    Light bulb = scene.lights().get(scene.entity("/set/bulb").orElseThrow().payload());
    assertThat((double) bulb.intensity().g()).isCloseTo(10 * Math.PI * 0.01, within(1e-5));
    assertThat((double) scene.cameras().getFirst().verticalView())
        .isCloseTo(2 * Math.atan(24 / 70.0), within(1e-6));
    assertThat(scene.missing())
        .anyMatch(n -> n.contains("/set/elsewhere: references: @other.usda@ not found"));
    assertThat(scene.unsupported()).anyMatch(n -> n.contains("inputs:displacement"));
  }

  @Test
  void transformsAreOfTheirTime() throws Exception {
    Scene scene = read(STAGE);
    int arm = scene.entity("/set/arm/ball").orElseThrow().node();
    Vector3f at = scene.pose(0)[arm].transformPosition(new Vector3f(1, 0, 0));
    assertThat(at.distance(1, 1, 0)).isLessThan(1e-5f);
    // frame 25 is one second after frame 1
    at = scene.pose(1)[arm].transformPosition(new Vector3f(1, 0, 0));
    assertThat(at.distance(0, 1, -1)).isLessThan(1e-5f);
    at = scene.pose(0.5)[arm].transformPosition(new Vector3f(1, 0, 0));
    float h = (float) Math.sqrt(0.5);
    assertThat(at.distance(h, 1, -h)).isLessThan(1e-4f);
    Matrix4f eye = scene.pose(0)[scene.cameras().getFirst().node()];
    assertThat(eye.getTranslation(new Vector3f()).distance(0, 2, 9)).isLessThan(1e-6f);
    assertThat(scene.duration()).isEqualTo(1);
  }

  @Test
  void unitsAndUpAxisAreBroughtToOurs() throws Exception {
    Scene scene =
        read(STAGE.replace("metersPerUnit = 1", "metersPerUnit = 0.01").replace("\"Y\"", "\"Z\""));
    int eye = scene.cameras().getFirst().node();
    // (0, 2, 9) centimetres with z up is (0, 9, -2) with y up
    assertThat(scene.pose(0)[eye].getTranslation(new Vector3f()).distance(0, 0.09f, -0.02f))
        .isLessThan(1e-6f);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "#usda 1.0 | #usd 1.0 | expected '#usda 1.0'",
        "def Xform \"set\" | defx Xform \"set\" | expected def, over or class",
        "[0, 1, 2, 3, 1, 4, 2] | [0, 1, 2, 3, 1, 9, 2] | 9, but there are 5 points",
        "[4, 3] | [4, 2] | a face of 2 corners",
        "(0.8, 0.6, 0.2) | (0.8, 0.6, | expected a number",
        "point3f[] points | point3f[] pts | points: missing"
      })
  void wrongInputIsToldWithItsPlace(String from, String to, String expected) {
    assertThatThrownBy(() -> read(STAGE.replace(from, to)))
        .isInstanceOf(InputException.class)
        .hasMessageContaining(expected);
  }

  @Test
  void cutAndGarbledTextNeverDoesWorseThanAMessage() {
    Random random = new Random(7);
    for (int k = 0; k < 400; k++) {
      StringBuilder text = new StringBuilder(STAGE);
      if (random.nextBoolean()) {
        text.setLength(12 + random.nextInt(STAGE.length() - 12));
      }
      for (int n = random.nextInt(4); n > 0; n--) {
        text.setCharAt(
            10 + random.nextInt(text.length() - 10),
            "(){}[]<>\"@=,;x9-".charAt(random.nextInt(16)));
      }
      try {
        read(text.toString());
      } catch (InputException e) {
        assertThat(e.getMessage()).contains("t.usda");
      }
    }
    assertThatThrownBy(() -> read("#usda 1.0\n" + "def \"a\" {".repeat(100_000)))
        .isInstanceOf(InputException.class);
  }
}
