package org.wedgecutter.core.deliver.check;

import java.util.List;
import java.util.function.DoubleUnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.rejoin.Evaluation;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.rejoin.LayerSource;

/**
 * Changes that lose something, so that no arithmetic undoes them: they are recognised by doing the
 * same to the picture that should be there, and by what they leave in the numbers.
 */
final class FileLosses {
  private static final double[] WIDTHS = {0.4, 0.5, 0.7, 1, 1.5, 2, 3};

  /** Share of the difference that a change must explain. */
  private static final double ENOUGH = 0.7;

  /**
   * Mean distance from a level, in levels, of numbers that were rounded to them; 0.25 by chance.
   */
  private static final double ROUNDED = 0.07;

  private static final int LEVELS = 255;

  /** Pixels over which the noise of a picture cancels out. */
  private static final double NOISE_WIDTH = 4;

  /** Share of the differences that is left of noise then. */
  private static final double CANCELS = 0.25;

  /** How much closer a way of multiplying by alpha must be than the others. */
  private static final double CLEARLY = 0.6;

  /** Share of the difference that must lie where the file shows something. */
  private static final double HALF = 0.5;

  /** Share of the removed light that must have one sign; errors of other layers cancel out. */
  private static final double ONE_SIGN = 0.8;

  /** How far beyond 0 and 1 counts, and how many of such numbers must be cut off. */
  private static final float BOUND = 0.01f;

  private static final double MOSTLY = 0.8;

  private final Picture is;
  private final Picture should;
  private final boolean[] trusted;
  private final double base;
  private @Nullable Found best;

  /**
   * What is recognised.
   *
   * @param explained share of the difference that it explains
   */
  record Found(Sentence sentence, String amount, double explained) {
    /** Returns it in words for a file. */
    Message message(String file) {
      return amount.isEmpty()
          ? Message.of(sentence, "file", file)
          : Message.of(sentence, "file", file, "amount", amount);
    }
  }

  private FileLosses(Picture is, Picture should, boolean[] trusted) {
    this.is = is;
    this.should = should;
    this.trusted = trusted;
    base = distance(should);
  }

  /**
   * Returns what was done to a picture.
   *
   * @param is the picture of the file
   * @param should what must be there for the layers to rejoin
   * @param trusted in which pixels that is known
   * @return null if nothing that is known explains it
   */
  static @Nullable Found of(Picture is, Picture should, boolean[] trusted) {
    FileLosses e = new FileLosses(is, should, trusted);
    e.search();
    Found found = e.best;
    return found == null || found.explained < ENOUGH ? null : found;
  }

  /**
   * Returns what the numbers of a picture tell by themselves, in words for its file: that they have
   * few levels, or that colour and alpha do not go together on edges; null if they tell nothing.
   */
  static @Nullable Message itself(String file, Picture is) {
    if (isRounded(is, x -> x) || isRounded(is, FileLosses::encoded)) {
      return Message.of(Sentence.FILE_QUANTISED, "file", file);
    }
    double[] off = edges(is);
    if (off[0] < CLEARLY * off[1] && off[0] < CLEARLY * off[2]) {
      return Message.of(Sentence.FILE_UNPREMULTIPLIED, "file", file);
    }
    return off[2] < CLEARLY * off[1] && off[2] < CLEARLY * off[0]
        ? Message.of(Sentence.FILE_PREMULTIPLIED_TWICE, "file", file)
        : null;
  }

  /**
   * How far the colours of edges are from those of solid pixels beside them, if they were
   * multiplied by alpha never, once, or twice; a mean of logarithms.
   */
  private static double[] edges(Picture is) {
    double[] off = new double[3];
    int count = 0;
    float[] c = is.rgba();
    for (int y = 1; y < is.height() - 1; y++) {
      for (int x = 1; x < is.width() - 1; x++) {
        int i = 4 * (y * is.width() + x);
        float alpha = c[i + 3];
        double own = Picture.luma(c[i], c[i + 1], c[i + 2]);
        double beside = solid(is, x, y);
        if (alpha > 0.1 && alpha < 0.8 && own > 1e-4 && beside > 1e-4) {
          count++;
          for (int k = 0; k < 3; k++) {
            off[k] += Math.abs(Math.log(own / beside) - k * Math.log(alpha));
          }
        }
      }
    }
    return count < 12 ? new double[] {1, 1, 1} : off;
  }

  /** The mean luminance of the solid pixels around one; 0 if there is none. */
  private static double solid(Picture is, int x, int y) {
    double sum = 0;
    int count = 0;
    for (int k = 0; k < 9; k++) {
      int i = 4 * ((y + k / 3 - 1) * is.width() + x + k % 3 - 1);
      if (is.rgba()[i + 3] > 0.99) {
        sum += Picture.luma(is.rgba()[i], is.rgba()[i + 1], is.rgba()[i + 2]);
        count++;
      }
    }
    return count == 0 ? 0 : sum / count;
  }

