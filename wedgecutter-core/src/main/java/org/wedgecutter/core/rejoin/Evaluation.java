package org.wedgecutter.core.rejoin;

import java.util.HashMap;
import java.util.Map;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.plan.Correction;

/**
 * Makes the picture of an expression, in 32-bit float, by bands of lines on all cores; and beside
 * it the scale of each number's error: how much light can have been rounded on the way to it.
 */
public final class Evaluation {
  /** Lines that are evaluated together. */
  private static final int BAND = 32;

  private final int width;
  private final int height;
  private final Map<Expression.Read, Picture> pictures = new HashMap<>();

  /** Where pictures come from. */
  public interface Source<X extends Exception> {
    /** Returns the picture of a layer. */
    Picture picture(String layer) throws X;

    /** Returns the light of a layer's pass, with the layer's alpha. */
    Picture pass(String layer, String pass) throws X;
  }

  /**
   * Returns what a correction multiplies colours by, nine numbers row by row: for programs that do
   * the same. Null if it is no such correction.
   */
  public static double @Nullable [] matrix(Correction correction) {
    return Grade.matrix(correction);
  }

  private Evaluation(int width, int height) {
    this.width = width;
    this.height = height;
  }

  /**
   * Evaluates an expression. What it reads is asked for once; layers of another size are resampled.
   *
   * @param width of the result in pixels
   * @param height of the result in lines
   */
  public static <X extends Exception> Rejoiner.Rejoined of(
      Expression expression, int width, int height, Source<X> source) throws X {
    Evaluation all = new Evaluation(width, height);
    for (Expression.Read read : expression.reads()) {
      Picture p =
          read.pass().isEmpty()
              ? source.picture(read.layer())
              : source.pass(read.layer(), read.pass());
      all.pictures.put(read, p.resized(width, height));
    }
    Rejoiner.Rejoined out =
        new Rejoiner.Rejoined(Picture.empty(width, height), Picture.empty(width, height));
    IntStream.range(0, (height + BAND - 1) / BAND)
        .parallel()
        .forEach(b -> {
          int from = b * BAND;
          int lines = Math.min(BAND, height - from);
          Rejoiner.Rejoined band = all.band(expression, from, lines);
          int at = 4 * width * from;
          System.arraycopy(band.picture().rgba(), 0, out.picture().rgba(), at, 4 * width * lines);
          System.arraycopy(band.scale().rgba(), 0, out.scale().rgba(), at, 4 * width * lines);
        });
    return out;
  }

  /** The value of some lines; its arrays belong to whoever asks. */
  private Rejoiner.Rejoined band(Expression expression, int from, int lines) {
    return switch (expression) {
      case Expression.Black b ->
          new Rejoiner.Rejoined(Picture.empty(width, lines), Picture.empty(width, lines));
      case Expression.Read r -> read(r, from, lines);
      case Expression.Joined j -> {
        Rejoiner.Rejoined back = band(j.back(), from, lines);
        Rejoiner.Rejoined front = band(j.front(), from, lines);
        Rejoiner.join(back, front, j.join(), (float) j.opacity());
        yield back;
      }
      case Expression.Corrected c -> {
        Rejoiner.Rejoined of = band(c.of(), from, lines);
        Grade.of(c.correction()).apply(of.picture(), of.scale());
        yield of;
      }
      case Expression.Exchanged e -> {
        Rejoiner.Rejoined whole = band(e.whole(), from, lines);
        Rejoiner.Rejoined part = band(e.part(), from, lines);
        Rejoiner.Rejoined by = band(e.by(), from, lines);
        float[] c = whole.picture().rgba();
        float[] s = whole.scale().rgba();
        for (int i = 0; i < c.length; i++) {
          if ((i & 3) != 3) {
            c[i] += by.picture().rgba()[i] - part.picture().rgba()[i];
            s[i] += by.scale().rgba()[i] + part.scale().rgba()[i];
          }
        }
        yield whole;
      }
    };
  }

  private Rejoiner.Rejoined read(Expression.Read read, int from, int lines) {
    Picture whole = pictures.get(read);
    if (whole == null) {
      throw new IllegalStateException("not read: " + read);
    }
    Picture own = lines == height ? whole.copy() : whole.cropped(new Region(0, from, width, lines));
    Picture scale = own.copy();
    float[] s = scale.rgba();
    for (int i = 0; i < s.length; i++) {
      s[i] = Math.abs(s[i]);
    }
    return new Rejoiner.Rejoined(own, scale);
  }
}
