package org.wedgecutter.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.io.FileDigest;
import org.wedgecutter.core.testing.ShotFolder;

/** Commands that render deliveries, and that read them. */
class DeliveryCommandsTest extends CommandRun {
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

  /** Digits, decimal marks and small letters are others there. */
  @ParameterizedTest
  @ValueSource(strings = {"ar-EG-u-nu-arab", "de-DE", "hi-IN-u-nu-deva", "tr-TR"})
  void filesAreTheSameInEveryLocale(String locale) throws Exception {
    Locale before = Locale.getDefault();
    Locale format = Locale.getDefault(Locale.Category.FORMAT);
    try {
      Locale.setDefault(Locale.forLanguageTag(locale));
      String target = dir.resolve("local").toString();
      assertThat(run("render", plan, "--frames", "1", "--scale", "0.5", "-o", target)).isZero();
      try (Stream<Path> all = Files.walk(Path.of(target))) {
        assertThat(all.map(f -> f.getFileName().toString()))
            .contains("set_Front.0001.exr", "Floor.0001.json", "delivery.json")
            .allMatch(name -> name.chars().allMatch(c -> c < 128));
      }
      assertThat(json(0, "status", target, "--json").toString()).matches("\\p{ASCII}*");
      assertThat(run("info", plan.replace("set.wedge", "set.glb"))).isZero();
      assertThat(out).containsPattern("[0-9]\\.[0-9]{3} s").doesNotContain(",0");
    } finally {
      Locale.setDefault(before);
      Locale.setDefault(Locale.Category.FORMAT, format);
    }
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
    assertThat(out).contains("scanlineimage, zip", "imageCounter", "max");
    wrong("no such file", "info", dir.resolve("none.exr").toString());
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
    JsonNode handed = json(0, "rejoin", target, "--hand-over", "--json");
    assertThat(handed.get("notes")).hasSize(1);
    assertThat(handed.get("notes").get(0).asText()).startsWith("layered file of frame");
    for (JsonNode file : handed.get("files")) {
      assertThat(Path.of(target).resolve(file.asText())).isRegularFile();
    }
    assertThat(handed.get("files").toString())
        .contains("rejoined.0002.exr", "layered.0001.ora", "layers.png", "rejoin.sh", "cut.html");
    String script = Path.of(target).resolve("handover/rejoin.sh").toString();
    String byScript = dir.resolve("script.exr").toString();
    new ProcessBuilder("bash", script, "2", byScript).directory(new File(target)).start().waitFor();
    // half rounding of each of three layers
    tool("idiff", "-fail", "0.002", "-failpercent", "0.1", byScript, rejoined);
    assertThat(json(0, "prove", target, "--against", target, "--json").get("parts")).hasSize(5);
    wrong("expected -o FILE, or --hand-over", "rejoin", target);
    wrong("expected a delivery", "rejoin", plan, "--hand-over");
    String traced = dir.resolve("traced.exr").toString();
    assertThat(run("rejoin", plan, "--frame", "2", "-o", traced)).isZero();
    tool("idiff", "-fail", "0.002", "-failpercent", "0.1", traced, rejoined);
    wrong(
        "has no ID mattes", "matte", target, "--pick", "x", "-o", dir.resolve("m.exr").toString());
    wrong("already holds a delivery", "render", plan, "--out", target);
    assertThat(run("render", plan, "--uncut", "--frames", "1-2", "--out", target, "--resume"))
        .isZero();
    wrong("frame 9 was not rendered; the frames are [1, 2]", "prove", target, "--frame", "9");
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

  /** A shadow that is fitted to backgrounds and the object, as one picture; and by another tool. */
  @Test
  void aCatchForBackgroundsIsProvedAndJoinedWithItsObjectIntoOnePicture() throws Exception {
    String caught =
        """
        {"name": "Shadow", "cells": {"Front": {"role": "Unseen"}}, "rest": {"role": "Catcher",
          "catcher": {"output": "catch", "backgrounds": [0.05, 0.5]}}},
        {"name": "Clean", "cells": {"Front": {"role": "Absent"}}, "rest": {"role": "Seen"}},
        """;
    String text = ShotFolder.PLAN;
    text = text.replace("{\"name\": \"Front\"", caught + "{\"name\": \"Front\"");
    text =
        text.replaceFirst(
            "\"joins\": \\[[^]]*]",
            "\"joins\": [{\"layer\": \"Clean\", \"join\": \"plus\"}, {\"layer\": \"Shadow\","
                + " \"join\": \"catch\"}, {\"layer\": \"Front\", \"join\": \"over\"}]");
    Files.writeString(Path.of(plan), text);
    JsonNode proof = json(1, "prove", plan, "--json").get("catches");
    assertThat(proof).hasSize(1);
    assertThat(proof.get(0).get("layer").asText()).isEqualTo("Shadow");
    assertThat(proof.get(0).get("over").findValues("background"))
        .extracting(JsonNode::asDouble)
        .containsExactly(0.05, 0.5);
    assertThat(proof.get(0).get("over").get(0).get("mean").asDouble()).isPositive();
    assertThat(run("prove", plan)).isEqualTo(1);
    assertThat(out).contains("Shadow differs from its surface by ", " over 0.5 (max ");

    String target = dir.resolve("transparent").toString();
    assertThat(run("render", plan, "--frames", "1", "--out", target)).isZero();
    String one = dir.resolve("one.exr").toString();
    assertThat(run("rejoin", target, "--layers", "Shadow,Front", "-o", one)).isZero();
    String shadow = target + "/set/Shadow/set_Shadow.0001.exr";
    String front = target + "/set/Front/set_Front.0001.exr";
    String over = dir.resolve("over.exr").toString();
    tool(
        "oiiotool",
        front,
        "--ch",
        "R,G,B,A",
        shadow,
        "--ch",
        "R,G,B,A",
        "--over",
        "-d",
        "float",
        "-o",
        over);
    tool("idiff", "-fail", "0.002", "-failpercent", "0.1", one, over);
    wrong("does not join a layer 'Nobody'", "rejoin", target, "--layers", "Nobody", "-o", one);
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

  @Test
  void aFolderThatCannotBeWrittenFailsWithThree() throws Exception {
    Path file = dir.resolve("plain");
    Files.writeString(file, "a file, not a folder");
    assertThat(run("render", plan, "--frames", "1", "--out", file.resolve("in").toString()))
        .isEqualTo(3);
    assertThat(err).contains("cannot read or write");
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
    assertThat(out).contains("Floor: frame 1 is reused at 2");
    n = json(0, "render", plan, "-o", every.toString(), "--every-frame", "--json");
    assertThat(n.get("files").findValuesAsText("held_from")).containsOnly("null");
    assertThat(Files.exists(every.resolve("set/Floor/set_Floor.0002.exr"))).isTrue();
    assertThat(Files.exists(held.resolve("set/Floor/set_Floor.0002.exr"))).isFalse();
  }

  @Test
  void whatSomebodyDidToAFileOfTheOrreryIsToldWithoutItsRecord() throws Exception {
    Path shot = Path.of(System.getProperty("wedgecutter.root"), "demo/orrery/orrery.wedge");
    Path theirs = dir.resolve("orrery");
    json(
        0,
        "render",
        shot.toString(),
        "--uncut",
        "--frames",
        "1",
        "--scale",
        "0.125",
        "--samples",
        "4",
        "--out",
        theirs.toString(),
        "--json");
    withoutRecords(theirs);
    assertThat(json(0, "prove", theirs.toString(), "--json").get("causes")).isEmpty();
    for (String each :
        List.of("Table|softer|--blur 5x5", "Orrery|gamma|--powc 0.4545,0.4545,0.4545,1")) {
      String[] parts = each.split("\\|");
      Path file = theirs.resolve("orrery/%s/orrery_%s.0001.exr".formatted(parts[0], parts[0]));
      Path before = dir.resolve("before.exr");
      Files.copy(file, before, StandardCopyOption.REPLACE_EXISTING);
      List<String> tool = new ArrayList<>(List.of("oiiotool", before.toString()));
      tool.addAll(List.of("--ch", "R,G,B,A"));
      tool.addAll(List.of(parts[2].split(" ")));
      tool.addAll(List.of("-d", "half", "-o", file.toString()));
      tool(tool.toArray(String[]::new));
      record(theirs, before, file);
      JsonNode cause = json(1, "prove", theirs.toString(), "--json").get("causes").get(0);
      assertThat(cause.get("layer").asText()).as(each + cause).isEqualTo(parts[0]);
      assertThat(cause.get("text").asText()).as(each).contains(parts[1]);
      record(theirs, file, before);
      Files.copy(before, file, StandardCopyOption.REPLACE_EXISTING);
    }
  }

  /** Makes a delivery of somebody else's: files and a manifest, and no records of units. */
  private static void withoutRecords(Path delivery) throws IOException {
    try (Stream<Path> all = Files.walk(delivery.resolve("units"))) {
      for (Path p : all.sorted(java.util.Comparator.reverseOrder()).toList()) {
        Files.delete(p);
      }
    }
    Path manifest = delivery.resolve("delivery.json");
    ObjectNode told = (ObjectNode) new ObjectMapper().readTree(Files.readString(manifest));
    told.remove("units");
    Files.writeString(manifest, told.toString());
  }

  /** Writes into the manifest of a delivery that a file is another one. */
  private static void record(Path delivery, Path was, Path is) throws IOException {
    String old = FileDigest.sha256(was);
    String next = FileDigest.sha256(is);
    try (Stream<Path> all = Files.walk(delivery)) {
      for (Path json : all.filter(j -> j.toString().endsWith(".json")).toList()) {
        Files.writeString(json, Files.readString(json).replace(old, next));
      }
    }
  }
}
