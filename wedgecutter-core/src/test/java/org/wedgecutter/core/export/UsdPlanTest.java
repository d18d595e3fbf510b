package org.wedgecutter.core.export;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.scene.usd.UsdReader;
import org.wedgecutter.core.testing.ShotFolder;

/** The plan as OpenUSD text, read again by a library that is not ours. */
class UsdPlanTest {
  private static final Path CHECK =
      Path.of(System.getProperty("user.dir")).resolve("../scripts/readers");

  private static JsonNode independent(Path usda) throws Exception {
    Path out = usda.resolveSibling("out.json");
    Process p =
        new ProcessBuilder("node", CHECK.resolve("usd.mjs").toString(), usda.toString())
            .redirectOutput(out.toFile())
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    assertThat(p.waitFor(60, TimeUnit.SECONDS)).isTrue();
    assertThat(p.exitValue()).as("the independent parser takes it").isZero();
    return new ObjectMapper().readTree(out.toFile());
  }

  private static LoadedShot shot(Path dir) throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    // odd names must not break the text
    var plan = CollectionEdits.rename(shot.plan(), "Back", "Back \"2\" of {it}");
    plan = PlanEdits.cell(plan, "Floor", "Front", c -> c.withRole(Role.ABSENT));
    return shot.withPlan(plan);
  }

  @Test
  void anIndependentParserReadsCollectionsAndPasses(@TempDir Path dir) throws Exception {
    Path file = dir.resolve("plan.usda");
    Files.writeString(file, UsdPlan.text(shot(dir)), StandardCharsets.UTF_8);
    JsonNode read = independent(file);
    assertThat(read.get("loaded").asBoolean()).isTrue();
    String again = read.get("text").asText();
    assertThat(again)
        .contains("RenderPass \"Floor\"", "RenderPass \"Front\"", "collection:prune:includes")
        .contains("RenderProduct", "RenderVar", "collection:Front:includes", "</front>");
  }

  @Test
  void anInstancerStandsForItsInstances(@TempDir Path dir) throws Exception {
    Path stage = dir.resolve("grove.usda");
    try (var in = ShotFolder.class.getResourceAsStream("bodies.usda")) {
      Files.copy(in, stage);
    }
    LoadedShot shot = LoadedShot.load(stage);
    var plan =
        CollectionEdits.add(
            shot.plan(), 0, CollectionDef.of("Grove", RuleParser.parse("path:/grove/**")));
    plan =
        CollectionEdits.add(
            plan, 0, CollectionDef.of("One", RuleParser.parse("path:/grove/11/**")));
    Path file = dir.resolve("plan.usda");
    Files.writeString(file, UsdPlan.text(shot.withPlan(plan)), StandardCharsets.UTF_8);
    String again = independent(file).get("text").asText();
    assertThat(again)
        .contains("collection:Grove:includes = [</grove>]", "collection:One:includes = [</grove>]")
        .contains("wedgecutter:partly:collection:One:includes = [</grove>]")
        .doesNotContain("partly:collection:Grove", "</grove/");
  }

  @Test
  void theStageOfTheReadersTestsIsGoodTextToTheIndependentParserToo(@TempDir Path dir)
      throws Exception {
    Path file = dir.resolve("stage.usda");
    Files.writeString(file, ShotFolder.stage(), StandardCharsets.UTF_8);
    JsonNode read = independent(file);
    assertThat(read.get("text").asText())
        .contains("Mesh \"ball\"", "DistantLight \"sun\"", "xformOp:rotateXYZ.timeSamples");
    var own = UsdReader.read(file, "");
    assertThat(own.meshes().getFirst().name()).isEqualTo("ball");
  }

  @Test
  void ourReaderFindsThePrimsAgain(@TempDir Path dir) throws Exception {
    var scene = UsdReader.parse(UsdPlan.text(shot(dir)), dir.resolve("plan.usda"));
    assertThat(scene.unsupported())
        .anyMatch(n -> n.contains("/Render/Floor: RenderPass"))
        .anyMatch(n -> n.contains("RenderSettings"));
  }

  @Test
  void rolesBecomeTheFourCollectionsOfAPass(@TempDir Path dir) throws Exception {
    String text = UsdPlan.text(shot(dir));
    String floor = text.substring(text.indexOf("def RenderPass \"Floor\""));
    assertThat(line(floor, "collection:prune:includes")).isEqualTo("[</front>]");
    assertThat(line(floor, "collection:matte:includes"))
        .contains("</back>")
        .doesNotContain("floor");
    assertThat(line(floor, "collection:cameraVisibility:includes")).contains("</floor>", "</back>");
    assertThat(line(floor, "collection:renderVisibility:includes")).doesNotContain("</front>");
  }

  /** The text for a shot of three layers, read line by line against the standard's schemas. */
  @Test
  void theTextIsThatOfThePageThatWasRead(@TempDir Path dir) throws Exception {
    LoadedShot shot = shot(dir);
    shot =
        shot.withPlan(
            LayerEdits.layer(
                LayerEdits.unjoin(shot.plan(), "Front"), "Front", l -> l.withRender(false)));
    String expected =
        new String(
            UsdPlanTest.class.getResourceAsStream("set-plan.usda").readAllBytes(),
            StandardCharsets.UTF_8);
    assertThat(UsdPlan.text(shot)).isEqualTo(expected);
  }

  private static String line(String text, String name) {
    int at = text.indexOf(name);
    return text.substring(text.indexOf("= ", at) + 2, text.indexOf('\n', at));
  }
}
