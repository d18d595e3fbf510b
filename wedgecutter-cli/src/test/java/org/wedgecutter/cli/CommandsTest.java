package org.wedgecutter.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.plan.CameraMarks;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.testing.GltfText;
import org.wedgecutter.core.testing.HandCamera;
import org.wedgecutter.core.testing.ShotFolder;
import picocli.CommandLine;

/** Commands on scenes and plans, and wrong use of any. */
class CommandsTest extends CommandRun {
  @Test
  void infoTellsWhatIsThere() throws Exception {
    JsonNode n = json(0, "info", dir.resolve("set.glb").toString(), "--json");
    assertThat(n.get("triangles").asInt()).isEqualTo(3);
    assertThat(n.get("cameras").get(0).asText()).isEqualTo("main");
    assertThat(n.get("entities").get(0).get("path").asText()).isEqualTo("/front");
    assertThat(n.get("entities").get(0).get("moves").asBoolean()).isTrue();
    assertThat(n.get("entities").get(0).get("seconds").get(1).asDouble()).isEqualTo(2);
    assertThat(n.get("entities").get(1).has("seconds")).isFalse();
    assertThat(n.get("bounds")).hasSize(6);
    assertThat(run("info", dir.resolve("set.glb").toString())).isZero();
    assertThat(out)
        .contains("/front", "moves 0.000 to 2.000 s", "kind mesh", "everything is supported");
  }

  @Test
  void theCameraIsExportedWithTrackedPoints() throws Exception {
    Path file = dir.resolve("camera.csv");
    assertThat(run("export", plan, "--as", "camera", "-o", file.toString())).isZero();
    // the front alone moves
    assertThat(java.nio.file.Files.readAllLines(file))
        .hasSize(5)
        .anySatisfy(l -> assertThat(l).startsWith("2,point,/front,"));
    String json = dir.resolve("camera.json").toString();
    assertThat(run("export", plan, "--as", "camera", "--track", "back", "-o", json)).isZero();
    assertThat(JSON.readTree(Path.of(json).toFile()).get("points").get(0).get("path").asText())
        .isEqualTo("/back");
    wrong("--track", "export", plan, "--as", "camera", "--track", "(", "-o", json);
    wrong(
        ".json, .csv or .glb", "export", plan, "--as", "camera", "-o", dir.resolve("x").toString());
  }

  @Test
  void aCameraIsMatchedToldAndUsed() throws Exception {
    HandCamera eye = HandCamera.of(0.5, 1.6, 5, -0.1, -0.2, 0.05, 40);
    wrong("nothing is marked", "camera", plan);
    Plan before = PlanReader.read(Path.of(plan));
    Shot shot = before.requireShot();
    List<CameraMarks.Mark> marks = new ArrayList<>();
    for (int k = 0; k < 8; k++) {
      double[] at = eye.sees(k & 1, k >> 1 & 1, k >> 2, shot.width(), shot.height());
      marks.add(
          new CameraMarks.Point(
              new CameraMarks.At(at[0] / shot.width(), at[1] / shot.height()),
              List.of((double) (k & 1), (double) (k >> 1 & 1), (double) (k >> 2))));
    }
    PlanWriter.save(
        before.withShot(shot.with(s -> s.marks = CameraMarks.NONE.with(marks.subList(0, 1)))),
        Path.of(plan));
    JsonNode open = json(1, "camera", plan, "--json");
    assertThat(open.get("open")).hasSize(3);
    PlanWriter.save(
        before.withShot(shot.with(s -> s.marks = CameraMarks.NONE.with(marks))), Path.of(plan));
    JsonNode n = json(0, "camera", plan, "--use", "--json");
    assertThat(n.get("error").asDouble()).isLessThan(1e-3);
    assertThat(n.get("angle").asDouble()).isCloseTo(40, within(1e-3));
    assertThat(n.get("marks")).hasSize(8);
    PlacedCamera used = PlanReader.read(Path.of(plan)).requireShot().placed();
    assertThat(used.eye().get(1)).isCloseTo(1.6, within(1e-4));
    assertThat(run("camera", plan)).isZero();
    assertThat(out).contains("fit error 0.00 px", "angle of view 40.000°", "8 point");
  }

