package org.wedgecutter.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Property.Verb;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.testing.ShotFolder;

/**
 * Plans that random hands have spoilt: findings and the traced proof agree, and fixes, one after
 * another, bring every such plan back to one that rejoins exactly.
 */
class MendingTest {
  private static final int MOST_FIXES = 60;
  @TempDir private static Path dir;
  private static LoadedShot shot;

  @BeforeAll
  static void load() throws Exception {
    shot = ShotFolder.load(dir);
  }

  private static List<Finding> check(Plan plan) {
    ResolvedShot resolved = Resolver.resolve(plan, shot.members(), 1);
    return PlanCheck.check(plan, shot.members(), resolved);
  }

  private static PlanProof prove(Plan plan) {
    LoadedShot next = shot.withPlan(plan);
    return PlanProof.prove(
        next, 1, new FrameRenderer(next, FrameRenderer.Settings.of(next, 1, 2, 2, false)), p -> {});
  }

  /** One careless edit. */
  private static Plan spoil(Plan plan, Random random) {
    List<String> layers = plan.layers().stream().map(LayerDef::name).toList();
    List<String> rows = plan.collections().stream().map(CollectionDef::name).toList();
    String layer = layers.get(random.nextInt(layers.size()));
    String row = rows.get(random.nextInt(rows.size()));
    return switch (random.nextInt(8)) {
      case 0, 1, 2 -> {
        Role[] roles = {Role.SEEN, Role.HOLDOUT, Role.UNSEEN, Role.ABSENT};
        Role role = roles[random.nextInt(4)];
        yield PlanEdits.cell(plan, layer, row, c -> c.withRole(role));
      }
      case 3 -> LayerEdits.layer(plan, layer, l -> l.withRender(false));
      case 4 -> LayerEdits.unjoin(plan, layer);
      case 5 -> PlanEdits.override(plan, layer, row, CellOverride.of(Property.SHADOW_CASTS, false));
      case 6 ->
          PlanEdits.override(
              plan,
              layer,
              row,
              CellOverride.of(Property.BASE_COLOR, Verb.SET, new Value.Colour(1, 0, 0)));
      default ->
          LayerEdits.setting(
              plan, layer, CellOverride.of(Property.BOUNCES, Verb.SET, new Value.Num(0)));
    };
  }

  private static List<Finding> mattering(List<Finding> all) {
    return all.stream()
        .filter(f -> f.severity() != Mistake.Severity.NOTE && f.kind() != Mistake.LAYER_EMPTY)
        .toList();
  }

