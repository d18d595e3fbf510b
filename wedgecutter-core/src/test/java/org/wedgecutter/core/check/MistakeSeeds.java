package org.wedgecutter.core.check;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.load.Starting;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Property.Verb;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.exr.Compression;

/**
 * How each mistake of the catalogue is made: an edit of a plan without mistakes, and perhaps a
 * scene of its own.
 */
final class MistakeSeeds {
  private static final String PLAN =
      """
      {
        "wedgecutter": 1,
        "shot": {"scene": "x.glb", "frames": "1-24", "fps": 24, "size": [40, 20],
                 "environment": {"image": "sky.hdr"}},
        "collections": [
          {"name": "Hero", "rule": "hero"},
          {"name": "Lamps", "rule": "kind:light"},
          {"name": "Set", "rule": "path:/set/** | kind:environment"}
        ],
        "layers": [
          {"name": "Set", "hue": 0, "cells": {"Set": {"role": "Seen"}, "Lamps": {"role": "Unseen"}}},
          {"name": "Hero", "hue": 1, "cells": {"Hero": {"role": "Seen"}}}
        ],
        "recipe": {"joins": [{"layer": "Set", "join": "plus"}, {"layer": "Hero", "join": "plus"}]}
      }
      """;

  /** How a mistake is made: in the plan, and perhaps in the scene. */
  record Seed(UnaryOperator<Plan> mistake, @Nullable Scene scene) {}

  /**
   * Returns a scene with a hero that moves, a set and a lamp.
   *
   * @param twin whether the wall is there twice, with the same mesh
   */
  static Scene scene(boolean twin) {
    SceneMaker maker = new SceneMaker().camera(1, 0, 0, 5);
    maker.mesh(
        "/hero",
        SceneMaker.wall(1, 1),
        SceneMaker.matte(1),
        List.of(),
        SceneMaker.slide(0, 1, 2),
        0,
        0,
        1);
    maker.mesh("/set/wall", SceneMaker.wall(3, 3), SceneMaker.matte(0.5), 0, 0, -2);
    maker.mesh("/set/floor", SceneMaker.floor(3, 3), SceneMaker.matte(0.3), 0, -1, 0);
    for (int k = 0; k < 5; k++) {
      maker.mesh("/set/box" + k, SceneMaker.box(0.1), SceneMaker.matte(0.2), k, 0, 0);
    }
    if (twin) {
      maker.mesh("/set/wall_copy", SceneMaker.wall(3, 3), SceneMaker.matte(0.5), 0, 0, -2);
    }
    Scene made = maker.pointLight("/lamp", 5, 0, 2, 0).scene();
    List<Entity> entities = new ArrayList<>(made.entities());
    if (twin) {
      int wall = made.entity("/set/wall").orElseThrow().payload();
      entities.replaceAll(e -> e.name().equals("wall_copy") ? payload(e, wall) : e);
    }
    return with(made, entities);
  }

  private static Entity painted(Entity e, String... materials) {
    return new Entity(
        e.index(),
        e.path(),
        e.kind(),
        e.node(),
        e.payload(),
        List.of(materials),
        e.tags(),
        e.moves());
  }

  private static Entity payload(Entity e, int payload) {
    return new Entity(
        e.index(), e.path(), e.kind(), e.node(), payload, e.materials(), e.tags(), false);
  }

  private static Scene with(Scene s, List<Entity> entities) {
    return new Scene(
            s.file(),
            s.nodes(),
            entities,
            s.meshes(),
            s.materials(),
            s.images(),
            s.lights(),
            List.of(SceneMaker.haze(0.1, 0.9)),
            s.deformations(),
            s.cameras(),
            s.time(),
            List.of(),
            s.unsupported())
        .withMovesTold();
  }

  /** The scene with a file that is not there. */
  private static Scene incomplete() {
    Scene s = scene(false);
    return new Scene(
        s.file(),
        s.nodes(),
        s.entities(),
        s.meshes(),
        s.materials(),
        s.images(),
        s.lights(),
        s.media(),
        s.deformations(),
        s.cameras(),
        s.time(),
        List.of(),
        s.unsupported(),
        List.of("/set: references: @gone.usd@ not found"));
  }

  /** The scene without its camera. */
  private static Scene withoutCamera() {
    Scene s = scene(false);
    return new Scene(
            s.file(),
            s.nodes(),
            s.entities(),
            s.meshes(),
            s.materials(),
            s.images(),
            s.lights(),
            s.media(),
            s.deformations(),
            List.of(),
            s.time(),
            List.of(),
            s.unsupported())
        .withMovesTold();
  }

