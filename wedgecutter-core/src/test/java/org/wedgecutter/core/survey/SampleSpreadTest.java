package org.wedgecutter.core.survey;

import static org.assertj.core.api.Assertions.assertThat;
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
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.testing.ShotFolder;

/** Spreads worked out by trying all of them: layers Floor (alone), Back and Front (one trace). */
class SampleSpreadTest {
  /** 10,000 pixels on two threads: a microsecond a sample is 5 ms a sample of a frame. */
  private static final int SIDE = 100;

  @TempDir Path dir;
  private LoadedShot shot;

  @BeforeEach
  void load() throws Exception {
    LoadedShot made = ShotFolder.load(dir);
    shot =
        made.withPlan(PlanEdits.cell(made.plan(), "Floor", "Front", c -> c.withRole(Role.ABSENT)));
  }

  private SampleSpread spread(double rejoined, double floor, double back, double front) {
    return spread(
        rejoined,
        floor,
        back,
        front,
        List.of(
            new FrameSurvey.Cost(List.of(0), false, 1, 1, 9e-6, 4.5e-6),
            new FrameSurvey.Cost(List.of(1, 2), true, 1, 1, 1e-6, 0.5e-6)));
  }

  private SampleSpread spread(
      double rejoined, double floor, double back, double front, List<FrameSurvey.Cost> costs) {
    FrameSurvey f =
        new FrameSurvey(
            1,
            10,
            10,
            8,
            2,
            0.5,
            new double[0],
            InterplayTable.NONE,
            costs,
            List.of(new Noise(0, floor, 8), new Noise(0, back, 8), new Noise(0, front, 8)),
            Noise.NONE,
            new Noise(0, rejoined, 8),
            new double[] {0, 0, 0},
            0,
            0);
    SortedMap<Integer, FrameSurvey> traced = new TreeMap<>();
    traced.put(1, f);
    HeldFrames held = HeldFrames.of(shot.plan(), shot.members(), List.of(1));
    return new SampleSpread(traced, new TimeEstimate(shot, traced, held, SIDE, SIDE, 64, 2));
  }

  /** Noise as it adds up: half of the rejoined variance from each trace, all at 8 samples. */
  private static double noise(int floor, int others) {
    return Math.sqrt(0.02 * 8.0 / floor + 0.02 * 8.0 / others);
  }

  private static double seconds(int floor, int others) {
    return 0.5 + 0.045 * floor + 0.005 * others;
  }

  @Test
  void noOtherSpreadOfTheSameTimeHasLessNoise() {
    // variances 0.08 and 0.04 + 0.04; the rejoined frame has half of their sum
    SampleSpread spread = spread(0.2, Math.sqrt(0.08), 0.2, 0.2);
    SampleSpread.Spread made = spread.forSeconds(5);
    int floor = made.samples(0);
    int others = made.samples(1);
    assertThat(made.samples(2)).isEqualTo(others);
    assertThat(made.seconds()).isCloseTo(seconds(floor, others), within(1e-9)).isLessThan(5 + 1e-9);
    double best = Double.POSITIVE_INFINITY;
    for (int f = 1; f < 110; f++) {
      for (int o = 1; o < 1000 && seconds(f, o) <= 5; o++) {
        best = Math.min(best, noise(f, o));
      }
    }
    assertThat(made.noise()).isCloseTo(noise(floor, others), within(1e-9));
    assertThat(made.noise()).isBetween(best - 1e-9, 1.01 * best);
  }

  @Test
  void noOtherSpreadReachesTheNoiseInLessTime() {
    SampleSpread spread = spread(0.2, Math.sqrt(0.08), 0.2, 0.2);
    SampleSpread.Spread made = spread.forNoise(0.05);
    assertThat(made.noise()).isBetween(0.049, 0.05 + 1e-9);
    double best = Double.POSITIVE_INFINITY;
    for (int f = 1; f < 1000; f++) {
      for (int o = 1; o < 3000; o++) {
        if (noise(f, o) <= 0.05) {
          best = Math.min(best, seconds(f, o));
        }
      }
    }
    assertThat(made.seconds()).isBetween(best - 1e-9, 1.01 * best);
  }

