package org.wedgecutter.core.render;

import org.wedgecutter.core.image.Picture;

/**
 * The estimated error of a picture, or of a part of one, summed up so that parts add up.
 *
 * <p>With {@code h} the mean of the first {@code k} samples and {@code p} that of all {@code n},
 * {@code p - h} has the variance {@code v/k - v/n}, where {@code v} is that of one sample; the
 * error of {@code p}, {@code v/n}, is that of the difference times {@code k/(n - k)}.
 *
 * @param squares sum of the squares of the error over pixels and colours, scene-linear light
 * @param numbers how many numbers they are; 0 where the error is not known
 */
public record PictureNoise(double squares, long numbers) {
  /** Not known. */
  public static final PictureNoise UNKNOWN = new PictureNoise(0, 0);

  /**
   * Estimates the error of a picture.
   *
   * @param half the picture of the first samples
   * @param whole the picture of all
   * @param first how many the first were
   * @param all how many all were
   */
  public static PictureNoise of(Picture half, Picture whole, int first, int all) {
    if (first < 1 || first >= all) {
      return UNKNOWN;
    }
    double sum = 0;
    for (int i = 0; i < whole.rgba().length; i++) {
      if ((i & 3) != 3) {
        double d = (double) whole.rgba()[i] - half.rgba()[i];
        sum += d * d;
      }
    }
    return new PictureNoise(sum * first / (all - first), 3L * whole.rgba().length / 4);
  }

  /** Returns that of two parts; not known if one of them is not. */
  public PictureNoise plus(PictureNoise other) {
    return numbers == 0 || other.numbers == 0
        ? UNKNOWN
        : new PictureNoise(squares + other.squares, numbers + other.numbers);
  }

  /** Returns the root mean square error; NaN where it is not known. */
  public double rms() {
    return numbers == 0 ? Double.NaN : Math.sqrt(squares / numbers);
  }
}
