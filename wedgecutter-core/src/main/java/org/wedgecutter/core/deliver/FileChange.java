package org.wedgecutter.core.deliver;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;

/**
 * What may have been done to a file, and how it is undone.
 *
 * @param sentence which change
 * @param amount tells it from others of its sort, for the message; empty if there is one only
 * @param undo makes the picture as it was before; exact but for rounding
 */
record FileChange(Sentence sentence, String amount, UnaryOperator<Picture> undo) {
  /** Pixels by which a picture is looked for to be shifted. */
  private static final int MOST_SHIFT = 3;

  private static final double[] GAMMAS = {2.2, 1.8, 2.4, 1 / 2.2, 1 / 1.8, 1 / 2.4};

  /** Returns the message for a file. */
  Message message(String file) {
    return amount.isEmpty()
        ? Message.of(sentence, "file", file)
        : Message.of(sentence, "file", file, "amount", amount);
  }

  /** Returns the changes that can be undone, the plainest first. */
  static List<FileChange> all() {
    List<FileChange> out = new ArrayList<>();
    out.add(new FileChange(Sentence.FILE_UNPREMULTIPLIED, "", p -> alpha(p, true)));
    out.add(new FileChange(Sentence.FILE_PREMULTIPLIED_TWICE, "", p -> alpha(p, false)));
    out.add(new FileChange(Sentence.FILE_ENCODED, "", p -> each(p, FileChange::decoded)));
    out.add(
        new FileChange(
            Sentence.FILE_TONE_MAPPED, "", p -> each(p, x -> x < 0 || x >= 1 ? x : x / (1 - x))));
    for (double g : GAMMAS) {
      out.add(
          new FileChange(
              Sentence.FILE_GAMMA,
              "%.2g".formatted(g),
              p -> each(p, x -> Math.signum(x) * Math.pow(Math.abs(x), g))));
    }
    out.add(new FileChange(Sentence.FILE_CHANNELS, "", FileChange::swapped));
    out.add(new FileChange(Sentence.FILE_UPSIDE_DOWN, "", FileChange::flipped));
    for (int y = -MOST_SHIFT; y <= MOST_SHIFT; y++) {
      for (int x = -MOST_SHIFT; x <= MOST_SHIFT; x++) {
        if (x != 0 || y != 0) {
          int dx = x;
          int dy = y;
          out.add(
              new FileChange(
                  Sentence.FILE_SHIFTED, "%d, %d".formatted(dx, dy), p -> shifted(p, -dx, -dy)));
        }
      }
    }
    return out;
  }

  /** A change of exposure, by how much brighter a file is than it should be. */
  static FileChange exposed(double factor) {
    return new FileChange(
        Sentence.FILE_EXPOSED,
        "%+.2f".formatted(Math.log(factor) / Math.log(2)),
        p -> each(p, x -> x / factor));
  }

  private interface Value {
    double of(double x);
  }

  private static Picture each(Picture p, Value value) {
    Picture out = p.copy();
    float[] c = out.rgba();
    for (int i = 0; i < c.length; i++) {
      c[i] = (i & 3) == 3 ? c[i] : (float) value.of(c[i]);
    }
    return out;
  }

  /** The light that sRGB stands for (IEC 61966-2-1). */
  private static double decoded(double x) {
    double a = Math.abs(x);
    return Math.signum(x) * (a <= 0.04045 ? a / 12.92 : Math.pow((a + 0.055) / 1.055, 2.4));
  }

  private static Picture alpha(Picture p, boolean multiply) {
    Picture out = p.copy();
    float[] c = out.rgba();
    for (int i = 0; i < c.length; i += 4) {
      float a = c[i + 3];
      for (int k = i; k < i + 3 && a > 0; k++) {
        c[k] = multiply ? c[k] * a : c[k] / a;
      }
    }
    return out;
  }

  private static Picture swapped(Picture p) {
    Picture out = p.copy();
    float[] c = out.rgba();
    for (int i = 0; i < c.length; i += 4) {
      c[i] = p.rgba()[i + 2];
      c[i + 2] = p.rgba()[i];
    }
    return out;
  }

  private static Picture flipped(Picture p) {
    Picture out = Picture.empty(p.width(), p.height());
    int line = 4 * p.width();
    for (int y = 0; y < p.height(); y++) {
      System.arraycopy(p.rgba(), y * line, out.rgba(), (p.height() - 1 - y) * line, line);
    }
    return out;
  }

  /** The picture moved to the right and down; what comes in repeats its edge. */
  private static Picture shifted(Picture p, int dx, int dy) {
    Picture out = Picture.empty(p.width(), p.height());
    for (int y = 0; y < p.height(); y++) {
      int fromY = Math.max(0, Math.min(p.height() - 1, y - dy));
      for (int x = 0; x < p.width(); x++) {
        int fromX = Math.max(0, Math.min(p.width() - 1, x - dx));
        System.arraycopy(
            p.rgba(), 4 * (fromY * p.width() + fromX), out.rgba(), 4 * (y * p.width() + x), 4);
      }
    }
    return out;
  }
}
