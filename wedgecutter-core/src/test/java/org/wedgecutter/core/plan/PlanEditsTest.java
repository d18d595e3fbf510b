package org.wedgecutter.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;

class PlanEditsTest {
  private Plan plan;

  @BeforeEach
  void read() throws Exception {
    plan = PlanReader.parse(PlanFileTest.PLAN, PlanFileTest.FILE);
  }

  private static Entity entity(String path, String... tags) {
    return new Entity(0, path, EntityKind.MESH, 0, 0, List.of(), List.of(tags), false);
  }

  @Test
  void settingARoleKeepsWhatElseTheCellHolds() {
    Plan next = PlanEdits.cell(plan, "Back", "Hero", c -> c.withRole(Role.UNSEEN));
    Cell cell = next.layers().getFirst().cells().get("Hero");
    assertThat(cell.role()).isEqualTo(Role.UNSEEN);
    assertThat(cell.overrides()).hasSize(1);
    assertThat(cell.note()).isEqualTo("cut around her");
    assertThat(next.layers().get(1)).isEqualTo(plan.layers().get(1));
  }

  @Test
  void aCellWithNothingInItIsTakenAway() {
    Plan next =
        PlanEdits.cell(plan, "Front", "Hero", c -> new Cell(null, null, List.of(), "", Extra.NONE));
    assertThat(next.layers().get(1).cells()).doesNotContainKey("Hero");
  }

  @Test
  void theRestIsACellToo() {
    Plan next = PlanEdits.cell(plan, "Front", null, c -> c.withRole(Role.SEEN));
    assertThat(next.layers().get(1).rest().role()).isEqualTo(Role.SEEN);
  }

  @Test
  void whatDoesNotExistChangesNothing() {
    assertThat(PlanEdits.cell(plan, "Nobody", "Hero", c -> c.withRole(Role.SEEN))).isEqualTo(plan);
    assertThat(PlanEdits.cell(plan, "Front", "Nobody", c -> c.withRole(Role.SEEN))).isEqualTo(plan);
    assertThat(LayerEdits.copy(plan, "Nobody")).isEqualTo(plan);
    assertThat(LayerEdits.remove(plan, "Nobody")).isEqualTo(plan);
    assertThat(LayerEdits.join(plan, "Nobody", Join.PLUS)).isEqualTo(plan);
  }

  @Test
  void renamingReachesTheRecipe() {
    Plan next = LayerEdits.rename(plan, "Front", "Near");
    assertThat(next.layer("Near")).isPresent();
    assertThat(next.join("Near")).contains(Join.OVER);
    assertThat(next.layer("Front")).isEmpty();
    assertThat(LayerEdits.rename(plan, "Front", "Back")).isEqualTo(plan);
    assertThat(LayerEdits.rename(plan, "Front", " ")).isEqualTo(plan);
  }

  @Test
  void aCopyStandsInFrontUnderAFreeNameAndIsJoined() {
    Plan once = LayerEdits.copy(plan, "Back");
    Plan twice = LayerEdits.copy(once, "Back");
    assertThat(twice.layers().stream().map(LayerDef::name))
        .containsExactly("Back", "Back copy 2", "Back copy", "Front");
    assertThat(twice.recipe().joins().stream().map(Recipe.Step::layer))
        .containsExactly("Back", "Back copy 2", "Back copy", "Front");
    assertThat(twice.layers().get(1).cells()).isEqualTo(plan.layers().getFirst().cells());
    assertThat(twice.layers().stream().map(LayerDef::hue).distinct()).hasSize(4);
  }

  @Test
  void aNewLayerIsWrittenToFilesOfItsOwn() {
    assertThat(LayerEdits.freeName(plan, "Middle")).isEqualTo("Middle");
    assertThat(LayerEdits.freeName(plan, "bACK")).isEqualTo("bACK 2");
    assertThat(LayerEdits.freeName(plan, "Uncut"))
        .as("a file of every delivery")
        .isEqualTo("Uncut 2");
    String longest = "x".repeat(300);
    Plan once = LayerEdits.add(plan, 0, plan.layers().getFirst().withName(longest), Join.PLUS);
    Plan twice = LayerEdits.add(once, 0, plan.layers().getFirst().withName(longest), Join.PLUS);
    assertThat(twice.layers().stream().map(l -> FileNames.safe(l.name())).distinct())
        .hasSize(twice.layers().size());
  }

  @Test
  void removingReachesTheRecipe() {
    Plan next = LayerEdits.remove(plan, "Back");
    assertThat(next.layers()).hasSize(1);
    assertThat(next.recipe().joins()).hasSize(1);
  }

