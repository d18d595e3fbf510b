package org.wedgecutter.core.image;

import static org.wedgecutter.core.image.DeepPicture.ALPHA;
import static org.wedgecutter.core.image.DeepPicture.BACK;
import static org.wedgecutter.core.image.DeepPicture.COLOUR;
import static org.wedgecutter.core.image.DeepPicture.FRONT;
import static org.wedgecutter.core.image.DeepPicture.NUMBERS;

import java.util.Arrays;

/** The samples of one deep pixel, laid out as {@link DeepPicture} says. */
final class DeepPixel {
  private DeepPixel() {}

  /** Returns the samples ascending, split where they overlap, those of the same stretch as one. */
  static float[] tidy(float[] samples) {
    if (isTidy(samples)) {
      return samples;
    }
    return together(sorted(isSeparate(samples) ? samples : split(samples)));
  }

  private static boolean isTidy(float[] s) {
    for (int at = NUMBERS; at < s.length; at += NUMBERS) {
      float before = s[at - NUMBERS + BACK];
      boolean point = s[at - NUMBERS + FRONT] == before && s[at + BACK] == s[at + FRONT];
      if (s[at + FRONT] < before || (point && s[at + FRONT] == before)) {
        return false;
      }
    }
    return true;
  }

  /** Whether all samples stand at one depth each, so that none is to be split. */
  private static boolean isSeparate(float[] s) {
    for (int at = 0; at < s.length; at += NUMBERS) {
      if (s[at + BACK] > s[at + FRONT]) {
        return false;
      }
    }
    return true;
  }

  /** Splits stretches wherever another sample begins, ends or stands. */
  private static float[] split(float[] s) {
    float[] cuts = new float[2 * s.length / NUMBERS];
    for (int k = 0; k < cuts.length; k++) {
      cuts[k] = s[k / 2 * NUMBERS + k % 2];
    }
    Arrays.sort(cuts);
    float[] out = new float[2 * s.length];
    int length = 0;
    for (int at = 0; at < s.length; at += NUMBERS) {
      float from = s[at + FRONT];
      float end = s[at + BACK];
      int k = Arrays.binarySearch(cuts, from);
      float begin = from;
      while (true) {
        while (k < cuts.length && cuts[k] <= begin) {
          k++;
        }
        float to = k < cuts.length ? Math.min(end, cuts[k]) : end;
        if (length + NUMBERS > out.length) {
          out = Arrays.copyOf(out, 2 * out.length);
        }
        part(s, at, begin, to, out, length);
        length += NUMBERS;
        if (to >= end) {
          break;
        }
        begin = to;
      }
    }
    return Arrays.copyOf(out, length);
  }

  /** Writes the part of a sample between two depths. */
  private static void part(float[] s, int at, float from, float to, float[] out, int o) {
    System.arraycopy(s, at, out, o, NUMBERS);
    out[o + FRONT] = from;
    out[o + BACK] = to;
    double whole = (double) s[at + BACK] - s[at + FRONT];
    if (!(whole > 0) || (from == s[at + FRONT] && to == s[at + BACK])) {
      return;
    }
    double share = ((double) to - from) / whole;
    double alpha = s[at + ALPHA];
    double scale;
    if (alpha >= 1) {
      scale = 1;
    } else if (alpha > 0) {
      double own = -Math.expm1(share * Math.log1p(-alpha));
      out[o + ALPHA] = (float) own;
      scale = own / alpha;
    } else {
      scale = share;
    }
    for (int c = 0; c < 3; c++) {
      out[o + COLOUR + c] = (float) (scale * s[at + COLOUR + c]);
    }
  }

  private static float[] sorted(float[] s) {
    int count = s.length / NUMBERS;
    int[] order = new int[count];
    // few samples, and most of them in order already
    for (int k = 0; k < count; k++) {
      int at = NUMBERS * k;
      int to = k;
      while (to > 0 && isAfter(s, order[to - 1], at)) {
        order[to] = order[to - 1];
        to--;
      }
      order[to] = at;
    }
    float[] out = new float[s.length];
    for (int k = 0; k < count; k++) {
      System.arraycopy(s, order[k], out, NUMBERS * k, NUMBERS);
    }
    return out;
  }

  private static boolean isAfter(float[] s, int a, int b) {
    return s[a + FRONT] > s[b + FRONT]
        || (s[a + FRONT] == s[b + FRONT] && s[a + BACK] > s[b + BACK]);
  }

  /** Makes one of samples with the same front and back. */
  private static float[] together(float[] s) {
    int length = 0;
    for (int at = 0; at < s.length; at += NUMBERS) {
      int before = length - NUMBERS;
      if (length > 0 && s[before + FRONT] == s[at + FRONT] && s[before + BACK] == s[at + BACK]) {
        add(s, before, at);
      } else {
        System.arraycopy(s, at, s, length, NUMBERS);
        length += NUMBERS;
      }
    }
    return Arrays.copyOf(s, length);
  }

  /** Adds a sample to one of the same stretch: neither is in front of the other. */
  private static void add(float[] s, int to, int from) {
    double a = Math.max(0, Math.min(1, s[to + ALPHA]));
    double b = Math.max(0, Math.min(1, s[from + ALPHA]));
    double alpha = a + b - a * b;
    s[to + ALPHA] = (float) alpha;
    for (int c = COLOUR; c < COLOUR + 3; c++) {
      double sum;
      if (a >= 1 && b >= 1) {
        sum = (s[to + c] + (double) s[from + c]) / 2;
      } else if (a >= 1 || b >= 1) {
        sum = a >= 1 ? s[to + c] : s[from + c];
      } else {
        // by optical depths, which add up
        double u = -Math.log1p(-a);
        double v = -Math.log1p(-b);
        double of = u + v > 0 ? alpha / (u + v) : 1;
        sum = (s[to + c] * (a > 0 ? u / a : 1) + s[from + c] * (b > 0 ? v / b : 1)) * of;
      }
      s[to + c] = (float) sum;
    }
  }

  /** Puts tidy samples over one another, over black: four numbers. */
  static void flatten(float[] s, float[] out, int to) {
    float left = 1;
    for (int at = 0; at < s.length; at += NUMBERS) {
      for (int k = 0; k < 4; k++) {
        out[to + k] += left * s[at + COLOUR + k];
      }
      left *= 1 - s[at + ALPHA];
    }
  }
}