  @Test
  void theFormatsAreListed() throws Exception {
    JsonNode all = json(0, "info", "--formats", "--json").get("formats");
    assertThat(all.findValuesAsText("name")).contains("OpenEXR", "glTF 2.0", "PNG");
    assertThat(run("info", "--formats")).isZero();
    assertThat(out).contains("OpenEXR (.exr)", "  written  layers with their passes");
    wrong("expected a scene or an image, or --formats", "info");
  }

  @Test
  void infoListsWhatWasNotUnderstood() throws Exception {
    GltfText text = new GltfText();
    text.root.withArray("extensionsUsed").add("VENDOR_moon_dust");
    String file = text.gltf(dir.resolve("x.gltf")).toString();
    assertThat(run("info", file)).isZero();
    assertThat(out).contains("unsupported", "VENDOR_moon_dust");
  }

  @Test
  void checkIsFineOnAGoodPlanAndSaysNoOnABadOne() throws Exception {
    assertThat(run("check", plan)).isZero();
    assertThat(out).contains("no findings");
    Files.writeString(
        Path.of(plan),
        ShotFolder.PLAN.replace(
            "{\"Back\": {\"role\": \"Seen\"}}", "{\"Front\": {\"role\": \"Seen\"}}"));
    JsonNode n = json(1, "check", plan, "--json");
    assertThat(n.get("findings"))
        .anyMatch(f -> f.get("cause").asText().contains("/back is seen in no layer"))
        .anyMatch(f -> f.get("cause").asText().contains("/front is seen in Back and Front"));
    assertThat(run("check", plan)).isEqualTo(1);
    assertThat(out).contains("error", "fix: ");
  }

  @Test
  void provingAPlanTracesIt() throws Exception {
    JsonNode n =
        json(0, "prove", plan, "--frame", "2", "--samples", "3", "--scale", "0.5", "--json");
    assertThat(n.get("exact").asBoolean()).isTrue();
    assertThat(n.get("frame").asInt()).isEqualTo(2);
    assertThat(n.get("max_relative").asDouble()).isLessThan(1e-6);
    assertThat(n.get("layers")).hasSize(3);
    assertThat(n.get("causes")).isEmpty();
    assertThat(n.get("tolerance").get("relative").asDouble()).isCloseTo(1e-3, within(1e-6));
    assertThat(n.get("invalid_values").asInt()).isZero();
    assertThat(run("prove", plan, "--separately")).isZero();
    assertThat(out).contains("rejoins exactly");
  }

  @Test
  void provingABadPlanSaysNoAndWhy() throws Exception {
    Files.writeString(
        Path.of(plan), ShotFolder.PLAN.replace("{\"layer\": \"Back\", \"join\": \"plus\"},", ""));
    JsonNode n = json(1, "prove", plan, "--json");
    assertThat(n.get("exact").asBoolean()).isFalse();
    assertThat(n.get("beyond").asDouble()).isPositive();
    assertThat(n.get("causes").get(0).get("kind").asText()).isEqualTo("layer-not-joined");
    assertThat(n.get("causes").get(0).get("layer").asText()).isEqualTo("Back");
    assertThat(n.get("causes").get(0).get("share").asDouble()).isPositive();
    assertThat(run("prove", plan)).isEqualTo(1);
    assertThat(out).contains("does not rejoin exactly", "fix: ");
  }

  @ParameterizedTest
  @ValueSource(strings = {"plan", "delivery"})
  void schemaPrintsJson(String which) throws Exception {
    JsonNode n = json(0, "schema", which);
    assertThat(n.get("$schema").asText()).contains("2020-12");
  }

  @Test
  void wrongUseIsToldInOneLine() {
    wrong("Unmatched argument", "info", plan, "more");
    wrong("Missing required parameter", "prove");
    wrong("Unknown option", "prove", plan, "--quickly");
    wrong("'sideways' is not a frame range", "render", plan, "--frames", "sideways");
    wrong("--scale: -1.0, expected a factor above 0", "render", plan, "--scale", "-1");
    wrong("--scale", "prove", plan, "--scale", "0");
    wrong("there is no layer 'Nobody'", "render", plan, "--layers", "Nobody");
    wrong("Invalid value", "schema", "poem");
    assertThat(run()).isEqualTo(2);
    assertThat(run("sing")).isEqualTo(2);
  }

