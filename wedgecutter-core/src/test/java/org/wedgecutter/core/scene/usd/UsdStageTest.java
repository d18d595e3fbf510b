package org.wedgecutter.core.scene.usd;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.joml.Vector3f;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TimeRange;
import org.wedgecutter.core.scene.files.SceneFiles;
import org.wedgecutter.core.testing.ShotFolder;

/** Stages of several files as scenes and as shots. */
class UsdStageTest {
  private static final String CARD =
      """
      #usda 1.0
      ( defaultPrim = "card" metersPerUnit = 1 upAxis = "Y" )
      def Xform "card" ( prepend variantSets = "size" )
      {
          def Mesh "face"
          {
              point3f[] points = [(-1, -1, 0), (1, -1, 0), (1, 1, 0), (-1, 1, 0)]
              int[] faceVertexCounts = [4]
              int[] faceVertexIndices = [0, 1, 2, 3]
              uniform token subdivisionScheme = "none"
              uniform token[] xformOpOrder = ["xformOp:scale"]
          }
          variantSet "size" = {
              "small" { over "face" { double3 xformOp:scale = (0.5, 0.5, 0.5) } }
              "large" { over "face" { double3 xformOp:scale = (2, 2, 2) } }
          }
      }
      """;

  private static final String SHOT =
      """
      #usda 1.0
      (
          subLayers = [@lights.usda@]
          metersPerUnit = 1
          upAxis = "Y"
          startTimeCode = 1001
          endTimeCode = 1010
          framesPerSecond = 25
          timeCodesPerSecond = 25
      )
      def Xform "left" ( references = @parts/card.usda@ variants = { string size = "small" } )
      {
          double3 xformOp:translate.timeSamples = { 1001: (0, 0, 0), 1010: (9, 0, 0) }
          uniform token[] xformOpOrder = ["xformOp:translate"]
      }
      def Xform "right" ( payload = @parts/card.usda@ ) { }
      def Xform "lost" ( references = @parts/gone.usda@ ) { }
      """;

  private static final String LIGHTS =
      """
      #usda 1.0
      ( metersPerUnit = 1 upAxis = "Y" )
      def DistantLight "sun" { float inputs:intensity = 3 }
      """;

  @TempDir Path dir;

  private Path shot() throws Exception {
    Files.createDirectories(dir.resolve("parts"));
    Files.writeString(dir.resolve("parts/card.usda"), CARD);
    Files.writeString(dir.resolve("lights.usda"), LIGHTS);
    return Files.writeString(dir.resolve("shot.usda"), SHOT);
  }

  private static List<String> paths(Scene scene) {
    return scene.entities().stream().map(e -> e.path()).toList();
  }

  @Test
  void whatOtherLayersHoldIsThereAndWhatIsMissingIsToldByWhoAsks() throws Exception {
    Scene scene = SceneFiles.read(shot());
    assertThat(paths(scene))
        .containsExactlyInAnyOrder("/left/face", "/right/face", "/sun", "/environment");
    assertThat(scene.missing())
        .singleElement()
        .asString()
        .contains("shot.usda", "/lost", "parts/gone.usda", "not found");
    assertThat(scene.variants())
        .containsExactly(
            "/left{size=small}", "/left{size=large}", "/right{size=small}", "/right{size=large}");
  }

  @Test
  void aShotHasTheStagesOwnFramesAndStandsWhereItsKeysSay() throws Exception {
    LoadedShot shot = LoadedShot.load(shot());
    var own = shot.plan().requireShot();
    assertThat(own.frames().first()).isEqualTo(1001);
    assertThat(own.frames().last()).isEqualTo(1010);
    assertThat(own.fps()).isEqualTo(25);
    int face = shot.scene().entity("/left/face").orElseThrow().node();
    for (int frame : new int[] {1001, 1004, 1010}) {
      Vector3f at = shot.scene().pose(own.time(frame))[face].getTranslation(new Vector3f());
      assertThat(at.x)
          .as("frame %d", frame)
          .isCloseTo(frame - 1001, org.assertj.core.data.Offset.offset(1e-3f));
    }
    assertThat(new TimeRange(0, 9 / 24f, 24).frames()).isEqualTo("1-10");
    assertThat(TimeRange.until(0).frames()).isEqualTo("1");
  }

  @Test
  void variantsAreChosenInThePlanAndStayThere() throws Exception {
    Path file = shot();
    var sets = Variants.sets(SceneFiles.read(file).variants());
    assertThat(sets.stream().map(s -> s.path() + " " + s.names()))
        .containsExactly("/left [small, large]", "/right [small, large]");
    String text = sets.get(1).in(sets.get(0).in("", "large"), "small");
    assertThat(text).isEqualTo("/left{size=large} /right{size=small}");
    assertThat(sets.get(0).in(text)).isEqualTo("large");
    assertThat(sets.get(0).in(text, "")).isEqualTo("/right{size=small}");
    LoadedShot shot = LoadedShot.load(file);
    var plan = shot.plan().withShot(shot.plan().requireShot().with(d -> d.variant = text));
    Path saved = dir.resolve("own.wedge");
    PlanWriter.save(plan, saved);
    assertThat(PlanReader.read(saved).requireShot().variant()).isEqualTo(text);
    Scene scene = LoadedShot.load(saved).scene();
    double time = shot.plan().requireShot().time(1001);
    float left = width(scene, "/left/face", time);
    float right = width(scene, "/right/face", time);
    assertThat(left).isEqualTo(2f);
    assertThat(right).isEqualTo(0.5f);
  }

  private static float width(Scene scene, String path, double time) {
    int node = scene.entity(path).orElseThrow().node();
    return scene.pose(time)[node].getScale(new Vector3f()).x;
  }

  @Test
  void theSameStageAsCrateIsTheSameSceneWhateverItsName() throws Exception {
    Path text = Files.writeString(dir.resolve("text.usd"), ShotFolder.stage());
    Path crate = dir.resolve("crate.usd");
    try (InputStream in = ShotFolder.class.getResourceAsStream("stage.usdc")) {
      Files.write(crate, in.readAllBytes());
    }
    Scene a = SceneFiles.read(text);
    Scene b = SceneFiles.read(crate);
    assertThat(paths(b)).isEqualTo(paths(a));
    assertThat(b.meshes().getFirst().positions()).isEqualTo(a.meshes().getFirst().positions());
    assertThat(b.materials()).usingRecursiveComparison().isEqualTo(a.materials());
    assertThat(b.lights()).isEqualTo(a.lights());
    assertThat(b.cameras()).isEqualTo(a.cameras());
    Path named = Files.copy(crate, dir.resolve("stage.glb"));
    assertThat(paths(SceneFiles.read(named))).as("by its first bytes").isEqualTo(paths(a));
  }
}
