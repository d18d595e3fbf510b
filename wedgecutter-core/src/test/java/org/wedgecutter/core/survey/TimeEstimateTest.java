package org.wedgecutter.core.survey;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.List;
import java.util.SortedMap;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.testing.ShotFolder;

/** Sums of times, with costs that are given: layers Floor (held), Back and Front (one trace). */
class TimeEstimateTest {
  @TempDir Path dir;
  private LoadedShot shot;

  @BeforeEach
  void load() throws Exception {
    LoadedShot made = ShotFolder.load(dir);
    Plan plan = PlanEdits.cell(made.plan(), "Floor", "Front", c -> c.withRole(Role.ABSENT));
    shot =
        made.withPlan(
            plan.withShot(plan.requireShot().with(s -> s.frames = FrameRange.parse("1-3"))));
  }

  /** A frame in which a sample takes some microseconds of one processor. */
  private static FrameSurvey frame(int frame, double micros, double wall) {
    double one = micros * 1e-6;
    return new FrameSurvey(
        frame,
        10,
        10,
        4,
        2,
        0.5,
        new double[0],
        InterplayTable.NONE,
        List.of(
            new FrameSurvey.Cost(List.of(0), false, 1, 1, 3 * one, 3 * one / 2 * wall),
            new FrameSurvey.Cost(List.of(1, 2), true, 1, 1, one, one / 2 * wall)),
        List.of(Noise.NONE, Noise.NONE, Noise.NONE),
        Noise.NONE,
        Noise.NONE,
        new double[] {1e-6, 1e-6, 1e-6},
        2e-6,
        0);
  }

  private TimeEstimate estimate(FrameSurvey... frames) {
    SortedMap<Integer, FrameSurvey> traced = new TreeMap<>();
    for (FrameSurvey f : frames) {
      traced.put(f.frame(), f);
    }
    HeldFrames held = HeldFrames.of(shot.plan(), shot.members());
    // 10,000 pixels of 100 samples: a million samples
    return new TimeEstimate(shot, traced, held, 100, 100, 100, 2);
  }

  @Test
  void aTraceIsDividedAmongItsLayersAndFilesAreAdded() {
    TimeEstimate t = estimate(frame(1, 10, 1));
    // 30 s of processor time for the floor alone on two threads, and 10 ms to write
    assertThat(t.layer(0, 1).middle()).isCloseTo(15.01, within(1e-9));
    assertThat(t.layer(1, 1).middle()).isCloseTo(2.51, within(1e-9));
    assertThat(t.layer(2, 1).middle()).isCloseTo(2.51, within(1e-9));
    assertThat(t.frame(1).middle()).isCloseTo(15.01 + 2 * 2.51 + 0.5, within(1e-9));
    assertThat(t.uncut(1).middle()).isCloseTo(5 + 0.02 + 0.5, within(1e-9));
  }

  @Test
  void whatIsHeldCostsNothingAgain() {
    TimeEstimate t = estimate(frame(1, 10, 1));
    assertThat(t.rendered(0)).containsExactly(1);
    assertThat(t.rendered(2)).containsExactly(1, 2, 3);
    assertThat(t.layer(0, 2)).isEqualTo(TimeEstimate.Seconds.ZERO);
    assertThat(t.layer(0).middle()).isCloseTo(15.01, within(1e-9));
    assertThat(t.frame(2).middle()).isCloseTo(2 * 2.51 + 0.5, within(1e-9));
    assertThat(t.shot().middle()).isCloseTo(15.01 + 3 * (2 * 2.51 + 0.5), within(1e-9));
    assertThat(t.uncut().middle()).isCloseTo(3 * 5.52, within(1e-9));
    assertThat(t.heldThroughout(2).middle()).isCloseTo(2.51, within(1e-9));
  }

  @Test
  void aTraceIsPaidByTheLayersThatAreRendered() {
    shot = shot.withPlan(LayerEdits.layer(shot.plan(), "Back", l -> l.withRender(false)));
    TimeEstimate t = estimate(frame(1, 10, 1));
    assertThat(t.layer(1, 1)).isEqualTo(TimeEstimate.Seconds.ZERO);
    assertThat(t.layer(2, 1).middle()).isCloseTo(5.01, within(1e-9));
  }

  @Test
  void betweenTracedFramesItIsInterpolatedWithAWiderRange() {
    TimeEstimate t = estimate(frame(1, 10, 1), frame(3, 30, 1));
    assertThat(t.uncut(2).middle()).isCloseTo(10 + 0.52, within(1e-9));
    double around = t.uncut(1).high() / t.uncut(1).middle() - 1;
    double between = t.uncut(2).high() / t.uncut(2).middle() - 1;
    assertThat(around).isCloseTo(TimeEstimate.LEAST, within(1e-9));
    assertThat(between).isGreaterThan(around + 0.2);
    assertThat(t.uncut(2).low()).isLessThan(t.uncut(2).middle());
  }

  @Test
  void aBusyMachineWidensTheRange() {
    double calm = estimate(frame(1, 10, 1)).shot().high();
    double busy = estimate(frame(1, 10, 1.6)).shot().high();
    assertThat(busy).isGreaterThan(1.2 * calm);
    assertThat(estimate(frame(1, 10, 1.6)).shot().middle())
        .isEqualTo(estimate(frame(1, 10, 1)).shot().middle());
  }

  @Test
  void withoutATraceThereIsNoEstimate() {
    assertThatThrownBy(this::estimate).isInstanceOf(IllegalArgumentException.class);
  }
}
