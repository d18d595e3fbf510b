package org.wedgecutter.core.proof;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.cut.CatcherParts;
import org.wedgecutter.core.cut.Preset;
import org.wedgecutter.core.cut.RightJoins;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.export.JoinScript;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/**
 * A catcher's shadow, occlusion, bounce and reflection in four layers, each joined to its light.
 */
class CatcherByPassTest {
  private static final Cell CASTER = caster(Cell.of(Role.HOLDOUT));

  private static Cell caster(Cell cell) {
    return cell.withCatcher(cell.catching().withCaster(true));
  }

  @TempDir Path dir;
  private LoadedShot shot;
  private LoadedShot whole;
  private String caught = "";

  @BeforeEach
  void load() throws Exception {
    LoadedShot plain = ShotFolder.load(dir);
    Plan apart = Preset.SHADOW_APART.apply(plain.plan(), plain.members(), Set.of("Front"));
    caught =
        apart.layers().stream()
            .filter(l -> l.rest().role() == Role.CATCHER)
            .map(LayerDef::name)
            .findFirst()
            .orElseThrow();
    Plan cut =
        LayerEdits.layer(
            apart,
            caught,
            l -> l.withCells(Map.of("Front", CASTER)).withRest(Cell.of(Role.CATCHER)));
    for (Property p :
        List.of(
            Property.VISIBLE_REFLECTION,
            Property.VISIBLE_BOUNCE,
            Property.VISIBLE_TRANSMISSION,
            Property.SHADOW_CASTS)) {
      cut = PlanEdits.override(cut, "Everything else", "Front", CellOverride.of(p, false));
    }
    whole = plain.withPlan(cut);
    shot = plain.withPlan(Expression.written(CatcherParts.split(cut, plain.members(), caught)));
  }

  private PlanProof prove(Plan plan) {
    LoadedShot next = shot.withPlan(plan);
    return PlanProof.prove(
        next, 2, new FrameRenderer(next, FrameRenderer.Settings.of(next, 1, 8, 2, false)), p -> {});
  }

  private static Recipe.Light light(Plan plan, String layer) {
    return plan.recipe().joins().stream()
        .filter(s -> s.layer().equals(layer))
        .findFirst()
        .orElseThrow()
        .light();
  }

  @Test
  void eachPartScalesOrAddsItsOwnLightAndTheResultIsExact() {
    Plan plan = shot.plan();
    assertThat(plan.layers().size()).isEqualTo(whole.plan().layers().size() + 3);
    assertThat(RightJoins.applied(plan, shot.resolve(2))).as("the joins that fit").isEqualTo(plan);
    assertThat(CatcherParts.split(plan, shot.members(), caught + " shadow"))
        .as("a part is not split")
        .isEqualTo(plan);
    assertThat(light(plan, caught + " shadow")).isEqualTo(Recipe.Light.DIRECT);
    assertThat(light(plan, caught + " occlusion")).isEqualTo(Recipe.Light.INDIRECT);
    assertThat(plan.output().more("Everything else")).contains(Output.More.ENVIRONMENT);
    assertThat(PlanCheck.check(shot, shot.resolve(2)))
        .extracting(Finding::kind)
        .as("no finding takes the parts for mistakes")
        .isEqualTo(PlanCheck.check(whole, whole.resolve(2)).stream().map(Finding::kind).toList());
    PlanProof proof = prove(plan);
    assertThat(proof.residual().max()).isLessThan(2e-5);
    assertThat(proof.residual().exact()).isTrue();
  }

  @Test
  void scalingAllLightByTheShadowIsNotExact() {
    Plan plan = shot.plan();
    Plan all = RecipeEdits.joinLight(plan, caught + " shadow", Recipe.Light.ALL);
    assertThat(prove(all).residual().exact()).isFalse();
    Plan exchanged =
        RecipeEdits.joinLight(
            RecipeEdits.joinLight(plan, caught + " shadow", Recipe.Light.INDIRECT),
            caught + " occlusion",
            Recipe.Light.DIRECT);
    assertThat(prove(exchanged).residual().exact()).isFalse();
  }

  @Tag(Programs.TAG)
  @Test
  void filesOfItRejoinExactlyAndAPlanKeepsIt() throws Exception {
    Path file = dir.resolve("parts.wedge");
    PlanWriter.save(shot.plan(), file);
    assertThat(PlanReader.read(file).recipe()).isEqualTo(shot.plan().recipe());
    var delivery = Renders.delivery(LoadedShot.load(file), dir.resolve("out"), 1, false);
    DeliveryProof proof = DeliveryProof.prove(delivery, 2);
    assertThat(proof.exact()).as("%s", proof.causes()).isTrue();
    assertThat(proof.causes()).isEmpty();
    Path out = dir.resolve("out");
    Files.writeString(out.resolve("join.sh"), JoinScript.text(delivery));
    Programs.run(out, "bash", "join.sh", "2", "joined.exr");
    Picture ours = DeliveryPictures.corrected(delivery, 2);
    Picture theirs = ExrFrames.read(out.resolve("joined.exr"));
    for (int i = 0; i < ours.rgba().length; i++) {
      assertThat(theirs.rgba()[i]).isCloseTo(ours.rgba()[i], within(5e-6f));
    }
    assertThat(Expression.of(shot.plan().recipe()).line())
        .contains("with direct light × %s shadow".formatted(caught))
        .contains("with indirect light × %s occlusion".formatted(caught));
  }
}
