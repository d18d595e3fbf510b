package org.wedgecutter.bench;

import java.util.List;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.survey.PixelReading;

/** What it takes to tell what a pixel's light is made of. */
final class SurveyBench {
  private static final int PIXELS = 40;

  private SurveyBench() {}

  /** Reads pixels spread over the first frame, which is placed once, as the window does. */
  static void pixels(LoadedShot shot, List<Measure> out) {
    var s = shot.plan().requireShot();
    var frame = shot.frame(1);
    int[] k = {0};
    double median =
        Measure.median(
            PIXELS,
            () -> {
              // steps that have no common divisor with the sides come by every part of the picture
              int x = 37 * k[0]++ * 7 % s.width();
              int y = 53 * k[0] % s.height();
              return Measure.milliseconds(() ->
                  PixelReading.of(
                      shot, frame, 1, x, y, s.width(), s.height(), PixelReading.SAMPLES));
            });
    out.add(
        new Measure(
            "pixel_ms",
            "what one pixel's light is made of, %d paths".formatted(PixelReading.SAMPLES),
            median,
            "ms"));
  }
}
