package org.wedgecutter.core.cut;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.wedgecutter.core.check.SeenTable;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;

/** Cutting a scene with every kind of entity, from a plan of one layer. */
class CutsTest {
  private static final String FRESH =
      """
      {
        "wedgecutter": 1,
        "shot": {"scene": "x.glb", "frames": "1-2", "fps": 24, "size": [40, 20],
                 "environment": {"image": "sky.hdr"}},
        "collections": [],
        "layers": [{"name": "All", "hue": 0, "cells": {}, "rest": {"role": "Seen"}}],
        "recipe": {"joins": [{"layer": "All", "join": "plus"}]}
      }
      """;

  private static Scene scene() {
    return new SceneMaker()
        .camera(1, 0, 0, 5)
        .mesh("/hero/ball", SceneMaker.wall(1, 1), SceneMaker.matte(1), 0, 0, 1)
        .mesh("/hero/foot", SceneMaker.wall(1, 1), SceneMaker.matte(0.6), 0, 0, 1)
        .mesh("/set/wall", SceneMaker.wall(3, 3), SceneMaker.matte(0.5), 0, 0, -2)
        .medium("/air/haze", SceneMaker.haze(0.1, 0.9), 2, 2, 2, 0, 0, 0)
        .medium("/air/smoke", SceneMaker.haze(0.2, 0.5), 1, 1, 1, 0, 0, 0)
        .pointLight("/lamp", 5, 0, 2, 0)
        .scene();
  }

  @ParameterizedTest
  @EnumSource(Cuts.By.class)
  void aWholeSceneIsSplitAndEverythingIsSeenOnce(Cuts.By by) throws Exception {
    Plan fresh = PlanReader.parse(FRESH, Path.of("x.wedge"));
    Members members = new Members(scene());
    EntitySet all = EntitySet.where(members.scene().entities().size(), e -> true);
    Plan plan = Cuts.split(fresh, members, all, by);
    assertThat(plan.layers()).hasSizeGreaterThan(2);
    List<SeenTable.Span> spans = SeenTable.of(plan, members, Resolver.resolve(plan, members, 1));
    assertThat(spans).allSatisfy(s -> assertThat(s.causes()).isEmpty());
  }
}
