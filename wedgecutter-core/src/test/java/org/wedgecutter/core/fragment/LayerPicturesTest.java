package org.wedgecutter.core.fragment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Shots;
import org.wedgecutter.core.trace.SceneTracer;

/** Pictures of layers whose place in the frame is known by geometry. */
class LayerPicturesTest {
  /** A floor seen from 9 m above, and a ball on it; the picture's up is the world's -z. */
  private static Scene scene() {
    return new SceneMaker()
        .cameraFromAbove(0.9, 0, 9, 0)
        .mesh("/floor", SceneMaker.floor(6, 6), SceneMaker.matte(0.5), 0, 0, 0)
        .mesh("/ball", SceneMaker.box(0.2), SceneMaker.matte(0.5), 1, 0.2, 0)
        .pointLight("/lamp", 60, 3, 5, 0)
        .scene();
  }

  private static LoadedShot shot(String shot, String reach, String settings) {
    return Shots.of(
        scene(),
        "1",
        shot,
        """
        "collections": [{"name": "Ball", "rule": "ball"}, {"name": "Floor", "rule": "floor"}],
        "layers": [
          {"name": "Floor", "cells": {"Floor": {"role": "Seen"}}},
          {"name": "Caught", %s "cells": {
            "Ball": {"role": "Holdout", "catcher": {"caster": true}},
            "Floor": {"role": "Catcher", "catcher": {%s}}}}],
        "recipe": {"joins": [{"layer": "Floor", "join": "plus"}, {"layer": "Caught", "join": "plus"}]}
        """
            .formatted(settings, reach));
  }

  private static LayerPictures traced(LoadedShot shot, int width, int height, int samples) {
    ResolvedShot resolved = shot.resolve(1);
    JobPlan plan = new JobPlan(resolved, l -> true, true, c -> false);
    List<FragmentSums> sums = new ArrayList<>();
    for (var job : plan.jobs()) {
      var own = job.transport().settings();
      sums.add(new FragmentSums(job, own.width(width), own.height(height)));
    }
    Map<Integer, SceneTracer.Frame> placed = new ConcurrentHashMap<>();
    new FrameTrace(f -> placed.computeIfAbsent(f, shot::frame), shot.camera(), sums)
        .run(samples, 2, p -> {});
    return new LayerPictures(resolved, plan, sums, shot.stage(placed::get, 1));
  }

  /** Metres on the floor for a pixel of the picture. */
  private static double metres(int height) {
    return 2 * Math.tan(0.45) * 9 / height;
  }

  @Test
  void theOutlineOfAReachIsTheEllipseOnTheFloor() {
    LoadedShot shot =
        shot("", "\"reach\": {\"centre\": [1, 0, 0], \"radii\": [2, 1], \"turn\": 0}", "");
    List<double[]> outline = traced(shot, 64, 48, 1).reachOutline(1, 1);
    assertThat(outline).hasSize(96);
    // the axes lie along the world's; which one is across is the plane's choice, the same
    // everywhere
    double one = 0;
    double other = 0;
    for (double[] p : outline) {
      double x = (p[0] - 32) * metres(48) - 1;
      double z = (p[1] - 24) * metres(48);
      one = Math.max(one, Math.abs(Math.pow(x / 2, 2) + Math.pow(z, 2) - 1));
      other = Math.max(other, Math.abs(Math.pow(x, 2) + Math.pow(z / 2, 2) - 1));
    }
    assertThat(Math.min(one, other)).isLessThan(1e-4);
    List<double[]> half = traced(shot, 64, 48, 1).reachOutline(1, 0.5);
    assertThat(half.getFirst()[0] - 32 - 1 / metres(48))
        .isCloseTo((outline.getFirst()[0] - 32 - 1 / metres(48)) / 2, within(1e-3));
    assertThat(traced(shot, 64, 48, 1).reachOutline(0, 1)).isEmpty();
    assertThat(traced(shot("", "", ""), 64, 48, 1).reachOutline(1, 1)).isEmpty();
  }