  @Test
  void unreadableInputIsToldWithFileAndPlace() throws Exception {
    wrong("no such file", "info", dir.resolve("none.glb").toString());
    wrong("not a delivery", "prove", dir.toString());
    wrong("not a delivery", "rejoin", dir.toString(), "-o", "x.exr");
    Path bad = dir.resolve("bad.wedge");
    Files.writeString(
        bad, ShotFolder.PLAN.replace("{\"layer\": \"Front\"", "{\"layer\": \"Nobody\""));
    wrong("bad.wedge: recipe/joins/2/layer: there is no layer 'Nobody'", "check", bad.toString());
    byte[] glb = Files.readAllBytes(dir.resolve("set.glb"));
    Files.write(dir.resolve("set.glb"), Arrays.copyOf(glb, glb.length / 2));
    wrong("set.glb: the file is cut off", "prove", plan);
    wrong("set.glb: the file is cut off", "info", dir.resolve("set.glb").toString());
  }

  @Test
  void everyCommandHasHelpWithAnExample() {
    Set<String> all = new CommandLine(Main.command()).getSubcommands().keySet();
    assertThat(all).hasSizeGreaterThan(5);
    for (String command : all) {
      assertThat(run(command, "--help")).isZero();
      assertThat(out).contains("Usage: wedgecutter " + command, "Example: wedgecutter " + command);
    }
    assertThat(run("--help")).isZero();
    assertThat(out).contains("demo", "open", "bench", "Exit status");
    assertThat(run("--version")).isZero();
  }

  @Test
  void checkNamesKindsAndSpansAndPrintsTheCatalogue() throws Exception {
    JsonNode n = json(0, "check", plan, "--json");
    assertThat(n.get("findings")).isEmpty();
    assertThat(n.get("seen").get(0).get("frames").get(1).asInt()).isEqualTo(2);
    assertThat(run("check", "--catalogue")).isZero();
    assertThat(out).contains("| `seen-nowhere` | error |");
    wrong("expected a plan", "check");
  }

  @Test
  void explainSaysWhatDecided() throws Exception {
    JsonNode n = json(0, "explain", plan, "Back", "/front", "--json");
    assertThat(n.get("role").asText()).isEqualTo("Holdout");
    assertThat(n.get("by").asText()).isEqualTo("the rest");
    assertThat(n.get("rows").get(0).get("row").asText()).isEqualTo("Front");
    assertThat(n.get("properties").toString()).contains("shadow.casts");
    assertThat(run("explain", plan, "Front", "/front")).isZero();
    assertThat(out).contains("/front in layer Front is Seen, by Front");
    wrong("there is no layer 'Ghost'", "explain", plan, "Ghost", "/front");
    wrong("there is no entity '/ghost'", "explain", plan, "Front", "/ghost");
  }

  @Test
  void carryWritesAPlanAndTellsWhatEachRuleTook() throws Exception {
    ShotFolder.make(dir.resolve("next"));
    String scene = dir.resolve("next/set.glb").toString();
    String to = dir.resolve("next/carried.wedge").toString();
    JsonNode n = json(0, "carry", plan, "--to", scene, "-o", to, "--json");
    assertThat(n.get("collections").get(0).get("there").asInt()).isEqualTo(1);
    assertThat(n.get("rest")).isEmpty();
    assertThat(run("check", to)).isZero();
    assertThat(run("carry", plan, "--to", scene, "-o", to)).isZero();
    assertThat(out).contains("collection", "wrote");
    wrong(
        "expected in the folder of the new plan",
        "carry",
        plan,
        "--to",
        scene,
        "-o",
        dir.resolve("elsewhere/x.wedge").toString());
  }

  @Test
  void exportWritesOpenUsdText() throws Exception {
    String to = dir.resolve("plan.usda").toString();
    JsonNode n = json(0, "export", plan, "--as", "usda", "-o", to, "--json");
    assertThat(n.get("bytes").asInt()).isPositive();
    assertThat(java.nio.file.Files.readString(dir.resolve("plan.usda")))
        .startsWith("#usda 1.0")
        .contains("def RenderPass \"Floor\"");
    wrong("--as", "export", plan, "-o", to);
  }

  @Test
  void anOpenUsdSceneIsToldAndRendered() throws Exception {
    java.nio.file.Path stage = dir.resolve("stage.usda");
    java.nio.file.Files.writeString(stage, ShotFolder.stage());
    JsonNode n = json(0, "info", stage.toString(), "--json");
    assertThat(n.get("entities").get(0).get("path").asText()).isEqualTo("/set/arm/ball");
    JsonNode r =
        json(
            0,
            "render",
            stage.toString(),
            "--frames",
            "1",
            "--samples",
            "1",
            "--scale",
            "0.05",
            "--uncut",
            "--out",
            dir.resolve("d").toString(),
            "--json");
    assertThat(r.get("files")).hasSize(2);
  }

