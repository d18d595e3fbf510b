package org.wedgecutter.core.trace.light;

import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.scene.Rgb;

/**
 * Light from all around: an image in latitude and longitude, turned about the vertical, or
 * darkness.
 *
 * <p>The image's middle column is the direction -z at turn 0, its top line is up; v runs from up to
 * down. Directions are picked in proportion to luminance, by a table of the lines and one of each
 * line's pixels. The density belongs to the pixels as they are, without interpolation, and so does
 * the light.
 */
public final class EnvironmentMap {
  /** A black environment. */
  static final EnvironmentMap DARK = new EnvironmentMap(Picture.empty(1, 1), 0, 0);

  private final int width;
  private final int height;
  private final float[] rgb;
  private final float[] lineCdf;
  private final float[] pixelCdf;
  private final int[] lineGuides;
  private final int[] pixelGuides;
  private final double degrees;
  private final double level;
  private final float turn;
  private final Rgb gain;
  private final boolean dark;
  private final double total;

  /** A direction, its density over solid angle, and the light from it. */
  public static final class Pick {
    public float x;
    public float y;
    public float z;
    public float pdf;
    public final float[] radiance = new float[3];
  }

  /**
   * @param image scene-linear light, twice as wide as high for an undistorted sphere
   * @param degrees by which it is turned counter-clockwise seen from above
   * @param level factor on its light, 0 or more
   */
  public EnvironmentMap(Picture image, double degrees, double level) {
    width = image.width();
    height = image.height();
    this.degrees = degrees;
    this.level = level;
    turn = (float) Math.toRadians(degrees);
    gain = new Rgb((float) level, (float) level, (float) level);
    rgb = new float[3 * width * height];
    lineCdf = new float[height + 1];
    pixelCdf = new float[height * (width + 1)];
    double sum = 0;
    double[] lines = new double[height];
    for (int y = 0; y < height; y++) {
      double solid = sine(y);
      double line = 0;
      for (int x = 0; x < width; x++) {
        int p = y * width + x;
        for (int c = 0; c < 3; c++) {
          rgb[3 * p + c] = Math.max(0, image.rgba()[4 * p + c]);
        }
        line += Picture.luma(rgb[3 * p], rgb[3 * p + 1], rgb[3 * p + 2]);
        pixelCdf[y * (width + 1) + x + 1] = (float) line;
      }
      for (int x = 1; x <= width; x++) {
        pixelCdf[y * (width + 1) + x] /= (float) Math.max(line, 1e-30);
      }
      lines[y] = line * solid;
      sum += lines[y];
    }
    double running = 0;
    for (int y = 0; y < height; y++) {
      running += lines[y];
      lineCdf[y + 1] = (float) (running / Math.max(sum, 1e-30));
    }
    lineGuides = new int[height];
    guide(lineCdf, 0, lineGuides, 0, height);
    pixelGuides = new int[height * width];
    for (int y = 0; y < height; y++) {
      guide(pixelCdf, y * (width + 1), pixelGuides, y * width, width);
    }
    dark = !(sum > 0) || !(level > 0);
    total = sum;
  }

  private EnvironmentMap(EnvironmentMap from, double degrees, double level, Rgb gain) {
    width = from.width;
    height = from.height;
    rgb = from.rgb;
    lineCdf = from.lineCdf;
    pixelCdf = from.pixelCdf;
    lineGuides = from.lineGuides;
    pixelGuides = from.pixelGuides;
    total = from.total;
    dark = !(total > 0) || !(gain.max() > 0);
    this.degrees = degrees;
    this.level = level;
    turn = (float) Math.toRadians(degrees);
    this.gain = gain;
  }

  /** Whether it is turned and as strong as that; NaN asks for nothing. */
  public boolean is(double otherDegrees, double otherLevel) {
    return (Double.isNaN(otherDegrees) || degrees == otherDegrees)
        && (Double.isNaN(otherLevel) || level == otherLevel);
  }

