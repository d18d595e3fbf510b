package org.wedgecutter.bench;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.survey.Noise;

/**
 * Noise as it is estimated from two halves of the samples, beside the true error: the difference
 * from the same frame with many samples of another seed.
 */
final class NoiseEstimates {
  private static final int[] SAMPLES = {4, 8, 16, 32, 64};
  private static final int TRUTH = 400;
  private static final double WIDTH = 120;

  private NoiseEstimates() {}

  /**
   * One comparison.
   *
   * @param picture a layer, or the uncut frame
   * @param told root mean square, estimated, in scene-linear light
   * @param error root mean square, true
   */
  record Told(String shot, String picture, int samples, double told, double error) {}

  /** Compares all layers that are not differences, and the uncut frame, of a frame of a shot. */
  static List<Told> compare(String name, Path file, int frame) throws IOException {
    LoadedShot shot = LoadedShot.load(file);
    int threads = Runtime.getRuntime().availableProcessors();
    double scale = WIDTH / shot.plan().requireShot().width();
    long seed = shot.plan().requireShot().seed() + 77;
    LoadedShot other =
        shot.withPlan(shot.plan().withShot(shot.plan().requireShot().with(s -> s.seed = seed)));
    RenderedFrame truth =
        new FrameRenderer(other, FrameRenderer.Settings.of(other, scale, TRUTH, threads, false))
            .render(frame, l -> true, true, p -> {});
    List<Told> out = new ArrayList<>();
    for (int samples : SAMPLES) {
      RenderedFrame traced =
          new FrameRenderer(shot, FrameRenderer.Settings.of(shot, scale, samples, threads, false))
              .measure(frame, l -> true, p -> {});
      int layers = shot.plan().layers().size();
      for (int l = 0; l <= layers; l++) {
        boolean uncut = l == layers;
        Picture whole = uncut ? traced.uncut() : traced.layer(l);
        Picture half = uncut ? traced.half().uncut() : traced.half().layer(l);
        Picture right = uncut ? truth.uncut() : truth.layer(l);
        if (whole.width() == traced.uncut().width()) {
          out.add(
              new Told(
                  name,
                  uncut ? "uncut" : shot.plan().layers().get(l).name(),
                  samples,
                  Noise.of(half, whole, traced.uncut(), samples / 2, samples).rms(),
                  error(whole, right)));
        }
      }
    }
    return out;
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
}