  @Test
  void shotReadsMotionDepthLightTimeAndNoise() throws Exception {
    JsonNode n = json(0, "shot", plan, "--samples", "16", "--json");
    assertThat(n.get("parts").findValuesAsText("part")).containsExactly("Front", "Back", "Floor");
    assertThat(n.get("parts").get(0).get("kind").asText()).isEqualTo("moves");
    assertThat(n.get("parts").get(1).get("moves").isNull()).isTrue();
    assertThat(n.get("in_front").toString()).contains("{\"front\":\"Front\",\"behind\":\"Back\"}");
    assertThat(n.get("traced")).isNotEmpty();
    JsonNode cost = n.get("cost");
    assertThat(cost.get("samples").asInt()).isEqualTo(16);
    assertThat(cost.get("layers").findValuesAsText("layer"))
        .containsExactly("Floor", "Back", "Front");
    for (JsonNode layer : cost.get("layers")) {
      assertThat(layer.get("shot_seconds").get("middle").asDouble()).isPositive();
      assertThat(layer.get("noise").get("relative").asDouble()).isPositive();
    }
    double middle = cost.get("shot").get("middle").asDouble();
    assertThat(middle)
        .isBetween(cost.get("shot").get("low").asDouble(), cost.get("shot").get("high").asDouble());
    assertThat(run("shot", plan, "--frames", "1")).isZero();
    assertThat(out).contains("frames 1", "light, from frames [1]", "time and noise at 40 x 24");
    wrong("--looks", "shot", plan, "--looks", "0");
    wrong("is not a frame range", "shot", plan, "--frames", "x");
  }

  @Test
  void proposeWritesAPlanThatChecksAndProves() throws Exception {
    Path scene = dir.resolve("set.glb");
    Path first = dir.resolve("first.wedge");
    JsonNode n = json(0, "propose", scene.toString(), "-o", first.toString(), "--json");
    assertThat(n.get("proposals").get(0).get("proof").get("exact").asBoolean()).isTrue();
    assertThat(n.get("written").asText()).isEqualTo(first.toString());
    assertThat(run("check", first.toString())).as(out).isZero();
    assertThat(run("prove", first.toString(), "--scale", "0.1", "--samples", "2")).isZero();
    wrong("exists", "propose", scene.toString(), "-o", first.toString());
    assertThat(run("propose", scene.toString(), "-o", first.toString(), "--replace")).isZero();
    assertThat(out).contains("rejoins exactly", "wrote proposal 1");
    wrong("--choose", "propose", scene.toString(), "--choose", "0");
    wrong(
        "lies outside of this folder",
        "propose",
        scene.toString(),
        "-o",
        dir.resolve("other/x.wedge").toString());
    assertThat(Files.exists(dir.resolve("other"))).isFalse();
  }

  @Test
  void carryToASequencePrintsATableOfShotsByFindings() throws Exception {
    Path folder = dir.resolve("sequence");
    for (String name : List.of("one", "two")) {
      Files.createDirectories(folder);
      Files.copy(dir.resolve("set.glb"), folder.resolve(name + ".glb"));
    }
    GltfText other = new GltfText();
    Files.write(folder.resolve("three.glb"), other.glb());
    String[] args = {
      "carry",
      plan,
      "--to",
      folder.resolve("one.glb").toString(),
      folder.resolve("two.glb").toString(),
      folder.resolve("three.glb").toString(),
      "-o",
      folder.toString(),
      "--json"
    };
    // the third scene has none of the plan's objects, so it has errors
    assertThat(run(args)).as(err).isEqualTo(1);
    JsonNode shots = JSON.readTree(out).get("shots");
    assertThat(shots).hasSize(3);
    for (int k = 0; k < 2; k++) {
      assertThat(shots.get(k).get("errors").asInt()).isZero();
      assertThat(shots.get(k).get("empty_rules")).isEmpty();
    }
    assertThat(shots.get(2).get("empty_rules")).hasSize(2);
    assertThat(shots.get(2).get("errors").asInt()).isPositive();
    assertThat(Files.exists(folder.resolve("two.wedge"))).isTrue();
    assertThat(run("check", folder.resolve("one.wedge").toString())).isZero();
    wrong("exists; choose another folder", args);
  }
}
