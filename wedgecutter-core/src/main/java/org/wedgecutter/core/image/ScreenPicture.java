package org.wedgecutter.core.image;

/**
 * A display-referred picture: sRGB (IEC 61966-2-1), clipped at 1, straight alpha.
 *
 * @param rgba red, green, blue and alpha of each pixel, line by line from the top, each from 0 to 1
 */
public record ScreenPicture(int width, int height, float[] rgba) {
  /** Below this, alpha is 0 in sixteen bits. */
  private static final float NO_ALPHA = 0.5f / 65535;

  public ScreenPicture {
    if (rgba.length != 4 * width * height) {
      throw new IllegalArgumentException(
          "%d numbers for %d x %d pixels".formatted(rgba.length, width, height));
    }
  }

  /**
   * Converts scene-linear, premultiplied light. Where alpha is 0, as in a reflection to be added,
   * alpha becomes the brightest display value: added to what is behind, or over black, the light is
   * what it was. Negative light becomes black.
   */
  public static ScreenPicture of(Picture picture) {
    float[] light = picture.rgba();
    float[] out = new float[light.length];
    for (int p = 0; p < light.length; p += 4) {
      float alpha = Math.clamp(light[p + 3], 0, 1);
      boolean bare = !(alpha > NO_ALPHA);
      if (bare) {
        float brightest = Math.max(light[p], Math.max(light[p + 1], light[p + 2]));
        alpha = (float) code(brightest);
      }
      for (int c = p; c < p + 3 && alpha > 0; c++) {
        out[c] =
            bare
                ? Math.min(1, (float) code(light[c]) / alpha)
                : (float) code((double) light[c] / alpha);
      }
      out[p + 3] = alpha;
    }
    return new ScreenPicture(picture.width(), picture.height(), out);
  }

  /** Whether a picture has light, of either sign, where it has no alpha. */
  public static boolean hasBareLight(Picture picture) {
    float[] light = picture.rgba();
    for (int p = 0; p < light.length; p += 4) {
      if (isBare(light[p + 3])
          && Math.max(Math.abs(light[p]), Math.max(Math.abs(light[p + 1]), Math.abs(light[p + 2])))
              > NO_ALPHA) {
        return true;
      }
    }
    return false;
  }

  /** Whether an alpha is 0 in a file of sixteen bits. */
  public static boolean isBare(float alpha) {
    return !(alpha > NO_ALPHA);
  }

  /** Returns sRGB's number for light, from 0 to 1; what is no number is black. */
  static double code(double light) {
    double v = light <= 0.0031308 ? 12.92 * light : 1.055 * Math.pow(light, 1 / 2.4) - 0.055;
    return v > 0 ? Math.min(1, v) : 0;
  }
}
