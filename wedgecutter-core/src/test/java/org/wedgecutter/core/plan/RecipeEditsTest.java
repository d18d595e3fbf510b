package org.wedgecutter.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.Correction.Type;
import org.wedgecutter.core.testing.ShotFolder;

/** Edits of recipes, and recipes that are read. */
class RecipeEditsTest {
  private static Plan base() throws InputException {
    return PlanReader.parse(ShotFolder.PLAN, Path.of("set.wedge"));
  }

  @Test
  void aValueIsSetWhereItIsOrAdded() throws Exception {
    Plan one = RecipeEdits.set(base(), Correction.of("Front", "", Type.EXPOSURE, 1.0), 1);
    Plan two = RecipeEdits.set(one, Correction.of("Front", "", Type.EXPOSURE, 2.0), 1);
    assertThat(two.recipe().corrections())
        .containsExactly(Correction.of("Front", "", Type.EXPOSURE, 2.0));
    Plan other = RecipeEdits.set(two, Correction.of("Back", "", Type.EXPOSURE, 2.0), 1);
    assertThat(other.recipe().corrections()).hasSize(2);
    assertThat(RecipeEdits.switchAll(other, false).recipe().corrections())
        .noneMatch(Correction::on);
    assertThat(RecipeEdits.remove(other, 0).recipe().corrections())
        .containsExactly(Correction.of("Back", "", Type.EXPOSURE, 2.0));
  }

  @Test
  void aMatteKeepsItsUsersWhenItIsRenamedAndLosesThemWhenItGoes() throws Exception {
    Plan plan =
        LayerEdits.join(
            RecipeEdits.addMatte(base(), MatteDef.picked("hero", "/front")), "Front", Join.MATTE);
    plan = RecipeEdits.joinMatte(plan, "Front", "hero");
    plan = RecipeEdits.add(plan, Correction.of("", "", Type.SATURATION, 0.0).through("hero"));
    Plan renamed = RecipeEdits.renameMatte(plan, "hero", "star");
    assertThat(renamed.recipe().matte("star")).isPresent();
    assertThat(renamed.recipe().corrections().getFirst().matte()).isEqualTo("star");
    assertThat(renamed.recipe().joins().get(2).matte()).isEqualTo("star");
    assertThat(RecipeEdits.addMatte(renamed, MatteDef.picked("star")).recipe().mattes())
        .extracting(MatteDef::name)
        .containsExactly("star", "star 2");
    Plan gone = RecipeEdits.removeMatte(renamed, "star");
    assertThat(gone.recipe().mattes()).isEmpty();
    assertThat(gone.recipe().corrections().getFirst().matte()).isEmpty();
    // a plan is read as it was written
    Plan again = PlanReader.parse(PlanWriter.text(PlanWriter.tree(renamed)), Path.of("x.wedge"));
    assertThat(again.recipe()).isEqualTo(renamed.recipe());
  }

  @Test
  void anotherPlanTakesWhatItsLayersHave() throws Exception {
    Plan from =
        RecipeEdits.add(
            RecipeEdits.addMatte(base(), MatteDef.picked("hero", "/front")),
            Correction.of("Front", "", Type.GAMMA, 1.5).through("hero"));
    from = RecipeEdits.add(from, Correction.of("", "", Type.HUE, 10.0));
    Plan to =
        RecipeEdits.addMatte(
            LayerEdits.remove(base(), "Back"), MatteDef.picked("hero", "/another"));
    List<String> notes = new ArrayList<>();
    Plan taken = RecipeEdits.take(to, from.recipe(), notes);
    assertThat(notes).contains("layer Back skipped: this plan has none", "matte hero 2 is new");
    assertThat(taken.recipe().corrections().getFirst().matte()).isEqualTo("hero 2");
    assertThat(taken.recipe().corrections()).hasSize(2);
    assertThat(RecipeEdits.take(taken, taken.recipe(), new ArrayList<>())).isEqualTo(taken);
  }

  @Test
  void aLayerThatIsDeletedTakesItsCorrectionsAlong() throws Exception {
    Plan plan = RecipeEdits.add(base(), Correction.of("Back", "", Type.GAMMA, 1.5));
    Plan gone = LayerEdits.remove(plan, "Back");
    assertThat(
            PlanReader.parse(PlanWriter.text(PlanWriter.tree(gone)), Path.of("x.wedge")).recipe())
        .isEqualTo(gone.recipe());
  }

  @Test
  void aPassIsWrittenWithTheLayersThatNeedIt() throws Exception {
    Plan plan = base();
    Plan all = RecipeEdits.written(plan, List.of("Front"), Set.of(Output.More.DEPTH));
    assertThat(all.output().more("Front")).contains(Output.More.DEPTH);
    assertThat(all.output().more("Back")).isEmpty();
    Plan both = RecipeEdits.written(all, List.of("Back"), Set.of(Output.More.DEPTH));
    assertThat(both.output().more("Front")).contains(Output.More.DEPTH);
    assertThat(both.output().more("Back")).contains(Output.More.DEPTH);
    Plan without = all.withOutput(all.output().without("Front", Output.More.DEPTH));
    assertThat(without.output().more("Front")).isEmpty();
    assertThat(RecipeEdits.written(without, List.of("Front"), Set.of(Output.More.DEPTH)).output())
        .satisfies(o -> assertThat(o.more("Front")).contains(Output.More.DEPTH));
  }

  @Test
  void whatIsWrongInARecipeIsToldWithItsPlace(@TempDir Path dir) throws IOException {
    String[][] wrong = {
      {"{\"name\": \"m\", \"source\": \"luma\", \"from\": 1, \"to\": 1}", "mattes/0"},
      {"{\"name\": \"m\", \"source\": \"magic\"}", "recipe/mattes/0/source"},
      {
        "{\"name\": \"m\", \"source\": \"ids\"}, {\"name\": \"m\", \"source\": \"ids\"}",
        "recipe/mattes/1/name"
      },
    };
    for (String[] w : wrong) {
      Path file = dir.resolve("wrong.wedge");
      Files.writeString(
          file,
          ShotFolder.PLAN.replace("\"recipe\": {", "\"recipe\": {\"mattes\": [" + w[0] + "], "));
      assertThatThrownBy(() -> PlanReader.read(file))
          .isInstanceOf(InputException.class)
          .hasMessageContaining(w[1]);
    }
    Path file = dir.resolve("matte.wedge");
    Files.writeString(
        file,
        ShotFolder.PLAN.replace(
            "\"recipe\": {",
            "\"recipe\": {\"corrections\": [{\"type\": \"hue\", \"values\": [1], \"matte\": \"no\"}], "));
    assertThatThrownBy(() -> PlanReader.read(file))
        .hasMessageContaining("recipe/corrections/0/matte")
        .hasMessageContaining("there is no matte 'no'");
  }
}