  @Test
  void seenOnlyHereHoldsOutWhereItWasSeen() {
    Plan next = PlanEdits.seenOnlyIn(plan, "Back", "Hero");
    assertThat(next.layers().get(0).cells().get("Hero").role()).isEqualTo(Role.SEEN);
    assertThat(next.layers().get(1).cells().get("Hero").role()).isEqualTo(Role.HOLDOUT);
    assertThat(next.layers().get(0).cells().get("Hero").note()).isEqualTo("cut around her");
  }

  @Test
  void joinsChangeOneStep() {
    Plan next = LayerEdits.join(plan, "Back", Join.TIMES);
    assertThat(next.join("Back")).contains(Join.TIMES);
    assertThat(next.join("Front")).contains(Join.OVER);
    assertThat(next.recipe().joins().getFirst().extra().values()).containsKey("fade");
  }

  @Test
  void pickingDownwardsLeavesOutTheRowsAbove() {
    Entity star = entity("/star", "hero");
    Plan next = CollectionEdits.pick(plan, "Rest of it", star);
    assertThat(next.collections().get(0).matches(star)).isFalse();
    assertThat(next.collections().get(0).removed()).contains("/star", "/y");
    // the rule takes it already, so it need not be held by hand
    assertThat(next.collections().get(1).added()).isEmpty();
    assertThat(next.collections().get(1).matches(star)).isTrue();
  }

  @Test
  void pickingUpwardsHoldsByHand() {
    Entity stone = entity("/stone");
    Plan next = CollectionEdits.pick(plan, "Hero", stone);
    assertThat(next.collections().get(0).matches(stone)).isTrue();
    assertThat(next.collections().get(0).added()).containsExactly("/x", "/stone");
    Plan back = CollectionEdits.pick(next, "Rest of it", stone);
    assertThat(back.collections().get(0).matches(stone)).isFalse();
    assertThat(back.collections()).isEqualTo(plan.collections());
  }

  @Test
  void aRuleIsReplacedAndHandsStay() throws Exception {
    Plan next = CollectionEdits.rule(plan, "Hero", RuleParser.parse("tag:star"));
    assertThat(next.collections().getFirst().rule().text()).isEqualTo("tag:star");
    assertThat(next.collections().getFirst().added()).containsExactly("/x");
    assertThat(next.collections().getFirst().extra().values()).containsKey("why");
  }

  @Test
  void rolesHaveTheirWordsAndKeys() {
    StringBuilder keys = new StringBuilder();
    for (Role role : Role.values()) {
      assertThat(Role.of(role.word())).isEqualTo(role);
      keys.append(role.key());
    }
    assertThat(keys.toString()).isEqualTo("SHCUA");
    for (Join join : Join.values()) {
      assertThat(Join.of(join.word())).contains(join);
    }
    for (CatcherOutput output : CatcherOutput.values()) {
      assertThat(CatcherOutput.of(output.word())).isEqualTo(output);
    }
    for (Property property : Property.values()) {
      assertThat(Property.of(property.word())).contains(property);
      assertThat(PlanSchema.plan().text()).contains(property.word());
    }
    assertThat(Property.of("colour")).isEmpty();
  }

  @Test
  void aCollectionKeepsItsPlacesUnderItsNewName() throws Exception {
    Plan plan =
        PlanReader.parse(
            """
            {"wedgecutter": 1,
             "shot": {"scene": "s.glb", "frames": "1", "fps": 24, "size": [4, 4],
               "plate": {"image": "p.exr", "stand_ins": "Lamps"}, "links": {"/lamp": "Lamps"}},
             "collections": [{"name": "Lamps", "rule": "lamp*"}, {"name": "Set", "rule": "set"}],
             "layers": [{"name": "L", "cells": {"Set": {"role": "Catcher",
               "catcher": {"lights": ["Lamps"]}}}, "rest": {"role": "Holdout"}}],
             "recipe": {"joins": []},
             "output": {"light_groups": ["Lamps", "Set"], "limited_to": {"depth": "Lamps"}}}
            """,
            Path.of("t.wedge"));
    String before = PlanWriter.text(PlanWriter.tree(plan));
    assertThat(before.split("\"Lamps\"", -1)).hasSize(7);
    Plan renamed = CollectionEdits.rename(plan, "Lamps", "Keys");
    assertThat(PlanWriter.text(PlanWriter.tree(renamed)))
        .isEqualTo(before.replace("\"Lamps\"", "\"Keys\""));
    Plan removed = CollectionEdits.remove(plan, "Lamps");
    assertThat(removed.output().lightGroups()).containsExactly("Set");
    assertThat(removed.output().limits()).isEmpty();
    assertThat(removed.requireShot().links()).isEmpty();
    assertThat(removed.requireShot().plate().standIns()).isEmpty();
  }
}
