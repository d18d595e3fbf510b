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
   *     both parts; of what is covered or multiplied, what remains of it. Light of half floats
   *     counts as {@link Precision#weight} says
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
      joinScales(back, behind, front, ahead, JoinRule.of(join), opacity);
    }
    join(back.light(), front.light(), front.at(), back.count(), join, opacity);
  }

  private static void joinScales(
      Band back, float[] s, Band front, float[] own, JoinRule rule, float opacity) {
    float[] r = back.light();
    float[] c = front.light();
    int at = front.at();
    for (int i = 0; i < s.length; i++) {
      boolean alpha = (i & 3) == 3;
      float joined =
          rule.scale(new JoinRule.Side(r[i], s[i], c[at + i], own[i], c[at + (i | 3)]), alpha);
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
   * @param opacity strength of the join, 0 to 1
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
    JoinRule rule = JoinRule.of(join);
    if (opacity == 1) {
      rule.apply(r, c, at, count);
      return;
    }
    float[] all = Arrays.copyOf(r, count);
    rule.apply(all, c, at, count);
    for (int i = 0; i < count; i++) {
      r[i] += opacity * (all[i] - r[i]);
    }
  }
}
