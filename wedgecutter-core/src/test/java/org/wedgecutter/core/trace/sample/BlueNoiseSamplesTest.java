package org.wedgecutter.core.trace.sample;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashSet;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

/** First samples of neighbours are spread over the unit square as those of a pixel are. */
class BlueNoiseSamplesTest {
  @ParameterizedTest
  @ValueSource(ints = {2, 4, 8, 16})
  void anySquareOfTheCurveHasItsFirstPointsInDifferentBoxes(int side) {
    Sampler s = new Sampler(SamplePattern.BLUE_NOISE);
    int n = side * side;
    for (int square = 0; square < 8; square++) {
      for (int pair = 0; pair < 4; pair++) {
        for (int wide = 1; wide <= n; wide *= 2) {
          int high = n / wide;
          int[] hits = new int[n];
          for (int p = 0; p < n; p++) {
            s.start(9, square * side + p % side, 3 * side + p / side, 0);
            s.pair(pair);
            hits[(int) (s.u * wide) * high + (int) (s.v * high)]++;
          }
          assertThat(hits).as("%d x %d, %d wide", side, side, wide).containsOnly(1);
        }
      }
    }
  }

  /** Squared error of the mean of a smooth function over blocks of pixels, one sample each. */
  private static double blockError(SamplePattern points) {
    Sampler s = new Sampler(points);
    double sum = 0;
    int side = 4;
    int blocks = 32;
    for (int block = 0; block < blocks * blocks; block++) {
      double mean = 0;
      for (int p = 0; p < side * side; p++) {
        s.start(5, block % blocks * side + p % side, block / blocks * side + p / side, 0);
        s.pair(2);
        mean += Math.sin(3 * s.u) * (1 - s.v) / (side * side);
      }
      double right = (1 - Math.cos(3)) / 3 / 2;
      sum += (mean - right) * (mean - right) / (blocks * blocks);
    }
    return sum;
  }

  @Test
  void whatOneSampleIsOffByIsGoneFromAfar() {
    double independent = blockError(SamplePattern.RANDOM);
    assertThat(blockError(SamplePattern.OWEN_SOBOL))
        .isBetween(0.7 * independent, 1.4 * independent);
    assertThat(blockError(SamplePattern.BLUE_NOISE)).isLessThan(0.1 * independent);
  }

  /** Squared error of a pixel's mean after some samples. */
  private static double pixelError(SamplePattern points, int samples) {
    Sampler s = new Sampler(points);
    double sum = 0;
    int pixels = 2000;
    for (int p = 0; p < pixels; p++) {
      double mean = 0;
      for (int k = 0; k < samples; k++) {
        s.start(6, p % 50, p / 50, k);
        s.pair(p % 97);
        mean += Math.sin(3 * s.u) * (1 - s.v) / samples;
      }
      double right = (1 - Math.cos(3)) / 3 / 2;
      sum += (mean - right) * (mean - right) / pixels;
    }
    return sum;
  }

  @ParameterizedTest
  @ValueSource(ints = {4, 16, 64})
  void arrangingCostsAPixelNothing(int samples) {
    double spread = pixelError(SamplePattern.OWEN_SOBOL, samples);
    assertThat(pixelError(SamplePattern.BLUE_NOISE, samples)).isLessThan(1.7 * spread);
    assertThat(spread).isLessThan(0.6 * pixelError(SamplePattern.RANDOM, samples));
  }

  @ParameterizedTest
  @EnumSource(SamplePattern.class)
  void numbersAreEvenOverThePicture(SamplePattern points) {
    Sampler s = new Sampler(points);
    int[] counts = new int[16];
    int n = 128 * 128;
    for (int p = 0; p < n; p++) {
      s.start(1, p % 128, p / 128, 3);
      s.pair(1_000_003);
      counts[(int) (4 * s.u) * 4 + (int) (4 * s.v)]++;
    }
    for (int count : counts) {
      assertThat(count).isBetween(n / 16 * 85 / 100, n / 16 * 115 / 100);
    }
  }

  @Test
  void pairsThatShareAPlaceInTheTableAreToldApart() {
    // 512 pairs apart: the same row of what is kept
    Sampler s = new Sampler(SamplePattern.BLUE_NOISE);
    Sampler fresh = new Sampler(SamplePattern.BLUE_NOISE);
    Set<Float> seen = new HashSet<>();
    for (int round = 0; round < 3; round++) {
      for (int pair = 3; pair < 3 + 5 * 512; pair += 512) {
        s.start(4, 10, 20, 6);
        s.pair(pair);
        fresh.start(4, 10, 20, 6);
        fresh.pair(pair);
        assertThat(s.u).isEqualTo(fresh.u);
        seen.add(s.u);
      }
      fresh = new Sampler(SamplePattern.BLUE_NOISE);
    }
    assertThat(seen).hasSize(5);
  }
}
