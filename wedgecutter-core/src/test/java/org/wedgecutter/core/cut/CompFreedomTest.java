package org.wedgecutter.core.cut;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Shots;

/**
 * What compositing may do to a layer is compared with pictures: a layer may fade if the picture
 * without it is that of the uncut frame without its objects.
 */
class CompFreedomTest {
  private static final String HELD_OUT =
      """
      {"name": "Set", "rest": {"role": "Holdout"}, "cells": {"Set": {"role": "Seen"}}},
      {"name": "Box", "rest": {"role": "Holdout"}, "cells": {"Box": {"role": "Seen"}}},
      {"name": "Ball", "rest": {"role": "Holdout"}, "cells": {"Ball": {"role": "Seen"}}}\
      """;

  private static final String COMPLETE =
      """
      {"name": "Set", "rest": {"role": "Unseen"}, "cells": {"Set": {"role": "Seen"}}},
      {"name": "Box", "rest": {"role": "Unseen"}, "cells": {"Box": {"role": "Seen"}}},
      {"name": "Ball", "rest": {"role": "Unseen"}, "cells": {"Ball": {"role": "Seen"}}}\
      """;

  /** The box is cut by the ball, and what is behind both is whole. */
  private static final String MIXED =
      """
      {"name": "Set", "rest": {"role": "Unseen"}, "cells": {"Set": {"role": "Seen"}}},
      {"name": "Box", "rest": {"role": "Unseen"},
       "cells": {"Box": {"role": "Seen"}, "Ball": {"role": "Holdout"}}},
      {"name": "Ball", "rest": {"role": "Unseen"}, "cells": {"Ball": {"role": "Seen"}}}\
      """;

  private static LoadedShot shot(String layers, String join) {
    return Shots.of(
        new SceneMaker()
            .mesh("/set", SceneMaker.wall(6, 4), SceneMaker.matte(0.5), 0, 0, -2)
            .mesh("/box", SceneMaker.box(0.8), SceneMaker.matte(0.7), -0.2, 0, 0)
            .mesh("/ball", SceneMaker.sphere(0.7, 12), SceneMaker.matte(0.6), 0.2, 0, 1)
            .pointLight("/key", 30, 2, 3, 4)
            .camera(0.9, 0, 0, 5)
            .scene(),
        "1",
        "\"samples\": 4, \"bounces\": 1",
        """
        "collections": [{"name": "Set", "rule": "set"}, {"name": "Box", "rule": "box"},
          {"name": "Ball", "rule": "ball"}],
        "layers": [%s],
        "recipe": {"joins": [{"layer": "Set", "join": "plus"}, {"layer": "Box", "join": "%s"},
          {"layer": "Ball", "join": "%s"}]}\
        """
            .formatted(layers, join, join));
  }

  private static String layers(String cut) {
    return switch (cut) {
      case "held out" -> HELD_OUT;
      case "complete" -> COMPLETE;
      default -> MIXED;
    };
  }

  private static CompFreedom of(LoadedShot shot, String layer) {
    return CompFreedom.of(shot.plan(), shot.resolve(1)).stream()
        .filter(f -> f.layer().equals(layer))
        .findFirst()
        .orElseThrow();
  }

  @ParameterizedTest
  @CsvSource({
    "held out, plus, Box, false",
    "held out, plus, Ball, false",
    "complete, over, Box, true",
    "complete, over, Ball, true",
    "mixed, over, Box, true",
    "mixed, over, Ball, false"
  })
  void aLayerThatMayFadeLeavesNoHole(String cut, String join, String layer, boolean mayFade) {
    LoadedShot shot = shot(layers(cut), join);
    assertThat(of(shot, layer).free().contains(CompFreedom.Change.FADE)).isEqualTo(mayFade);

    Plan plan = shot.plan();
    Recipe without =
        plan.recipe()
            .withJoins(
                plan.recipe().joins().stream().filter(s -> !s.layer().equals(layer)).toList());
    RenderedFrame frame = render(shot);
    Picture faded = Rejoiner.rejoin(without, 64, 48, new TracedSource(plan, frame)).picture();

    int holes = holes(faded, truth(layer));
    if (mayFade) {
      assertThat(holes).isLessThan(10);
    } else {
      assertThat(holes).isGreaterThan(60);
    }
  }

  /** Returns the uncut frame without the objects of a layer. */
  private static Picture truth(String layer) {
    LoadedShot all =
        shot(
            """
            {"name": "Set", "rest": {"role": "Seen"}, "cells": {"%s": {"role": "Unseen"}}},
            {"name": "Box", "rest": {"role": "Unseen"}, "cells": {}},
            {"name": "Ball", "rest": {"role": "Unseen"}, "cells": {}}\
            """
                .formatted(layer),
            "plus");
    return render(all).layer(0);
  }

  private static RenderedFrame render(LoadedShot shot) {
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 0, 1, false))
        .render(1, l -> true, false, p -> {});
  }

  /** Counts pixels that show something else than they should; a few edges may. */
  private static int holes(Picture is, Picture should) {
    int out = 0;
    for (int i = 0; i < is.rgba().length; i += 4) {
      float right = should.rgba()[i];
      if (Math.abs(is.rgba()[i] - right) > 0.1 * right + 1e-3) {
        out++;
      }
    }
    return out;
  }

  @ParameterizedTest
  @CsvSource({
    "held out, plus, Set, grade",
    "held out, plus, Ball, grade",
    "complete, over, Ball, anything",
    "complete, over, Set, anything",
    "mixed, over, Box, 'grade, fade'",
    "mixed, over, Ball, grade"
  })
  void whatOthersAreCutByMovesNeitherAndWhatIsCutShowsItsHole(
      String cut, String join, String layer, String text) {
    assertThat(of(shot(layers(cut), join), layer).text()).isEqualTo(text);
  }

  @Test
  void whyIsSaidWithTheLayersThatItConcerns() {
    LoadedShot mixed = shot(MIXED, "over");
    assertThat(of(mixed, "Ball").holes())
        .isEqualTo("Ball is cut out of Box: fading, moving or blurring it opens a hole");
    assertThat(of(mixed, "Box").holes())
        .isEqualTo("Ball is cut out of Box: moving or blurring it shows the hole");
    assertThat(of(mixed, "Set").holes()).isEmpty();
  }

  @Test
  void aLayerThatIsNotJoinedHasNoFreedomAndTakesNone() {
    LoadedShot mixed = shot(MIXED, "over");
    Plan plan = mixed.plan();
    List<Recipe.Step> steps = new ArrayList<>(plan.recipe().joins());
    steps.removeIf(s -> s.layer().equals("Box"));
    List<CompFreedom> free =
        CompFreedom.of(plan.withRecipe(plan.recipe().withJoins(steps)), mixed.resolve(1));
    assertThat(free.get(1).text()).isEqualTo("not joined");
    assertThat(free.get(2).text()).isEqualTo("anything");
  }

  @Test
  void itTellsWhatIsCutOut() {
    LoadedShot mixed = shot(MIXED, "over");
    int ball =
        mixed.scene().entities().stream()
            .filter(e -> e.name().equals("ball"))
            .findFirst()
            .orElseThrow()
            .index();
    assertThat(mixed.resolve(1).layers().get(1).decisions().role(ball)).isEqualTo(Role.HOLDOUT);
    assertThat(of(mixed, "Ball").cuts()).isEqualTo(Map.of("Box", EntitySet.of(List.of(ball))));
  }
}
