package org.wedgecutter.core.proof;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.cut.Preset;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.core.testing.Traces;

/** Layers from selections and presets, traced: that they rejoin is a proof, not a hope. */
class CutProofTest {
  @TempDir private Path dir;
  private LoadedShot shot;

  @BeforeEach
  void load() throws Exception {
    shot = ShotFolder.load(dir);
  }

  private PlanProof prove(Plan plan, int frame) {
    LoadedShot next = shot.withPlan(plan);
    FrameRenderer renderer =
        new FrameRenderer(next, FrameRenderer.Settings.of(next, 1, 3, 2, false));
    return PlanProof.prove(next, frame, renderer, p -> {});
  }

  private EntitySet set(String... paths) {
    return Traces.set(shot.scene(), paths);
  }

  @ParameterizedTest
  @EnumSource(Preset.class)
  void everyPresetRejoinsAsItSays(Preset preset) {
    Plan plan = preset.apply(shot.plan(), shot.members(), Set.of("Front"));
    PlanProof proof = prove(plan, 2);
    switch (preset) {
      case INTERLOCKING_HERO, SHADOW_APART, REFLECTION_APART, PLATE_INSERT, ONE_SURFACE -> {
        assertThat(proof.residual().exact()).as("exact").isTrue();
        assertThat(PlanCheck.check(plan, shot.members(), shot.withPlan(plan).resolve(2)))
            .allMatch(f -> f.severity() == Mistake.Severity.NOTE);
      }
      case FRONT_OVER_BACK, STILL_AND_MOVING ->
          assertThat(proof.residual().beyond()).as("edges only").isBetween(1e-9, 0.25);
      case ANY_BACKGROUND -> {
        assertThat(proof.residual().exact()).isFalse();
        assertThat(proof.causes()).isNotEmpty();
        assertThat(proof.traced().catches()).containsOnlyKeys("Front shadow", "Front reflection");
        assertThat(PlanCheck.check(plan, shot.members(), shot.withPlan(plan).resolve(2)))
            .allMatch(f -> f.severity() == Mistake.Severity.NOTE);
      }
      // the front is no haze: its light on the rest is what the preset says is lost
      case HAZE_APART -> assertThat(proof.residual().exact()).isFalse();
    }
  }

  @Test
  void aPresetNeedsToKnowWhatPlaysItsPart() {
    assertThatThrownBy(() -> Preset.INTERLOCKING_HERO.apply(shot.plan(), shot.members(), Set.of()))
        .hasMessageContaining("the hero");
  }

  @Test
  void whatIsStillIsRenderedOnce() {
    Plan plan = Preset.STILL_AND_MOVING.apply(shot.plan(), shot.members(), Set.of());
    ResolvedLayer still = shot.withPlan(plan).resolve(2).layers().getFirst();
    assertThat(still.transport())
        .as("nothing in it moves, so frame 1 is as good as frame 2")
        .isEqualTo(
            org.wedgecutter.core.resolve.Resolver.at(
                    plan, shot.members(), plan.layers().getFirst(), 2)
                .transport());
    assertThat(plan.layers().getFirst().settings()).hasSize(1);
  }

  @Test
  void aLayerFromASelectionRejoinsWithAndWithoutItsShadowApart() {
    for (boolean shadow : new boolean[] {false, true}) {
      Plan plan = Cuts.apart(shot.plan(), shot.members(), set("/back"), shadow);
      // it has a layer of its own already; its shadow gets one
      assertThat(plan.layers()).hasSize(shadow ? 4 : 3);
      assertThat(prove(plan, 1).residual().exact()).isTrue();
      assertThat(PlanCheck.check(plan, shot.members(), shot.withPlan(plan).resolve(1)))
          .noneMatch(f -> f.severity() == Mistake.Severity.ERROR);
    }
  }

  @Test
  void aPartOfARowGetsARowOfItsOwnAndTheOthersKeepTheirRoles() {
    // floor and environment share a row
    Plan plan = Cuts.apart(shot.plan(), shot.members(), set("/floor"), false);
    assertThat(plan.collections().getFirst().added()).containsExactly("/floor");
    var resolved = shot.withPlan(plan).resolve(1);
    int floor = shot.scene().entity("/floor").orElseThrow().index();
    int around = shot.scene().environment().index();
    int seen = 0;
    for (ResolvedLayer l : resolved.layers()) {
      seen += l.seen().contains(floor) ? 1 : 0;
    }
    assertThat(seen).isEqualTo(1);
    assertThat(resolved.layers().getFirst().decisions().role(around)).isEqualTo(Role.SEEN);
    assertThat(prove(plan, 1).residual().exact()).isTrue();
  }

  @Test
  void aRoleForSomeEntitiesLeavesAllOthersAlone() {
    Plan plan = Cuts.role(shot.plan(), shot.members(), "Floor", set("/environment"), Role.HOLDOUT);
    var before = shot.resolve(1).layers();
    var after = shot.withPlan(plan).resolve(1).layers();
    int around = shot.scene().environment().index();
    for (int l = 0; l < before.size(); l++) {
      for (int e = 0; e < shot.scene().entities().size(); e++) {
        Role expected = l == 0 && e == around ? Role.HOLDOUT : before.get(l).decisions().role(e);
        assertThat(after.get(l).decisions().role(e)).isEqualTo(expected);
      }
    }
  }

  @ParameterizedTest
  @EnumSource(Cuts.By.class)
  void aSelectionIsSplitIntoLayersThatRejoin(Cuts.By by) {
    Plan plan = Cuts.split(shot.plan(), shot.members(), set("/front", "/back", "/floor"), by);
    // the floor leaves its layer to the environment; the meshes share one material
    assertThat(plan.layers()).hasSize(4);
    assertThat(prove(plan, 1).residual().exact()).isTrue();
  }
}
