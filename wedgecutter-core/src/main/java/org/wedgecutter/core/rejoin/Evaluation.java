package org.wedgecutter.core.rejoin;

import java.util.HashMap;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
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
  private final boolean scaled;
  private final Map<Expression.Read, Picture> pictures = new HashMap<>();
  private final Map<Correction, Grade> grades = new ConcurrentHashMap<>();

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

  private Evaluation(int width, int height, boolean scaled) {
    this.width = width;
    this.height = height;
    this.scaled = scaled;
  }

  /** A value: of some lines, the picture and the scale of its error, if that is asked for. */
  record Value(Picture picture, @Nullable Picture scale) {}

  /**
   * Evaluates an expression, and the scale of its error. What it reads is asked for once; layers of
   * another size are resampled.
   *
   * @param width of the result in pixels
   * @param height of the result in lines
   */
  public static <X extends Exception> Rejoiner.Rejoined of(
      Expression expression, int width, int height, Source<X> source) throws X {
    Picture scale = Picture.empty(width, height);
    return new Rejoiner.Rejoined(evaluate(expression, width, height, source, scale), scale);
  }

  /** Evaluates an expression without the scale of its error, which is quicker. */
  public static <X extends Exception> Picture picture(
      Expression expression, int width, int height, Source<X> source) throws X {
    return evaluate(expression, width, height, source, null);
  }

  private static <X extends Exception> Picture evaluate(
      Expression expression, int width, int height, Source<X> source, @Nullable Picture scale)
      throws X {
    Evaluation all = new Evaluation(width, height, scale != null);
    for (Expression.Read read : expression.reads()) {
      Picture p =
          read.pass().isEmpty()
              ? source.picture(read.layer())
              : source.pass(read.layer(), read.pass());
      all.pictures.put(read, p.resized(width, height));
    }
    Picture out = Picture.empty(width, height);
    IntStream.range(0, (height + BAND - 1) / BAND)
        .parallel()
        .forEach(b -> {
          int from = b * BAND;
          int lines = Math.min(BAND, height - from);
          Value band = all.band(expression, from, lines);
          int at = 4 * width * from;
          int count = 4 * width * lines;
          System.arraycopy(band.picture.rgba(), 0, out.rgba(), at, count);
          if (scale != null && band.scale != null) {
            System.arraycopy(band.scale.rgba(), 0, scale.rgba(), at, count);
          }
        });
    return out;
  }

  /** The value of some lines; its arrays belong to whoever asks. */
  private Value band(Expression expression, int from, int lines) {
    return switch (expression) {
      case Expression.Black b ->
          new Value(Picture.empty(width, lines), scaled ? Picture.empty(width, lines) : null);
      case Expression.Read r -> read(r, from, lines);
      case Expression.Joined j -> {
        Value back = band(j.back(), from, lines);
        Value front = band(j.front(), from, lines);
        Rejoiner.join(back, front, j.join(), (float) j.opacity());
        yield back;
      }
      case Expression.Corrected c -> {
        Value of = band(c.of(), from, lines);
        grades.computeIfAbsent(c.correction(), Grade::of).apply(of.picture(), of.scale());
        yield of;
      }
      case Expression.Exchanged e -> {
        Value whole = band(e.whole(), from, lines);
        Value part = band(e.part(), from, lines);
        Value by = band(e.by(), from, lines);
        add(whole.picture, by.picture, part.picture, -1);
        if (whole.scale != null && by.scale != null && part.scale != null) {
          add(whole.scale, by.scale, part.scale, 1);
        }
        yield whole;
      }
    };
  }

  private Value read(Expression.Read read, int from, int lines) {
    Picture whole = pictures.get(read);
    if (whole == null) {
      throw new IllegalStateException("not read: " + read);
    }
    Picture own = lines == height ? whole.copy() : whole.cropped(new Region(0, from, width, lines));
    if (!scaled) {
      return new Value(own, null);
    }
    Picture scale = own.copy();
    float[] s = scale.rgba();
    for (int i = 0; i < s.length; i++) {
      s[i] = Math.abs(s[i]);
    }
    return new Value(own, scale);
  }

  /** Adds colours of one picture, and of another by a factor. */
  private static void add(Picture to, Picture one, Picture other, float factor) {
    float[] c = to.rgba();
    for (int i = 0; i < c.length; i++) {
      if ((i & 3) != 3) {
        c[i] += one.rgba()[i] + factor * other.rgba()[i];
      }
    }
  }
}
