package org.wedgecutter.core.fragment;

import static org.wedgecutter.core.pass.LightPass.DIFFUSE_BOUNCED;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_BY_CASTERS;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_ENVIRONMENT;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_LIGHTS;
import static org.wedgecutter.core.pass.LightPass.EMISSION;
import static org.wedgecutter.core.pass.LightPass.MEDIUM;
import static org.wedgecutter.core.pass.LightPass.SPECULAR_DIRECT;
import static org.wedgecutter.core.pass.LightPass.SPECULAR_INDIRECT;
import static org.wedgecutter.core.pass.LightPass.TRANSMISSION_DIRECT;
import static org.wedgecutter.core.pass.LightPass.TRANSMISSION_INDIRECT;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.trace.LightSplit;

/**
 * Computes a catcher's pictures from the light of its surfaces with the casters and without them.
 *
 * <p>Per pixel, all of the surfaces' fragments are added first and the quotient taken then; 0/0 is
 * 1. With D the diffuse light straight from lights, I the diffuse light from the environment and
 * via anything but casters, B that via casters, F all other light, and a prime for "without":
 *
 * <ul>
 *   <li>shadow S = D / D', occlusion O = I / I', both clamped to 0..1;
 *   <li>tuned: S = 1 - opacity (1 - tint) (1 - S), O likewise; where only some lights' shadows are
 *       caught, D is that of those with casters and of the others without; F weighs F' + reflection
 *       (F - F'); outside of the reach everything is as without;
 *   <li>difference: D' S + I' O + B - D' - I', and F - F'; as it is, this is with minus without;
 *   <li>ratio: (D' S + I' O + B) / (D' + I'), alpha 0, and 1 where the surface is not;
 *   <li>catch: alpha a = coverage * (1 - luma(D' S + I' O) / luma(D' + I')), clamped to 0..1;
 *       colour B + max(0, F - (1 - a) F'), so that over the surface's own picture without the
 *       casters it gives the picture with them wherever the darkening is grey.
 * </ul>
 */
final class CatcherArithmetic {
  private static final LightPass[] OTHERS = {
    SPECULAR_DIRECT, SPECULAR_INDIRECT, TRANSMISSION_DIRECT, TRANSMISSION_INDIRECT, EMISSION, MEDIUM
  };

  private final int pixels;
  private final float[] with;
  private final float[] without;
  private final int numbers;
  private final int withoutNumbers;
  private final Picture surface;
  private final CatcherTuning tuning;
  private final float @Nullable [] reach;
  private final int @Nullable [] caught;

  /** Light lost by clamping in the catch picture, mean over pixels. */
  private double lost;

  // of the pixel and colour at hand
  private float direct;
  private float indirect;
  private float bounce;
  private float other;
  private float cleanDirect;
  private float cleanIndirect;
  private float cleanOther;

  /**
   * @param with light of the surfaces with casters
   * @param withSplit its layout
   * @param without the same without casters
   * @param withoutSplit its layout
   * @param surface their picture, for its alpha
   * @param reach how much is caught at each pixel, 0 to 1; null means all everywhere
   * @param caught places in the layouts of diffuse light straight from the emitters whose shadows
   *     are caught; null means from all lights
   */
  CatcherArithmetic(
      float[] with,
      LightSplit withSplit,
      float[] without,
      LightSplit withoutSplit,
      Picture surface,
      CatcherTuning tuning,
      float @Nullable [] reach,
      int @Nullable [] caught) {
    this.pixels = surface.width() * surface.height();
    this.with = with;
    this.without = without;
    numbers = withSplit.numbers();
    withoutNumbers = withoutSplit.numbers();
    this.surface = surface;
    this.tuning = tuning;
    this.reach = reach;
    this.caught = caught;
  }

  double lost() {
    return lost;
  }

  private void read(int p, int c) {
    cleanDirect = at(without, withoutNumbers, p, c, DIFFUSE_LIGHTS);
    cleanIndirect =
        at(without, withoutNumbers, p, c, DIFFUSE_ENVIRONMENT)
            + at(without, withoutNumbers, p, c, DIFFUSE_BOUNCED)
            + at(without, withoutNumbers, p, c, DIFFUSE_BY_CASTERS);
    cleanOther = others(without, withoutNumbers, p, c);
    float w = reach == null ? 1 : reach[p];
    float dark = (float) (w * tuning.opacity() * (1 - tint(c)));
    float d = at(with, numbers, p, c, DIFFUSE_LIGHTS);
    if (caught != null) {
      // other lights' shadows are left to others
      d = cleanDirect;
      for (int place : caught) {
        d += with[numbers * p + place + c] - without[withoutNumbers * p + place + c];
      }
    }
    float i =
        at(with, numbers, p, c, DIFFUSE_ENVIRONMENT) + at(with, numbers, p, c, DIFFUSE_BOUNCED);
    direct = cleanDirect + dark * (d - cleanDirect);
    indirect = cleanIndirect + dark * (i - cleanIndirect);
    bounce = w * at(with, numbers, p, c, DIFFUSE_BY_CASTERS);
    float f = others(with, numbers, p, c);
    other = cleanOther + (float) (w * tuning.reflection()) * (f - cleanOther);
  }

  private double tint(int c) {
    Value.Colour t = tuning.tint();
    return c == 0 ? t.r() : c == 1 ? t.g() : t.b();
  }

  Picture picture(CatcherOutput output) {
    Picture out = Picture.empty(surface.width(), surface.height());
    lost = 0;
    for (int p = 0; p < pixels; p++) {
      float alpha = output == CatcherOutput.CATCH ? darkening(p) : 0;
      out.rgba()[4 * p + 3] = alpha;
      for (int c = 0; c < 3; c++) {
        read(p, c);
        out.rgba()[4 * p + c] =
            switch (output) {
              case DIFFERENCE ->
                  direct - cleanDirect + (indirect - cleanIndirect) + bounce + (other - cleanOther);
              case RATIO -> quotient(direct + indirect + bounce, cleanDirect + cleanIndirect);
              case SHADOW -> clamped(quotient(direct, cleanDirect));
              case OCCLUSION -> clamped(quotient(indirect, cleanIndirect));
              case BOUNCE -> bounce;
              case REFLECTION -> other - cleanOther;
              case CATCH -> caught(alpha);
            };
      }
    }
    return out;
  }

  private float caught(float alpha) {
    float light = other - (1 - alpha) * cleanOther;
    lost += Math.max(0, -light) / (3.0 * pixels);
    return bounce + Math.max(0, light);
  }

  private float darkening(int p) {
    float grey = 0;
    float clean = 0;
    for (int c = 0; c < 3; c++) {
      read(p, c);
      float weight = c == 0 ? 0.2126f : c == 1 ? 0.7152f : 0.0722f;
      grey += weight * (direct + indirect);
      clean += weight * (cleanDirect + cleanIndirect);
    }
    return surface.rgba()[4 * p + 3] * (1 - clamped(quotient(grey, clean)));
  }

  /** 0/0 is 1; light where there was none cannot be a ratio and is left out. */
  private static float quotient(float a, float b) {
    return b > 0 ? a / b : 1;
  }

  private static float clamped(float x) {
    return Math.max(0, Math.min(1, x));
  }

  private static float others(float[] light, int numbers, int p, int c) {
    float sum = 0;
    for (LightPass pass : OTHERS) {
      sum += at(light, numbers, p, c, pass);
    }
    return sum;
  }

  private static float at(float[] light, int numbers, int p, int c, LightPass pass) {
    return light[numbers * p + pass.at() + c];
  }
}
