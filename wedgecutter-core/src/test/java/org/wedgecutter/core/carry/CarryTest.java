package org.wedgecutter.core.carry;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.cut.Explanation;
import org.wedgecutter.core.cut.RuleCompletion;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Property.Verb;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.ShotFolder;

class CarryTest {
  private final Scene here = scene("/front", "/back", "/floor");
  private final Scene there = scene("/front", "/extra", "/floor");

  private static Scene scene(String... names) {
    SceneMaker maker = new SceneMaker().camera(1, 0, 0, 5);
    for (String name : names) {
      maker.mesh(name, SceneMaker.wall(1, 1), SceneMaker.matte(0.5), 0, 0, name.length());
    }
    return maker.pointLight("/lights/key", 4, 0, 2, 0).scene();
  }

  private static Plan plan() throws Exception {
    Plan plan = PlanReader.parse(ShotFolder.PLAN, Path.of("t.wedge"));
    Plan with = CollectionEdits.add(plan, 0, CollectionDef.of("Pick", List.of("/back", "/front")));
    return PlanEdits.override(
        with, "Back", "Back", CellOverride.of(Property.ROUGHNESS, Verb.SET, new Value.Num(0.3)));
  }

  @Test
  void theReportSaysWhatEachRuleTookHereAndThere() throws Exception {
    Carry.Carried carried =
        Carry.carry(plan(), new Members(here), new Members(there), "other.glb", "sky.hdr");
    Carry.Report report = carried.report();
    assertThat(report.rows().getFirst().lost()).containsExactly("/back");
    Carry.Row back = report.rows().get(2);
    assertThat(back.collection()).isEqualTo("Back");
    assertThat(back.here()).as("the row above took it").isZero();
    assertThat(back.there()).isZero();
    assertThat(report.rows().getLast().collection()).isEqualTo("the rest");
    assertThat(report.left()).containsExactly("/extra", "/lights/key");
    assertThat(report.idle())
        .singleElement()
        .asString()
        .contains("Back in layer Back", "material.roughness");
    assertThat(carried.plan().requireShot().scene()).isEqualTo("other.glb");
    assertThat(carried.plan().requireShot().known()).contains("/extra");
  }

  @Test
  void aTemplateIsAPlanWithoutAShotAndCanBeCarried() throws Exception {
    Plan template = Carry.template(plan());
    Plan read = PlanReader.parse(PlanWriter.text(template), Path.of("t.wedge"));
    assertThat(read).isEqualTo(template);
    Carry.Carried carried = Carry.carry(read, null, new Members(there), "other.glb", "");
    assertThat(carried.report().rows().getFirst().here()).isEqualTo(-1);
    assertThat(carried.report().notes()).anyMatch(n -> n.contains("template has no shot"));
    assertThat(carried.plan().layers()).isEqualTo(template.layers());
  }

  @Test
  void anExplanationNamesRowRuleAndOverride() throws Exception {
    Plan plan =
        PlanEdits.override(
            plan(),
            "Front",
            "Front",
            CellOverride.of(Property.METAL, Verb.ADD, new Value.Num(0.4)));
    LayerDef front = plan.layer("Front").orElseThrow();
    Members members = new Members(here);
    Explanation e = Explanation.of(plan, members, front, here.entity("/front").orElseThrow(), 1);
    assertThat(e.role()).isEqualTo(Role.SEEN);
    assertThat(e.by()).isEqualTo("Front");
    assertThat(e.rows().stream().map(Explanation.RowSays::row))
        .containsExactly("Pick", "Front", "the rest");
    assertThat(e.rows().getFirst().why()).isEqualTo("picked");
    assertThat(e.properties())
        .filteredOn(p -> p.property() == Property.METAL)
        .singleElement()
        .satisfies(p -> {
          assertThat(p.before()).isEqualTo("0");
          assertThat(p.after()).isEqualTo("0.4");
          assertThat(p.by()).isEqualTo("Front");
        });
    Plan hidden =
        PlanEdits.override(plan, "Front", "Front", CellOverride.of(Property.VISIBLE_CAMERA, false));
    assertThat(
            Explanation.of(
                    hidden,
                    members,
                    hidden.layer("Front").orElseThrow(),
                    here.entity("/front").orElseThrow(),
                    1)
                .role())
        .isEqualTo(Role.UNSEEN);
  }

  @Test
  void completionsTakeThePlaceOfWhatWasTyped() {
    List<RuleCompletion.Choice> keys = RuleCompletion.complete("fr", 2, here);
    assertThat(keys.getFirst().text()).isEqualTo("front");
    assertThat(keys.getFirst().matches()).isEqualTo(1);
    assertThat(RuleCompletion.complete("pa", 2, here).getFirst().text()).isEqualTo("path:");
    String rule = "front & !kind:me";
    var kind = RuleCompletion.complete(rule, rule.length(), here);
    assertThat(kind.getFirst().text()).isEqualTo("mesh");
    assertThat(rule.substring(kind.getFirst().from())).isEqualTo("me");
    assertThat(kind.getFirst().matches()).isEqualTo(3);
    assertThat(RuleCompletion.complete("path:/li", 8, here).stream().map(c -> c.text()))
        .contains("/lights/**", "/lights/key");
    assertThat(RuleCompletion.complete("moves:", 6, here).getFirst().text()).isEqualTo("no");
  }
}