  @ParameterizedTest
  @ValueSource(ints = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16})
  void fixesBringASpoiltPlanBackToOneThatRejoins(int seed) {
    Random random = new Random(seed);
    Plan plan = shot.plan();
    for (int k = 0; k < 3; k++) {
      plan = spoil(plan, random);
    }
    int fixes = 0;
    for (List<Finding> found = mattering(check(plan));
        !found.isEmpty() && fixes < MOST_FIXES;
        found = mattering(check(plan))) {
      Plan before = plan;
      for (Finding f : found) {
        if (f.fix() != null && plan.equals(before)) {
          plan = f.fix().edit().apply(plan);
        }
      }
      assertThat(plan).as("seed %d: a fix for %s", seed, found).isNotEqualTo(before);
      fixes++;
    }
    assertThat(mattering(check(plan))).as("seed %d", seed).isEmpty();
    assertThat(prove(plan).residual().exact()).as("seed %d: %s", seed, check(plan)).isTrue();
  }

  @ParameterizedTest
  @ValueSource(ints = {101, 102, 103, 104, 105, 106, 107, 108, 109, 110})
  void aPlanThatDoesNotRejoinHasAFinding(int seed) {
    Random random = new Random(seed);
    Plan plan = shot.plan();
    for (int k = 0; k < 2; k++) {
      plan = spoil(plan, random);
    }
    PlanProof proof = prove(plan);
    if (!proof.residual().exact()) {
      assertThat(check(plan)).as("seed %d", seed).isNotEmpty();
      assertThat(proof.causes()).as("seed %d", seed).isNotEmpty();
    }
  }

  @ParameterizedTest
  @ValueSource(ints = {201, 202, 203, 204, 205, 206})
  void aSpoiltPlanIsWrittenAndReadAsItIs(int seed) throws Exception {
    Random random = new Random(seed);
    Plan plan = shot.plan();
    for (int k = 0; k < 12; k++) {
      plan = spoil(plan, random);
    }
    String text = PlanWriter.text(plan);
    assertThat(PlanReader.parse(text, Path.of("t.wedge"))).isEqualTo(plan);
    List<Finding> once = check(plan);
    List<Finding> again = check(PlanReader.parse(text, Path.of("t.wedge")));
    assertThat(texts(again)).isEqualTo(texts(once));
  }

  private static List<String> texts(List<Finding> findings) {
    List<String> out = new ArrayList<>();
    findings.forEach(f -> out.add(f.kind().word() + " " + f.text()));
    return out;
  }

  @Test
  void everyFixIsAnEditThatCanBeUndoneByKeepingThePlanBefore() {
    Plan wrong = PlanEdits.cell(shot.plan(), "Back", "Front", c -> c.withRole(Role.SEEN));
    Plan kept = wrong;
    Finding first = check(wrong).getFirst();
    Plan mended = first.fix().edit().apply(wrong);
    assertThat(wrong).as("plans do not change").isEqualTo(kept);
    assertThat(mended).isNotEqualTo(wrong);
  }

  @Test
  void layersWhoseNamesDifferByCaseAreToldApart() {
    Plan wrong = LayerEdits.rename(shot.plan(), "Front", "back");
    Finding found = check(wrong).getFirst();
    assertThat(found.message().sentence()).isEqualTo(Sentence.NAME_SHARED);
    Plan mended = found.fix().edit().apply(wrong);
    assertThat(check(mended)).isEmpty();
  }

  @Test
  void findingsComeWorstFirst() {
    Plan plan = LayerEdits.join(shot.plan(), "Front", Join.OVER);
    plan = PlanEdits.cell(plan, "Back", "Back", c -> c.withRole(Role.HOLDOUT));
    plan = CollectionEdits.add(plan, 0, CollectionDef.of("Gone", List.of("/gone")));
    List<Mistake.Severity> order = check(plan).stream().map(Finding::severity).toList();
    List<Mistake.Severity> sorted = new ArrayList<>(order);
    sorted.sort(null);
    assertThat(order).isEqualTo(sorted).contains(Mistake.Severity.ERROR, Mistake.Severity.WARNING);
  }

  /** A level that is pulled in the mixer is a correction of each layer, and one thing to tell. */
  @Test
  void theSameCorrectionOfSeveralLayersIsOneFinding() {
    List<Correction> all = new ArrayList<>();
    shot.plan()
        .layers()
        .forEach(l -> all.add(Correction.of(l.name(), "", Correction.Type.EXPOSURE, 1.5)));
    all.add(Correction.of("Front", "", Correction.Type.HUE, 20.0));
    all.add(Correction.of("", "", Correction.Type.EXPOSURE, 1.5));
    Plan plan = shot.plan().withRecipe(shot.plan().recipe().withCorrections(all));
    List<Finding> found =
        check(plan).stream().filter(f -> f.kind() == Mistake.CORRECTION_ON).toList();
    assertThat(found)
        .extracting(f -> f.message().arguments().get("correction"))
        .containsExactly("exposure 1.5 of 3 layers", "Front hue 20", "all layers exposure 1.5");
    Plan mended = java.util.Objects.requireNonNull(found.getFirst().fix()).edit().apply(plan);
    assertThat(mended.recipe().corrections().stream().map(Correction::on))
        .containsExactly(false, false, false, true, true);
  }
}
