package org.wedgecutter.core.rejoin;

import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Correction;

/**
 * Effects, whose pixels depend on their neighbours, on premultiplied light and alpha.
 *
 * <p>Blurs weigh what is inside the picture only, so that its edges do not darken. A defocus
 * spreads each pixel over the aperture's picture of the size that its depth asks for, {@code r = R
 * |1 - f/z|} (thin lens; R for what is infinitely far, f in focus); what is behind spreads over a
 * sharp front no further than that front is blurred itself. What is hidden in a layer is not there
 * to spread, so edges can differ from a render with a lens: the less, the more of the shot is in
 * layers of their own.
 */
final class Effects {
  /** A Gaussian is cut off here, in standard deviations. */
  private static final double REACH = 3.5;

  /** Steps for each pixel of radius in the table of aperture sizes. */
  private static final int STEPS = 8;

  private final Correction.Type type;
  private final List<Double> values;
  private final double pixels;
  private final float @Nullable [] metres;

  /**
   * @param pixels pixels of the picture to one of the shot
   * @param metres the depth of each pixel, where the effect asks for that
   */
  Effects(Correction correction, double pixels, float @Nullable [] metres) {
    type = correction.type();
    values = correction.values();
    this.pixels = pixels;
    this.metres = metres;
  }

  /** Returns a picture with the effect. */
  Picture of(Picture in) {
    return switch (type) {
      case BLUR -> blurred(in, values.get(0) * pixels);
      case GLOW -> glowing(in);
      case DISTORTION -> distorted(in);
      case DEFOCUS -> defocused(in, in);
      default -> throw new IllegalArgumentException("not an effect: " + type.word());
    };
  }

  /** Returns the scale of the error of a picture with the effect. */
  Picture scale(Picture in, Picture scale) {
    return switch (type) {
      case BLUR, DISTORTION -> of(scale);
      case DEFOCUS -> defocused(in, scale);
      case GLOW -> {
        Picture out = blurred(scale, values.get(1) * pixels);
        for (int i = 0; i < out.rgba().length; i++) {
          boolean alpha = (i & 3) == 3;
          float spread = alpha ? 0 : (float) (values.get(2) * out.rgba()[i]);
          out.rgba()[i] = scale.rgba()[i] + spread;
        }
        yield out;
      }
      default -> throw new IllegalArgumentException("not an effect: " + type.word());
    };
  }

  // ---- blur and glow

  private static Picture blurred(Picture in, double sigma) {
    if (sigma < 1e-3) {
      return in;
    }
    int half = (int) Math.ceil(REACH * sigma);
    float[] weights = new float[half + 1];
    for (int k = 0; k <= half; k++) {
      weights[k] = (float) Math.exp(-0.5 * k * k / (sigma * sigma));
    }
    Picture lines = Picture.empty(in.width(), in.height());
    IntStream.range(0, in.height())
        .parallel()
        .forEach(y -> {
          for (int x = 0; x < in.width(); x++) {
            sum(in, lines, y * in.width() + x, 1, x, in.width(), weights);
          }
        });
    Picture out = Picture.empty(in.width(), in.height());
    IntStream.range(0, in.height())
        .parallel()
        .forEach(y -> {
          for (int x = 0; x < in.width(); x++) {
            sum(lines, out, y * in.width() + x, in.width(), y, in.height(), weights);
          }
        });
    return out;
  }

  /** The weighted mean along a line, or a column, of what is inside the picture. */
  private static void sum(
      Picture in, Picture out, int pixel, int step, int place, int places, float[] weights) {
    float r = 0;
    float g = 0;
    float b = 0;
    float a = 0;
    float all = 0;
    int from = Math.max(-place, 1 - weights.length);
    int to = Math.min(places - 1 - place, weights.length - 1);
    float[] c = in.rgba();
    for (int k = from; k <= to; k++) {
      float w = weights[Math.abs(k)];
      int i = 4 * (pixel + k * step);
      r += w * c[i];
      g += w * c[i + 1];
      b += w * c[i + 2];
      a += w * c[i + 3];
      all += w;
    }
    int i = 4 * pixel;
    out.rgba()[i] = Grade.bounded(r / all);
    out.rgba()[i + 1] = Grade.bounded(g / all);
    out.rgba()[i + 2] = Grade.bounded(b / all);
    out.rgba()[i + 3] = a / all;
  }

  /** Adds what is brighter than the threshold, spread: light without alpha. */
  private Picture glowing(Picture in) {
    float threshold = values.get(0).floatValue();
    float gain = values.get(2).floatValue();
    Picture bright = Picture.empty(in.width(), in.height());
    for (int i = 0; i < in.rgba().length; i++) {
      bright.rgba()[i] = (i & 3) == 3 ? 0 : Math.max(0, in.rgba()[i] - threshold);
    }
    Picture out = blurred(bright, values.get(1) * pixels);
    Picture sum = in.copy();
    for (int i = 0; i < sum.rgba().length; i++) {
      sum.rgba()[i] = Grade.bounded(sum.rgba()[i] + gain * out.rgba()[i]);
    }
    return sum;
  }

  // ---- distortion

  private Picture distorted(Picture in) {
    double k1 = values.get(0);
    double k2 = values.get(1);
    int width = in.width();
    int height = in.height();
    double unit = Math.hypot(width, height) / 2;
    Picture out = Picture.empty(width, height);
    IntStream.range(0, height)
        .parallel()
        .forEach(y -> {
          for (int x = 0; x < width; x++) {
            double dx = (x + 0.5 - width / 2.0) / unit;
            double dy = (y + 0.5 - height / 2.0) / unit;
            double r2 = dx * dx + dy * dy;
            double f = unit * (1 + k1 * r2 + k2 * r2 * r2);
            sample(
                in,
                width / 2.0 + dx * f - 0.5,
                height / 2.0 + dy * f - 0.5,
                out.rgba(),
                4 * (y * width + x));
          }
        });
    return out;
  }

