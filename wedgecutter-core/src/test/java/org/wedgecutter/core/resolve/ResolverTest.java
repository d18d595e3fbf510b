package org.wedgecutter.core.resolve;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;

class ResolverTest {
  private static Scene scene(int things) {
    SceneMaker maker = new SceneMaker().camera(1, 0, 0, 5);
    for (int k = 0; k < things; k++) {
      maker.mesh("/thing" + k, SceneMaker.wall(1, 1), SceneMaker.matte(1), 0, 0, -k);
    }
    return maker.pointLight("/lamp", 1, 0, 0, 0).scene();
  }

  private static Plan plan(List<CollectionDef> collections, LayerDef... layers) throws Exception {
    String base =
        """
        {"wedgecutter": 1, "collections": [], "layers": [], "recipe": {"joins": []},
         "shot": {"scene": "x.glb", "frames": "1", "fps": 24, "size": [8, 8], "seed": 5, "bounces": 2}}
        """;
    return PlanReader.parse(base, Path.of("t.wedge"))
        .withCollections(collections)
        .withLayers(List.of(layers));
  }

  private static CollectionDef row(String name, String rule) throws Exception {
    return new CollectionDef(name, RuleParser.parse(rule), List.of(), List.of(), Extra.NONE);
  }

  private static LayerDef layer(Map<String, Cell> cells, Role rest) {
    return LayerDef.of("L", 0, cells, Cell.of(rest));
  }

  private static Cell switched(Role role, Property property, boolean value, boolean on) {
    return Cell.of(role).withOverrides(List.of(CellOverride.of(property, value).withOn(on)));
  }

  @Test
  void theFirstRowWithAnEntryDecidesAndElseTheRest() throws Exception {
    Scene scene = scene(3);
    Map<String, Cell> cells = new LinkedHashMap<>();
    cells.put("low", Cell.of(Role.UNSEEN));
    Plan plan =
        plan(
            List.of(row("high", "thing0"), row("mid", "thing0 | thing1"), row("low", "thing1")),
            layer(cells, Role.HOLDOUT));
    ResolvedLayer layer = Resolver.resolve(plan, scene, 1).layers().getFirst();
    assertThat(layer.decisions().get(0)).isEqualTo(new Decision(Role.HOLDOUT, null));
    assertThat(layer.decisions().get(1)).isEqualTo(new Decision(Role.UNSEEN, "low"));
    assertThat(layer.decisions().get(0).by()).isEqualTo("the rest");
    cells.put("mid", Cell.of(Role.SEEN));
    Plan more = plan.withLayers(List.of(layer(cells, Role.HOLDOUT)));
    ResolvedLayer next = Resolver.resolve(more, scene, 1).layers().getFirst();
    assertThat(next.decisions().get(0)).isEqualTo(new Decision(Role.SEEN, "mid"));
    assertThat(next.decisions().get(1)).isEqualTo(new Decision(Role.SEEN, "mid"));
    assertThat(next.seen().size()).isEqualTo(2);
  }

  @Test
  void precedenceHoldsForAnyPlan() throws Exception {
    Scene scene = scene(5);
    for (int seed = 0; seed < 300; seed++) {
      Random random = new Random(seed);
      List<CollectionDef> rows = new ArrayList<>();
      Map<String, Cell> cells = new LinkedHashMap<>();
      for (int r = 0; r < 4; r++) {
        StringBuilder rule = new StringBuilder("thing9");
        for (int k = 0; k < 5; k++) {
          rule.append(random.nextBoolean() ? " | thing" + k : "");
        }
        rows.add(row("row" + r, rule.toString()));
        if (random.nextInt(3) > 0) {
          cells.put("row" + r, Cell.of(Role.values()[random.nextInt(5)]));
        }
      }
      Role rest = Role.values()[random.nextInt(5)];
      ResolvedLayer layer =
          Resolver.resolve(plan(rows, layer(cells, rest)), scene, 1).layers().getFirst();
      for (int e = 0; e < 5; e++) {
        Role expected = rest;
        for (CollectionDef row : rows) {
          if (row.matches(scene.entities().get(e)) && cells.containsKey(row.name())) {
            expected = cells.get(row.name()).role();
            break;
          }
        }
        assertThat(layer.decisions().get(e).role()).isEqualTo(expected);
        assertThat(layer.seen().contains(e)).isEqualTo(expected == Role.SEEN);
        assertThat(layer.skipped().contains(e)).isEqualTo(expected.skipped());
        assertThat(layer.transport().reach(e))
            .isEqualTo(expected == Role.ABSENT ? Reach.NONE : Reach.ALL);
      }
    }
  }

