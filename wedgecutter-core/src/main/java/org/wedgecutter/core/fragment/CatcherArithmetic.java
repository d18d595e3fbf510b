package org.wedgecutter.core.fragment;

import static org.wedgecutter.core.pass.LightPass.DIFFUSE_BOUNCED;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_BY_CASTERS;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_ENVIRONMENT;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_LIGHTS;
import static org.wedgecutter.core.pass.LightPass.SPECULAR_DIRECT;
import static org.wedgecutter.core.pass.LightPass.SPECULAR_INDIRECT;

import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.LightPass;

/**
 * A catcher's ratio and catch pictures, as arithmetic on the light of its surfaces with the casters
 * and without them.
 *
 * <p>Per pixel, all of the surfaces' fragments are added first and the quotient taken then; 0/0 is
 * 1. With D the diffuse light straight from lights, I the diffuse light from the environment and by
 * way of anything but casters, B that by way of casters, F the specular light, and a prime for
 * "without":
 *
 * <ul>
 *   <li>ratio: (D + I + B) / (D' + I'), alpha 0, and 1 where the surface is not;
 *   <li>catch: alpha a = coverage * (1 - luma(D + I) / luma(D' + I')), clamped to 0..1; colour B +
 *       max(0, F - (1 - a) F'), so that over the surface's own picture without the casters it gives
 *       the picture with them wherever the darkening is grey.
 * </ul>
 */
final class CatcherArithmetic {
  private final int width;
  private final int height;
  private final float[] with;
  private final float[] without;
  private final Picture surface;

  /** Light lost by clamping in the catch picture, mean over pixels. */
  private double lost;

  /**
   * @param with light of the surfaces with casters, split by {@link LightPass}
   * @param without the same without casters
   * @param surface their picture, for its alpha
   */
  CatcherArithmetic(float[] with, float[] without, Picture surface) {
    this.width = surface.width();
    this.height = surface.height();
    this.with = with;
    this.without = without;
    this.surface = surface;
  }

  double lost() {
    return lost;
  }

  Picture ratio() {
    Picture out = Picture.empty(width, height);
    for (int p = 0; p < width * height; p++) {
      for (int c = 0; c < 3; c++) {
        float a =
            at(with, p, c, DIFFUSE_LIGHTS)
                + at(with, p, c, DIFFUSE_ENVIRONMENT)
                + at(with, p, c, DIFFUSE_BOUNCED)
                + at(with, p, c, DIFFUSE_BY_CASTERS);
        float b =
            at(without, p, c, DIFFUSE_LIGHTS)
                + at(without, p, c, DIFFUSE_ENVIRONMENT)
                + at(without, p, c, DIFFUSE_BOUNCED)
                + at(without, p, c, DIFFUSE_BY_CASTERS);
        out.rgba()[4 * p + c] = quotient(a, b);
      }
    }
    return out;
  }

  /** 0/0 is 1; light where there was none cannot be a ratio and is left out. */
  private static float quotient(float a, float b) {
    return b > 0 ? a / b : 1;
  }

  Picture caught() {
    Picture out = Picture.empty(width, height);
    lost = 0;
    for (int p = 0; p < width * height; p++) {
      float kept = Math.max(0, Math.min(1, quotient(grey(with, p), grey(without, p))));
      float alpha = surface.rgba()[4 * p + 3] * (1 - kept);
      out.rgba()[4 * p + 3] = alpha;
      for (int c = 0; c < 3; c++) {
        float specular = specular(with, p, c) - (1 - alpha) * specular(without, p, c);
        out.rgba()[4 * p + c] = at(with, p, c, DIFFUSE_BY_CASTERS) + Math.max(0, specular);
        lost += Math.max(0, -specular) / (3.0 * width * height);
      }
    }
    return out;
  }

  private static float grey(float[] light, int p) {
    float[] rgb = new float[3];
    for (int c = 0; c < 3; c++) {
      rgb[c] =
          at(light, p, c, DIFFUSE_LIGHTS)
              + at(light, p, c, DIFFUSE_ENVIRONMENT)
              + at(light, p, c, DIFFUSE_BOUNCED);
    }
    return Picture.luma(rgb[0], rgb[1], rgb[2]);
  }

  private static float specular(float[] light, int p, int c) {
    return at(light, p, c, SPECULAR_DIRECT) + at(light, p, c, SPECULAR_INDIRECT);
  }

  private static float at(float[] light, int p, int c, LightPass pass) {
    return light[LightPass.NUMBERS * p + pass.at() + c];
  }
}
