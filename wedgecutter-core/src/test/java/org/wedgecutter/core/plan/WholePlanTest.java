package org.wedgecutter.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** A plan in which every key of the format has a value other than its usual one. */
class WholePlanTest {
  private static final String PLAN =
      """
      {
        "wedgecutter": 1, "studio": {"x": [1, "y"]},
        "shot": {
          "scene": "s.glb", "variant": "night", "camera": "left",
          "placed_camera": {"eye": [1, 2.5, 9], "target": [0, 0.5, -1], "angle": 32.5,
            "roll": -3.5, "shift": [0.125, -0.25], "distortion": [-0.125, 0.0625]},
          "camera_marks": {"marks": [
              {"kind": "line", "along": "z", "from": [0.25, 0.5], "to": [0.75, -0.5]},
              {"kind": "horizon", "from": [0, 0.375], "to": [1, 0.5]},
              {"kind": "point", "at": [0.5, 0.875], "place": [1.5, 0, -2]},
              {"kind": "distance", "from": [0.25, 1], "to": [0.5, 1], "metres": 2.5}],
            "camera_height": 1.75, "angle": 32.5, "solve_shift": true, "solve_distortion": true, "own": 4},
          "frames": "1-9x2,30", "fps": 23.976,
          "shutter": 0.25, "size": [640, 360], "samples": 12,
          "bounces": {"surfaces": 3, "glass": 7, "media": 2}, "seed": -5, "clamp": 2.5, "soften": 0.75,
          "denoise": 0.5, "see_through_glass": true,
          "environment": {"image": "sky.hdr", "turn": -30.5, "level": 2, "own": true},
          "plate": {"image": "plate.exr", "stand_ins": "Floor", "own": 1},
          "links": {"/lamp": "Floor", "/panel": "Hero"}, "known": ["/floor", "/hero"], "own": null
        },
        "collections": [
          {"name": "Hero", "rule": "name:hero*", "added": ["/a", "/b"], "removed": ["/c"], "own": 1},
          {"name": "Floor", "rule": ""}
        ],
        "layers": [
          {"name": "Back", "render": false, "hue": 3, "cells": {}, "rest": {"role": "Absent"}},
          {"name": "Front", "render": true, "hue": 0,
           "cells": {
             "Hero": {"role": "Catcher",
               "catcher": {"output": "shadow", "shadows": false, "reflections": false, "bounce": false,
                 "caster": false, "opacity": 0.5, "tint": [0.1, 0, 0.25], "reflection": 2.5,
                 "lights": ["Floor", "Hero"],
                 "reach": {"centre": [1, 0.5, -2], "radii": [3, 1.5], "turn": 45, "soft": 0.2},
                 "own": "o"},
               "overrides": [
                 {"property": "material.roughness", "verb": "add", "value": 0.25, "on": false, "own": 1},
                 {"property": "light.color", "verb": "scale",
                  "keys": [[1, [1, 0.5, 0]], [24, [0, 0, 1]]], "between": "step", "on": true},
                 {"property": "visible.camera", "verb": "set", "keys": [[-3, false]],
                  "between": "linear", "on": true},
                 {"property": "material", "verb": "set", "value": "clay", "on": true}],
               "note": "as agreed", "own": []},
             "Floor": {"role": "Unseen", "catcher": {"caster": true, "reach": {"radii": [1, 2], "turn": 0, "soft": 0}}}},
           "rest": {},
           "settings": [
             {"property": "size", "verb": "set", "value": [320, 200], "on": true},
             {"property": "frames", "verb": "set", "value": "1-5", "on": true},
             {"property": "samples", "verb": "scale", "value": 2, "on": true}],
           "own": 0.5}
        ],
        "recipe": {"joins": [
          {"layer": "Back", "join": "over", "own": 1}, {"layer": "Front", "join": "times"}], "own": 2},
        "output": {"name": "{shot}/{layer}.{frame}", "colour": "float", "compression": "rle",
          "passes": false, "more": ["depth-ramp", "motion", "ids"], "light_groups": ["Floor", "Hero"],
          "occlusion": 0.75, "near": 0.5, "far": 20, "own": 3}
      }
      """;

  private static final ObjectMapper JSON =
      new ObjectMapper().enable(SerializationFeature.ORDER_MAP_ENTRIES_BY_KEYS);

  private static Plan read(String text) throws Exception {
    return PlanReader.parse(text, Path.of("whole.wedge"));
  }

  /** The text with the keys of each object in alphabetical order. */
  private static String sorted(String text) throws Exception {
    return JSON.writerWithDefaultPrettyPrinter()
        .writeValueAsString(JSON.readValue(text, Map.class));
  }