  @Test
  void aPropertyIsDecidedBySeparateRowsAndOnlyWhileOn() throws Exception {
    Scene scene = scene(1);
    Map<String, Cell> cells = new LinkedHashMap<>();
    cells.put("high", switched(Role.SEEN, Property.SHADOW_CASTS, false, false));
    cells.put("low", switched(Role.ABSENT, Property.SHADOW_CASTS, false, true));
    Plan plan =
        plan(List.of(row("high", "thing0"), row("low", "thing0")), layer(cells, Role.HOLDOUT));
    ResolvedLayer layer = Resolver.resolve(plan, scene, 1).layers().getFirst();
    assertThat(layer.decisions().getFirst()).isEqualTo(new Decision(Role.SEEN, "high"));
    assertThat(layer.transport().reach(0)).isEqualTo(Reach.ALL.without(Reach.Flag.SHADOW));
    cells.put("high", switched(Role.SEEN, Property.SHADOW_CASTS, true, true));
    layer =
        Resolver.resolve(plan.withLayers(List.of(layer(cells, Role.HOLDOUT))), scene, 1)
            .layers()
            .getFirst();
    assertThat(layer.transport().reach(0)).isEqualTo(Reach.ALL);
  }

  @Test
  void everyRoleButAbsentSharesTheUncutClass() throws Exception {
    Scene scene = scene(2);
    for (Role role : Role.values()) {
      Plan plan =
          plan(List.of(row("a", "thing0")), layer(Map.of("a", Cell.of(role)), Role.HOLDOUT));
      ResolvedShot shot = Resolver.resolve(plan, scene, 1);
      assertThat(shot.layers().getFirst().transport().equals(shot.uncut()))
          .as(role.word())
          .isEqualTo(role != Role.ABSENT);
    }
  }

  @Test
  void settingsOfTheShotArePartOfTheClass() throws Exception {
    Plan plan = plan(List.of(), layer(Map.of(), Role.SEEN));
    ResolvedShot a = Resolver.resolve(plan, scene(1), 1);
    ResolvedShot b =
        Resolver.resolve(plan.withShot(plan.requireShot().with(s -> s.seed = 6)), scene(1), 1);
    assertThat(a.uncut().settings().bounces().surfaces()).isEqualTo(2);
    assertThat(a.uncut().settings().seed()).isEqualTo(5);
    assertThat(a.uncut()).isNotEqualTo(b.uncut());
  }

  @Test
  void castersAreWhatIsNeitherCatcherNorPlate() throws Exception {
    Scene scene = scene(5);
    Map<String, Cell> cells = new LinkedHashMap<>();
    cells.put("catcher", Cell.of(Role.CATCHER));
    cells.put("seen", Cell.of(Role.SEEN));
    cells.put("unseen", Cell.of(Role.UNSEEN));
    cells.put("told", withCaster(Role.HOLDOUT, true));
    cells.put("notold", withCaster(Role.UNSEEN, false));
    Plan plan =
        plan(
            List.of(
                row("catcher", "thing0"),
                row("seen", "thing1"),
                row("unseen", "thing2"),
                row("told", "thing3"),
                row("notold", "thing4")),
            layer(cells, Role.HOLDOUT));
    CatcherSpec catcher = Resolver.resolve(plan, scene, 1).layers().getFirst().catcher();
    assertThat(catcher.surfaces()).isEqualTo(EntitySet.where(7, e -> e == 0));
    // neither the lamp nor the environment is ever a caster
    assertThat(catcher.casters()).isEqualTo(EntitySet.where(7, e -> e >= 1 && e <= 3));
    assertThat(catcher.output()).isEqualTo(CatcherOutput.DIFFERENCE);
    for (int e = 0; e < 7; e++) {
      assertThat(catcher.without().reach(e)).isEqualTo(e >= 1 && e <= 3 ? Reach.NONE : Reach.ALL);
    }
  }

  private static Cell withCaster(Role role, boolean caster) {
    return new Cell(role, CatcherOptions.NONE.withCaster(caster), List.of(), "", Extra.NONE);
  }

  @Test
  void handPickedMembersCountLikeTheRule() throws Exception {
    Scene scene = scene(3);
    CollectionDef row =
        new CollectionDef(
            "a",
            RuleParser.parse("thing0 | thing1"),
            List.of("/thing2"),
            List.of("/thing0"),
            Extra.NONE);
    Plan plan = plan(List.of(row), layer(Map.of("a", Cell.of(Role.SEEN)), Role.HOLDOUT));
    assertThat(Resolver.resolve(plan, scene, 1).layers().getFirst().seen())
        .isEqualTo(EntitySet.where(5, e -> e == 1 || e == 2));
  }

