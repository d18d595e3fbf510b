package org.wedgecutter.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.wedgecutter.core.load.Starting;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Property.Verb;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;

/** Every mistake of the catalogue is seeded, found, and if it has a fix, mended by it. */
class CatalogueTest {
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

  private final Scene plain = scene(false);
  private final Map<Mistake, Seed> seeds = seeds();

  /** How a mistake is made: in the plan, and perhaps in the scene. */
  private record Seed(UnaryOperator<Plan> mistake, @Nullable Scene scene) {}

  private static Scene scene(boolean twin) {
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
            s.duration(),
            List.of(),
            s.unsupported())
        .withMovesTold();
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
            s.duration(),
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

  private static UnaryOperator<Plan> cell(String layer, String row, UnaryOperator<Cell> edit) {
    return p -> PlanEdits.cell(p, layer, row, edit);
  }

  private static UnaryOperator<Plan> override(
      String layer, String row, Property property, Verb verb, Value value) {
    return p -> PlanEdits.override(p, layer, row, CellOverride.of(property, verb, value));
  }

  private static UnaryOperator<Plan> setting(Property property, Value value) {
    return p -> LayerEdits.setting(p, "Hero", CellOverride.of(property, Verb.SET, value));
  }

  private static UnaryOperator<Plan> rule(String name, String text) {
    return p -> {
      try {
        return CollectionEdits.add(p, 0, CollectionDef.of(name, RuleParser.parse(text)));
      } catch (RuleException e) {
        throw new IllegalArgumentException(e);
      }
    };
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
  private static UnaryOperator<Plan> all(UnaryOperator<Plan>... edits) {
    return p -> {
      Plan next = p;
      for (UnaryOperator<Plan> edit : edits) {
        next = edit.apply(next);
      }
      return next;
    };
  }

  private static UnaryOperator<Plan> known(String... paths) {
    return p -> p.withShot(p.requireShot().withKnown(List.of(paths)));
  }

  private Map<Mistake, Seed> seeds() {
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
        seed(
            all(known(java.util.Arrays.copyOf(most, 9)), p -> CollectionEdits.remove(p, "Lamps"))));
    m.put(Mistake.ENTITY_GONE, seed(known("/hero", "/set/chandelier")));
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
                        new org.wedgecutter.core.plan.Shot.EnvironmentDef(
                            org.wedgecutter.core.plan.Shot.EnvironmentDef.NEUTRAL,
                            0,
                            1,
                            Extra.NONE)))));
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
                            .withEnvironment(
                                new org.wedgecutter.core.plan.Shot.EnvironmentDef(
                                    "", 0, 1, org.wedgecutter.core.plan.Extra.NONE))))));
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
                          Map<String, Cell> cells = new java.util.LinkedHashMap<>(d.cells());
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
    m.put(Mistake.NAME_COLLISION, seed(name("{shot}.{frame:4}")));
    m.put(Mistake.FRAMES_OUTSIDE, seed(setting(Property.FRAMES, new Value.Text("100-120"))));
    m.put(Mistake.SIZE_ASPECT, seed(setting(Property.SIZE, new Value.Size(30, 30))));
    return m;
  }

  private static Seed seed(UnaryOperator<Plan> mistake) {
    return new Seed(mistake, null);
  }

  private List<Finding> check(Plan plan, Scene scene) {
    Members members = new Members(scene);
    return PlanCheck.check(plan, members, Resolver.resolve(plan, members, 1));
  }

  private static CollectionDef row(String name, String rule) {
    try {
      return new CollectionDef(
          name,
          org.wedgecutter.core.plan.RuleParser.parse(rule),
          List.of(),
          List.of(),
          org.wedgecutter.core.plan.Extra.NONE);
    } catch (org.wedgecutter.core.plan.RuleException e) {
      throw new IllegalStateException(e);
    }
  }

  private static Plan base() throws Exception {
    return PlanReader.parse(PLAN, Path.of("t.wedge"));
  }

  @Test
  void aPlanWithoutMistakesHasNoFindings() throws Exception {
    assertThat(check(base(), plain)).isEmpty();
  }

  @Test
  void everyKindIsSeeded() {
    // what only files can tell is seeded by the tests of deliveries
    assertThat(seeds.keySet())
        .containsExactlyInAnyOrderElementsOf(EnumSet.complementOf(EnumSet.of(Mistake.STALE)));
  }

  @ParameterizedTest
  @EnumSource(mode = EnumSource.Mode.EXCLUDE, names = "STALE")
  void everyMistakeIsFoundAndMended(Mistake kind) throws Exception {
    Seed seed = Objects.requireNonNull(seeds.get(kind));
    Scene scene = Objects.requireNonNullElse(seed.scene, plain);
    Plan wrong = seed.mistake.apply(base());
    List<Finding> found = check(wrong, scene).stream().filter(f -> f.kind() == kind).toList();
    assertThat(found).as("found").isNotEmpty();
    Finding first = found.getFirst();
    assertThat(first.severity()).isEqualTo(kind.severity());
    assertThat(first.text()).isNotBlank();
    assertThat(first.advice()).isNotBlank();
    boolean named = !first.layer().isEmpty() || !first.entity().isEmpty();
    boolean ofTheShot = kind == Mistake.CAMERA_PLACED || kind == Mistake.LIGHT_NEUTRAL;
    assertThat(named || ofTheShot || kind.name().startsWith("NAME_")).as("it has a place").isTrue();
    assertThat(first.fix() == null)
        .as("the catalogue tells whether it has a fix")
        .isEqualTo(kind.fix().isEmpty());
    if (first.fix() != null) {
      Plan mended = first.fix().edit().apply(wrong);
      assertThat(mended).as("the fix does something").isNotEqualTo(wrong);
      assertThat(check(mended, scene))
          .as("mended")
          .noneMatch(f -> f.kind() == kind && f.text().equals(first.text()));
    }
  }

  @Test
  void thePageInTheDocumentationIsMadeFromTheCatalogue() throws Exception {
    Path page = Path.of(System.getProperty("user.dir")).resolve("../docs/findings.md");
    assertThat(Files.readString(page))
        .as("regenerate it: ./wedgecutter check --catalogue > docs/findings.md")
        .isEqualTo(Catalogue.page());
  }

  @Test
  void aLightSplitWithoutOverlapIsNoMistake() throws Exception {
    Plan split = Objects.requireNonNull(seeds.get(Mistake.LIGHT_TWICE)).mistake.apply(base());
    List<Finding> found = check(split, plain);
    assertThat(found).noneMatch(f -> f.kind() == Mistake.SEEN_TWICE);
    Plan shared = cell("Set copy", "Lamps", c -> c.withRole(Role.ABSENT)).apply(split);
    assertThat(check(shared, plain))
        .noneMatch(f -> f.kind() == Mistake.LIGHT_TWICE || f.kind() == Mistake.SEEN_TWICE);
  }

  @Test
  void visibilityOverFramesIsToldByFrames() throws Exception {
    CellOverride gone =
        CellOverride.of(Property.VISIBLE_CAMERA, false)
            .with(
                Verb.SET,
                List.of(
                    new CellOverride.Key(1, new Value.Switch(true)),
                    new CellOverride.Key(10, new Value.Switch(false)),
                    new CellOverride.Key(15, new Value.Switch(true))),
                true);
    Plan plan = PlanEdits.override(base(), "Hero", "Hero", gone);
    Members members = new Members(plain);
    List<SeenTable.Span> spans = SeenTable.of(plan, members, Resolver.resolve(plan, members, 1));
    assertThat(spans).hasSize(3);
    assertThat(spans.get(1).first()).isEqualTo(10);
    assertThat(spans.get(1).last()).isEqualTo(14);
    assertThat(spans.get(1).never().size()).isEqualTo(1);
    assertThat(spans.get(0).causes()).isEmpty();
    assertThat(check(plan, plain))
        .anyMatch(f ->
            f.kind() == Mistake.SEEN_NOWHERE
                && "frames 10 to 14".equals(f.message().arguments().get("frames")));
  }

  private List<Sentence> said(UnaryOperator<Plan> edit) throws Exception {
    return check(edit.apply(base()), plain).stream().map(f -> f.message().sentence()).toList();
  }

  @Test
  void overridesOfTheRestAreLookedAtToo() throws Exception {
    UnaryOperator<Plan> black =
        p ->
            PlanEdits.override(
                p,
                "Hero",
                null,
                CellOverride.of(Property.MATERIAL, Verb.SET, new Value.Text("chrom")));
    assertThat(said(black)).contains(Sentence.MATERIAL_UNKNOWN);
    Finding found =
        check(black.apply(base()), plain).stream()
            .filter(f -> f.kind() == Mistake.MATERIAL_UNKNOWN)
            .findFirst()
            .orElseThrow();
    assertThat(found.message().arguments()).containsEntry("collection", "the rest");
    assertThat(found.fix().name()).startsWith("fix: ");
    // what is built in, or in the scene, is known
    for (String known : List.of("clay", plain.materials().getFirst().name())) {
      assertThat(said(override("Hero", "Hero", Property.MATERIAL, Verb.SET, new Value.Text(known))))
          .as(known)
          .doesNotContain(Sentence.MATERIAL_UNKNOWN);
    }
  }

  @Test
  void whatIsOffIsNotLookedAt() throws Exception {
    CellOverride idle =
        CellOverride.of(Property.LIGHT_INTENSITY, Verb.SCALE, new Value.Num(2)).withOn(false);
    assertThat(said(p -> PlanEdits.override(p, "Hero", "Hero", idle))).isEmpty();
    CellOverride same = CellOverride.of(Property.BOUNCES, Verb.ADD, new Value.Num(0)).withOn(false);
    assertThat(said(p -> LayerEdits.setting(p, "Hero", same))).isEmpty();
  }

  @Test
  void whatChangesNothingIsToldAndWhatIsAnExceptionIsNot() throws Exception {
    UnaryOperator<Plan> same = override("Hero", "Hero", Property.METAL, Verb.ADD, new Value.Num(0));
    assertThat(said(same)).contains(Sentence.OVERRIDE_SAME);
    UnaryOperator<Plan> exception =
        p ->
            PlanEdits.override(
                same.apply(p),
                "Hero",
                null,
                CellOverride.of(Property.METAL, Verb.ADD, new Value.Num(0.5)));
    assertThat(said(exception)).doesNotContain(Sentence.OVERRIDE_SAME);
    UnaryOperator<Plan> otherRow =
        all(same, override("Hero", "Set", Property.METAL, Verb.ADD, new Value.Num(0.5)));
    assertThat(said(otherRow)).doesNotContain(Sentence.OVERRIDE_SAME);
    UnaryOperator<Plan> otherProperty =
        all(same, override("Hero", "Set", Property.ROUGHNESS, Verb.ADD, new Value.Num(0.5)));
    assertThat(said(otherProperty)).contains(Sentence.OVERRIDE_SAME);
    assertThat(
            said(
                setting(
                    Property.BOUNCES, new Value.Num(base().requireShot().bounces().surfaces()))))
        .contains(Sentence.SETTING_SAME);
    assertThat(said(setting(Property.SAMPLES, new Value.Num(777))))
        .doesNotContain(Sentence.SETTING_SAME);
    assertThat(
            said(
                all(
                    cell("Hero", "Hero", c -> c.withRole(Role.ABSENT)),
                    override("Hero", "Hero", Property.METAL, Verb.SET, new Value.Num(1)))))
        .contains(Sentence.OVERRIDE_ON_ABSENT);
    assertThat(said(override("Hero", "Lamps", Property.METAL, Verb.SET, new Value.Num(1))))
        .contains(Sentence.OVERRIDE_ON_NOTHING);
  }

  @Test
  void keysAreOutsideOnBothSidesOfTheShotAndNotAtItsEnds() throws Exception {
    int[][] frames = {{-9, 0}, {25, 30}, {0, 1}, {24, 40}, {-9, 40}};
    boolean[] outside = {true, true, false, false, false};
    for (int k = 0; k < frames.length; k++) {
      List<CellOverride.Key> keys =
          List.of(
              new CellOverride.Key(frames[k][0], new Value.Num(0.1)),
              new CellOverride.Key(frames[k][1], new Value.Num(0.3)));
      CellOverride keyed = CellOverride.of(Property.ROUGHNESS, false).with(Verb.SET, keys, false);
      assertThat(
              said(p -> PlanEdits.override(p, "Hero", "Hero", keyed))
                  .contains(Sentence.KEYS_OUTSIDE))
          .as("keys %d to %d", frames[k][0], frames[k][1])
          .isEqualTo(outside[k]);
      CellOverride level =
          CellOverride.of(Property.ENVIRONMENT_LEVEL, false).with(Verb.SET, keys, false);
      assertThat(said(p -> LayerEdits.setting(p, "Hero", level)).contains(Sentence.KEYS_OUTSIDE))
          .isEqualTo(outside[k]);
    }
  }

  @Test
  void theWorstComesFirstAndPathsAreNamed() throws Exception {
    Plan plan =
        all(
                override("Hero", "Hero", Property.METAL, Verb.ADD, new Value.Num(0)),
                cell("Hero", "Hero", c -> c.withRole(Role.HOLDOUT)))
            .apply(base());
    List<Finding> found = check(plan, plain);
    assertThat(found).hasSizeGreaterThan(1);
    assertThat(found).isSortedAccordingTo(java.util.Comparator.comparing(Finding::severity));
    assertThat(found.getFirst().kind()).isEqualTo(Mistake.SEEN_NOWHERE);
    Plan gone = known("/hero", "/set/wall").apply(base());
    assertThat(check(gone, plain)).filteredOn(f -> f.kind() == Mistake.ENTITY_NEW).isEmpty();
    Plan loose = all(known("/set/wall"), p -> CollectionEdits.remove(p, "Hero")).apply(base());
    assertThat(check(loose, plain))
        .filteredOn(f -> f.kind() == Mistake.ENTITY_NEW)
        .singleElement()
        .satisfies(f -> assertThat(f.text()).contains("/hero").doesNotContain("/set/wall"));
  }

  @Test
  void aRowThatOnlyTheShotOrACatcherUsesIsUsed() throws Exception {
    UnaryOperator<Plan> unused = rule("Boxes", "path:/set/box*");
    assertThat(said(unused)).contains(Sentence.ROW_UNUSED);
    List<UnaryOperator<Plan>> uses =
        List.of(
            p -> p.withShot(p.requireShot().with(s -> s.links = Map.of("/lamp", "Boxes"))),
            p -> p.withOutput(p.output().withLightGroups(List.of("Boxes"))));
    for (UnaryOperator<Plan> use : uses) {
      assertThat(said(all(unused, use))).doesNotContain(Sentence.ROW_UNUSED);
    }
  }

  @Test
  void aLayerThatIsStillIsToldUnlessSomethingInItIsKeyed() throws Exception {
    UnaryOperator<Plan> still = cell("Set", "Hero", c -> c.withRole(Role.ABSENT));
    assertThat(said(still)).contains(Sentence.LAYER_STILL);
    List<CellOverride.Key> keys =
        List.of(
            new CellOverride.Key(1, new Value.Num(0.1)),
            new CellOverride.Key(9, new Value.Num(0.3)));
    CellOverride rough = CellOverride.of(Property.ROUGHNESS, false).with(Verb.SET, keys, false);
    CellOverride level =
        CellOverride.of(Property.ENVIRONMENT_LEVEL, false).with(Verb.SET, keys, false);
    assertThat(said(all(still, p -> PlanEdits.override(p, "Set", "Set", rough))))
        .doesNotContain(Sentence.LAYER_STILL);
    assertThat(said(all(still, p -> PlanEdits.override(p, "Set", null, rough))))
        .doesNotContain(Sentence.LAYER_STILL);
    assertThat(
            said(
                all(
                    still,
                    p ->
                        p.withLayers(
                            p.layers().stream()
                                .map(l ->
                                    l.name().equals("Set") ? l.withSettings(List.of(level)) : l)
                                .toList()))))
        .doesNotContain(Sentence.LAYER_STILL);
    // the hero stands still from second 2 on
    UnaryOperator<Plan> late =
        p -> p.withShot(p.requireShot().with(s -> s.frames = FrameRange.parse("60-80")));
    assertThat(said(late)).contains(Sentence.LAYER_STILL);
    for (double shutter : new double[] {0, 0.5}) {
      UnaryOperator<Plan> open =
          p ->
              p.withShot(
                  p.requireShot()
                      .with(s -> {
                        s.frames = FrameRange.parse("49-80");
                        s.shutter = shutter;
                      }));
      assertThat(said(open).contains(Sentence.LAYER_STILL))
          .as("the shutter of %s opens while it moves", shutter)
          .isEqualTo(shutter == 0);
    }
    assertThat(
            said(
                all(
                    still,
                    p -> p.withShot(p.requireShot().with(s -> s.frames = FrameRange.parse("60"))))))
        .as("one frame")
        .doesNotContain(Sentence.LAYER_STILL);
  }
}