  @Test
  void nothingIsCaughtOutsideTheReachAndAllWellInside() {
    String reach = "\"reach\": {\"centre\": [0, 0, 0], \"radii\": [2, 2], \"soft\": %s}";
    Picture free = traced(shot("", "", ""), 64, 48, 16).layer(1);
    Picture hard = traced(shot("", reach.formatted("0"), ""), 64, 48, 16).layer(1);
    Picture soft = traced(shot("", reach.formatted("1"), ""), 64, 48, 16).layer(1);
    int caught = 0;
    for (int p = 0; p < 64 * 48; p++) {
      double x = (p % 64 + 0.5 - 32) * metres(48);
      double z = (p / 64 + 0.5 - 24) * metres(48);
      double r = Math.hypot(x, z) / 2;
      float whole = free.rgba()[4 * p];
      if (Math.abs(whole) > 1e-3) {
        caught++;
        assertThat(hard.rgba()[4 * p]).isCloseTo(r < 1 ? whole : 0, within(1e-6f));
        double t = Math.max(0, 1 - r);
        assertThat(soft.rgba()[4 * p])
            .isCloseTo((float) (whole * t * t * (3 - 2 * t)), within(1e-5f));
      }
    }
    assertThat(caught).isGreaterThan(20);
  }

  @Test
  void sumsAreWorthTheSamplesOfTheFrameByTheirProportion() {
    LoadedShot shot =
        shot(
            "\"samples\": 8",
            "",
            "\"settings\": [{\"property\": \"samples\", \"verb\": \"scale\", \"value\": 2, \"on\": true}],");
    ResolvedShot resolved = shot.resolve(1);
    JobPlan plan = new JobPlan(resolved, l -> l == 1, false, c -> false);
    FragmentSums sums = new FragmentSums(plan.jobs().getFirst(), 16, 16);
    FrameTrace trace = new FrameTrace(shot::frame, shot.camera(), List.of(sums));
    assertThat(trace.sums()).containsExactly(sums);
    assertThat(sums.samplesOf(4)).isZero();
    trace.run(3, 1, p -> {});
    assertThat(sums.samples()).isEqualTo(6);
    assertThat(sums.samplesOf(3)).isEqualTo(3);
    assertThat(sums.samplesOf(8)).isEqualTo(3);
    assertThat(sums.samplesOf(2)).as("more than was asked for").isEqualTo(3);
    assertThat(trace.rays()).isPositive();
    assertThat(trace.cpuSeconds()).isPositive();
  }

  @Test
  void aFilteredLayerOfItsOwnSizeIsSmootherAndHasTheSameMean() {
    String half =
        "\"settings\": [{\"property\": \"size\", \"verb\": \"scale\", \"value\": 0.5, \"on\": true}],";
    Picture rough = traced(shot("", "", half), 64, 48, 8).layer(1);
    Picture smooth = traced(shot("\"denoise\": 1", "", half), 64, 48, 8).layer(1);
    assertThat(smooth.width()).isEqualTo(32);
    double a = 0;
    double b = 0;
    double sum = 0;
    double filtered = 0;
    for (int p = 1; p < 32 * 24; p++) {
      a += Math.pow(rough.rgba()[4 * p] - rough.rgba()[4 * p - 4], 2);
      b += Math.pow(smooth.rgba()[4 * p] - smooth.rgba()[4 * p - 4], 2);
      sum += rough.rgba()[4 * p];
      filtered += smooth.rgba()[4 * p];
    }
    assertThat(b).isLessThan(0.7 * a);
    assertThat(filtered / sum).isBetween(0.8, 1.2);
  }

  @Test
  void theFrameTellsWhatIsWhereAndHowMuchItCovers() {
    LayerPictures pictures = traced(shot("", "", ""), 64, 48, 8);
    int ball = scene().entity("/ball").orElseThrow().index();
    int floor = scene().entity("/floor").orElseThrow().index();
    int at = (int) (32 + 1 / metres(48));
    assertThat(pictures.dominant(at, 24)).isEqualTo(ball);
    assertThat(pictures.dominant(5, 5)).isEqualTo(floor);
    assertThat(pictures.dominant()[24 * 64 + at]).isEqualTo(ball);
    // its top, 0.4 m wide, is 8.6 m below the eye
    double side = 0.4 / (2 * Math.tan(0.45) * 8.6 / 48);
    assertThat(pictures.coverage()[ball]).isBetween(side * side / 3072, 1.5 * side * side / 3072);
    assertThat(pictures.coverage()[floor] + pictures.coverage()[ball]).isCloseTo(1, within(1e-6));
    assertThat(pictures.cutShort()).isZero();
    assertThat(pictures.invalidSamples()).isZero();
    assertThat(pictures.plate()).isNull();
  }
}