  @Test
  void setsBehaveLikeSets() {
    EntitySet even = EntitySet.where(10, e -> e % 2 == 0);
    EntitySet small = EntitySet.where(10, e -> e < 3);
    assertThat(even.or(small)).isEqualTo(EntitySet.where(10, e -> e % 2 == 0 || e < 3));
    assertThat(even.or(small).size()).isEqualTo(6);
    assertThat(even.containsAll(EntitySet.where(10, e -> e == 4))).isTrue();
    assertThat(even.containsAll(small)).isFalse();
    assertThat(EntitySet.NONE.isEmpty()).isTrue();
    assertThat(even.toArray(4)).containsExactly(true, false, true, false);
    assertThat(even.hashCode())
        .isEqualTo(EntitySet.where(20, e -> e % 2 == 0 && e < 10).hashCode());
  }

  @Test
  void everyPropertyIsDecidedByTheFirstRowThatOverridesIt() throws Exception {
    Scene scene = scene(6);
    Property[] switches = {
      Property.VISIBLE_REFLECTION, Property.VISIBLE_BOUNCE, Property.SHADOW_CASTS
    };
    Reach.Flag[] flags = {Reach.Flag.REFLECTION, Reach.Flag.BOUNCE, Reach.Flag.SHADOW};
    for (int seed = 0; seed < 200; seed++) {
      Random random = new Random(seed);
      List<CollectionDef> rows = new ArrayList<>();
      Map<String, Cell> cells = new LinkedHashMap<>();
      for (int r = 0; r < 5; r++) {
        String[] forms = {"thing*", "~THING%d", "!thing%d", "path:/thing%d | kind:light", "thing?"};
        rows.add(row("row" + r, forms[random.nextInt(5)].formatted(random.nextInt(6))));
        List<CellOverride> overrides = new ArrayList<>();
        for (Property p : switches) {
          if (random.nextInt(3) == 0) {
            overrides.add(CellOverride.of(p, random.nextBoolean()).withOn(random.nextInt(4) > 0));
          }
        }
        cells.put("row" + r, new Cell(null, null, overrides, "", Extra.NONE));
      }
      ResolvedLayer layer =
          Resolver.resolve(plan(rows, layer(cells, Role.HOLDOUT)), scene, 1).layers().getFirst();
      for (int e = 0; e < scene.entities().size(); e++) {
        for (int k = 0; k < 3; k++) {
          boolean expected = true;
          search:
          for (CollectionDef row : rows) {
            if (row.matches(scene.entities().get(e))) {
              for (CellOverride o : cells.get(row.name()).overrides()) {
                if (o.on() && o.property() == switches[k]) {
                  expected = o.at(1).equals(new org.wedgecutter.core.plan.Value.Switch(true));
                  break search;
                }
              }
            }
          }
          // what stops no light has no shadow to be switched off
          boolean stops = scene.entities().get(e).kind().stopsLight();
          expected |= !stops && switches[k] == Property.SHADOW_CASTS;
          assertThat(layer.transport().reach(e).has(flags[k]))
              .as("seed %d, entity %d, %s", seed, e, switches[k])
              .isEqualTo(expected);
        }
      }
    }
  }

  @Test
  void aMemberThatJoinsLaterHasTheOverridesToo() throws Exception {
    Map<String, Cell> cells =
        Map.of("things", switched(Role.HOLDOUT, Property.SHADOW_CASTS, false, true));
    Plan plan = plan(List.of(row("things", "thing*")), layer(cells, Role.HOLDOUT));
    for (int count : new int[] {2, 5}) {
      Scene scene = scene(count);
      var transport = Resolver.resolve(plan, scene, 1).layers().getFirst().transport();
      for (int e = 0; e < count; e++) {
        assertThat(transport.reach(e).castsShadow()).isFalse();
      }
    }
  }

  @Test
  void whatIsKeptOfRulesIsWhatTheySay() throws Exception {
    Scene scene = scene(8);
    Members members = new Members(scene);
    Random random = new Random(11);
    for (int k = 0; k < 300; k++) {
      List<String> added = random.nextBoolean() ? List.of("/thing3") : List.of();
      List<String> removed = random.nextBoolean() ? List.of("/thing3", "/thing5") : List.of();
      CollectionDef c =
          new CollectionDef(
              "c",
              RuleParser.parse("thing" + random.nextInt(8) + " | *" + random.nextInt(8)),
              added,
              removed,
              Extra.NONE);
      for (int e = 0; e < scene.entities().size(); e++) {
        assertThat(members.of(c).contains(e)).isEqualTo(c.matches(scene.entities().get(e)));
      }
    }
  }
}