  private void search() {
    if (isEmpty()) {
      add(Sentence.FILE_EMPTY, "", Picture.empty(is.width(), is.height()));
      return;
    }
    // a change of a layer shows in its own pixels; errors in its empty pixels are another layer's
    boolean isSeen = shown() >= HALF * base;
    if (standsAtBounds() && (isSeen || isDarkness())) {
      add(Sentence.FILE_CLAMPED, "", each(x -> Math.max(0, Math.min(1, x))));
    }
    Picture opaque = should.copy();
    for (int i = 3; i < opaque.rgba().length; i += 4) {
      opaque.rgba()[i] = 1;
    }
    add(Sentence.FILE_ALPHA, "", opaque);
    Picture cropped = croppedAlike();
    if (isContent(cropped)) {
      add(Sentence.FILE_CROPPED, "", cropped);
    }
    for (double width : isSeen ? WIDTHS : new double[0]) {
      add(Sentence.FILE_FILTERED, "%.1f".formatted(width), blurred(should, width));
    }
    for (int k = 0; k < 9 && isSeen; k++) {
      double x = (k % 3 - 1) / 2.0;
      double y = (k / 3 - 1) / 2.0;
      if (k != 4) {
        add(Sentence.FILE_SHIFTED, "%.1f, %.1f".formatted(x, y), halfway(x, y));
      }
    }
    Found known = best;
    if ((known == null || known.explained < ENOUGH) && isSeen && isOtherNoise()) {
      best = new Found(Sentence.FILE_NOISE, "", ENOUGH);
    }
  }

  private boolean isEmpty() {
    for (int i = 0; i < is.rgba().length; i++) {
      if (is.rgba()[i] != 0) {
        return false;
      }
    }
    return true;
  }

  /** The picture moved by half a pixel: means of neighbours. */
  private Picture halfway(double x, double y) {
    Picture out = Picture.empty(is.width(), is.height());
    for (int row = 0; row < is.height(); row++) {
      int above = clamp(row - (y > 0 ? 1 : 0), is.height());
      int below = clamp(row + (y < 0 ? 1 : 0), is.height());
      for (int column = 0; column < is.width(); column++) {
        int left = clamp(column - (x > 0 ? 1 : 0), is.width());
        int right = clamp(column + (x < 0 ? 1 : 0), is.width());
        for (int c = 0; c < 4; c++) {
          out.rgba()[4 * (row * is.width() + column) + c] =
              (at(left, above, c) + at(right, above, c) + at(left, below, c) + at(right, below, c))
                  / 4;
        }
      }
    }
    return out;
  }

  private float at(int x, int y, int c) {
    return should.rgba()[4 * (y * is.width() + x) + c];
  }

  private static int clamp(int v, int size) {
    return Math.max(0, Math.min(size - 1, v));
  }

  /**
   * Whether the file shows the same with other random numbers: over some pixels the differences
   * cancel out, and the alpha is the same but on edges.
   */
  private boolean isOtherNoise() {
    Picture mine = blurred(is, NOISE_WIDTH);
    Picture theirs = blurred(should, NOISE_WIDTH);
    double fine = 0;
    double coarse = 0;
    double light = 0;
    for (int i = 0; i < is.rgba().length; i++) {
      if ((i & 3) != 3 && trusted[i / 4] && Float.isFinite(should.rgba()[i])) {
        fine += Math.abs(is.rgba()[i] - should.rgba()[i]);
        coarse += Math.abs(mine.rgba()[i] - theirs.rgba()[i]);
        light += Math.abs(should.rgba()[i]);
      }
    }
    return light > 0 && coarse < CANCELS * fine && coarse < light / 20;
  }

  private void add(Sentence sentence, String amount, Picture as) {
    double explained = base <= 0 ? 0 : 1 - distance(as) / base;
    Found before = best;
    if (before == null || explained > before.explained + 1e-3) {
      best = new Found(sentence, amount, explained);
    }
  }

  private double distance(Picture to) {
    double out = 0;
    for (int i = 0; i < is.rgba().length; i++) {
      out += distance(to, i);
    }
    return out;
  }

  private double distance(Picture to, int i) {
    float d = is.rgba()[i] - to.rgba()[i];
    return trusted[i / 4] && Float.isFinite(d) ? Math.abs(d) : 0;
  }

  /** How much of the difference lies where the file shows something. */
  private double shown() {
    double out = 0;
    for (int i = 0; i < is.rgba().length; i++) {
      out += shows(i & ~3) ? distance(should, i) : 0;
    }
    return out;
  }

  private boolean shows(int i) {
    float[] c = is.rgba();
    return c[i] != 0 || c[i + 1] != 0 || c[i + 2] != 0 || c[i + 3] != 0;
  }