  /** The first box as a medium. */
  private static Scene withMedium() {
    Scene s = scene(false);
    List<Entity> entities = new ArrayList<>(s.entities());
    entities.replaceAll(e ->
        e.name().equals("box0")
            ? new Entity(
                e.index(), e.path(), EntityKind.MEDIUM, e.node(), 0, List.of(), List.of(), false)
            : e);
    return with(s, entities);
  }

  static UnaryOperator<Plan> cell(String layer, String row, UnaryOperator<Cell> edit) {
    return p -> PlanEdits.cell(p, layer, row, edit);
  }

  static UnaryOperator<Plan> override(
      String layer, String row, Property property, Verb verb, Value value) {
    return p -> PlanEdits.override(p, layer, row, CellOverride.of(property, verb, value));
  }

  static UnaryOperator<Plan> setting(Property property, Value value) {
    return p -> LayerEdits.setting(p, "Hero", CellOverride.of(property, Verb.SET, value));
  }

  static UnaryOperator<Plan> rule(String name, String text) {
    return p -> CollectionEdits.add(p, 0, row(name, text));
  }

  private static CollectionDef row(String name, String rule) {
    try {
      return CollectionDef.of(name, RuleParser.parse(rule));
    } catch (RuleException e) {
      throw new IllegalArgumentException(e);
    }
  }

  private static UnaryOperator<Plan> name(String template) {
    return p -> p.withOutput(p.output().withName(template));
  }

  /** A layer in which the set catches what the hero does, in front of the set. */
  private static UnaryOperator<Plan> catcher(
      String name, @Nullable CatcherOutput output, Join join, boolean caster) {
    Cell hero = Cell.of(Role.HOLDOUT);
    hero = caster ? hero.withCatcher(CatcherOptions.NONE.withCaster(true)) : hero;
    Cell set = Cell.of(Role.CATCHER).withCatcher(CatcherOptions.NONE.withOutput(output));
    LayerDef layer = LayerDef.of(name, 5, Map.of("Hero", hero, "Set", set), Cell.of(Role.HOLDOUT));
    return p -> LayerEdits.add(p, 1, layer, join);
  }

  @SafeVarargs
  static UnaryOperator<Plan> all(UnaryOperator<Plan>... edits) {
    return p -> {
      Plan next = p;
      for (UnaryOperator<Plan> edit : edits) {
        next = edit.apply(next);
      }
      return next;
    };
  }

  static UnaryOperator<Plan> known(String... paths) {
    return p -> p.withShot(p.requireShot().withKnown(List.of(paths)));
  }

