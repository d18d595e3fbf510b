package org.wedgecutter.core.survey;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.testing.ShotFolder;

/** The estimate of noise, beside the true error against a picture of many other samples. */
class NoiseTest {
  @TempDir static Path dir;
  private static LoadedShot shot;
  private static RenderedFrame truth;

  private static synchronized LoadedShot shot() throws Exception {
    if (shot == null) {
      shot = ShotFolder.load(dir);
      // samples of another seed: they have nothing in common with those that are judged
      LoadedShot other =
          shot.withPlan(shot.plan().withShot(shot.plan().requireShot().with(s -> s.seed = 99)));
      truth =
          new FrameRenderer(other, FrameRenderer.Settings.of(other, 1, 2048, 2, false))
              .render(1, l -> true, true, p -> {});
    }
    return shot;
  }

  private static RenderedFrame measured(int samples) throws Exception {
    LoadedShot s = shot();
    return new FrameRenderer(s, FrameRenderer.Settings.of(s, 1, samples, 2, false))
        .measure(1, l -> true, p -> {});
  }

  private static double error(Picture a, Picture b) {
    double sum = 0;
    int count = 0;
    for (int i = 0; i < a.rgba().length; i++) {
      if ((i & 3) < 3) {
        sum += Math.pow(a.rgba()[i] - b.rgba()[i], 2);
        count++;
      }
    }
    return Math.sqrt(sum / count);
  }

  @ParameterizedTest
  @ValueSource(ints = {2, 4, 8, 16, 64, 128})
  void theEstimateIsNearTheTrueErrorOfLayersAndTheWhole(int samples) throws Exception {
    RenderedFrame frame = measured(samples);
    for (int l = 0; l < 4; l++) {
      Picture half = l < 3 ? frame.half().layer(l) : frame.half().uncut();
      Picture whole = l < 3 ? frame.layer(l) : frame.uncut();
      Picture best = l < 3 ? truth.layer(l) : truth.uncut();
      double told = Noise.of(half, whole, frame.uncut(), samples / 2, samples).rms();
      double true_ = error(whole, best);
      assertThat(told / true_).as("layer %d at %d samples", l, samples).isBetween(0.8, 1.8);
    }
  }

  @Test
  void theFirstHalfChangesNoBitOfTheWhole() throws Exception {
    LoadedShot s = shot();
    RenderedFrame plain =
        new FrameRenderer(s, FrameRenderer.Settings.of(s, 1, 6, 2, false))
            .render(1, l -> true, true, p -> {});
    RenderedFrame frame = measured(6);
    assertThat(frame.uncut().rgba()).isEqualTo(plain.uncut().rgba());
    for (int l = 0; l < 3; l++) {
      assertThat(frame.layer(l).rgba()).isEqualTo(plain.layer(l).rgba());
    }
    RenderedFrame three =
        new FrameRenderer(s, FrameRenderer.Settings.of(s, 1, 3, 2, false))
            .render(1, l -> true, true, p -> {});
    assertThat(frame.half().uncut().rgba()).as("three of six").isEqualTo(three.uncut().rgba());
  }

  @Test
  void twoUnequalPartsEstimateTheSame() {
    // every sample is 0 or 2 by chance: the variance of one is 1
    java.util.Random random = new java.util.Random(5);
    int pixels = 20_000;
    Picture part = Picture.empty(pixels, 1);
    Picture all = Picture.empty(pixels, 1);
    for (int p = 0; p < pixels; p++) {
      for (int c = 0; c < 3; c++) {
        int sum = 0;
        for (int k = 0; k < 16; k++) {
          sum += random.nextBoolean() ? 2 : 0;
          if (k == 3) {
            part.rgba()[4 * p + c] = sum / 4f;
          }
        }
        all.rgba()[4 * p + c] = sum / 16f;
      }
    }
    Noise n = Noise.of(part, all, all, 4, 16);
    assertThat(n.rms()).isCloseTo(0.25, within(0.005));
    assertThat(n.at(64).rms()).isCloseTo(0.125, within(0.003));
    assertThat(n.samplesFor(n.relative() / 2)).isCloseTo(64, within(1e-6));
  }

  @Test
  void oneSampleTellsNoNoise() {
    Picture p = Picture.empty(2, 2);
    assertThat(Noise.of(p, p, p, 1, 1).rms()).isNaN();
  }
}
