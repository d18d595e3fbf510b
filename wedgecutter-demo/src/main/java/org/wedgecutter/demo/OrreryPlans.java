package org.wedgecutter.demo;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.exr.Compression;

/** The two ways in which the demo cuts the orrery. */
final class OrreryPlans {
  private final List<CollectionDef> collections = new ArrayList<>();
  private final List<LayerDef> layers = new ArrayList<>();
  private final List<Recipe.Step> steps = new ArrayList<>();

  private OrreryPlans() {}

  /** Held-out layers, all joined by plus; the table's shadows are a signed difference. */
  static Plan heldOut() {
    OrreryPlans p = new OrreryPlans();
    p.rows("Room", "path:/room/** | path:/lamp/** | kind:environment");
    Cell seen = Cell.of(Role.SEEN);
    Cell holdout = Cell.of(Role.HOLDOUT);
    // the table is lit as if nothing stood on it, and yet is cut around what does
    Cell cutOnly = switchedOff(holdout);
    Cell caster = caught(holdout, null, true);
    p.layer("Room", 0, Join.PLUS, holdout, holdout, holdout, holdout, holdout, seen);
    p.layer("Table", 1, Join.PLUS, holdout, cutOnly, cutOnly, cutOnly, seen, holdout);
    p.layer(
        "Table shadows",
        2,
        Join.PLUS,
        holdout,
        caster,
        caster,
        caster,
        caught(Cell.of(Role.CATCHER), CatcherOutput.DIFFERENCE, null),
        holdout);
    p.layer("Orrery", 3, Join.PLUS, holdout, holdout, holdout, seen, holdout, holdout);
    p.layer("Hero", 4, Join.PLUS, holdout, seen, holdout, holdout, holdout, holdout);
    p.layer("Foreground", 5, Join.PLUS, holdout, holdout, seen, holdout, holdout, holdout);
    p.layer("Air", 7, Join.PLUS, seen, holdout, holdout, holdout, holdout, holdout);
    return p.plan();
  }

  /**
   * Complete backgrounds, joined by over; the table's shadows are one picture for any background.
   */
  static Plan over() {
    OrreryPlans p = new OrreryPlans();
    p.rows("Lamp", "path:/lamp/**", "Room", "path:/room/** | kind:environment");
    Cell seen = Cell.of(Role.SEEN);
    Cell holdout = Cell.of(Role.HOLDOUT);
    Cell unseen = Cell.of(Role.UNSEEN);
    Cell absent = Cell.of(Role.ABSENT);
    p.layer("Room", 0, Join.OVER, absent, unseen, unseen, unseen, unseen, unseen, seen);
    p.layer("Table", 1, Join.OVER, absent, absent, absent, absent, seen, unseen, unseen);
    p.layer(
        "Table shadows",
        2,
        Join.CATCH,
        absent,
        unseen,
        unseen,
        unseen,
        caught(Cell.of(Role.CATCHER), CatcherOutput.CATCH, null),
        caught(unseen, null, false),
        caught(unseen, null, false));
    // what stands behind a front is looked through: a front is whole, but for the pillar before the
    // hero
    p.layer("Lamp", 6, Join.OVER, absent, unseen, unseen, unseen, unseen, seen, unseen);
    p.layer("Orrery", 3, Join.OVER, absent, unseen, unseen, seen, unseen, unseen, unseen);
    p.layer("Hero", 4, Join.OVER, absent, seen, unseen, holdout, unseen, unseen, unseen);
    p.layer("Foreground", 5, Join.OVER, absent, unseen, seen, unseen, unseen, unseen, unseen);
    // the air can change later: it is put over layers without it, cut around everything
    p.layer("Air", 7, Join.OVER, seen, holdout, holdout, holdout, holdout, holdout, holdout);
    // nothing that moves is in the table's layer: one frame is held
    return LayerEdits.setting(
        p.plan(),
        "Table",
        CellOverride.of(Property.FRAMES, Property.Verb.SET, new Value.Text("1")));
  }

  private void rows(String... last) {
    String[] first = {
      "Air", "kind:medium",
      "Hero", "tag:hero",
      "Foreground", "path:/foreground/**",
      "Orrery", "path:/orrery/**",
      "Table", "path:/table/**"
    };
    List<String> all = new ArrayList<>(Arrays.asList(first));
    all.addAll(Arrays.asList(last));
    for (int i = 0; i < all.size(); i += 2) {
      try {
        collections.add(
            new CollectionDef(
                all.get(i), RuleParser.parse(all.get(i + 1)), List.of(), List.of(), Extra.NONE));
      } catch (RuleException e) {
        throw new IllegalStateException(e);
      }
    }
  }

  private void layer(String name, int hue, Join join, Cell... cells) {
    Map<String, Cell> byRow = new LinkedHashMap<>();
    for (int i = 0; i < cells.length; i++) {
      byRow.put(collections.get(i).name(), cells[i]);
    }
    layers.add(LayerDef.of(name, hue, byRow, Cell.of(Role.HOLDOUT)));
    steps.add(new Recipe.Step(name, join, Extra.NONE));
  }

  private static Cell switchedOff(Cell cell) {
    return cell.withOverrides(
        Stream.of(
                Property.VISIBLE_REFLECTION,
                Property.VISIBLE_BOUNCE,
                Property.VISIBLE_TRANSMISSION,
                Property.SHADOW_CASTS)
            .map(p -> CellOverride.of(p, false))
            .toList());
  }

  private static Cell caught(
      Cell cell,
      @org.jspecify.annotations.Nullable CatcherOutput output,
      @org.jspecify.annotations.Nullable Boolean caster) {
    return new Cell(
        cell.role(),
        CatcherOptions.NONE.withOutput(output).withCaster(caster),
        cell.overrides(),
        cell.note(),
        Extra.NONE);
  }

  private Plan plan() {
    Shot.Draft shot = new Shot.Draft("orrery.glb", FrameRange.parse("1-" + OrreryScene.FRAMES));
    shot.camera = "main";
    shot.fps = OrreryScene.FPS;
    shot.samples = 96;
    shot.clamp = 5;
    shot.soften = 0.35f;
    shot.shutter = 0.5;
    shot.environment = new Shot.EnvironmentDef("attic.hdr", 0, 1, Extra.NONE);
    return new Plan(
        shot.build(),
        collections,
        layers,
        new Recipe(steps, Extra.NONE),
        new Output(Output.DEFAULT_NAME, true, Compression.ZIP, true, Extra.NONE),
        Extra.NONE);
  }
}
