package org.wedgecutter.core.rejoin;

import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Recipe;

/** Joins layers by a recipe, in 32-bit float, from the back to the front. */
public final class Rejoiner {
  private Rejoiner() {}

  /** Where the pictures come from. */
  @FunctionalInterface
  public interface Source<X extends Exception> {
    /** Returns the picture of a layer. */
    Picture picture(String layer) throws X;
  }

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
      Recipe recipe, int width, int height, Source<X> layers) throws X {
    return Evaluation.of(
        Expression.joins(recipe),
        width,
        height,
        new Evaluation.Source<X>() {
          @Override
          public Picture picture(String layer) throws X {
            return layers.picture(layer);
          }

          @Override
          public Picture pass(String layer, String pass) {
            throw new IllegalStateException("joins read no passes");
          }
        });
  }

  /**
   * Joins a front, and the scale of its error, onto what is behind it, which is changed. Of either
   * error counts what the join passes on: light that an opaque front covers leaves none.
   */
  static void join(Evaluation.Value back, Evaluation.Value front, Join join, float opacity) {
    Picture behind = back.scale();
    Picture ahead = front.scale();
    if (behind != null && ahead != null) {
      joinScales(back.picture(), behind, front.picture(), ahead, join, opacity);
    }
    join(back.picture(), front.picture(), join, opacity);
  }

  private static void joinScales(
      Picture back, Picture behind, Picture front, Picture ahead, Join join, float opacity) {
    float[] s = behind.rgba();
    float[] own = ahead.rgba();
    float[] r = back.rgba();
    float[] c = front.rgba();
    for (int i = 0; i < s.length; i++) {
      boolean alpha = (i & 3) == 3;
      float through = Math.abs(1 - c[i | 3]);
      float joined =
          switch (join) {
            case PLUS, DIFFERENCE -> s[i] + own[i];
            case OVER -> own[i] + through * s[i];
            case TIMES -> alpha ? s[i] : times(r[i], s[i], c[i], own[i]);
            case CATCH -> alpha ? s[i] : own[i] + through * s[i];
            case SCREEN -> Math.abs(1 - c[i]) * s[i] + Math.abs(1 - r[i]) * own[i];
            case MIN, MAX -> Math.max(s[i], own[i]);
          };
      s[i] = opacity == 1 ? joined : (1 - opacity) * s[i] + opacity * joined;
    }
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
    float[] r = onto.rgba();
    float[] c = layer.rgba();
    if (opacity == 1) {
      join(r, c, join);
      return;
    }
    float[] all = r.clone();
    join(all, c, join);
    for (int i = 0; i < r.length; i++) {
      r[i] += opacity * (all[i] - r[i]);
    }
  }

  private static void join(float[] r, float[] c, Join join) {
    switch (join) {
      case PLUS -> {
        for (int i = 0; i < r.length; i++) {
          r[i] += c[i];
        }
      }
      case OVER -> {
        for (int p = 0; p < r.length; p += 4) {
          float through = 1 - c[p + 3];
          for (int k = 0; k < 4; k++) {
            r[p + k] = c[p + k] + through * r[p + k];
          }
        }
      }
      case TIMES -> {
        for (int p = 0; p < r.length; p += 4) {
          for (int k = 0; k < 3; k++) {
            r[p + k] *= c[p + k];
          }
        }
      }
      case CATCH -> {
        // the alpha darkens a surface that is already there; it covers nothing itself
        for (int p = 0; p < r.length; p += 4) {
          float through = 1 - c[p + 3];
          for (int k = 0; k < 3; k++) {
            r[p + k] = c[p + k] + through * r[p + k];
          }
        }
      }
      case SCREEN -> {
        for (int i = 0; i < r.length; i++) {
          r[i] = r[i] + c[i] - r[i] * c[i];
        }
      }
      case MIN -> {
        for (int i = 0; i < r.length; i++) {
          r[i] = Math.min(r[i], c[i]);
        }
      }
      case MAX -> {
        for (int i = 0; i < r.length; i++) {
          r[i] = Math.max(r[i], c[i]);
        }
      }
      case DIFFERENCE -> {
        for (int i = 0; i < r.length; i++) {
          r[i] = Math.abs(r[i] - c[i]);
        }
      }
    }
  }
}
