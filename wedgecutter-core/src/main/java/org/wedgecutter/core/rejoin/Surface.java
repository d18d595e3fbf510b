package org.wedgecutter.core.rejoin;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Correction;

/**
 * Shows another picture on a surface of a layer, placed by its texture coordinates.
 *
 * <p>Diffuse light is base colour times what arrives, so what arrives is the diffuse passes divided
 * by the albedo pass, per channel; where a channel of the albedo is black, by luminances. The
 * picture, laid over the old base colour by its alpha, takes its place: {@code c - d + d t / a}.
 * Shadows, bounced light and highlights stay as they are. What shines by itself replaces diffuse
 * light and emission: {@code c - d - e + t k}, with coverage {@code k}. Nothing else in the frame
 * is lit by the new picture, so the result is other than what a render would give.
 *
 * <p>Coordinates and base colour are of the object that covers most of a pixel. At the border of
 * the matte, where that is another one, they are continued from the nearest pixel inside. A picture
 * is looked up 16 times in each pixel, in a smaller copy of it where its texels are smaller.
 */
final class Surface {
  /** The passes that are read of the layer, in their order. */
  static final List<String> PASSES =
      List.of("uv", "albedo", "diffuse.direct", "diffuse.indirect", "emission");

  private static final int EACH_WAY = 4;
  private static final float DARK = 1e-3f;

  /** How far from the inside of the matte coordinates are continued, pixels. */
  private static final int BORDER = 2;

  private final int width;
  private final int height;
  private final float[] uv;
  private final float[] albedo;
  private final float[] direct;
  private final float[] indirect;
  private final float[] emission;
  private final float[] matte;
  private final List<Picture> sizes = new ArrayList<>();
  private final float gain;
  private final float glow;

  /**
   * @param passes {@link #PASSES} at the size of the result
   * @param matte which pixels are the surface's, 0 to 1
   * @param shown the picture, premultiplied
   */
  Surface(List<Picture> passes, Picture matte, Picture shown, Correction correction) {
    width = matte.width();
    height = matte.height();
    uv = passes.get(0).rgba();
    albedo = passes.get(1).rgba();
    direct = passes.get(2).rgba();
    indirect = passes.get(3).rgba();
    emission = passes.get(4).rgba();
    this.matte = matte.rgba();
    gain = correction.values().get(0).floatValue();
    glow = correction.values().get(1).floatValue();
    sizes.add(shown);
    while (sizes.getLast().width() > 1 || sizes.getLast().height() > 1) {
      Picture p = sizes.getLast();
      sizes.add(p.resized(Math.max(1, p.width() / 2), Math.max(1, p.height() / 2)));
    }
  }

  /** Returns the layer with the picture on it; alpha stays. */
  Picture of(Picture in) {
    Picture out = in.copy();
    IntStream.range(0, height)
        .parallel()
        .forEach(y -> {
          float[] t = new float[4];
          for (int x = 0; x < width; x++) {
            int p = y * width + x;
            if (matte[4 * p] > 0 && look(x, y, t)) {
              int inside = inside(x, y);
              shade(out.rgba(), p, inside < 0 ? p : inside, t);
            }
          }
        });
    return out;
  }

  private void shade(float[] out, int p, int own, float[] t) {
    float alpha = out[4 * p + 3];
    float through = 1 - t[3];
    float lumaAlbedo = Picture.luma(albedo[4 * own], albedo[4 * own + 1], albedo[4 * own + 2]);
    float lumaDiffuse = Picture.luma(diffuse(p, 0), diffuse(p, 1), diffuse(p, 2));
    for (int c = 0; c < 3; c++) {
      float a = albedo[4 * own + c];
      float d = diffuse(p, c);
      float e = emission[4 * p + c];
      // light that arrives, times coverage
      float arriving = a > DARK ? d / a : lumaAlbedo > DARK ? lumaDiffuse / lumaAlbedo : 0;
      float lit = arriving * (gain * t[c] + through * a) - d;
      float shining = gain * t[c] * alpha - t[3] * (d + e);
      out[4 * p + c] += (1 - glow) * lit + glow * shining;
    }
  }

  private float diffuse(int p, int c) {
    return direct[4 * p + c] + indirect[4 * p + c];
  }

  // ---- coordinates

  private boolean isInside(int x, int y) {
    return x >= 0 && y >= 0 && x < width && y < height && matte[4 * (y * width + x)] >= 0.5f;
  }