  @Test
  void aLayerWithoutNoiseHasTheLeastSamples() {
    SampleSpread spread = spread(0.2, 0, 0.2, 0.2);
    assertThat(spread.forNoise(0.01).samples(0)).isEqualTo(SampleSpread.LEAST);
    assertThat(spread.forNoise(0.01).noise()).isBetween(0.00999, 0.01 + 1e-9);
    assertThat(spread.isKnown()).isTrue();
    assertThat(spread(0, 0, 0, 0).isKnown()).isFalse();
  }

  @Test
  void lessTimeThanTheLeastSamplesTakeGivesThese() {
    SampleSpread.Spread made = spread(0.2, 0.2, 0.2, 0.2).forSeconds(0.1);
    assertThat(made.samples(0)).isEqualTo(SampleSpread.LEAST);
    assertThat(made.samples(1)).isEqualTo(SampleSpread.LEAST);
    assertThat(made.seconds()).isCloseTo(seconds(4, 4), within(1e-9));
  }

  @Test
  void thePlanTakesTheSamplesAsSettingsOfItsLayers() {
    SampleSpread.Spread made =
        new SampleSpread.Spread(
            List.of(
                new SampleSpread.Trace(List.of(0), 7),
                new SampleSpread.Trace(List.of(1, 2), shot.plan().requireShot().samples())),
            0,
            0);
    Plan plan = made.apply(shot.plan());
    assertThat(plan.layers().get(0).setting(Property.SAMPLES).orElseThrow().text()).contains("7");
    assertThat(plan.layers().get(1).setting(Property.SAMPLES)).isEmpty();
    assertThat(shot.withPlan(plan).resolve(1).layers().get(0).transport().settings().samples(2))
        .isEqualTo(7);
    // taken back by samples that are the shot's
    Plan back =
        new SampleSpread.Spread(List.of(new SampleSpread.Trace(List.of(0), 2)), 0, 0).apply(plan);
    assertThat(back).isEqualTo(shot.plan());
  }

  @Test
  void tracesThatALayerNeedsBothHaveOneNumberOfSamples() {
    // Back needs the floor's trace too, as a catcher does
    SampleSpread spread =
        spread(
            0.2,
            Math.sqrt(0.08),
            0.2,
            0.2,
            List.of(
                new FrameSurvey.Cost(List.of(0, 1), false, 1, 1, 9e-6, 4.5e-6),
                new FrameSurvey.Cost(List.of(1, 2), true, 1, 1, 1e-6, 0.5e-6)));
    SampleSpread.Spread made = spread.forNoise(0.05);
    assertThat(made.traces()).hasSize(1);
    assertThat(made.traces().getFirst().layers()).containsExactly(0, 1, 2);
    // all variance, 0.04 at 8 samples, at one number of samples
    assertThat(made.samples(0)).isEqualTo((int) Math.ceil(0.04 * 8 / 0.0025 - 1e-9));
    // both traces, each once: 10 microseconds of processor time for a sample
    assertThat(made.seconds()).isCloseTo(0.5 + 0.05 * made.samples(0), within(1e-9));
  }

  @Test
  void aLayersOwnSamplesKeepTheirProportion() {
    FrameSurvey f =
        new FrameSurvey(
            1,
            10,
            10,
            8,
            2,
            0,
            new double[0],
            InterplayTable.NONE,
            List.of(),
            List.of(new Noise(0.1, 0.2, 16)),
            Noise.NONE,
            Noise.NONE,
            new double[1],
            0,
            0);
    assertThat(f.layer(0, 8).relative()).isCloseTo(0.2, within(1e-12));
    assertThat(f.layer(0, 32).relative()).isCloseTo(0.1, within(1e-12));
    assertThat(f.layer(0, 32).samples()).isEqualTo(64);
  }
}
