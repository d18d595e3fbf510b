package org.wedgecutter.core.survey;

import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.render.PictureNoise;

/**
 * An estimate of the error of a picture, from two halves of its samples.
 *
 * <p>{@link PictureNoise} estimates it from what the second part of the samples changes. The halves
 * are different samples of one well-spread sequence, so they are a little more alike than
 * independent ones; see {@code docs/performance.md} for what is measured.
 *
 * <p>What disturbs is noise beside the light that is there: {@code relative} divides the error of
 * each pixel by the uncut frame's light in it, to which a hundredth of the frame's mean is added,
 * so that black does not count without bound. Layers and the rejoined frame can so be compared.
 *
 * @param rms root mean square over pixels and colours, scene-linear light
 * @param relative the same of the error by the light of the uncut frame
 * @param samples samples per pixel that it was estimated at
 */
public record Noise(double rms, double relative, int samples) {
  /** No noise: a picture that is not there. */
  public static final Noise NONE = new Noise(0, 0, 1);

  private static final double FLOOR = 0.01;

  /**
   * Estimates the noise of a picture.
   *
   * @param half the picture of the first samples
   * @param whole the picture of all
   * @param light the uncut frame, of the same size
   * @param first how many the first were; with fewer than two samples the noise is not known: NaN
   * @param all how many all were
   */
  public static Noise of(Picture half, Picture whole, Picture light, int first, int all) {
    if (first >= all) {
      return new Noise(Double.NaN, Double.NaN, all);
    }
    float[] u = light.rgba();
    double floor = 1e-12;
    for (int i = 0; i < u.length; i += 4) {
      floor += FLOOR * (u[i] + u[i + 1] + u[i + 2]) / 3 / (u.length / 4);
    }
    double scale = (double) first / (all - first);
    return new Noise(
        PictureNoise.of(half, whole, first, all).rms(),
        relative(half, whole, light, floor, scale),
        all);
  }

  private static double relative(
      Picture one, Picture other, Picture light, double floor, double scale) {
    double sum = 0;
    int count = 0;
    float[] a = one.rgba();
    float[] b = other.rgba();
    float[] u = light.rgba();
    for (int p = 0; p < b.length; p += 4) {
      double there = (u[p] + u[p + 1] + u[p + 2]) / 3 + floor;
      for (int c = 0; c < 3; c++) {
        double d = (double) b[p + c] - a[p + c];
        sum += d * d / (there * there);
        count++;
      }
    }
    return Math.sqrt(sum / count * scale);
  }

  /** Returns the noise that is expected at another number of samples. */
  public Noise at(double otherSamples) {
    double factor = Math.sqrt(samples / otherSamples);
    return new Noise(rms * factor, relative * factor, (int) Math.round(otherSamples));
  }

  /** Returns how many samples per pixel bring the relative noise down to a value, at least 1. */
  public double samplesFor(double wanted) {
    return Math.max(1, samples * Math.pow(relative / wanted, 2));
  }
}
