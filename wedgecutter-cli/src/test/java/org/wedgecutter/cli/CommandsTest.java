package org.wedgecutter.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.command.Commands;
import org.wedgecutter.core.testing.GltfText;
import org.wedgecutter.core.testing.ShotFolder;
import picocli.CommandLine;

class CommandsTest {
  private static final ObjectMapper JSON = new ObjectMapper();
  @TempDir Path dir;
  private String plan;
  private String out;
  private String err;

  @BeforeEach
  void shot() throws Exception {
    plan = ShotFolder.make(dir).toString();
  }

  private int run(String... args) {
    StringWriter o = new StringWriter();
    StringWriter e = new StringWriter();
    int status = Commands.run(Main.command(), new PrintWriter(o), new PrintWriter(e, true), args);
    out = o.toString();
    err = e.toString();
    return status;
  }

  private JsonNode json(int status, String... args) throws Exception {
    assertThat(run(args)).as(err).isEqualTo(status);
    return JSON.readTree(out);
  }

  private void wrong(String expected, String... args) {
    assertThat(run(args)).as("%s%n%s", List.of(args), err).isEqualTo(2);
    assertThat(err).startsWith("wedgecutter: ").contains(expected);
    assertThat(err.lines().filter(l -> l.startsWith("wedgecutter: "))).hasSize(1);
    assertThat(out).isEmpty();
  }

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
  void aDeliveryIsExportedAsAScript() throws Exception {
    String delivery = dir.resolve("joined").toString();
    assertThat(run("render", plan, "--frames", "1", "--samples", "1", "-o", delivery)).isZero();
    Path script = dir.resolve("join.sh");
    JsonNode n = json(0, "export", delivery, "--as", "script", "-o", script.toString(), "--json");
    assertThat(n.get("bytes").asLong()).isEqualTo(java.nio.file.Files.size(script));
    assertThat(java.nio.file.Files.readString(script)).startsWith("#!/bin/sh").contains("oiiotool");
    wrong("not a delivery", "export", dir.toString(), "--as", "script", "-o", script.toString());
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
  void infoTellsWhatAnImageHolds() throws Exception {
    String delivery = dir.resolve("info").toString();
    assertThat(run("render", plan, "--frames", "1", "--samples", "1", "-o", delivery)).isZero();
    String file;
    try (var files = java.nio.file.Files.walk(java.nio.file.Path.of(delivery))) {
      file = files.filter(f -> f.toString().endsWith(".exr")).findFirst().orElseThrow().toString();
    }
    JsonNode part = json(0, "info", file, "--json").get("parts").get(0);
    assertThat(part.get("compression").asText()).isEqualTo("zip");
    assertThat(part.get("data_window")).hasSize(4);
    assertThat(part.get("attributes").get("imageCounter").asInt()).isEqualTo(1);
    JsonNode alpha = part.get("channels").get(0);
    assertThat(alpha.get("name").asText()).isEqualTo("A");
    assertThat(alpha.get("max").asDouble()).isEqualTo(1);
    assertThat(alpha.get("nan").asInt()).isZero();
    assertThat(run("info", file)).isZero();
    assertThat(out).contains("scanlineimage, zip", "imageCounter", "greatest");
    wrong("no such file", "info", dir.resolve("none.exr").toString());
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
    assertThat(n.get("tolerance").get("absolute").asDouble()).isPositive();
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

  @Test
  void renderRejoinAndProveADelivery() throws Exception {
    String target = dir.resolve("final").toString();
    JsonNode n = json(0, "render", plan, "--uncut", "--frames", "1-2", "--out", target, "--json");
    assertThat(n.get("files")).hasSize(8);
    assertThat(n.get("files").get(0).get("samples").asInt()).isEqualTo(2);
    assertThat(n.get("classes").get(0).get("layers")).hasSize(4);
    assertThat(n.get("peak_bytes").asLong()).isPositive();
    assertThat(err).contains("frame 1");
    for (JsonNode f : n.get("files")) {
      assertThat(Path.of(target).resolve(f.get("path").asText())).exists();
    }
    JsonNode proof = json(0, "prove", target, "--frame", "2", "--json");
    assertThat(proof.get("exact").asBoolean()).isTrue();
    String rejoined = dir.resolve("r.exr").toString();
    assertThat(
            json(0, "rejoin", target, "--frame", "2", "-o", rejoined, "--json")
                .get("frame")
                .asInt())
        .isEqualTo(2);
    Path uncut = Path.of(target).resolve("set/uncut/set_uncut.0002.exr");
    String beauty = dir.resolve("u.exr").toString();
    tool("oiiotool", uncut.toString(), "--ch", "R,G,B,A", "-o", beauty);
    tool("idiff", "-fail", "0.002", "-hardfail", "0.02", "-failpercent", "0.1", rejoined, beauty);
    String tiff = dir.resolve("r.tif").toString();
    assertThat(run("rejoin", target, "--frame", "2", "-o", tiff)).isZero();
    tool("idiff", "-fail", "0.001", "-hardfail", "0.01", "-failpercent", "0.1", rejoined, tiff);
    String png = dir.resolve("r.png").toString();
    assertThat(run("rejoin", target, "--frame", "2", "-o", png)).isZero();
    assertThat(json(0, "info", png, "--json").get("parts").get(0).get("type").asText())
        .isEqualTo("png");
    wrong("expected a file .exr, .tif, .hdr, .png or .ora", "rejoin", target, "-o", "x.jpg");
    String several = dir.resolve("r.{frame:4}.exr").toString();
    JsonNode both = json(0, "rejoin", target, "--frames", "all", "-o", several, "--json");
    assertThat(both.get("frames")).hasSize(2);
    assertThat(both.get("frames").get(1).get("recipe").asText()).isEqualTo("Floor + Back + Front");
    tool("idiff", "-fail", "0", dir.resolve("r.0002.exr").toString(), rejoined);
    wrong("{frame:4}", "rejoin", target, "--frames", "1-2", "-o", rejoined);
    // the recipe as a file: read again it makes the same, and changed another picture
    String recipe = dir.resolve("recipe.json").toString();
    assertThat(run("export", target, "--as", "recipe", "-o", recipe)).isZero();
    String again = dir.resolve("again.exr").toString();
    assertThat(run("rejoin", target, "--frame", "2", "--recipe", recipe, "-o", again)).isZero();
    tool("idiff", "-fail", "0", again, rejoined);
    Files.writeString(
        Path.of(recipe),
        Files.readString(Path.of(recipe))
            .replaceFirst(
                "\"joins\"",
                "\"corrections\": [{\"type\": \"exposure\", \"values\": [1]}], \"joins\""));
    assertThat(run("rejoin", target, "--frame", "2", "--recipe", recipe, "-o", again)).isZero();
    String twice = dir.resolve("twice.exr").toString();
    tool("oiiotool", rejoined, "--mulc", "2,2,2,1", "-o", twice);
    tool("idiff", "-fail", "0.002", "-failpercent", "0.1", again, twice);
    wrong(
        "has no ID mattes", "matte", target, "--pick", "x", "-o", dir.resolve("m.exr").toString());
    wrong("already holds a delivery", "render", plan, "--out", target);
    assertThat(run("render", plan, "--uncut", "--frames", "1-2", "--out", target, "--resume"))
        .isZero();
    wrong("frame 9 was not rendered; the frames are [1, 2]", "prove", target, "--frame", "9");
  }

  private static void tool(String... command) throws Exception {
    Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
    String told = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor()).as(told).isZero();
  }

  @Test
  void aFileThatCannotBeWrittenIsToldAndTheRenderGoesOnLater() throws Exception {
    Path target = dir.resolve("held-up");
    Path inTheWay = target.resolve("set/Back");
    java.nio.file.Files.createDirectories(inTheWay.getParent());
    java.nio.file.Files.writeString(inTheWay, "not a folder");
    String[] render = {
      "render",
      plan,
      "--frames",
      "1-2",
      "--scale",
      "0.5",
      "--samples",
      "1",
      "--out",
      target.toString()
    };
    assertThat(run(render)).isEqualTo(3);
    assertThat(err)
        .contains("a file is in the way: " + inTheWay)
        .contains("what is finished stays in " + target + ", and --resume goes on");
    JsonNode held = json(1, "status", target.toString(), "--json");
    assertThat(held.at("/units/failed").asInt()).isPositive();
    java.nio.file.Files.delete(inTheWay);
    String[] again = java.util.Arrays.copyOf(render, render.length + 1);
    again[render.length] = "--resume";
    assertThat(run(again)).as(err).isZero();
    JsonNode whole = json(0, "status", target.toString(), "--json");
    assertThat(whole.at("/units/done").asInt()).isEqualTo(6);
    assertThat(whole.at("/left_seconds").asDouble()).isZero();
    assertThat(run("status", target.toString())).isZero();
    assertThat(out).contains("6 done", "Back");
    assertThat(java.nio.file.Files.readString(target.resolve("delivery.log")))
        .contains("cannot be written", "ends: all of it is there");
    wrong(
        "--part: '3/2', expected K/N", "render", plan, "--part", "3/2", "--out", target.toString());
    wrong("--cells: 'Bck@1', expected LAYER@FRAMES", "render", plan, "--cells", "Bck@1");
    wrong(
        "--entity: the scene has no entity '/x'",
        "render",
        plan,
        "--patch",
        "Back",
        "--entity",
        "/x",
        "--out",
        target.toString());
    JsonNode patched =
        json(
            0,
            "render",
            plan,
            "--patch",
            "Back",
            "--entity",
            "/back",
            "--out",
            target.toString(),
            "--json");
    assertThat(patched.get("patches")).hasSize(2);
    assertThat(patched.get("touched")).isEmpty();
    wrong("holds no uncut frame 1", "prove", target.toString(), "--frames", "1");
  }

  @Test
  void rendersBesideThePlanUnderANewVersion() {
    assertThat(
            run(
                "render",
                plan,
                "--frames",
                "1",
                "--scale",
                "0.3",
                "--layers",
                "Back,Front",
                "--seed",
                "7",
                "--threads",
                "1"))
        .isZero();
    assertThat(out).contains("2 files", "set-v001", "one trace");
    assertThat(run("render", plan, "--frames", "1", "--scale", "0.3")).isZero();
    assertThat(dir.resolve("set-v002/delivery.json")).exists();
  }

  @Test
  void aRegionIsRenderedInItsPlaceAndRejoins() throws Exception {
    String target = dir.resolve("part").toString();
    assertThat(
            run(
                "render",
                plan,
                "--frames",
                "1",
                "--uncut",
                "--region",
                "10,4,20,12",
                "--out",
                target))
        .isZero();
    var part =
        org.wedgecutter.exr.ExrReader.read(Path.of(target, "set/uncut/set_uncut.0001.exr"))
            .parts()
            .getFirst();
    assertThat(part.dataWindow()).isEqualTo(new org.wedgecutter.exr.Box(10, 4, 29, 15));
    assertThat(part.displayWindow()).isEqualTo(new org.wedgecutter.exr.Box(0, 0, 39, 23));
    assertThat(json(0, "prove", target, "--json").get("exact").asBoolean()).isTrue();
    wrong(
        "--region: '10,4,20' , expected".replace(" ,", ","), "render", plan, "--region", "10,4,20");
    wrong("expected X,Y,W,H within 40 x 24 pixels", "render", plan, "--region", "30,0,20,4");
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
  void aFolderThatCannotBeWrittenFailsWithThree() throws Exception {
    Path file = dir.resolve("plain");
    Files.writeString(file, "a file, not a folder");
    assertThat(run("render", plan, "--frames", "1", "--out", file.resolve("in").toString()))
        .isEqualTo(3);
    assertThat(err).contains("cannot read or write");
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

  @Test
  void everyFrameIsRenderedOnRequest() throws Exception {
    Path held = dir.resolve("held");
    Path every = dir.resolve("every");
    String still =
        ShotFolder.PLAN.replace(
            "\"cells\": {\"Floor\": {\"role\": \"Seen\"}}",
            "\"cells\": {\"Floor\": {\"role\": \"Seen\"}, \"Front\": {\"role\": \"Absent\"}}");
    Files.writeString(Path.of(plan), still);
    JsonNode n = json(0, "render", plan, "-o", held.toString(), "--json");
    assertThat(n.get("files").findValuesAsText("held_from")).contains("1");
    assertThat(run("render", plan, "-o", dir.resolve("told").toString())).isZero();
    assertThat(out).contains("Floor: frame 1 is held at 2");
    n = json(0, "render", plan, "-o", every.toString(), "--every-frame", "--json");
    assertThat(n.get("files").findValuesAsText("held_from")).containsOnly("null");
    assertThat(Files.exists(every.resolve("set/Floor/set_Floor.0002.exr"))).isTrue();
    assertThat(Files.exists(held.resolve("set/Floor/set_Floor.0002.exr"))).isFalse();
  }
}
