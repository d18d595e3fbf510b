package org.wedgecutter.core.fragment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** The fit against a search that knows nothing of its pieces. */
class BackgroundFitTest {
  private static double weight(double background) {
    return Math.pow(background + 0.01, -2);
  }

  private static double error(
      double[] levels, double[] kept, double[] added, double[] colour, double alpha) {
    double sum = 0;
    for (double b : levels) {
      for (int c = 0; c < 3; c++) {
        double off = colour[c] + (1 - alpha) * b - (kept[c] * b + added[c]);
        sum += weight(b) * off * off;
      }
    }
    return sum;
  }

  private static double error(double[] levels, double[] kept, double[] added, float[] pixel) {
    double[] colour = {pixel[0], pixel[1], pixel[2]};
    return error(levels, kept, added, colour, pixel[3]);
  }

  /** Walks downhill in colours and alpha together, within their bounds. */
  private static double searched(double[] levels, double[] kept, double[] added) {
    double[] colour = new double[3];
    double alpha = 0.5;
    double curve = 0;
    for (double b : levels) {
      curve += 2 * weight(b) * (1 + 3 * b * b + 3 * b);
    }
    double step = 1 / curve;
    double[] weights = Arrays.stream(levels).map(BackgroundFitTest::weight).toArray();
    for (int k = 0; k < 50_000; k++) {
      double slopeAlpha = 0;
      double[] slope = new double[3];
      for (int l = 0; l < levels.length; l++) {
        double b = levels[l];
        for (int c = 0; c < 3; c++) {
          double off = colour[c] + (1 - alpha) * b - (kept[c] * b + added[c]);
          slope[c] += 2 * weights[l] * off;
          slopeAlpha -= 2 * weights[l] * off * b;
        }
      }
      for (int c = 0; c < 3; c++) {
        colour[c] = Math.max(0, colour[c] - step * slope[c]);
      }
      alpha = Math.max(0, Math.min(1, alpha - step * slopeAlpha));
    }
    return error(levels, kept, added, colour, alpha);
  }

  @Test
  void noOtherPictureComesNearer() {
    Random random = new Random(3);
    float[] pixel = new float[4];
    for (int k = 0; k < 30; k++) {
      double[] levels = random.doubles(2 + random.nextInt(3), 0.05, 1.2).toArray();
      double[] kept = random.doubles(3).toArray();
      double[] added = random.doubles(3, -0.4, 0.5).toArray();
      new BackgroundFit(levels).solve(kept, added, pixel);
      assertThat(pixel[3]).isBetween(0f, 1f);
      assertThat(Math.min(pixel[0], Math.min(pixel[1], pixel[2]))).isNotNegative();
      double found = error(levels, kept, added, pixel);
      double searched = searched(levels, kept, added);
      assertThat(found).as("case %d", k).isCloseTo(searched, within(1e-4 + 1e-3 * searched));
    }
  }

  @Test
  void whatAPictureCanHoldIsHeldWhole() {
    double[] levels = {0.02, 0.18, 0.8};
    float[] pixel = new float[4];
    new BackgroundFit(levels).solve(new double[] {0.6, 0.6, 0.6}, new double[] {0.2, 0, 3}, pixel);
    assertThat(pixel).containsExactly(new float[] {0.2f, 0, 3, 0.4f}, within(1e-6f));
    new BackgroundFit(levels).solve(new double[] {1, 1, 1}, new double[3], pixel);
    assertThat(pixel).containsExactly(new float[4], within(1e-6f));
  }

  @Test
  void takenLightBecomesAlpha() {
    float[] pixel = new float[4];
    new BackgroundFit(0.5).solve(new double[] {1, 1, 1}, new double[] {-0.1, -0.1, -0.1}, pixel);
    assertThat(pixel).containsExactly(new float[] {0, 0, 0, 0.2f}, within(1e-6f));
  }

  @Test
  void aSingleBackgroundIsMetWholeAndBlackTellsNothingOfAlpha() {
    float[] pixel = new float[4];
    double[] kept = {0.9, 0.5, 0.4};
    double[] added = {0.1, 0, 0.2};
    new BackgroundFit(0.3).solve(kept, added, pixel);
    assertThat(error(new double[] {0.3}, kept, added, pixel)).isLessThan(1e-9);
    new BackgroundFit(0).solve(kept, added, pixel);
    assertThat(pixel).containsExactly(new float[] {0.1f, 0, 0.2f, 0.4f}, within(1e-6f));
  }
}