  /** The picture between four pixels; nothing is outside of it. */
  private static void sample(Picture in, double x, double y, float[] out, int at) {
    int x0 = (int) Math.floor(x);
    int y0 = (int) Math.floor(y);
    for (int k = 0; k < 4; k++) {
      int px = x0 + (k & 1);
      int py = y0 + (k >> 1);
      if (px < 0 || py < 0 || px >= in.width() || py >= in.height()) {
        continue;
      }
      double wx = (k & 1) == 0 ? x0 + 1 - x : x - x0;
      double wy = k >> 1 == 0 ? y0 + 1 - y : y - y0;
      float w = (float) (wx * wy);
      for (int c = 0; c < 4; c++) {
        out[at + c] += w * in.rgba()[4 * (py * in.width() + px) + c];
      }
    }
  }

  // ---- defocus

  /**
   * @param in tells what is empty
   * @param light what is spread
   */
  private Picture defocused(Picture in, Picture light) {
    int width = in.width();
    int height = in.height();
    float[] radii = radii(in);
    int blades = (int) Math.round(values.get(2));
    double most = 0;
    for (float r : radii) {
      most = Math.max(most, r);
    }
    int half = (int) Math.ceil(most + 0.5);
    Aperture aperture = new Aperture(blades, half);
    float[] z = metres == null ? new float[0] : metres;
    Picture out = Picture.empty(width, height);
    IntStream.range(0, height)
        .parallel()
        .forEach(y -> {
          for (int x = 0; x < width; x++) {
            int t = y * width + x;
            float r = 0;
            float g = 0;
            float b = 0;
            float a = 0;
            float all = 0;
            for (int py = Math.max(0, y - half); py <= Math.min(height - 1, y + half); py++) {
              for (int px = Math.max(0, x - half); px <= Math.min(width - 1, x + half); px++) {
                int j = py * width + px;
                float reach = z[j] > z[t] ? Math.min(radii[j], radii[t]) : radii[j];
                float w = aperture.weight(px - x, py - y, reach);
                if (w > 0) {
                  w *= aperture.share(radii[j]);
                  r += w * light.rgba()[4 * j];
                  g += w * light.rgba()[4 * j + 1];
                  b += w * light.rgba()[4 * j + 2];
                  a += w * light.rgba()[4 * j + 3];
                  all += w;
                }
              }
            }
            out.rgba()[4 * t] = Grade.bounded(r / all);
            out.rgba()[4 * t + 1] = Grade.bounded(g / all);
            out.rgba()[4 * t + 2] = Grade.bounded(b / all);
            out.rgba()[4 * t + 3] = a / all;
          }
        });
    return out;
  }

  /** How far each pixel spreads; what is empty like what is near it, so that edges keep shape. */
  private float[] radii(Picture in) {
    double focus = values.get(0);
    double far = Math.min(values.get(1) * pixels, Correction.MOST_RADIUS);
    int n = in.width() * in.height();
    Picture known = Picture.empty(in.width(), in.height());
    double most = 0;
    for (int p = 0; p < n; p++) {
      if (in.rgba()[4 * p + 3] > 0 && metres != null) {
        double z = Math.max(1e-6, metres[p]);
        double r = Math.min(Correction.MOST_RADIUS, far * Math.abs(1 - focus / z));
        known.rgba()[4 * p] = (float) r;
        known.rgba()[4 * p + 3] = 1;
        most = Math.max(most, r);
      }
    }
    Picture near = blurred(known, most / 2);
    float[] out = new float[n];
    for (int p = 0; p < n; p++) {
      float there = near.rgba()[4 * p + 3];
      out[p] =
          known.rgba()[4 * p + 3] > 0
              ? known.rgba()[4 * p]
              : there > 0 ? near.rgba()[4 * p] / there : 0;
    }
    return out;
  }

  /** The aperture's picture on the sensor: round, or with straight blades. */
  private static final class Aperture {
    private final int half;
    private final float[] distances;
    private final float[] shares;

    /**
     * @param half the farthest pixel that is asked for
     */
    Aperture(int blades, int half) {
      this.half = half;
      int side = 2 * half + 1;
      distances = new float[side * side];
      for (int y = -half; y <= half; y++) {
        for (int x = -half; x <= half; x++) {
          distances[(y + half) * side + x + half] = (float) distance(x, y, blades);
        }
      }
      shares = new float[STEPS * (half + 1) + 1];
      for (int k = 0; k < shares.length; k++) {
        double sum = 0;
        for (float d : distances) {
          sum += covered((float) k / STEPS, d);
        }
        shares[k] = (float) (1 / sum);
      }
    }

    private static double distance(int x, int y, int blades) {
      if (blades < 3) {
        return Math.hypot(x, y);
      }
      double most = 0;
      for (int k = 0; k < blades; k++) {
        double angle = 2 * Math.PI * (k + 0.5) / blades;
        most = Math.max(most, x * Math.cos(angle) + y * Math.sin(angle));
      }
      return most / Math.cos(Math.PI / blades);
    }

    private static float covered(float radius, float distance) {
      return Math.max(0, Math.min(1, radius + 0.5f - distance));
    }

    float weight(int x, int y, float radius) {
      return covered(radius, distances[(y + half) * (2 * half + 1) + x + half]);
    }

    /** By which what spreads over a radius is divided, so that no light is gained or lost. */
    float share(float radius) {
      return shares[Math.min(shares.length - 1, Math.round(radius * STEPS))];
    }
  }
}
