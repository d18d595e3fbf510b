package org.wedgecutter.app.viewer;

import java.nio.IntBuffer;
import java.util.function.IntUnaryOperator;
import java.util.stream.IntStream;
import javafx.scene.image.Image;
import javafx.scene.image.PixelBuffer;
import javafx.scene.image.PixelFormat;
import javafx.scene.image.WritableImage;
import org.wedgecutter.core.image.Picture;

/** Converts pictures for the screen: sRGB-coded, eight bits. For any thread. */
public final class ToScreen {
  private static final int STEPS = 4096;
  private static final byte[] CODE = new byte[STEPS + 1];
  private static final float[] CHECKER = {0.022f, 0.045f};
  private static final int CHECK = 12;

  /**
   * Alpha from which nothing behind a pixel is visible: less of a backdrop is left than a tenth of
   * a step of the screen. Layers that were held out add up to one but for rounding.
   */
  private static final float OPAQUE = 1 - 1e-4f;

  static {
    for (int i = 0; i <= STEPS; i++) {
      double c = (double) i / STEPS;
      // the table runs over the square root of light, which spends its steps evenly for the eye
      double light = c * c;
      double coded = light <= 0.0031308 ? 12.92 * light : 1.055 * Math.pow(light, 1 / 2.4) - 0.055;
      CODE[i] = (byte) Math.round(coded * 255);
    }
  }

  /** What the screen shows of each backdrop where there is nothing before it. */
  private static final int[][] BACKDROP = new int[View.Backdrop.values().length][2];

  static {
    for (View.Backdrop backdrop : View.Backdrop.values()) {
      for (int field = 0; field < 2; field++) {
        BACKDROP[backdrop.ordinal()][field] = code(behind(backdrop, field));
      }
    }
  }

  /**
   * What the screen shows for each light that is not negative, by the upper sixteen bits after the
   * sign: 256 steps a stop.
   *
   * @param gain that light is multiplied by first
   */
  private record Table(float gain, boolean film, byte[] codes) {
    static Table of(float gain, boolean film) {
      byte[] codes = new byte[1 << 16];
      for (int i = 0; i < codes.length; i++) {
        float light = Float.intBitsToFloat(i << 15 | 1 << 14);
        // the place of infinity reads as no number here; those are not looked up
        codes[i] = (byte) (Float.isNaN(light) ? 255 : ToScreen.code(curve(light * gain, film)));
      }
      return new Table(gain, film, codes);
    }

    int code(float light) {
      return light > 0 ? codes[Float.floatToRawIntBits(light) >>> 15] & 0xff : 0;
    }
  }

  /** Light as it is. */
  private static final Table PLAIN = Table.of(1, false);

  /** That of the last picture: the next one is mostly shown alike. */
  private static volatile Table last = PLAIN;

  private ToScreen() {}

  /** Turns a picture into an image of the same size. */
  public static Image image(Picture picture, View view) {
    int width = picture.width();
    float gain = (float) Math.pow(2, view.exposure());
    Table known = last;
    Table table =
        known.gain == gain && known.film == view.film() ? known : Table.of(gain, view.film());
    last = table;
    boolean colours = view.channel() == View.Channel.COLOUR && !view.signed();
    return image(
        width,
        picture.height(),
        (y, argb) -> {
          for (int x = 0; x < width; x++) {
            int at = y * width + x;
            argb[at] =
                colours
                    ? colour(picture.rgba(), 4 * at, x, y, view, table)
                    : pixel(picture.rgba(), 4 * at, x, y, view, table);
          }
        });
  }

  /** Makes lines of an image. */
  private interface Lines {
    /**
     * Makes a line.
     *
     * @param argb of the whole image, premultiplied, line by line
     */
    void make(int y, int[] argb);
  }

  /** Makes an image by several threads; its pixels are not copied. */
  private static Image image(int width, int height, Lines lines) {
    int[] argb = new int[width * height];
    IntStream.range(0, height).parallel().forEach(y -> lines.make(y, argb));
    return new WritableImage(
        new PixelBuffer<>(
            width, height, IntBuffer.wrap(argb), PixelFormat.getIntArgbPreInstance()));
  }

  private static int pixel(float[] p, int at, int x, int y, View view, Table table) {
    if (view.channel() == View.Channel.ALPHA) {
      return grey(code(p[at + 3]));
    }
    if (view.signed()) {
      return 0xff000000
          | about(p[at], table.gain) << 16
          | about(p[at + 1], table.gain) << 8
          | about(p[at + 2], table.gain);
    }
    int rgb = colour(p, at, x, y, view, table);
    return switch (view.channel()) {
      case RED -> grey(rgb >> 16 & 0xff);
      case GREEN -> grey(rgb >> 8 & 0xff);
      case BLUE -> grey(rgb & 0xff);
      default -> rgb;
    };
  }

