package org.wedgecutter.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import org.junit.jupiter.api.Test;

/** Plans that were written before keys had one casing. */
class MigrationTest {
  private static final String OLD =
      """
      {
        "wedgecutter": 1,
        "shot": {"scene": "a.glb", "frames": "1-4", "fps": 24, "size": [64, 36],
          "seeThroughGlass": true, "plate": {"image": "p.exr", "standIns": "Floor"}},
        "collections": [{"name": "Floor", "rule": "floor"}, {"name": "Lamps", "rule": "lamp*"}],
        "layers": [{"name": "All", "hue": 0, "cells": {}, "rest": {"role": "Seen"}}],
        "recipe": {"joins": [{"layer": "All", "join": "plus"}]},
        "output": {"lightGroups": ["Lamps"]}
      }
      """;

  @Test
  void oldKeysAreReadAndWrittenWithTheirPresentNames() throws Exception {
    Plan plan = PlanReader.parse(OLD, Path.of("old.wedge"));
    assertThat(plan.requireShot().seeThrough()).isTrue();
    assertThat(plan.requireShot().plate().standIns()).isEqualTo("Floor");
    assertThat(plan.output().lightGroups()).containsExactly("Lamps");
    String written = PlanWriter.text(PlanWriter.tree(plan));
    assertThat(written)
        .contains("see_through_glass", "stand_ins", "light_groups")
        .doesNotContainPattern("\"[a-z]+[A-Z]\\w*\":");
    assertThat(PlanReader.parse(written, Path.of("new.wedge"))).isEqualTo(plan);
  }
}
