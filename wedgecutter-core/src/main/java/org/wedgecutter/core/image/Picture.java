package org.wedgecutter.core.image;

/**
 * A picture in scene-linear light, premultiplied.
 *
 * @param width pixels in a line, at least 1
 * @param height lines, at least 1
 * @param rgba red, green, blue, alpha of each pixel, line by line from the top: {@code 4 * width *
 *     height} numbers; not copied
 */
public record Picture(int width, int height, float[] rgba) {
  public Picture {
    if (width < 1 || height < 1 || rgba.length != 4 * width * height) {
      throw new IllegalArgumentException(
          "%d x %d pixels with %d numbers".formatted(width, height, rgba.length));
    }
  }

  /** Returns a picture of zeros. */
  public static Picture empty(int width, int height) {
    return new Picture(width, height, new float[4 * width * height]);
  }

  /** Returns a copy with its own numbers. */
  public Picture copy() {
    return new Picture(width, height, rgba.clone());
  }

  /** Returns a part of it. */
  public Picture cropped(Region r) {
    if (r.width() == width && r.height() == height) {
      return this;
    }
    Picture out = empty(r.width(), r.height());
    for (int y = 0; y < r.height(); y++) {
      System.arraycopy(
          rgba, 4 * ((r.y() + y) * width + r.x()), out.rgba, 4 * y * r.width(), 4 * r.width());
    }
    return out;
  }

  /**
   * Whether it takes light away, as a difference that darkens does: more than a thousandth of its
   * light, by amount, is negative. Filters leave a little of it beside bright edges.
   */
  public boolean takesLight() {
    double negative = 0;
    double all = 0;
    for (int i = 0; i < rgba.length; i++) {
      if ((i & 3) < 3 && !Float.isNaN(rgba[i])) {
        negative -= Math.min(0, rgba[i]);
        all += Math.abs(rgba[i]);
      }
    }
    return negative > all * 1e-3;
  }

  /** Whether another picture has the same number of lines and pixels. */
  public boolean sameSize(Picture other) {
    return width == other.width && height == other.height;
  }

  /**
   * Returns it at another size: every new pixel is the mean of what it covers. The same size is the
   * same picture.
   */
  public Picture resized(int toWidth, int toHeight) {
    if (toWidth == width && toHeight == height) {
      return this;
    }
    float[] lines = resample(rgba, width, height, toWidth, 4, 4 * width);
    float[] out = new float[4 * toWidth * toHeight];
    for (int x = 0; x < toWidth; x++) {
      float[] column = new float[4 * height];
      for (int y = 0; y < height; y++) {
        System.arraycopy(lines, 4 * (y * toWidth + x), column, 4 * y, 4);
      }
      float[] made = resample(column, height, 1, toHeight, 4, 4 * height);
      for (int y = 0; y < toHeight; y++) {
        System.arraycopy(made, 4 * y, out, 4 * (y * toWidth + x), 4);
      }
    }
    return new Picture(toWidth, toHeight, out);
  }

  /** Returns it at another size: every new pixel is the one that its middle lies in. */
  public Picture nearest(int toWidth, int toHeight) {
    if (toWidth == width && toHeight == height) {
      return this;
    }
    Picture out = empty(toWidth, toHeight);
    for (int y = 0; y < toHeight; y++) {
      int line = (int) ((y + 0.5) * height / toHeight) * width;
      for (int x = 0; x < toWidth; x++) {
        int from = 4 * (line + (int) ((x + 0.5) * width / toWidth));
        System.arraycopy(rgba, from, out.rgba, 4 * (y * toWidth + x), 4);
      }
    }
    return out;
  }

  /** Resamples lines of {@code from} pixels to {@code to} pixels by the share that they cover. */
  private static float[] resample(
      float[] in, int from, int lines, int to, int numbers, int stride) {
    float[] out = new float[numbers * to * lines];
    double ratio = (double) from / to;
    for (int l = 0; l < lines; l++) {
      for (int x = 0; x < to; x++) {
        double begin = x * ratio;
        double end = begin + ratio;
        for (int k = (int) begin; k < Math.min(from, Math.ceil(end)); k++) {
          float share = (float) ((Math.min(end, k + 1) - Math.max(begin, k)) / ratio);
          for (int c = 0; c < numbers; c++) {
            out[numbers * (l * to + x) + c] += share * in[l * stride + numbers * k + c];
          }
        }
      }
    }
    return out;
  }

  /** Relative luminance of linear BT.709 light. */
  public static float luma(float r, float g, float b) {
    return 0.2126f * r + 0.7152f * g + 0.0722f * b;
  }
}
