package org.wedgecutter.core.rejoin;

import java.util.Arrays;
import java.util.stream.IntStream;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;

/**
 * Corrections of a layer by depth. Colours are corrected sample by sample. What a matte, a pass or
 * an effect changes is known of whole pixels only: each sample's colour changes by as much as its
 * pixel's does.
 */
final class DeepGrade {
  private DeepGrade() {}

  /** Returns the layer that an expression corrects. */
  static String layer(Expression of) {
    for (Expression e : of.all()) {
      if (e instanceof Expression.Read r) {
        return r.layer();
      }
      if (e instanceof Expression.Cover c) {
        return c.layer();
      }
    }
    throw new IllegalArgumentException("no layer: " + of.line());
  }

  /**
   * Returns a layer's samples corrected.
   *
   * @param before the flat layer
   * @param after what the expression makes of it
   */
  static DeepPicture corrected(DeepPicture deep, Expression by, Picture before, Picture after) {
    return by instanceof Expression.Corrected c && c.of() instanceof Expression.Read
        ? samples(deep, Grade.of(c.correction()))
        : pixels(deep, before.rgba(), after.rgba());
  }

  /**
   * Returns a layer's samples with what a matte covers of each in place of their colours. The cover
   * is known of whole pixels: each sample has its pixel's share of it.
   *
   * @param cover of the layer, beside its alpha
   */
  static DeepPicture covered(DeepPicture deep, Picture cover) {
    Picture own = cover.resized(deep.width(), deep.height());
    float[][] out = new float[deep.pixels().length][];
    for (int p = 0; p < out.length; p++) {
      float alpha = own.rgba()[4 * p + 3];
      float share = alpha > 0 ? Math.min(1, own.rgba()[4 * p] / alpha) : 0;
      out[p] = deep.pixels()[p].clone();
      for (int s = 0; s < out[p].length; s += DeepPicture.NUMBERS) {
        int colour = s + DeepPicture.COLOUR;
        Arrays.fill(out[p], colour, colour + 3, share * out[p][colour + 3]);
      }
    }
    return new DeepPicture(deep.width(), deep.height(), out);
  }

  private static DeepPicture samples(DeepPicture deep, Grade grade) {
    float[][] out = new float[deep.pixels().length][];
    IntStream.range(0, out.length)
        .parallel()
        .forEach(p -> {
          float[] own = deep.pixels()[p].clone();
          float[] colour = new float[4];
          for (int s = 0; s < own.length; s += DeepPicture.NUMBERS) {
            System.arraycopy(own, s + DeepPicture.COLOUR, colour, 0, 4);
            grade.apply(colour, null);
            System.arraycopy(colour, 0, own, s + DeepPicture.COLOUR, 4);
          }
          out[p] = own;
        });
    return new DeepPicture(deep.width(), deep.height(), out);
  }

  private static DeepPicture pixels(DeepPicture deep, float[] before, float[] after) {
    float[][] out = new float[deep.pixels().length][];
    IntStream.range(0, out.length)
        .parallel()
        .forEach(p -> {
          float[] own = deep.pixels()[p].clone();
          for (int s = 0; s < own.length; s += DeepPicture.NUMBERS) {
            for (int k = 0; k < 3; k++) {
              float was = before[4 * p + k];
              own[s + DeepPicture.COLOUR + k] *= was == 0 ? 1 : after[4 * p + k] / was;
            }
          }
          out[p] = own;
        });
    return new DeepPicture(deep.width(), deep.height(), out);
  }

  /** The samples with the sizes of their colours, by the weight of their errors. */
  static DeepPicture sizes(DeepPicture of, float weight) {
    float[][] out = new float[of.pixels().length][];
    for (int p = 0; p < out.length; p++) {
      out[p] = of.pixels()[p].clone();
      for (int s = 0; s < out[p].length; s += DeepPicture.NUMBERS) {
        for (int k = s + DeepPicture.COLOUR; k < s + DeepPicture.COLOUR + 3; k++) {
          out[p][k] = weight * Math.abs(out[p][k]);
        }
      }
    }
    return new DeepPicture(of.width(), of.height(), out);
  }
}
