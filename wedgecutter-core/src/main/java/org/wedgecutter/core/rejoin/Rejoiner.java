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

  /** Joins all layers of a recipe, starting from black; layers of another size are resampled. */
  public static <X extends Exception> Rejoined rejoin(
      Recipe recipe, int width, int height, Source<X> layers) throws X {
    Picture result = Picture.empty(width, height);
    Picture scale = Picture.empty(width, height);
    for (Recipe.Step step : recipe.joins()) {
      Picture layer = layers.picture(step.layer()).resized(width, height);
      scale(scale, result, layer, step);
      join(result, layer, step.join(), (float) step.opacity());
    }
    return new Rejoined(result, scale);
  }

  /**
   * Joins the scale of the error of one layer onto that of what is behind it: what the join passes
   * on of either error. Light that an opaque front covers leaves no error.
   *
   * @param behind what is behind, before the join
   */
  private static void scale(Picture onto, Picture behind, Picture layer, Recipe.Step step) {
    float[] s = onto.rgba();
    float[] r = behind.rgba();
    float[] c = layer.rgba();
    float opacity = (float) step.opacity();
    for (int i = 0; i < s.length; i++) {
      boolean alpha = (i & 3) == 3;
      float own = Math.abs(c[i]);
      float through = Math.abs(1 - c[i | 3]);
      float joined =
          switch (step.join()) {
            case PLUS, DIFFERENCE -> s[i] + own;
            case OVER -> own + through * s[i];
            case TIMES -> alpha ? s[i] : own * s[i];
            case CATCH -> alpha ? s[i] : own + through * s[i];
            case SCREEN -> Math.abs(1 - c[i]) * s[i] + Math.abs(1 - r[i]) * own;
            case MIN, MAX -> Math.max(s[i], own);
          };
      s[i] = opacity == 1 ? joined : (1 - opacity) * s[i] + opacity * joined;
    }
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
