package org.wedgecutter.core.fragment;

import static org.wedgecutter.core.pass.LightPass.DIFFUSE_BOUNCED;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_ENVIRONMENT;
import static org.wedgecutter.core.pass.LightPass.DIFFUSE_LIGHTS;
import static org.wedgecutter.core.pass.LightPass.EMISSION;
import static org.wedgecutter.core.pass.LightPass.MEDIUM;
import static org.wedgecutter.core.pass.LightPass.SPECULAR_DIRECT;
import static org.wedgecutter.core.pass.LightPass.SPECULAR_INDIRECT;
import static org.wedgecutter.core.pass.LightPass.TRANSMISSION_DIRECT;
import static org.wedgecutter.core.pass.LightPass.TRANSMISSION_INDIRECT;

import java.util.ArrayList;
import java.util.List;
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
 * bounced, B the diffuse light that casters emit or that came via them (left out of D and I, so
 * that these can only get less by casters), F all other light, and a prime for "without" (B' is 0
 * unless a part is left out):
 *
 * <ul>
 *   <li>shadow S = D / D', occlusion O = I / I', both clamped to 0..1;
 *   <li>tuned: S = 1 - opacity (1 - tint) (1 - S), O likewise; where only some lights' shadows are
 *       caught, D is that of those with casters and of the others without; F weighs F' + reflection
 *       (F - F'); outside of the reach everything is as without;
 *   <li>difference: D' S + I' O + B - D' - I' - B', and F - F'; as it is, this is with minus
 *       without;
 *   <li>ratio: (D' S + I' O + B) / (D' + I' + B'), alpha 0, and 1 where the surface is not;
 *   <li>catch: alpha a = coverage * (1 - luma(D' S + I' O + B') / luma(D' + I' + B')), clamped to
 *       0..1; colour B - B' + max(0, F - (1 - a) F'), so that over the surface's own picture
 *       without the casters it gives the picture with them wherever the darkening is grey;
 *   <li>catch for backgrounds: that of {@link BackgroundFit}, for r = 1 - coverage * (1 - (D' S +
 *       I' O + B' + min(F, F')) / (D' + I' + B' + F')) of each colour and s = B - B' + max(0, F -
 *       F'): what casters take away is a share of what is there, what they bring is added.
 * </ul>
 *
 * <p>What a picture cannot hold is counted: light where a ratio has none to scale, ratios beyond
 * their bounds, reflections that casters take away.
 */
final class CatcherArithmetic {
  private static final LightPass[] OTHERS = {
    SPECULAR_DIRECT, SPECULAR_INDIRECT, TRANSMISSION_DIRECT, TRANSMISSION_INDIRECT, EMISSION, MEDIUM
  };

  /** Changes below this are of the last bits. */
  private static final double SOMETHING = 1e-6;

  private final int pixels;
  private final float[] with;
  private final float[] without;
  private final LightSplit withSplit;
  private final LightSplit withoutSplit;
  private final Picture surface;
  private final CatcherTuning tuning;
  private final float @Nullable [] reach;
  private final int @Nullable [] caught;

  /** Light that the last picture could not hold, mean over pixels and channels. */
  private double lost;

  // of the pixel and colour at hand
  private float direct;
  private float indirect;
  private float bounce;
  private float other;
  private float cleanDirect;
  private float cleanIndirect;
  private float cleanBounce;
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
    this.withSplit = withSplit;
    this.withoutSplit = withoutSplit;
    this.surface = surface;
    this.tuning = tuning;
    this.reach = reach;
    this.caught = caught;
  }

  double lost() {
    return lost;
  }

  private void read(int p, int c) {
    float emitted = byCasters(without, withoutSplit, p, c, withoutSplit.emittedByCastersAt());
    float bounced = byCasters(without, withoutSplit, p, c, withoutSplit.bouncedByCastersAt());
    cleanDirect = at(without, withoutSplit, p, c, DIFFUSE_LIGHTS) - emitted;
    cleanIndirect =
        at(without, withoutSplit, p, c, DIFFUSE_ENVIRONMENT)
            + at(without, withoutSplit, p, c, DIFFUSE_BOUNCED)
            - bounced;
    cleanBounce = emitted + bounced;
    cleanOther = others(without, withoutSplit, p, c);
    emitted = byCasters(with, withSplit, p, c, withSplit.emittedByCastersAt());
    bounced = byCasters(with, withSplit, p, c, withSplit.bouncedByCastersAt());
    float w = reach == null ? 1 : reach[p];
    float dark = (float) (w * tuning.opacity() * (1 - tint(c)));
    float d = at(with, withSplit, p, c, DIFFUSE_LIGHTS) - emitted;
    if (caught != null) {
      // other lights' shadows are left to others
      d = cleanDirect;
      for (int place : caught) {
        d +=
            with[withSplit.numbers() * p + place + c]
                - without[withoutSplit.numbers() * p + place + c];
      }
    }
    float i =
        at(with, withSplit, p, c, DIFFUSE_ENVIRONMENT)
            + at(with, withSplit, p, c, DIFFUSE_BOUNCED)
            - bounced;
    direct = cleanDirect + dark * (d - cleanDirect);
    indirect = cleanIndirect + dark * (i - cleanIndirect);
    bounce = cleanBounce + w * (emitted + bounced - cleanBounce);
    float f = others(with, withSplit, p, c);
    other = cleanOther + (float) (w * tuning.reflection()) * (f - cleanOther);
  }

  private static float byCasters(float[] light, LightSplit split, int p, int c, int place) {
    return split.casters() ? light[split.numbers() * p + place + c] : 0;
  }

  private double tint(int c) {
    Value.Colour t = tuning.tint();
    return c == 0 ? t.r() : c == 1 ? t.g() : t.b();
  }

  Picture picture(CatcherOutput output) {
    lost = 0;
    return output == CatcherOutput.CATCH && !tuning.backgrounds().isEmpty()
        ? fitted(new BackgroundFit(levels(tuning.backgrounds())))
        : plain(output);
  }

  private static double[] levels(List<Double> backgrounds) {
    return backgrounds.stream().mapToDouble(Double::doubleValue).toArray();
  }

  // ---- over backgrounds

  /** What the pixel's surface keeps of a background, and what it adds to it, for each colour. */
  private void surfaceOver(int p, double[] kept, double[] added) {
    float cover = surface.rgba()[4 * p + 3];
    for (int c = 0; c < 3; c++) {
      read(p, c);
      float left = direct + indirect + cleanBounce + Math.min(other, cleanOther);
      float clean = cleanDirect + cleanIndirect + cleanBounce + cleanOther;
      kept[c] = 1 - cover * (1 - clamped(quotient(left, clean)));
      added[c] = bounce - cleanBounce + Math.max(0, other - cleanOther);
    }
  }

  private Picture fitted(BackgroundFit fit) {
    Picture out = Picture.empty(surface.width(), surface.height());
    double[] kept = new double[3];
    double[] added = new double[3];
    float[] pixel = new float[4];
    for (int p = 0; p < pixels; p++) {
      surfaceOver(p, kept, added);
      fit.solve(kept, added, pixel);
      System.arraycopy(pixel, 0, out.rgba(), 4 * p, 4);
    }
    return out;
  }

  /**
   * Measures a catch against what the surface gives, over the plan's backgrounds or likely ones.
   */
  CatchFit fit() {
    float[] made = picture(CatcherOutput.CATCH).rgba();
    double[] levels =
        levels(tuning.backgrounds().isEmpty() ? CatcherTuning.LIKELY : tuning.backgrounds());
    double[] sums = new double[levels.length];
    double[] most = new double[levels.length];
    double[] kept = new double[3];
    double[] added = new double[3];
    double light = 0;
    double above = 0;
    long caughtIn = 0;
    for (int p = 0; p < pixels; p++) {
      surfaceOver(p, kept, added);
      boolean isCaught = false;
      for (int c = 0; c < 3; c++) {
        isCaught |= Math.abs(1 - kept[c]) + Math.abs(added[c]) > SOMETHING;
      }
      if (!isCaught) {
        continue;
      }
      caughtIn++;
      float alpha = made[4 * p + 3];
      for (int c = 0; c < 3; c++) {
        float colour = made[4 * p + c];
        light += colour;
        above += Math.max(0, colour - alpha);
        for (int k = 0; k < levels.length; k++) {
          double off =
              Math.abs(colour + (1 - alpha) * levels[k] - (kept[c] * levels[k] + added[c]));
          sums[k] += off;
          most[k] = Math.max(most[k], off);
        }
      }
    }
    List<CatchFit.Over> over = new ArrayList<>();
    for (int k = 0; k < levels.length; k++) {
      over.add(new CatchFit.Over(levels[k], caughtIn == 0 ? 0 : sums[k] / (3 * caughtIn), most[k]));
    }
    return new CatchFit(over, light > 0 ? above / light : 0, light, caughtIn);
  }

  // ---- forms

  private Picture plain(CatcherOutput output) {
    Picture out = Picture.empty(surface.width(), surface.height());
    for (int p = 0; p < pixels; p++) {
      float alpha = output == CatcherOutput.CATCH ? darkening(p) : 0;
      out.rgba()[4 * p + 3] = alpha;
      for (int c = 0; c < 3; c++) {
        read(p, c);
        out.rgba()[4 * p + c] =
            switch (output) {
              case DIFFERENCE ->
                  direct
                      - cleanDirect
                      + (indirect - cleanIndirect)
                      + (bounce - cleanBounce)
                      + (other - cleanOther);
              case RATIO ->
                  ratio(direct + indirect + bounce, cleanDirect + cleanIndirect + cleanBounce);
              case SHADOW -> share(direct, cleanDirect);
              case OCCLUSION -> share(indirect, cleanIndirect);
              case BOUNCE -> bounce - cleanBounce;
              case REFLECTION -> other - cleanOther;
              case CATCH -> caught(alpha);
            };
      }
    }
    return out;
  }

  /** Counts light that a picture cannot hold. */
  private void lose(float light) {
    lost += Math.max(0, light) / (3.0 * pixels);
  }

  private float ratio(float a, float b) {
    if (!(b > 0)) {
      lose(a);
    }
    return quotient(a, b);
  }

  private float share(float a, float b) {
    lose(a - b);
    lose(-a);
    return clamped(quotient(a, b));
  }

  private float caught(float alpha) {
    float light = other - (1 - alpha) * cleanOther;
    lose(-light);
    return bounce - cleanBounce + Math.max(0, light);
  }

  private float darkening(int p) {
    float grey = 0;
    float clean = 0;
    for (int c = 0; c < 3; c++) {
      read(p, c);
      float weight = c == 0 ? 0.2126f : c == 1 ? 0.7152f : 0.0722f;
      grey += weight * (direct + indirect + cleanBounce);
      clean += weight * (cleanDirect + cleanIndirect + cleanBounce);
    }
    lose(3 * (grey - clean));
    return surface.rgba()[4 * p + 3] * (1 - clamped(quotient(grey, clean)));
  }

  /** 0/0 is 1; light where there was none cannot be a ratio and is left out. */
  private static float quotient(float a, float b) {
    return b > 0 ? a / b : 1;
  }

  private static float clamped(float x) {
    return Math.max(0, Math.min(1, x));
  }

  private static float others(float[] light, LightSplit split, int p, int c) {
    float sum = 0;
    for (LightPass pass : OTHERS) {
      sum += at(light, split, p, c, pass);
    }
    return sum;
  }

  private static float at(float[] light, LightSplit split, int p, int c, LightPass pass) {
    return light[split.numbers() * p + pass.at() + c];
  }
}
