package org.wedgecutter.core.rejoin;

import java.util.Arrays;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Recipe;

/** Joins layers by a recipe, in 32-bit float, from the back to the front. */
public final class Rejoiner {
  private Rejoiner() {}

  /**
   * A rejoined picture.
   *
   * @param picture the result
   * @param scale per pixel and channel, how much light can have been rounded on the way: of a sum,
   *     both parts; of what is covered or multiplied, what remains of it
   */
  public record Rejoined(Picture picture, Picture scale) {}

  /**
   * Joins all layers of a recipe as they are, starting from black; layers of another size are
   * resampled.
   */
  public static <X extends Exception> Rejoined rejoin(
      Recipe recipe, int width, int height, LayerSource<X> layers) throws X {
    return Evaluation.of(Expression.joins(recipe), width, height, layers);
  }

  /**
   * Joins a front, and the scale of its error, onto what is behind it, which is changed. Of either
   * error counts what the join passes on: light that an opaque front covers leaves none.
   */
  static void join(Band back, Band front, Join join, float opacity) {
    float[] behind = back.scale();
    float[] ahead = front.scale();
    if (behind != null && ahead != null) {
      joinScales(back, behind, front, ahead, join, opacity);
    }
    join(back.light(), front.light(), front.at(), back.count(), join, opacity);
  }

  private static void joinScales(
      Band back, float[] s, Band front, float[] own, Join join, float opacity) {
    float[] r = back.light();
    for (int i = 0; i < s.length; i++) {
      boolean alpha = (i & 3) == 3;
      float c = front.light()[front.at() + i];
      float through = Math.abs(1 - front.light()[front.at() + (i | 3)]);
      float joined =
          switch (join) {
            case PLUS, DIFFERENCE -> s[i] + own[i];
            case OVER -> own[i] + through * s[i];
            case TIMES -> alpha ? s[i] : times(r[i], s[i], c, own[i]);
            case CATCH -> alpha ? s[i] : own[i] + through * s[i];
            case SCREEN -> Math.abs(1 - c) * s[i] + Math.abs(1 - r[i]) * own[i];
            case MIN, MAX -> Math.max(s[i], own[i]);
            case MATTE, DEPTH, DEEP -> throw notByPixel(join);
          };
      s[i] = opacity == 1 ? joined : (1 - opacity) * s[i] + opacity * joined;
    }
  }

  private static IllegalArgumentException notByPixel(Join join) {
    return new IllegalArgumentException("'%s' needs more than two pictures".formatted(join.word()));
  }

  /** A ratio's own error moves what is multiplied; as it is read, it is relative to the ratio. */
  private static float times(float r, float s, float c, float own) {
    return Math.max(Math.abs(c) * s, Math.abs(r) * own);
  }

  /** Joins all of one layer onto a picture, which is changed. */
  public static void join(Picture onto, Picture layer, Join join) {
    join(onto, layer, join, 1);
  }

  /**
   * Joins one layer onto a picture, which is changed.
   *
   * @param opacity how much of the join is taken, 0 to 1
   * @throws IllegalArgumentException if they are not of the same size
   */
  public static void join(Picture onto, Picture layer, Join join, float opacity) {
    if (!onto.sameSize(layer)) {
      throw new IllegalArgumentException(
          "a layer of %d x %d pixels cannot be joined to %d x %d"
              .formatted(layer.width(), layer.height(), onto.width(), onto.height()));
    }
    join(onto.rgba(), layer.rgba(), 0, onto.rgba().length, join, opacity);
  }

  /**
   * @param r numbers that are joined onto, from 0 on
   * @param at where those of the front begin
   */
  private static void join(float[] r, float[] c, int at, int count, Join join, float opacity) {
    if (opacity == 1) {
      join(r, c, at, count, join);
      return;
    }
    float[] all = Arrays.copyOf(r, count);
    join(all, c, at, count, join);
    for (int i = 0; i < count; i++) {
      r[i] += opacity * (all[i] - r[i]);
    }
  }

  private static void join(float[] r, float[] c, int at, int count, Join join) {
    switch (join) {
      case PLUS -> {
        for (int i = 0; i < count; i++) {
          r[i] += c[at + i];
        }
      }
      case OVER -> {
        // written out: the compiler makes no vectors of a loop over four channels
        for (int p = 0; p < count; p += 4) {
          int q = at + p;
          float alpha = c[q + 3];
          float through = 1 - alpha;
          r[p] = c[q] + through * r[p];
          r[p + 1] = c[q + 1] + through * r[p + 1];
          r[p + 2] = c[q + 2] + through * r[p + 2];
          r[p + 3] = alpha + through * r[p + 3];
        }
      }
      case TIMES -> {
        for (int p = 0; p < count; p += 4) {
          for (int k = p; k < p + 3; k++) {
            r[k] *= c[at + k];
          }
        }
      }
      case CATCH -> {
        // the alpha darkens a surface that is already there; it covers nothing itself
        for (int p = 0; p < count; p += 4) {
          int q = at + p;
          float through = 1 - c[q + 3];
          r[p] = c[q] + through * r[p];
          r[p + 1] = c[q + 1] + through * r[p + 1];
          r[p + 2] = c[q + 2] + through * r[p + 2];
        }
      }
      case SCREEN -> {
        for (int i = 0; i < count; i++) {
          r[i] = r[i] + c[at + i] - r[i] * c[at + i];
        }
      }
      case MIN -> {
        for (int i = 0; i < count; i++) {
          r[i] = Math.min(r[i], c[at + i]);
        }
      }
      case MAX -> {
        for (int i = 0; i < count; i++) {
          r[i] = Math.max(r[i], c[at + i]);
        }
      }
      case DIFFERENCE -> {
        for (int i = 0; i < count; i++) {
          r[i] = Math.abs(r[i] - c[at + i]);
        }
      }
      case MATTE, DEPTH, DEEP -> throw notByPixel(join);
    }
  }
}