  /** Whether the light expected in empty pixels is negative, as that of a shadow. */
  private boolean isDarkness() {
    double sum = 0;
    double size = 0;
    for (int i = 0; i < is.rgba().length; i++) {
      if (trusted[i / 4] && is.rgba()[i] == 0 && Float.isFinite(should.rgba()[i])) {
        sum += should.rgba()[i];
        size += Math.abs(should.rgba()[i]);
      }
    }
    return size > 0 && sum <= -ONE_SIGN * size;
  }

  /** Whether numbers that should be below 0 or above 1 are 0 and 1. */
  private boolean standsAtBounds() {
    int beyond = 0;
    int at = 0;
    for (int i = 0; i < is.rgba().length; i++) {
      float v = should.rgba()[i];
      if (trusted[i / 4] && (v < -BOUND || v > 1 + BOUND)) {
        beyond++;
        at += is.rgba()[i] == (v < 0 ? 0 : 1) ? 1 : 0;
      }
    }
    return beyond > 0 && at >= MOSTLY * beyond;
  }

  private Picture each(DoubleUnaryOperator value) {
    Picture out = should.copy();
    for (int i = 0; i < out.rgba().length; i++) {
      out.rgba()[i] = (float) value.applyAsDouble(out.rgba()[i]);
    }
    return out;
  }

  /** What should be there, where the file shows anything: within the smallest rectangle. */
  private Picture croppedAlike() {
    int left = is.width();
    int right = -1;
    int top = is.height();
    int bottom = -1;
    for (int i = 0; i < is.rgba().length; i++) {
      if (is.rgba()[i] != 0) {
        int x = i / 4 % is.width();
        int y = i / 4 / is.width();
        left = Math.min(left, x);
        right = Math.max(right, x);
        top = Math.min(top, y);
        bottom = Math.max(bottom, y);
      }
    }
    Picture out = should.copy();
    for (int p = 0; p < is.width() * is.height(); p++) {
      int x = p % is.width();
      int y = p / is.width();
      if (x < left || x > right || y < top || y > bottom) {
        java.util.Arrays.fill(out.rgba(), 4 * p, 4 * p + 4, 0);
      }
    }
    return out;
  }

  /**
   * Whether the pixels that a crop would remove belong to the layer: they are as opaque as the
   * others and their light has one sign. Errors of another layer in empty pixels are neither.
   */
  private boolean isContent(Picture cropped) {
    double light = 0;
    double size = 0;
    double alphaGone = 0;
    double alphaLeft = 0;
    int gone = 0;
    int left = 0;
    float[] all = should.rgba();
    for (int p = 0; p < trusted.length; p++) {
      int i = 4 * p;
      boolean isCut = false;
      for (int k = i; k < i + 4; k++) {
        isCut |= all[k] != cropped.rgba()[k] && Float.isFinite(all[k]);
      }
      if (isCut && trusted[p]) {
        for (int k = i; k < i + 3; k++) {
          light += all[k];
          size += Math.abs(all[k]);
        }
        alphaGone += all[i + 3];
        gone++;
      } else if (shows(i)) {
        alphaLeft += is.rgba()[i + 3];
        left++;
      }
    }
    boolean isOpaque = left == 0 || 2 * alphaGone / Math.max(1, gone) >= alphaLeft / left;
    return gone > 0 && isOpaque && Math.abs(light) >= ONE_SIGN * size;
  }

  private static Picture blurred(Picture of, double width) {
    Expression e =
        new Expression.Effect(
            new Expression.Read("file", ""),
            Correction.of("file", "", Correction.Type.BLUR, width),
            List.of());
    return Evaluation.picture(e, of.width(), of.height(), new One(of));
  }

  /** A source of one picture. */
  private record One(Picture picture) implements LayerSource<RuntimeException> {
    @Override
    public Picture picture(String layer) {
      return picture;
    }

    @Override
    public Picture pass(String layer, String pass) {
      return picture;
    }

    @Override
    public Picture cover(String layer, MatteDef matte) {
      return picture;
    }

    @Override
    public Depth depth(String layer) {
      return new Depth(
          picture.width(), picture.height(), new float[picture.width() * picture.height()]);
    }

    @Override
    public org.wedgecutter.core.image.@Nullable DeepPicture deep(String layer) {
      return null;
    }

    @Override
    public int shotWidth() {
      return 0;
    }
  }

  /** Whether all light stands on 256 levels, once it is encoded. */
  private static boolean isRounded(Picture is, DoubleUnaryOperator code) {
    double off = 0;
    int count = 0;
    for (int i = 0; i < is.rgba().length; i++) {
      float v = is.rgba()[i];
      if ((i & 3) == 3 || v == 0) {
        continue;
      }
      double level = LEVELS * code.applyAsDouble(v);
      if (!(level >= 0 && level <= LEVELS + 0.2)) {
        return false;
      }
      off += Math.abs(level - Math.rint(level));
      count++;
    }
    return count > 50 && off / count < ROUNDED;
  }

  private static double encoded(double x) {
    return x <= 0.0031308 ? 12.92 * x : 1.055 * Math.pow(x, 1 / 2.4) - 0.055;
  }
}