  /** Returns a seed for each kind that a plan and a scene can have. */
  static Map<Mistake, Seed> seeds() {
    Map<Mistake, Seed> m = new EnumMap<>(Mistake.class);
    m.put(Mistake.SEEN_NOWHERE, seed(cell("Hero", "Hero", c -> c.withRole(Role.HOLDOUT))));
    m.put(Mistake.SEEN_TWICE, seed(cell("Set", "Hero", c -> c.withRole(Role.SEEN))));
    String[] most = {
      "/hero",
      "/set/wall",
      "/set/floor",
      "/set/box0",
      "/set/box1",
      "/set/box2",
      "/set/box3",
      "/set/box4",
      "/environment",
      "/lamp"
    };
    m.put(
        Mistake.ENTITY_NEW,
        seed(all(known(Arrays.copyOf(most, 9)), p -> CollectionEdits.remove(p, "Lamps"))));
    m.put(Mistake.ENTITY_GONE, seed(known("/hero", "/set/chandelier")));
    m.put(Mistake.SCENE_INCOMPLETE, new Seed(p -> p, incomplete()));
    m.put(
        Mistake.CAMERA_PLACED,
        new Seed(
            p -> p.withShot(Starting.shot(p.requireShot(), withoutCamera())), withoutCamera()));
    m.put(
        Mistake.LIGHT_NEUTRAL,
        seed(p ->
            p.withShot(
                p.requireShot()
                    .withEnvironment(
                        new Shot.EnvironmentDef(Shot.EnvironmentDef.NEUTRAL, 0, 1, Extra.NONE)))));
    m.put(Mistake.RULE_EMPTY, seed(rule("Typo", "hreo")));
    m.put(Mistake.RULE_GREEDY, seed(rule("All", "*")));
    m.put(
        Mistake.ROW_HIDDEN,
        seed(
            all(
                p -> CollectionEdits.add(p, 3, CollectionDef.of("Star", List.of("/hero"))),
                cell("Hero", "Star", c -> c.withRole(Role.HOLDOUT)))));
    m.put(Mistake.ROW_UNUSED, seed(rule("Boxes", "box*")));
    m.put(
        Mistake.MEMBER_LOST,
        seed(p -> CollectionEdits.add(p, 0, CollectionDef.of("Pick", List.of("/gone", "/hero")))));
    m.put(Mistake.TWIN_OBJECTS, new Seed(p -> p, scene(true)));
    m.put(
        Mistake.LAYER_EMPTY,
        seed(p ->
            LayerEdits.add(
                p, 2, LayerDef.of("New", 3, Map.of(), Cell.of(Role.HOLDOUT)), Join.PLUS)));
    m.put(
        Mistake.LAYER_DARK,
        seed(
            all(
                cell("Hero", "Lamps", c -> c.withRole(Role.ABSENT)),
                p ->
                    p.withShot(
                        p.requireShot()
                            .withEnvironment(new Shot.EnvironmentDef("", 0, 1, Extra.NONE))))));
    m.put(
        Mistake.LAYER_WHOLE,
        seed(
            all(
                p ->
                    LayerEdits.add(
                        p,
                        0,
                        LayerDef.of("Everything", 3, Map.of(), Cell.of(Role.SEEN)),
                        Join.PLUS),
                p -> LayerEdits.unjoin(p, "Everything"))));
    m.put(
        Mistake.LAYER_NOT_RENDERED,
        seed(p -> LayerEdits.layer(p, "Hero", l -> l.withRender(false))));
    m.put(Mistake.LAYER_NOT_JOINED, seed(p -> LayerEdits.unjoin(p, "Hero")));
    m.put(Mistake.LAYER_STILL, seed(cell("Set", "Hero", c -> c.withRole(Role.ABSENT))));
    // two layers that show the set, one by the lamp and one by the sky; the lamp is on in both
    UnaryOperator<Plan> split =
        all(
            rule("Sky", "kind:environment"),
            cell("Set", "Sky", c -> c.withRole(Role.ABSENT)),
            p -> LayerEdits.copy(p, "Set"),
            cell("Set copy", "Sky", c -> c.withRole(Role.SEEN)));
    m.put(Mistake.LIGHT_TWICE, seed(split));
    m.put(
        Mistake.ALPHA_COUNT,
        seed(all(split, cell("Set copy", "Lamps", c -> c.withRole(Role.ABSENT)))));
    m.put(
        Mistake.SEEN_IN_RATIO,
        seed(
            all(
                catcher("Shadow", CatcherOutput.RATIO, Join.TIMES, true),
                cell("Shadow", "Hero", c -> c.withRole(Role.SEEN)),
                cell("Hero", "Hero", c -> c.withRole(Role.HOLDOUT)))));
    m.put(
        Mistake.NOT_CAUGHT,
        seed(p ->
            p.withShot(
                p.requireShot()
                    .with(s -> s.plate = new Shot.PlateDef("plate.exr", "Set", Extra.NONE)))));
    m.put(
        Mistake.HALF_RANGE,
        seed(override("Set", "Lamps", Property.LIGHT_INTENSITY, Verb.SET, new Value.Num(1e9))));
    m.put(
        Mistake.CORRECTION_ON,
        seed(p ->
            p.withRecipe(
                p.recipe()
                    .withCorrections(
                        List.of(Correction.of("Hero", "", Correction.Type.EXPOSURE, 1.0))))));
    m.put(Mistake.LIGHT_DIFFERS, seed(cell("Hero", "Set", c -> c.withRole(Role.ABSENT))));
    m.put(
        Mistake.OVERRIDE_DIFFERS,
        seed(override("Hero", "Lamps", Property.LIGHT_INTENSITY, Verb.SCALE, new Value.Num(0.5))));
    m.put(Mistake.SETTINGS_DIFFER, seed(setting(Property.BOUNCES, new Value.Num(1))));
    m.put(Mistake.HELD_NOT_STILL, seed(setting(Property.FRAMES, new Value.Text("5"))));
    m.put(
        Mistake.DOUBLED_SHADOW,
        seed(
            all(
                catcher("Shadow", null, Join.PLUS, true),
                catcher("Shadow again", null, Join.PLUS, true))));
    m.put(Mistake.CATCHER_IDLE, seed(catcher("Shadow", null, Join.PLUS, false)));
    m.put(
        Mistake.CASTER_IDLE,
        seed(
            cell(
                "Set",
                "Hero",
                c -> c.withRole(Role.HOLDOUT).withCatcher(CatcherOptions.NONE.withCaster(true)))));
    m.put(
        Mistake.CATCHER_DARK,
        seed(
            all(
                catcher("Shadow", null, Join.PLUS, true),
                rule("Sky", "kind:environment"),
                cell("Shadow", "Sky", c -> c.withRole(Role.ABSENT)))));
    m.put(
        Mistake.SELF_SHADOW,
        seed(override("Hero", "Set", Property.SHADOW_CASTS, Verb.SET, new Value.Switch(false))));
    m.put(
        Mistake.MEDIUM_NOT_HELD_OUT,
        new Seed(cell("Set", "Hero", c -> c.withRole(Role.UNSEEN)), withMedium()));
    m.put(Mistake.CATCH_TUNED, seed(catcher("Shadow", CatcherOutput.BOUNCE, Join.PLUS, true)));
    m.put(
        Mistake.HAZE_APART,
        new Seed(
            p -> {
              List<CollectionDef> rows = new ArrayList<>();
              rows.add(row("Air", "kind:medium"));
              rows.addAll(p.collections());
              Plan next = p.withCollections(rows);
              for (LayerDef l : p.layers()) {
                next =
                    LayerEdits.layer(
                        next,
                        l.name(),
                        d -> {
                          Map<String, Cell> cells = new LinkedHashMap<>(d.cells());
                          cells.put("Air", Cell.of(Role.ABSENT));
                          return d.withCells(cells);
                        });
              }
              LayerDef air =
                  LayerDef.of("Air", 5, Map.of("Air", Cell.of(Role.SEEN)), Cell.of(Role.HOLDOUT));
              return LayerEdits.add(next, next.layers().size(), air, Join.OVER);
            },
            withMedium()));
    m.put(Mistake.OVER_ON_HELD_OUT, seed(p -> LayerEdits.join(p, "Hero", Join.OVER)));
    m.put(Mistake.PLUS_ON_COMPLETE, seed(cell("Set", "Hero", c -> c.withRole(Role.UNSEEN))));
    m.put(Mistake.WRONG_JOIN, seed(catcher("Shadow", CatcherOutput.RATIO, Join.PLUS, true)));
    m.put(Mistake.FIRST_JOIN, seed(p -> LayerEdits.join(p, "Set", Join.TIMES)));
    m.put(
        Mistake.JOIN_ORDER,
        seed(
            all(
                p -> LayerEdits.join(p, "Set", Join.OVER),
                p -> p.withRecipe(p.recipe().withJoins(p.recipe().joins().reversed())))));
    m.put(Mistake.GREY_CATCH, seed(catcher("Shadow", CatcherOutput.CATCH, Join.CATCH, true)));
    m.put(
        Mistake.RATIO_ON_SPECULAR, seed(catcher("Shadow", CatcherOutput.RATIO, Join.TIMES, true)));
    m.put(
        Mistake.RATIO_AT_EDGES,
        seed(
            all(
                catcher("Shadow", CatcherOutput.SHADOW, Join.TIMES, true),
                p -> RecipeEdits.joinLight(p, "Shadow", Recipe.Light.DIRECT),
                p -> LayerEdits.move(p, "Hero", -2))));
    m.put(Mistake.JOIN_FOR_LOOKS, seed(p -> LayerEdits.opacity(p, "Hero", 0.5)));
    m.put(
        Mistake.EDGE_COVARIANCE,
        seed(
            all(
                cell("Set", "Hero", c -> c.withRole(Role.UNSEEN)),
                p -> LayerEdits.join(p, "Hero", Join.OVER))));
    m.put(
        Mistake.OVERRIDE_IDLE,
        seed(override("Hero", "Hero", Property.LIGHT_INTENSITY, Verb.SCALE, new Value.Num(2))));
    m.put(
        Mistake.OVERRIDE_SAME,
        seed(override("Hero", "Hero", Property.METAL, Verb.ADD, new Value.Num(0))));
    m.put(
        Mistake.OVERRIDE_EVERYWHERE,
        seed(
            all(
                p -> LayerEdits.copy(p, "Hero"),
                p -> {
                  Plan next = p;
                  for (LayerDef l : p.layers()) {
                    next =
                        override(l.name(), "Set", Property.ROUGHNESS, Verb.SET, new Value.Num(0.2))
                            .apply(next);
                  }
                  return next;
                })));
    m.put(
        Mistake.MATERIAL_UNKNOWN,
        seed(override("Hero", "Hero", Property.MATERIAL, Verb.SET, new Value.Text("chrom"))));
    m.put(
        Mistake.KEYS_OUTSIDE,
        seed(p ->
            PlanEdits.override(
                p,
                "Hero",
                "Hero",
                CellOverride.of(Property.ROUGHNESS, false)
                    .with(
                        Verb.SET,
                        List.of(
                            new CellOverride.Key(100, new Value.Num(0.1)),
                            new CellOverride.Key(200, new Value.Num(0.3))),
                        false))));
    m.put(Mistake.NAME_EXTENSION, seed(name("{layer}.{frame:4}.exr")));
    m.put(Mistake.NAME_PADDING, seed(name("{layer}.{frame}")));
    m.put(
        Mistake.NAME_LENGTH,
        seed(p -> LayerEdits.rename(p, "Hero", "Hero, seen through the fog ".repeat(8))));
    m.put(Mistake.NAME_COLLISION, seed(name("{shot}.{frame:4}")));
    m.put(Mistake.FRAMES_OUTSIDE, seed(setting(Property.FRAMES, new Value.Text("100-120"))));
    m.put(Mistake.SIZE_ASPECT, seed(setting(Property.SIZE, new Value.Size(30, 30))));
    m.put(
        Mistake.CORRECTION_IDLE,
        seed(p ->
            p.withRecipe(
                p.recipe()
                    .withCorrections(
                        List.of(
                            Correction.of("Hero", "light.lamp", Correction.Type.EXPOSURE, 1.0))))));
    m.put(
        Mistake.PASS_MISSING,
        seed(p ->
            p.withRecipe(
                p.recipe()
                    .withMattes(List.of(MatteDef.picked("hero", "/hero*")))
                    .withCorrections(
                        List.of(
                            Correction.of("Hero", "", Correction.Type.EXPOSURE, 1.0)
                                .through("hero"))))));
    m.put(Mistake.COMPRESSION_LOSSY, seed(packed(Compression.DWAA)));
    m.put(
        Mistake.IDS_ROUNDED,
        seed(p ->
            packed(Compression.PXR24)
                .apply(p.withOutput(p.output().withMore(EnumSet.of(Output.More.IDS))))));
    UnaryOperator<Plan> deep = p -> p.withOutput(p.output().withMore(EnumSet.of(Output.More.DEEP)));
    m.put(Mistake.DEEP_HELD_OUT, seed(deep));
    m.put(
        Mistake.DEEP_UNFILTERED,
        seed(p -> setting(Property.DENOISE, new Value.Num(0.5)).apply(deep.apply(p))));
    m.put(
        Mistake.CORRECTION_HOLE,
        seed(p ->
            p.withRecipe(
                p.recipe()
                    .withCorrections(
                        List.of(Correction.of("Hero", "", Correction.Type.FADE, 0.5))))));
    m.put(
        Mistake.MATERIAL_IN_PART,
        new Seed(
            p -> CollectionEdits.rule(p, "Hero", row("Hero", "hero & material:brass").rule()),
            with(
                scene(false),
                scene(false).entities().stream()
                    .map(e -> e.name().equals("hero") ? painted(e, "brass", "wood") : e)
                    .toList())));
    m.put(
        Mistake.MATTE_EMPTY,
        seed(p ->
            p.withOutput(p.output().withMore(EnumSet.of(Output.More.IDS)))
                .withRecipe(p.recipe().withMattes(List.of(MatteDef.picked("hero", "/heor*"))))));
    m.put(
        Mistake.COPY_UNSIGNED,
        seed(p -> {
          Plan caught = catcher("Shadow", null, Join.PLUS, true).apply(p);
          return caught.withOutput(
              caught.output().with(o -> o.copies = EnumSet.of(Output.Copy.PNG8)));
        }));
    m.put(
        Mistake.DEEP_CATCHER,
        seed(p -> deep.apply(catcher("Shadow", null, Join.PLUS, false).apply(p))));
    return m;
  }

  private static UnaryOperator<Plan> packed(Compression compression) {
    return p -> p.withOutput(p.output().with(o -> o.compression = compression));
  }

  private static Seed seed(UnaryOperator<Plan> mistake) {
    return new Seed(mistake, null);
  }

  /** Returns the plan without mistakes, for {@link #scene}. */
  static Plan base() throws Exception {
    return PlanReader.parse(PLAN, Path.of("t.wedge"));
  }

  private MistakeSeeds() {}
}