  @Test
  void everyKeyIsReadAndWrittenAgain() throws Exception {
    Plan plan = read(PLAN);
    assertThat(sorted(PlanWriter.text(plan))).isEqualTo(sorted(PLAN));
    assertThat(read(PlanWriter.text(plan))).isEqualTo(plan);
    Shot shot = plan.requireShot();
    assertThat(shot.frames().frames()).containsExactly(1, 3, 5, 7, 9, 30);
    assertThat(shot.frames().first()).isEqualTo(1);
    assertThat(shot.frames().last()).isEqualTo(30);
    assertThat(plan.output().more())
        .containsExactlyInAnyOrder(Output.More.RAMP, Output.More.IDS, Output.More.MOTION);
    CatcherOptions hero = plan.layers().get(1).cell("Hero").catcher();
    assertThat(hero.leftOut()).containsExactlyInAnyOrder(CatcherOptions.Part.values());
    assertThat(hero.tuning().isUsual()).isFalse();
    assertThat(plan.layers().get(1).cell("Floor").catching().tuning().isUsual()).isFalse();
    assertThat(plan.layers().get(1).rest()).isEqualTo(Cell.EMPTY);
    assertThat(plan.layers().get(1).setting(Property.SAMPLES)).isPresent();
    assertThat(plan.layers().get(1).setting(Property.DENOISE)).isEmpty();
  }

  /** Each key left out alone makes another plan, unless its value is the usual one. */
  @Test
  void noKeyIsTakenForAnother() throws Exception {
    Plan whole = read(PLAN);
    JsonNode tree = JSON.readTree(PLAN);
    List<String> places = new ArrayList<>();
    leaves(tree, "", places);
    List<String> usual = new ArrayList<>();
    int tried = 0;
    for (String place : places) {
      int slash = place.lastIndexOf('/');
      JsonNode changed = JSON.readTree(PLAN);
      JsonNode parent = changed.at(place.substring(0, slash));
      if (parent instanceof ObjectNode object) {
        object.remove(place.substring(slash + 1).replace("~1", "/"));
        Plan without;
        try {
          without = read(changed.toString());
        } catch (org.wedgecutter.core.io.InputException e) {
          // it must be there
          continue;
        }
        tried++;
        if (without.equals(whole)) {
          usual.add(place);
        }
        assertThat(read(PlanWriter.text(without))).as("without %s", place).isEqualTo(without);
      }
    }
    assertThat(usual)
        .as("what a plan need not say")
        .containsExactlyInAnyOrder(
            "/collections/1/rule",
            "/layers/1/render",
            "/layers/1/hue",
            "/layers/1/cells/Hero/overrides/1/on",
            "/layers/1/cells/Hero/overrides/2/verb",
            "/layers/1/cells/Hero/overrides/2/between",
            "/layers/1/cells/Hero/overrides/2/on",
            "/layers/1/cells/Hero/overrides/3/verb",
            "/layers/1/cells/Hero/overrides/3/on",
            "/layers/1/cells/Floor/catcher/reach/turn",
            "/layers/1/settings/0/verb",
            "/layers/1/settings/0/on",
            "/layers/1/settings/1/verb",
            "/layers/1/settings/1/on",
            "/layers/1/settings/2/on");
    assertThat(tried).isGreaterThan(60);
  }

  private static void leaves(JsonNode n, String place, List<String> out) {
    if (n.isObject()) {
      n.properties()
          .forEach(e -> leaves(e.getValue(), place + "/" + e.getKey().replace("/", "~1"), out));
    } else if (n.isArray()) {
      for (int i = 0; i < n.size(); i++) {
        leaves(n.get(i), place + "/" + i, out);
      }
    }
    if (!place.isEmpty()) {
      out.add(place);
    }
  }

  @Test
  void valuesAreInterpolatedBetweenKeys() throws Exception {
    Cell hero = read(PLAN).layers().get(1).cell("Hero");
    CellOverride stepped = hero.overrides().get(1);
    assertThat(stepped.keyed()).isTrue();
    assertThat(stepped.at(23)).isEqualTo(new Value.Colour(1, 0.5, 0));
    assertThat(stepped.at(24)).isEqualTo(new Value.Colour(0, 0, 1));
    CellOverride even = stepped.with(stepped.verb(), stepped.keys(), false);
    assertThat(even.at(-4)).isEqualTo(new Value.Colour(1, 0.5, 0));
    assertThat(even.at(1)).isEqualTo(new Value.Colour(1, 0.5, 0));
    Value.Colour late = (Value.Colour) even.at(16);
    double t = 15 / 23.0;
    assertThat(late.r()).isCloseTo(1 - t, org.assertj.core.api.Assertions.within(1e-12));
    assertThat(late.g()).isCloseTo(0.5 * (1 - t), org.assertj.core.api.Assertions.within(1e-12));
    assertThat(late.b()).isCloseTo(t, org.assertj.core.api.Assertions.within(1e-12));
    assertThat(even.at(99)).isEqualTo(new Value.Colour(0, 0, 1));
    assertThat(Value.between(new Value.Num(2), new Value.Num(6), 0.25)).isEqualTo(new Value.Num(3));
    assertThat(Value.between(new Value.Num(2), new Value.Switch(true), 0.9))
        .isEqualTo(new Value.Num(2));
    assertThat(Value.between(new Value.Text("a"), new Value.Text("b"), 0.9))
        .isEqualTo(new Value.Text("a"));
    CellOverride single = hero.overrides().get(2);
    assertThat(single.keyed()).as("a key other than at 0").isTrue();
    assertThat(hero.overrides().get(0).keyed()).isFalse();
    assertThat(hero.overrides().get(0).text()).isEqualTo("material.roughness add 0.25");
    assertThat(single.text()).isEqualTo("visible.camera off … off over frames -3 to -3");
    assertThat(stepped.text()).contains("over frames 1 to 24");
  }
}
