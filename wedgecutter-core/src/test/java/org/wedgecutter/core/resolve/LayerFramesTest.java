package org.wedgecutter.core.resolve;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Property.Verb;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.testing.ShotFolder;

/** Frames and settings of a layer's own. */
class LayerFramesTest {
  @TempDir private Path dir;
  private LoadedShot shot;

  @BeforeEach
  void load() throws Exception {
    shot = ShotFolder.load(dir);
  }

  private Plan with(Property property, Verb verb, Value value) {
    return LayerEdits.setting(shot.plan(), "Back", CellOverride.of(property, verb, value));
  }

  private LayerDef back(Plan plan) {
    return plan.layer("Back").orElseThrow();
  }

  @Test
  void aLayerWithoutFramesOfItsOwnHasTheShots() {
    LayerFrames frames = LayerFrames.of(back(shot.plan()), shot.plan().requireShot());
    assertThat(frames.own()).isFalse();
    assertThat(frames.rendered(1)).isTrue();
    assertThat(frames.held(2)).isEqualTo(2);
    assertThat(frames.held(99)).as("a frame that is asked for beyond the shot").isEqualTo(99);
  }

  @Test
  void theLastFrameBeforeIsHeldAndBeforeTheFirstTheFirst() {
    Plan plan = with(Property.FRAMES, Verb.SET, new Value.Text("3-9x3,20"));
    LayerFrames frames = LayerFrames.of(back(plan), plan.requireShot());
    assertThat(frames.frames()).containsExactly(3, 6, 9, 20);
    int[] expected = {3, 3, 3, 3, 3, 6, 6, 6, 9, 9};
    for (int f = 1; f <= 10; f++) {
      assertThat(frames.held(f)).as("frame %d", f).isEqualTo(expected[f - 1]);
    }
    assertThat(frames.held(19)).isEqualTo(9);
    assertThat(frames.held(400)).isEqualTo(20);
    assertThat(frames.rendered(6)).isTrue();
    assertThat(frames.rendered(7)).isFalse();
  }

  @Test
  void settingsAreSetScaledAndAddedToTheShots() {
    var s = shot.plan().requireShot();
    assertThat(value(with(Property.SIZE, Verb.SCALE, new Value.Num(0.5)), Property.SIZE))
        .isEqualTo(new Value.Size(s.width() / 2, s.height() / 2));
    assertThat(value(with(Property.SIZE, Verb.SET, new Value.Size(10, 6)), Property.SIZE))
        .isEqualTo(new Value.Size(10, 6));
    assertThat(value(with(Property.SAMPLES, Verb.SCALE, new Value.Num(4)), Property.SAMPLES))
        .isEqualTo(new Value.Num(s.samples() * 4.0));
    assertThat(value(with(Property.BOUNCES, Verb.ADD, new Value.Num(-9)), Property.BOUNCES))
        .as("not below 0")
        .isEqualTo(new Value.Num(0));
    assertThat(value(shot.plan(), Property.BOUNCES))
        .isEqualTo(new Value.Num(s.bounces().surfaces()));
  }

  private Value value(Plan plan, Property property) {
    return LayerSettings.at(back(plan), plan.requireShot(), property, 1);
  }

  @Test
  void aSettingThatIsSwitchedOffIsTheShots() {
    CellOverride off = CellOverride.of(Property.BOUNCES, Verb.SET, new Value.Num(0)).withOn(false);
    Plan plan = LayerEdits.setting(shot.plan(), "Back", off);
    assertThat(value(plan, Property.BOUNCES)).isEqualTo(value(shot.plan(), Property.BOUNCES));
    var before = Resolver.resolve(shot.plan(), shot.members(), 1);
    var after = Resolver.resolve(plan, shot.members(), 1);
    assertThat(after.layers()).isEqualTo(before.layers());
  }

  @Test
  void settingsPutALayerIntoATransportClassOfItsOwn() {
    for (Plan plan :
        List.of(
            with(Property.BOUNCES, Verb.SET, new Value.Num(1)),
            with(Property.SAMPLES, Verb.SET, new Value.Num(7)),
            with(Property.SIZE, Verb.SCALE, new Value.Num(2)),
            with(Property.ENVIRONMENT_LEVEL, Verb.SCALE, new Value.Num(2)),
            with(Property.ENVIRONMENT_TURN, Verb.ADD, new Value.Num(30)))) {
      ResolvedShot resolved = Resolver.resolve(plan, shot.members(), 1);
      assertThat(resolved.layers().get(1).transport()).isNotEqualTo(resolved.uncut());
      assertThat(resolved.layers().get(0).transport()).isEqualTo(resolved.uncut());
    }
  }

  @Test
  void aHeldLayerIsOfItsFrameUnlessNothingInItMoves() {
    Plan held = with(Property.FRAMES, Verb.SET, new Value.Text("1"));
    ResolvedShot moving = Resolver.resolve(held, shot.members(), 2);
    assertThat(moving.layers().get(1).transport().frame()).isEqualTo(1);
    assertThat(moving.layers().get(1).transport())
        .as("the front turns, and is there")
        .isNotEqualTo(moving.uncut());
    Plan still = PlanEdits.cell(held, "Back", "Front", c -> c.withRole(Role.ABSENT));
    ResolvedShot resolved = Resolver.resolve(still, shot.members(), 2);
    assertThat(resolved.layers().get(1).transport())
        .as("what is present is the same at both frames")
        .isEqualTo(Resolver.at(still, shot.members(), still.layers().get(1), 2).transport());
  }

  @Test
  void keyedOverridesAreOfTheirFrame() {
    CellOverride keyed =
        CellOverride.of(Property.BASE_COLOR, Verb.SCALE, new Value.Colour(1, 1, 1))
            .with(
                Verb.SCALE,
                List.of(
                    new CellOverride.Key(1, new Value.Colour(1, 1, 1)),
                    new CellOverride.Key(3, new Value.Colour(0, 0, 0))),
                false);
    Plan plan = PlanEdits.override(shot.plan(), "Back", "Back", keyed);
    int back = shot.scene().entity("/back").orElseThrow().index();
    double[] expected = {1, 0.5, 0};
    for (int f = 1; f <= 3; f++) {
      AppearanceOverride look =
          Resolver.resolve(plan, shot.members(), f).layers().get(1).transport().look(back);
      assertThat(look.changes()).hasSize(1);
      assertThat(look.changes().getFirst().value())
          .isEqualTo(new Value.Colour(expected[f - 1], expected[f - 1], expected[f - 1]));
    }
  }

  @Test
  void setsOfEntitiesDoWhatSetsDo() {
    EntitySet a = EntitySet.of(List.of(1, 3, 5));
    EntitySet b = EntitySet.of(List.of(3, 4));
    assertThat(a.and(b).indices()).containsExactly(3);
    assertThat(a.or(b).indices()).containsExactly(1, 3, 4, 5);
    assertThat(a.minus(b).indices()).containsExactly(1, 5);
    assertThat(a.meets(b)).isTrue();
    assertThat(a.minus(b).meets(b)).isFalse();
    assertThat(a.first()).isEqualTo(1);
    assertThat(EntitySet.NONE.first()).isEqualTo(-1);
    assertThat(a.indices()).as("no set was changed").containsExactly(1, 3, 5);
  }
}
