package org.wedgecutter.core.fragment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Objects;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Shots;

/** Catches that are fitted to backgrounds, against floors that are rendered in other greys. */
class CatchFitTest {
  private static LoadedShot shot(Scene scene, String catching) {
    return Shots.of(
        scene,
        "1",
        "\"samples\": 6",
        """
        "collections": [{"name": "Ball", "rule": "name:ball"}],
        "layers": [
          {"name": "Clean", "cells": {"Ball": {"role": "Absent"}}, "rest": {"role": "Seen"}},
          {"name": "Catch", "cells": {"Ball": {"role": "Unseen"}},
            "rest": {"role": "Catcher", "catcher": {"output": "catch"%s}}},
          {"name": "Full", "cells": {"Ball": {"role": "Unseen"}}, "rest": {"role": "Seen"}}],
        "recipe": {"joins": [{"layer": "Clean", "join": "plus"}, {"layer": "Catch", "join": "catch"}]}
        """
            .formatted(catching));
  }

  private static RenderedFrame render(Scene scene, String catching) {
    LoadedShot shot = shot(scene, catching);
    return renderer(shot).render(1, l -> true, true, p -> {});
  }

  private static FrameRenderer renderer(LoadedShot shot) {
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 0.6, 6, 2, false));
  }

  /** A black ball, which sends no light back, over a floor that fills the picture. */
  private static Scene scene(Material floor, boolean coloured) {
    SceneMaker maker =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(30, 30), floor, 0, -0.6, 0)
            .mesh("/ball", SceneMaker.sphere(0.5, 24), SceneMaker.matte(0), 0, 0.2, 0)
            .sunFromAbove("/sun", 1.5)
            .pointLight("/lamp", 6, 1.5, 2.5, 1);
    return coloured
        ? maker.pointLight("/other", 9, -2, 2, 1).cameraFromAbove(0.5, 0, 6, 0).scene()
        : maker.cameraFromAbove(0.5, 0, 6, 0).scene();
  }

  private static float[] over(Picture picture, Picture background) {
    float[] out = background.rgba().clone();
    for (int i = 0; i < out.length; i++) {
      out[i] = picture.rgba()[i] + (1 - picture.rgba()[i | 3]) * out[i];
    }
    return out;
  }

  @Test
  void overFloorsOfOtherGreysItIsWhatARenderOfThemGives() {
    Picture fitted =
        render(scene(SceneMaker.matte(0.5), false), ", \"backgrounds\": [0.02, 0.18, 0.8]")
            .layer(1);
    for (double grey : new double[] {0.04, 0.2, 0.9}) {
      RenderedFrame other = render(scene(SceneMaker.matte(grey), false), "");
      float[] shown = over(fitted, other.layer(0));
      float[] right = other.layer(2).rgba();
      double shadow = 0;
      for (int i = 0; i < right.length; i++) {
        if ((i & 3) < 3) {
          assertThat(shown[i]).as("grey %s", grey).isCloseTo(right[i], within(1e-4f));
          shadow += other.layer(0).rgba()[i] - right[i];
        }
      }
      assertThat(shadow).as("there is a shadow").isGreaterThan(1);
    }
  }

  /** A mirror-like floor in which the ball hides the light of the surround. */
  private static Scene glossy() {
    return scene(SceneMaker.surface(0.3, 0, 0.1, 1, 0), true);
  }

  private static CatchFit fit(RenderedFrame frame) {
    return Objects.requireNonNull(frame.catchFit(1));
  }

  private static double seen(CatchFit fit) {
    return fit.over().stream().mapToDouble(o -> o.mean() / (o.background() + 0.01)).sum();
  }

  @Test
  void itComesNearerThanThePictureForTheSurfacesOwnLightAndTellsHowNear() {
    CatchFit plain = fit(render(glossy(), ""));
    CatchFit fitted = fit(render(glossy(), ", \"backgrounds\": [0.02, 0.18, 0.8]"));
    assertThat(plain.over()).extracting(CatchFit.Over::background).containsExactly(0.02, 0.18, 0.8);
    assertThat(fitted.pixels()).isEqualTo(plain.pixels()).isPositive();
    assertThat(seen(fitted)).isLessThan(seen(plain));
    CatchFit dark = fit(render(glossy(), ", \"backgrounds\": [0.02]"));
    assertThat(dark.over().getFirst().mean()).isLessThan(fitted.over().getFirst().mean() + 1e-6);
    assertThat(dark.line()).contains(" over 0.02 (max ").doesNotContain("e+");
  }

  @Test
  void nothingIsNegativeAndAlphaIsAShare() {
    for (float v : render(glossy(), ", \"backgrounds\": [0.05, 0.5]").layer(1).rgba()) {
      assertThat(v).isNotNegative().isFinite();
    }
  }

  @Test
  void lightBrighterThanItsCoverIsTold() {
    Scene scene =
        new SceneMaker()
            .mesh("/floor", SceneMaker.floor(6, 6), SceneMaker.surface(0.1, 0, 0.2, 1, 0), 0, -1, 0)
            .mesh("/ball", SceneMaker.sphere(0.4, 24), SceneMaker.glowing(20), 0, 0, 0)
            .camera(0.6, 0, 0.6, 5)
            .scene();
    CatchFit fit = fit(render(scene, ", \"backgrounds\": [0.02, 0.18, 0.8]"));
    assertThat(fit.aboveAlpha()).isGreaterThan(0.5);
    assertThat(fit.line()).contains("% of its light above alpha");
    double light = 0;
    double above = 0;
    float[] caught = render(scene, ", \"backgrounds\": [0.02, 0.18, 0.8]").layer(1).rgba();
    for (int i = 0; i < caught.length; i++) {
      light += (i & 3) == 3 ? 0 : caught[i];
      above += (i & 3) == 3 ? 0 : Math.max(0, caught[i] - caught[i | 3]);
    }
    assertThat(fit.aboveAlpha()).isCloseTo(above / light, within(1e-4));
  }

  @Test
  void onlyACatchHasBackgrounds() {
    String levels = ", \"backgrounds\": [0.02, 0.8]";
    LoadedShot fitted = shot(glossy(), levels);
    assertThat(tuning(fitted.resolve(1)).backgrounds()).containsExactly(0.02, 0.8);
    String text = PlanWriter.text(fitted.plan()).replace("\"catch\",", "\"difference\",");
    LoadedShot plain = fitted.withPlan(read(text));
    assertThat(PlanWriter.text(plain.plan())).contains("backgrounds");
    assertThat(tuning(plain.resolve(1)).isUsual()).as("as exact as without").isTrue();
  }

  private static Plan read(String text) {
    try {
      return PlanReader.parse(text, Path.of("made.wedge"));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static CatcherTuning tuning(ResolvedShot shot) {
    return Objects.requireNonNull(shot.layers().get(1).catcher()).tuning();
  }

  @Test
  void aProofTellsItOfAllBandsTogether() {
    LoadedShot shot = shot(glossy(), ", \"backgrounds\": [0.02, 0.18, 0.8]");
    CatchFit whole = fit(renderer(shot).render(1, l -> true, true, p -> {}));
    PlanProof proof = PlanProof.prove(shot, 1, renderer(shot), p -> {});
    assertThat(proof.traced().catches()).containsOnlyKeys("Catch");
    CatchFit told = Objects.requireNonNull(proof.traced().catches().get("Catch"));
    assertThat(told.pixels()).isEqualTo(whole.pixels());
    CatchFit nothing = new CatchFit(List.of(new CatchFit.Over(1, 0, 0)), 0, 0, 0);
    CatchFit half = new CatchFit(List.of(new CatchFit.Over(1, 0.2, 0.5)), 0.5, 2, 10);
    assertThat(nothing.plus(half)).isEqualTo(half);
    assertThat(half.plus(half).pixels()).isEqualTo(20);
    assertThat(half.plus(half).over()).isEqualTo(half.over());
    assertThat(nothing.line()).isEqualTo("nothing: no pixel catches anything");
  }
}
