package org.wedgecutter.demo;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.exr.Compression;

/**
 * How the heron is set into the courtyard's plate: the plate itself, cut around the heron; what the
 * heron does to paving and walls, as a signed difference; the heron, cut by the low wall. All is
 * joined by plus.
 */
final class CourtyardPlan {
  private CourtyardPlan() {}

  /** A plan that shows everything in one layer. */
  static Plan empty(Shot shot) {
    return new Plan(
        shot,
        List.of(),
        List.of(LayerDef.of("All", 0, Map.of(), Cell.of(Role.SEEN))),
        new Recipe(List.of(new Recipe.Step("All", Join.PLUS, Extra.NONE)), Extra.NONE),
        new Output(Output.DEFAULT_NAME, true, Compression.ZIP, false, Extra.NONE),
        Extra.NONE);
  }

  static Plan plan() {
    List<CollectionDef> rows = new ArrayList<>();
    String[] rules = {
      "Heron", "tag:hero", "Paving", "name:paving", "Walls", "name:*wall", "Stand-ins", "tag:plate"
    };
    for (int i = 0; i < rules.length; i += 2) {
      try {
        rows.add(
            new CollectionDef(
                rules[i], RuleParser.parse(rules[i + 1]), List.of(), List.of(), Extra.NONE));
      } catch (RuleException e) {
        throw new IllegalStateException(e);
      }
    }
    Cell seen = Cell.of(Role.SEEN);
    Cell holdout = Cell.of(Role.HOLDOUT);
    Cell caster = holdout.withCatcher(CatcherOptions.NONE.withCaster(true));
    Cell catcher =
        Cell.of(Role.CATCHER).withCatcher(CatcherOptions.NONE.withOutput(CatcherOutput.DIFFERENCE));
    List<LayerDef> layers =
        List.of(
            layer("Plate", 0, seen, "Heron", holdout, "Paving", seen, "Walls", seen),
            layer(
                "Heron on paving",
                2,
                holdout,
                "Heron",
                caster,
                "Paving",
                catcher,
                "Walls",
                holdout),
            layer(
                "Heron on walls", 5, holdout, "Heron", caster, "Paving", holdout, "Walls", catcher),
            layer("Heron", 4, holdout, "Heron", seen, "Paving", holdout, "Walls", holdout));
    Shot.Draft shot = new Shot.Draft("courtyard.glb", FrameRange.parse("1"));
    shot.camera = "main";
    shot.fps = CourtyardScene.FPS;
    shot.samples = 96;
    shot.bounces = Bounces.of(4);
    shot.clamp = 8;
    shot.environment = new Shot.EnvironmentDef("sky.hdr", 0, 1, Extra.NONE);
    shot.plate = new Shot.PlateDef("plate.exr", "Stand-ins", Extra.NONE);
    Output output =
        new Output(Output.DEFAULT_NAME, true, Compression.ZIP, true, Extra.NONE)
            .withMore(
                Set.of(
                    Output.More.LIGHTS,
                    Output.More.DEPTH,
                    Output.More.NORMAL,
                    Output.More.MOTION,
                    Output.More.IDS));
    return new Plan(
        shot.build(),
        rows,
        layers,
        new Recipe(
            layers.stream().map(l -> new Recipe.Step(l.name(), Join.PLUS, Extra.NONE)).toList(),
            Extra.NONE),
        output,
        Extra.NONE);
  }

  private static LayerDef layer(String name, int hue, Cell rest, Object... cells) {
    Map<String, Cell> byRow = new LinkedHashMap<>();
    for (int i = 0; i < cells.length; i += 2) {
      byRow.put((String) cells[i], (Cell) cells[i + 1]);
    }
    return LayerDef.of(name, hue, byRow, rest);
  }
}
