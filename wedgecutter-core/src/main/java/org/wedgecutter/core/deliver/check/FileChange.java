package org.wedgecutter.core.deliver.check;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
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

  /** Share by which light must be scaled to count as changed. */
  private static final double LEAST_GAIN = 0.01;

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
    out.add(new FileChange(Sentence.FILE_MIRRORED, "", FileChange::mirrored));
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

  /**
   * Returns the changes whose amount is worked out from what should be there.
   *
   * @param within the pixels in which that is known
   */
  static List<FileChange> fitted(Picture is, Picture should, boolean[] within) {
    List<FileChange> out = new ArrayList<>();
    double[] gains = new double[4];
    double[] products = new double[4];
    double[] squares = new double[4];
    for (int i = 0; i < is.rgba().length; i++) {
      int c = i & 3;
      double want = should.rgba()[i];
      double have = is.rgba()[i];
      if (c != 3 && within[i / 4] && Double.isFinite(want * have)) {
        products[c] += want * have;
        squares[c] += want * want;
        products[3] += want * have;
        squares[3] += want * want;
      }
    }
    for (int c = 0; c < 4; c++) {
      gains[c] = squares[c] > 0 ? products[c] / squares[c] : 1;
    }
    if (isGain(gains[3])) {
      out.add(exposed(gains[3]));
    }
    boolean differ = false;
    for (int c = 0; c < 3; c++) {
      differ |= Math.abs(gains[c] / gains[3] - 1) > LEAST_GAIN;
    }
    if (differ && gains[0] > 0 && gains[1] > 0 && gains[2] > 0) {
      out.add(gained(gains));
    }
    saturated(is, should, within).ifPresent(out::add);
    logarithmic(is, should, within).ifPresent(out::add);
    return out;
  }

  private static boolean isGain(double factor) {
    return factor > 0.01 && factor < 100 && Math.abs(factor - 1) > LEAST_GAIN;
  }

  /** A change of exposure, by how much brighter a file is than it should be. */
  private static FileChange exposed(double factor) {
    return new FileChange(
        Sentence.FILE_EXPOSED,
        "%+.2f".formatted(Math.log(factor) / Math.log(2)),
        p -> each(p, x -> x / factor));
  }

  /** A gain of each channel. */
  private static FileChange gained(double[] gains) {
    return new FileChange(
        Sentence.FILE_GAIN,
        "%.3g %.3g %.3g".formatted(gains[0], gains[1], gains[2]),
        p -> {
          Picture out = p.copy();
          for (int i = 0; i < out.rgba().length; i++) {
            out.rgba()[i] /= (i & 3) == 3 ? 1 : (float) gains[i & 3];
          }
          return out;
        });
  }

  /** A change of saturation: the distance of each channel from the luminance is scaled. */
  private static Optional<FileChange> saturated(Picture is, Picture should, boolean[] within) {
    double product = 0;
    double square = 0;
    for (int i = 0; i < is.rgba().length; i += 4) {
      double want = Picture.luma(should.rgba()[i], should.rgba()[i + 1], should.rgba()[i + 2]);
      double have = Picture.luma(is.rgba()[i], is.rgba()[i + 1], is.rgba()[i + 2]);
      for (int k = i; k < i + 3 && within[i / 4]; k++) {
        double a = should.rgba()[k] - want;
        double b = is.rgba()[k] - have;
        if (Double.isFinite(a * b)) {
          product += a * b;
          square += a * a;
        }
      }
    }
    double factor = square > 0 ? product / square : 1;
    // what is grey cannot be coloured again
    if (!(factor > 0.02 && factor < 50) || Math.abs(factor - 1) < LEAST_GAIN) {
      return Optional.empty();
    }
    return Optional.of(
        new FileChange(
            Sentence.FILE_SATURATED,
            "%.2f".formatted(factor),
            p -> {
              Picture out = p.copy();
              float[] c = out.rgba();
              for (int i = 0; i < c.length; i += 4) {
                float luma = Picture.luma(c[i], c[i + 1], c[i + 2]);
                for (int k = i; k < i + 3; k++) {
                  c[k] = (float) (luma + (c[k] - luma) / factor);
                }
              }
              return out;
            }));
  }

  /** A logarithmic encoding: numbers go with the logarithm of the light. */
  private static Optional<FileChange> logarithmic(Picture is, Picture should, boolean[] within) {
    double count = 0;
    double sumX = 0;
    double sumY = 0;
    double sumXX = 0;
    double sumXY = 0;
    double sumYY = 0;
    double most = 0;
    for (float v : should.rgba()) {
      most = Float.isFinite(v) ? Math.max(most, v) : most;
    }
    for (int i = 0; i < is.rgba().length; i++) {
      double light = should.rgba()[i];
      double code = is.rgba()[i];
      // near black such encodings are linear
      if ((i & 3) != 3 && within[i / 4] && light > most / 256 && Double.isFinite(code)) {
        double x = Math.log(light) / Math.log(2);
        count++;
        sumX += x;
        sumY += code;
        sumXX += x * x;
        sumXY += x * code;
        sumYY += code * code;
      }
    }
    double spread = count * sumXX - sumX * sumX;
    double varies = count * sumYY - sumY * sumY;
    double both = count * sumXY - sumX * sumY;
    if (count < 24 || spread <= 0 || varies <= 0 || both <= 0) {
      return Optional.empty();
    }
    double slope = both / spread;
    double base = (sumY - slope * sumX) / count;
    // light itself goes with its logarithm, too, but not so well
    if (both * both / (spread * varies) < 0.99) {
      return Optional.empty();
    }
    return Optional.of(
        new FileChange(
            Sentence.FILE_LOG,
            "",
            // what is black stays so: most encodings give it a number of its own
            p -> each(p, x -> x == 0 ? 0 : Math.pow(2, (x - base) / slope))));
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

  private static Picture mirrored(Picture p) {
    Picture out = Picture.empty(p.width(), p.height());
    for (int i = 0; i < p.width() * p.height(); i++) {
      int to = i - i % p.width() + p.width() - 1 - i % p.width();
      System.arraycopy(p.rgba(), 4 * i, out.rgba(), 4 * to, 4);
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
