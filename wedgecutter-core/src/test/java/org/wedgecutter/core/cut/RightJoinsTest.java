package org.wedgecutter.core.cut;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Correction.Type;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.testing.ShotFolder;

/** Joins that fit a cut, and light levels that are written back. */
class RightJoinsTest {
  @TempDir private Path dir;
  private LoadedShot shot;

  @BeforeEach
  void load() throws Exception {
    shot = ShotFolder.load(dir);
  }

  private LoadedShot with(Plan plan) {
    return shot.withPlan(plan);
  }

  private static RightJoins.Choice choice(LoadedShot s, String layer) {
    return RightJoins.of(s.plan(), s.resolve(1)).stream()
        .filter(c -> c.layer().equals(layer))
        .findFirst()
        .orElseThrow();
  }

  @Test
  void heldOutLayersAddUp() {
    assertThat(choice(shot, "Floor").reason()).isEqualTo(RightJoins.Reason.FIRST);
    assertThat(choice(shot, "Front"))
        .isEqualTo(new RightJoins.Choice("Front", Join.PLUS, RightJoins.Reason.HELD_OUT));
  }

  @Test
  void aFrontOverACompleteBackIsLaidOver() {
    Plan plan = shot.plan();
    for (String layer : new String[] {"Floor", "Back"}) {
      plan = PlanEdits.cell(plan, layer, "Front", c -> c.withRole(Role.UNSEEN));
    }
    assertThat(choice(with(plan), "Front").join()).isEqualTo(Join.OVER);
    assertThat(choice(with(plan), "Front").reason()).isEqualTo(RightJoins.Reason.COMPLETE);
    Plan wrong = LayerEdits.opacity(LayerEdits.join(plan, "Front", Join.MAX), "Front", 0.5);
    Plan right = RightJoins.applied(wrong, with(wrong).resolve(1));
    assertThat(right.join("Front")).contains(Join.OVER);
    assertThat(right.recipe().joins().get(2).opacity()).isEqualTo(1);
  }

  @Test
  void aCatcherIsJoinedByItsForm() {
    Plan plan = PlanEdits.cell(shot.plan(), "Back", "Floor", c -> c.withRole(Role.CATCHER));
    plan = PlanEdits.cell(plan, "Back", "Back", c -> c.withRole(Role.HOLDOUT));
    assertThat(choice(with(plan), "Back").reason()).isEqualTo(RightJoins.Reason.CATCHER);
  }

  @Test
  void levelsAreWrittenIntoTheLightsOnTopOfWhatTheirCellsDo() {
    Plan plan =
        RecipeEdits.add(
            shot.plan(), Correction.of("Front", "light.environment", Type.EXPOSURE, 1.0));
    plan =
        RecipeEdits.add(
            plan, Correction.of("Front", "light.environment", Type.GAIN, 1.0, 0.5, 0.25));
    plan = RecipeEdits.add(plan, Correction.of("Front", "light.environment", Type.HUE, 20.0));
    assertThat(LightLevels.factors(plan, "Front", "light.environment"))
        .containsExactly(new double[] {2, 1, 0.5}, within(1e-9));
    LoadedShot s = with(plan);
    Plan written = LightLevels.written(plan, s.members(), s.resolve(1).asked().emitters());
    assertThat(written.recipe().corrections())
        .as("what is no factor stays")
        .extracting(Correction::type)
        .containsExactly(Type.HUE);
    assertThat(overrides(written, "Front"))
        .containsExactly(
            CellOverride.of(Property.LIGHT_INTENSITY, Property.Verb.SCALE, new Value.Num(2)),
            CellOverride.of(
                Property.LIGHT_COLOR, Property.Verb.SCALE, new Value.Colour(1, 0.5, 0.25)));
    assertThat(overrides(written, "Back")).isEmpty();
    Plan twice =
        LightLevels.written(
            RecipeEdits.add(
                written, Correction.of("Front", "light.environment", Type.EXPOSURE, 1.0)),
            s.members(),
            with(written).resolve(1).asked().emitters());
    assertThat(overrides(twice, "Front").getFirst().keys().getFirst().value())
        .isEqualTo(new Value.Num(4));
  }

  private static java.util.List<CellOverride> overrides(Plan plan, String layer) {
    return plan.layer(layer).orElseThrow().cells().values().stream()
        .flatMap(c -> c.overrides().stream())
        .toList();
  }
}
