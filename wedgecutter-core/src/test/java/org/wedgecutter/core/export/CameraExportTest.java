package org.wedgecutter.core.export;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.io.JsonText;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.HandCamera;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.core.testing.Shots;

class CameraExportTest {
  @TempDir Path dir;

  private static EntitySet rule(LoadedShot shot, String text) throws Exception {
    return shot.members().of(RuleParser.parse(text));
  }

  @Test
  void pointsAreWhereTheTracerSeesTheirObjects() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    JsonNode n =
        JsonText.read(new CameraExport(shot, rule(shot, "front | back")).json(), Path.of("c"));
    assertThat(n.get("points")).hasSize(2);
    for (int frame : List.of(1, 2)) {
      RenderedFrame traced =
          new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 4, 2, false))
              .render(frame, l -> true, true, p -> {});
      for (JsonNode point : n.get("points")) {
        JsonNode at = point.get("frames").get(frame - 1);
        assertThat(at.get("frame").asInt()).isEqualTo(frame);
        int x = (int) at.get("pixel").get(0).asDouble();
        int y = (int) at.get("pixel").get(1).asDouble();
        // a panel is a triangle: the middle of its bounds lies in it, and its layer covers it there
        String name = point.get("path").asText().equals("/front") ? "Front" : "Back";
        int layer = shot.plan().layerIndex(name);
        if (name.equals("Front")) {
          float alpha = traced.layer(layer).rgba()[4 * (y * traced.uncut().width() + x) + 3];
          assertThat(alpha).as("%s at frame %d, pixel %d %d", name, frame, x, y).isPositive();
        }
        assertThat(at.get("depth").asDouble()).isBetween(3.0, 6.5);
      }
    }
  }

  @Test
  void theCameraIsThatOfTheFiles() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    JsonNode n = JsonText.read(new CameraExport(shot, EntitySet.NONE).json(), Path.of("c"));
    assertThat(n.get("points")).isEmpty();
    JsonNode c = n.get("camera");
    // focal length and angle of view tell the same: tan(v / 2) = half the sensor by the length
    double half = c.get("sensor_height_mm").asDouble() / 2 / c.get("focal_length_mm").asDouble();
    assertThat(Math.toRadians(c.get("vertical_view_degrees").asDouble()) / 2)
        .isCloseTo(Math.atan(half), within(1e-6));
    JsonNode m = c.get("frames").get(0).get("to_world");
    // the camera stands at 0, 0.3, 5 and is not turned
    double[] expected = {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0.3, 5, 1};
    for (int k = 0; k < 16; k++) {
      assertThat(m.get(k).asDouble()).as("number %d", k).isCloseTo(expected[k], within(1e-6));
    }
  }

  @Test
  void pixelsAreThoseOfAPinholeByHand() throws Exception {
    // 90 degrees down, 64 x 48: at depth 2 a frame is 4 high and 5.333 wide
    Scene scene =
        new SceneMaker()
            .camera(Math.PI / 2, 0, 0, 0)
            .mesh("/a, \"b\"", SceneMaker.box(0.1), SceneMaker.matte(0.5), 1, 0.5, -2)
            .mesh("/behind", SceneMaker.box(0.1), SceneMaker.matte(0.5), 0, 0, 3)
            .pointLight("/lamp", 5, 1, 2, 3)
            .scene();
    LoadedShot shot = Shots.of(scene, "1-2", "", "");
    CameraExport export = new CameraExport(shot, rule(shot, "kind:mesh"));
    JsonNode n = JsonText.read(export.json(), Path.of("c"));
    JsonNode first = n.get("points").get(0).get("frames").get(0);
    assertThat(first.get("pixel").get(0).asDouble()).isCloseTo(32 + 12, within(1e-4));
    assertThat(first.get("pixel").get(1).asDouble()).isCloseTo(24 - 6, within(1e-4));
    assertThat(first.get("depth").asDouble()).isCloseTo(2, within(1e-6));
    JsonNode behind = n.get("points").get(1).get("frames").get(1);
    assertThat(behind.get("pixel").isNull()).isTrue();
    assertThat(n.get("lights").get(0).get("type").asText()).isEqualTo("point");
    assertThat(n.get("lights").get(0).get("frames").get(1).get("to_world").get(13).asDouble())
        .isEqualTo(2);
    String[] lines = export.csv().split("\r\n");
    assertThat(lines[0]).isEqualTo("frame,kind,path,x,y,z,pixel_x,pixel_y,depth");
    assertThat(lines).hasSize(1 + 2 * 4);
    assertThat(lines[3])
        .startsWith("1,point,\"/a, \"\"b\"\"\",1.00000,0.500000,-2.00000,44.000,18.000,");
    assertThat(lines[4]).endsWith(",,,");
  }

  @Test
  void aMatchedCameraIsToldWithItsLensAndSeesPointsThroughIt() throws Exception {
    HandCamera eye = new HandCamera(0.5, 1, 6, -0.1, -0.1, 0.3, 40, 0.1, -0.05, -0.2, 0.05);
    Scene scene =
        new SceneMaker()
            .camera(eye.placed().camera())
            .mesh("/a", SceneMaker.box(0.1), SceneMaker.matte(0.5), 1.5, 0.5, -1)
            .scene();
    JsonNode n =
        JsonText.read(
            new CameraExport(Shots.of(scene, "1", "", ""), EntitySet.of(List.of(0))).json(),
            Path.of("c"));
    double[] there = eye.sees(1.5, 0.5, -1, 64, 48);
    JsonNode at = n.get("points").get(0).get("frames").get(0).get("pixel");
    assertThat(at.get(0).asDouble()).isCloseTo(there[0], within(1e-3));
    assertThat(at.get(1).asDouble()).isCloseTo(there[1], within(1e-3));
    JsonNode c = n.get("camera");
    assertThat(c.get("shift_heights").get(0).asDouble()).isEqualTo(0.1);
    assertThat(c.get("shift_heights").get(1).asDouble()).isEqualTo(-0.05);
    assertThat(c.get("radial_distortion").get(0).asDouble()).isEqualTo(-0.2);
    assertThat(c.get("radial_distortion").get(1).asDouble()).isEqualTo(0.05);
  }

  @Test
  void theBinaryGltfIsValidAndHasTheSameMotion() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    EntitySet all = EntitySet.where(shot.scene().entities().size(), e -> true);
    java.nio.file.Path file = dir.resolve("camera.glb");
    java.nio.file.Files.write(file, new CameraExport(shot, all).glb());
    Process process =
        new ProcessBuilder("node", "../scripts/readers/gltf.mjs", file.toString())
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    var report =
        new com.fasterxml.jackson.databind.ObjectMapper().readTree(process.getInputStream());
    assertThat(process.waitFor()).isZero();
    assertThat(report.at("/issues/numErrors").asInt()).as("%s", report).isZero();
    assertThat(report.at("/issues/numWarnings").asInt()).as("%s", report).isZero();
    assertThat(report.at("/info/animationCount").asInt()).isEqualTo(1);
    // the program's own reader, which other tests check with files of others
    var read = org.wedgecutter.core.scene.files.SceneFiles.read(file, "");
    for (int frame : new int[] {1, 2}) {
      double time = shot.plan().requireShot().time(frame);
      var wanted = shot.camera().in(shot.scene().pose(time));
      var camera = read.cameras().getFirst();
      var got = camera.in(read.pose(time));
      assertThat(got.equals(wanted, 1e-5f)).as("%s%n%s", got, wanted).isTrue();
      assertThat(camera.verticalView()).isCloseTo(shot.camera().verticalView(), within(1e-6f));
    }
  }
}