  /** Returns the pixel whose coordinates are taken: this one, or the nearest inside; -1 if none. */
  private int inside(int x, int y) {
    int best = -1;
    int least = Integer.MAX_VALUE;
    for (int dy = -BORDER; dy <= BORDER; dy++) {
      for (int dx = -BORDER; dx <= BORDER; dx++) {
        int distance = dx * dx + dy * dy;
        if (distance < least && isInside(x + dx, y + dy)) {
          least = distance;
          best = (y + dy) * width + x + dx;
        }
      }
    }
    return best;
  }

  /**
   * Fits a plane through the coordinates about a pixel inside by least squares: value there, change
   * to the right, change downwards. Those of a pixel are of one sample somewhere within it, so
   * taken alone they would shift the picture to and fro.
   *
   * @param c 0 for u, 1 for v
   */
  private double[] plane(int p, int c) {
    int x = p % width;
    int y = p / width;
    float own = uv[4 * p + c];
    double n = 0;
    double sx = 0;
    double sy = 0;
    double sxx = 0;
    double sxy = 0;
    double syy = 0;
    double sv = 0;
    double sxv = 0;
    double syv = 0;
    for (int dy = -BORDER; dy <= BORDER; dy++) {
      for (int dx = -BORDER; dx <= BORDER; dx++) {
        if (!isInside(x + dx, y + dy)) {
          continue;
        }
        double v = near(uv[4 * (p + dx + dy * width) + c] - own);
        n++;
        sx += dx;
        sy += dy;
        sxx += dx * dx;
        sxy += dx * dy;
        syy += dy * dy;
        sv += v;
        sxv += dx * v;
        syv += dy * v;
      }
    }
    double xx = sxx - sx * sx / n;
    double xy = sxy - sx * sy / n;
    double yy = syy - sy * sy / n;
    double xv = sxv - sx * sv / n;
    double yv = syv - sy * sv / n;
    double det = xx * yy - xy * xy;
    double right = det > 1e-6 ? (xv * yy - yv * xy) / det : xx > 0 ? xv / xx : 0;
    double down = det > 1e-6 ? (yv * xx - xv * xy) / det : yy > 0 ? yv / yy : 0;
    return new double[] {own + (sv - right * sx - down * sy) / n, right, down};
  }

  /** A change of a coordinate that may run around from 1 to 0. */
  private static float near(float change) {
    return change - Math.round(change);
  }

  /** Looks the picture up at a pixel; false if it is too far from the surface. */
  private boolean look(int x, int y, float[] out) {
    int own = inside(x, y);
    Arrays.fill(out, 0);
    if (own < 0) {
      return false;
    }
    double[] u = plane(own, 0);
    double[] v = plane(own, 1);
    Picture whole = sizes.getFirst();
    double across = Math.hypot(u[1] * whole.width(), v[1] * whole.height());
    double down = Math.hypot(u[2] * whole.width(), v[2] * whole.height());
    double step = Math.max(across, down) / EACH_WAY;
    int level = step <= 1 ? 0 : (int) Math.round(Math.log(step) / Math.log(2));
    Picture from = sizes.get(Math.min(level, sizes.size() - 1));
    float offX = x - own % width;
    float offY = y - own / width;
    for (int k = 0; k < EACH_WAY * EACH_WAY; k++) {
      float dx = offX + (k % EACH_WAY + 0.5f) / EACH_WAY - 0.5f;
      float dy = offY + (k / EACH_WAY + 0.5f) / EACH_WAY - 0.5f;
      add(
          from,
          (float) (u[0] + dx * u[1] + dy * u[2]),
          (float) (v[0] + dx * v[1] + dy * v[2]),
          out);
    }
    for (int c = 0; c < 4; c++) {
      out[c] /= EACH_WAY * EACH_WAY;
    }
    return true;
  }

  /**
   * Adds the picture at a place, between its four nearest texels. It is repeated beyond 0 and 1,
   * but does not run over from one edge into the other.
   */
  private static void add(Picture p, float u, float v, float[] to) {
    float x = (u - (float) Math.floor(u)) * p.width() - 0.5f;
    float y = (v - (float) Math.floor(v)) * p.height() - 0.5f;
    int x0 = (int) Math.floor(x);
    int y0 = (int) Math.floor(y);
    float fx = x - x0;
    float fy = y - y0;
    for (int k = 0; k < 4; k++) {
      int tx = Math.max(0, Math.min(p.width() - 1, x0 + (k & 1)));
      int ty = Math.max(0, Math.min(p.height() - 1, y0 + (k >> 1)));
      float share = ((k & 1) == 0 ? 1 - fx : fx) * ((k >> 1) == 0 ? 1 - fy : fy);
      for (int c = 0; c < 4; c++) {
        to[c] += share * p.rgba()[4 * (ty * p.width() + tx) + c];
      }
    }
  }
}