  private static int colour(float[] p, int at, int x, int y, View view, Table table) {
    float alpha = p[at + 3];
    if (alpha >= OPAQUE) {
      return rgb(table.code(p[at]), table.code(p[at + 1]), table.code(p[at + 2]));
    }
    int field = (x / CHECK + y / CHECK) & 1;
    if (alpha == 0 && p[at] == 0 && p[at + 1] == 0 && p[at + 2] == 0) {
      return grey(BACKDROP[view.backdrop().ordinal()][field]);
    }
    float through = Math.max(0, 1 - alpha) * behind(view.backdrop(), field);
    return rgb(
        before(p[at], through, table),
        before(p[at + 1], through, table),
        before(p[at + 2], through, table));
  }

  /** Light before what is behind it. */
  private static int before(float light, float behind, Table table) {
    return PLAIN.code(curve(light * table.gain, table.film) + behind);
  }

  private static int rgb(int r, int g, int b) {
    return 0xff000000 | r << 16 | g << 8 | b;
  }

  /** Light of a backdrop, on either field of the checker. */
  private static float behind(View.Backdrop backdrop, int field) {
    return switch (backdrop) {
      case CHECKER -> CHECKER[field];
      case BLACK -> 0;
      case GREY -> 0.18f;
    };
  }

  private static int grey(int v) {
    return 0xff000000 | v << 16 | v << 8 | v;
  }

  /** Light that is added is brighter than middle grey, light that is taken away darker. */
  private static int about(float v, float gain) {
    float size = Math.abs(v) * gain * 2;
    float bend = size / (1 + size);
    return Math.round(127.5f + 127.5f * Math.copySign(bend, v));
  }

  /** E. Reinhard's curve with white at three times middle light, or none. */
  private static float curve(float v, boolean film) {
    if (!film || !(v > 0)) {
      return v;
    }
    return v * (1 + v / 9) / (1 + v) * 1.25f;
  }

  private static int code(float light) {
    if (!(light > 0)) {
      return 0;
    }
    return CODE[Math.min(STEPS, Math.round((float) Math.sqrt(light) * STEPS))] & 0xff;
  }

  /**
   * Turns a residual into a heat map: black where exact, then from the tolerance up to a thousand
   * times it.
   */
  public static Image heat(Picture difference, double exposure) {
    return heat(difference, exposure, p -> 0);
  }

  /**
   * Turns a residual into a heat map in hues: black where exact, then from the tolerance up to a
   * hundred times it in a pixel's hue, and on to white at a thousand times.
   *
   * @param hues colour of a pixel, by its number line by line, as {@code 0xffrrggbb}; 0 for none
   */
  static Image heat(Picture difference, double exposure, IntUnaryOperator hues) {
    int width = difference.width();
    float[] d = difference.rgba();
    double gain = Math.pow(2, exposure);
    return image(
        width,
        difference.height(),
        (y, argb) -> {
          for (int p = y * width; p < (y + 1) * width; p++) {
            int at = 4 * p;
            double largest =
                Math.max(Math.abs(d[at]), Math.max(Math.abs(d[at + 1]), Math.abs(d[at + 2])));
            double size = gain * largest;
            double t = size <= 1e-4 ? 0 : Math.min(1, Math.log10(size / 1e-4) / 3);
            int hue = hues.applyAsInt(p);
            argb[p] = hue == 0 ? heat(t) : heat(t, hue);
          }
        });
  }

  private static int heat(double t, int hue) {
    double level = Math.min(1, 0.15 + t * 1.3);
    double white = Math.max(0, t - 0.66) * 2.5;
    int out = 0xff;
    for (int shift = 16; shift >= 0; shift -= 8) {
      double own = (hue >> shift & 0xff) * level;
      out = out << 8 | (int) Math.round(own + (255 - own) * white);
    }
    return t <= 0 ? 0xff000000 : out;
  }

  private static int heat(double t) {
    double r = Math.min(1, t * 1.6);
    double g = Math.max(0, Math.min(1, (t - 0.35) * 1.7));
    double b = t <= 0 ? 0 : Math.max(0, 0.35 - Math.abs(t - 0.2)) + Math.max(0, (t - 0.8) * 4);
    return 0xff000000 | (int) (255 * r) << 16 | (int) (255 * g) << 8 | (int) (255 * Math.min(1, b));
  }
}
