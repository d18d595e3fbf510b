package org.wedgecutter.app.viewer;

import java.util.function.IntUnaryOperator;
import java.util.stream.IntStream;
import javafx.scene.image.Image;
import javafx.scene.image.PixelFormat;
import javafx.scene.image.WritableImage;
import org.wedgecutter.core.image.Picture;

/** Converts pictures for the screen: sRGB-coded, eight bits. For any thread. */
public final class ToScreen {
  private static final int STEPS = 4096;
  private static final byte[] CODE = new byte[STEPS + 1];
  private static final float[] CHECKER = {0.022f, 0.045f};
  private static final int CHECK = 12;

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

  private ToScreen() {}

  /** Turns a picture into an image of the same size. */
  public static Image image(Picture picture, View view) {
    int width = picture.width();
    int height = picture.height();
    int[] argb = new int[width * height];
    float gain = (float) Math.pow(2, view.exposure());
    byte[] table = table(gain, view.film());
    IntStream.range(0, height)
        .parallel()
        .forEach(y -> {
          for (int x = 0; x < width; x++) {
            argb[y * width + x] =
                pixel(picture.rgba(), 4 * (y * width + x), x, y, view, gain, table);
          }
        });
    WritableImage image = new WritableImage(width, height);
    image
        .getPixelWriter()
        .setPixels(0, 0, width, height, PixelFormat.getIntArgbPreInstance(), argb, 0, width);
    return image;
  }

  private static int pixel(float[] p, int at, int x, int y, View view, float gain, byte[] table) {
    if (view.channel() == View.Channel.ALPHA) {
      int a = code(p[at + 3]);
      return 0xff000000 | a << 16 | a << 8 | a;
    }
    if (view.signed()) {
      return 0xff000000
          | about(p[at], gain) << 16
          | about(p[at + 1], gain) << 8
          | about(p[at + 2], gain);
    }
    int r;
    int g;
    int b;
    if (p[at + 3] == 0 && p[at] == 0 && p[at + 1] == 0 && p[at + 2] == 0) {
      r = g = b = BACKDROP[view.backdrop().ordinal()][(x / CHECK + y / CHECK) & 1];
    } else if (p[at + 3] >= 1) {
      r = look(table, p[at]);
      g = look(table, p[at + 1]);
      b = look(table, p[at + 2]);
    } else {
      float behind = behind(view.backdrop(), (x / CHECK + y / CHECK) & 1);
      float through = Math.max(0, 1 - p[at + 3]) * behind;
      r = code(curve(p[at] * gain, view.film()) + through);
      g = code(curve(p[at + 1] * gain, view.film()) + through);
      b = code(curve(p[at + 2] * gain, view.film()) + through);
    }
    return switch (view.channel()) {
      case RED -> grey(r);
      case GREEN -> grey(g);
      case BLUE -> grey(b);
      default -> 0xff000000 | r << 16 | g << 8 | b;
    };
  }

  /**
   * What the screen shows for each light, by the upper sixteen bits after the sign: 256 steps a
   * stop.
   */
  private static byte[] table(float gain, boolean film) {
    byte[] table = new byte[1 << 16];
    for (int i = 0; i < table.length; i++) {
      table[i] = (byte) code(curve(Float.intBitsToFloat(i << 15 | 1 << 14) * gain, film));
    }
    return table;
  }

  /** Light of a backdrop, on either field of the checker. */
  private static float behind(View.Backdrop backdrop, int field) {
    return switch (backdrop) {
      case CHECKER -> CHECKER[field];
      case BLACK -> 0;
      case GREY -> 0.18f;
    };
  }

  private static int look(byte[] table, float light) {
    return light > 0 ? table[Float.floatToRawIntBits(light) >>> 15] & 0xff : 0;
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
    int height = difference.height();
    int[] argb = new int[width * height];
    float[] d = difference.rgba();
    double gain = Math.pow(2, exposure);
    for (int i = 0; i < argb.length; i++) {
      double size =
          gain
              * Math.max(
                  Math.abs(d[4 * i]), Math.max(Math.abs(d[4 * i + 1]), Math.abs(d[4 * i + 2])));
      double t = size <= 1e-4 ? 0 : Math.min(1, Math.log10(size / 1e-4) / 3);
      int hue = hues.applyAsInt(i);
      argb[i] = hue == 0 ? heat(t) : heat(t, hue);
    }
    WritableImage image = new WritableImage(width, height);
    image
        .getPixelWriter()
        .setPixels(0, 0, width, height, PixelFormat.getIntArgbPreInstance(), argb, 0, width);
    return image;
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