  /**
   * Returns the same image turned otherwise, at another level, and with factors on its colours.
   * Directions are picked as before, but for the turn.
   */
  public EnvironmentMap as(double nextDegrees, double nextLevel, Rgb factors) {
    double strength = Double.isNaN(nextLevel) ? level : nextLevel;
    return new EnvironmentMap(
        this,
        Double.isNaN(nextDegrees) ? degrees : nextDegrees,
        strength,
        factors.times((float) strength));
  }

  private double sine(int y) {
    return (Math.cos(Math.PI * y / height) - Math.cos(Math.PI * (y + 1) / height))
        * height
        / Math.PI;
  }

  public boolean dark() {
    return dark;
  }

  /**
   * Returns the mean over all directions of its luminance, at the level of its strongest colour.
   */
  double mean() {
    return total * gain.max() * Math.PI / (2.0 * width * height);
  }

  /** Sets the light from a direction. */
  public void radiance(float x, float y, float z, float[] out) {
    light(pixel(x, y, z), out);
  }

  /** Sets the light from a pick's direction, and the density with which it is picked. */
  public void at(Pick pick) {
    int p = pixel(pick.x, pick.y, pick.z);
    light(p, pick.radiance);
    pick.pdf = dark ? 0 : density(p);
  }

  private void light(int pixel, float[] out) {
    int p = 3 * pixel;
    out[0] = rgb[p] * gain.r();
    out[1] = rgb[p + 1] * gain.g();
    out[2] = rgb[p + 2] * gain.b();
  }

  private int pixel(float x, float y, float z) {
    float u = (FastAngles.atan2(x, -z) + turn) / (2 * (float) Math.PI) + 0.5f;
    u -= (float) Math.floor(u);
    float v = FastAngles.acos(Math.max(-1, Math.min(1, y))) / (float) Math.PI;
    int column = Math.min(width - 1, (int) (u * width));
    int line = Math.min(height - 1, (int) (v * height));
    return line * width + column;
  }

  private float density(int p) {
    // luminance over its integral, in which each pixel counts with its solid angle
    double solid = 2 * Math.PI * Math.PI / ((double) width * height);
    return (float) (Picture.luma(rgb[3 * p], rgb[3 * p + 1], rgb[3 * p + 2]) / (total * solid));
  }

  /** Samples a direction, and sets the light from it. */
  public void sample(float u, float v, Pick out) {
    int line = find(lineCdf, 0, lineGuides, 0, height, v);
    float within = part(lineCdf, line, v);
    int start = line * (width + 1);
    int column = find(pixelCdf, start, pixelGuides, line * width, width, u);
    float across = part(pixelCdf, start + column, u);
    double cosTop = Math.cos(Math.PI * line / height);
    double cosBottom = Math.cos(Math.PI * (line + 1) / height);
    double cos = cosTop + within * (cosBottom - cosTop);
    double sin = Math.sqrt(Math.max(0, 1 - cos * cos));
    double angle = ((column + across) / width - 0.5) * 2 * Math.PI - turn;
    out.x = (float) (sin * Math.sin(angle));
    out.y = (float) cos;
    out.z = (float) (-sin * Math.cos(angle));
    out.pdf = dark ? 0 : density(line * width + column);
    light(line * width + column, out.radiance);
  }

  /**
   * Finds the part of a row of running sums that a number lies in.
   *
   * @param guides where to begin to look, of each of as many even parts; from the same start but
   *     for the one number that sums have more
   */
  private static int find(float[] cdf, int start, int[] guides, int from, int count, float at) {
    int k = guides[from + Math.min(count - 1, (int) (at * count))];
    while (k < count - 1 && cdf[start + k + 1] <= at) {
      k++;
    }
    return k;
  }

  /** Notes the last part that begins at or before each even part. */
  private static void guide(float[] cdf, int start, int[] guides, int from, int count) {
    int k = 0;
    for (int g = 0; g < count; g++) {
      // a little less, since the part is found by a rounded product
      float at = (float) g / count * (1 - 1e-6f);
      while (k < count - 1 && cdf[start + k + 1] <= at) {
        k++;
      }
      guides[from + g] = k;
    }
  }

  private static float part(float[] cdf, int at, float value) {
    float span = cdf[at + 1] - cdf[at];
    return span > 0 ? Math.max(0, Math.min(0.99999f, (value - cdf[at]) / span)) : 0.5f;
  }
}
