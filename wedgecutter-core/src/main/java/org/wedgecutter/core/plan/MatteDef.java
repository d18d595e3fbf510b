package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * A matte of a recipe: how much of each pixel is meant, 0 to 1. Corrections and joins name it.
 *
 * @param name its name, unique in the recipe
 * @param source what it is made of
 * @param picks of ID mattes what is in it: names, with {@code *} for any letters and {@code ?} for
 *     one; of a combination, the names of other mattes
 * @param by of ID mattes part of the name of their layer, such as {@code material}, empty for the
 *     first one that knows a name; of luminance the layer whose it is, empty for the picture that
 *     is corrected
 * @param range of depth or luminance where it is 0 and where it is 1
 * @param outline of a shape
 * @param grow pixels of the shot's size by which it grows; negative: it shrinks
 * @param invert whether it is what is not meant
 * @param extra unknown keys
 */
public record MatteDef(
    String name,
    Source source,
    List<String> picks,
    String by,
    Range range,
    Outline outline,
    int grow,
    boolean invert,
    Extra extra) {
  /** Most pixels by which a matte grows or shrinks. */
  public static final int MOST_GROW = 200;

  public MatteDef {
    picks = List.copyOf(picks);
    if (Math.abs(grow) > MOST_GROW) {
      throw new IllegalArgumentException(
          "%d pixels, expected -%d to %d".formatted(grow, MOST_GROW, MOST_GROW));
    }
  }

  /** What a matte is made of. */
  public enum Source {
    /** Objects, materials or collections, from the pass of ID mattes. */
    IDS,
    /** The distance from the camera, metres, from the pass of depth. */
    DEPTH,
    /** The luminance of the picture that is corrected, or of a layer. */
    LUMA,
    /** A shape that is drawn over the picture. */
    SHAPE,
    /** What is in all of some mattes: the least of them. */
    AND,
    /** What is in any of some mattes: the largest of them. */
    OR,
    /** What is in the first of some mattes and in none of the others. */
    MINUS;

    /** Whether it is made of other mattes. */
    public boolean combines() {
      return this == AND || this == OR || this == MINUS;
    }

    /** Returns the word in plans and on screens. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Finds a source by its word. */
    public static Optional<Source> of(String word) {
      return Arrays.stream(values()).filter(s -> s.word().equals(word)).findFirst();
    }
  }

  /**
   * A ramp from 0 to 1.
   *
   * @param from where it is 0
   * @param to where it is 1; other than {@code from}, and less where the ramp falls
   * @param curve exponent of the ramp, above 0
   */
  public record Range(double from, double to, double curve) {
    /** From 0 to 1, straight. */
    public static final Range UNIT = new Range(0, 1, 1);

    public Range {
      boolean finite = Double.isFinite(from) && Double.isFinite(to);
      if (!finite || from == to || !(curve > 0 && curve <= 100)) {
        throw new IllegalArgumentException(
            "%s to %s, curve %s: expected two ends that differ and a curve above 0"
                .formatted(from, to, curve));
      }
    }

    /** Returns how far along the ramp a value is, 0 to 1; beyond all bounds counts as far. */
    public double at(double value) {
      double t =
          Double.isInfinite(value) ? value * Math.signum(to - from) : (value - from) / (to - from);
      double bounded = Math.max(0, Math.min(1, t));
      return curve == 1 ? bounded : Math.pow(bounded, curve);
    }
  }

  /**
   * A shape. Places are in widths of the picture from the left and heights from the top; lengths
   * are in heights of the picture.
   *
   * @param form what it is
   * @param right its middle, from the left
   * @param down its middle, from the top
   * @param across half of its width; of a gradient half of its length; above 0
   * @param along half of its height, above 0; of no meaning for a gradient
   * @param turn degrees, clockwise
   * @param soft share of its size over which it fades inwards, 0 to 1; a gradient always fades
   */
  public record Outline(
      Form form, double right, double down, double across, double along, double turn, double soft) {
    /** In the middle of the picture. */
    public static final Outline USUAL = new Outline(Form.ELLIPSE, 0.5, 0.5, 0.3, 0.2, 0, 0.3);

    private static final double FAR = 10;

    public Outline {
      boolean near = Math.abs(right) <= FAR && Math.abs(down) <= FAR && Math.abs(turn) <= 3600;
      if (!near || !(across > 0 && across <= FAR) || !(along > 0 && along <= FAR)) {
        throw new IllegalArgumentException(
            "a shape lies within 10 heights of the picture, and has a size above 0");
      }
      if (!(soft >= 0 && soft <= 1)) {
        throw new IllegalArgumentException("%s: expected a softness of 0 to 1".formatted(soft));
      }
    }

    /** What a shape is. */
    public enum Form {
      ELLIPSE,
      RECTANGLE,
      /** Rises from 0 to 1 along its length. */
      GRADIENT;

      /** Returns the word in plans and on screens. */
      public String word() {
        return name().toLowerCase(Locale.ROOT);
      }

      /** Finds a form by its word. */
      public static Optional<Form> of(String word) {
        return Arrays.stream(values()).filter(f -> f.word().equals(word)).findFirst();
      }
    }

    /** Returns the outline in another form. */
    public Outline as(Form next) {
      return new Outline(next, right, down, across, along, turn, soft);
    }

    /** Returns the outline about another middle. */
    public Outline at(double nextRight, double nextDown) {
      return new Outline(form, nextRight, nextDown, across, along, turn, soft);
    }

    /** Returns the outline of another size. */
    public Outline sized(double nextAcross, double nextAlong) {
      return new Outline(form, right, down, nextAcross, nextAlong, turn, soft);
    }

    /** Returns the outline turned to degrees. */
    public Outline turned(double degrees) {
      return new Outline(form, right, down, across, along, degrees, soft);
    }

    /** Returns the outline that fades over another share. */
    public Outline softened(double share) {
      return new Outline(form, right, down, across, along, turn, share);
    }
  }

  /** A matte of what some names mean. */
  public static MatteDef picked(String name, String... picks) {
    return of(name, Source.IDS).withPicks(List.of(picks));
  }

  /** A matte of a range of depth or luminance. */
  public static MatteDef ranged(String name, Source source, double from, double to) {
    return of(name, source).withRange(new Range(from, to, 1));
  }

  /** A matte of other ones. */
  public static MatteDef combined(String name, Source source, String... mattes) {
    return of(name, source).withPicks(List.of(mattes));
  }

  private static MatteDef of(String name, Source source) {
    return new MatteDef(
        name, source, List.of(), "", Range.UNIT, Outline.USUAL, 0, false, Extra.NONE);
  }

  /** Returns the passes that it reads itself, not those of mattes that it is made of. */
  public Set<Output.More> reads() {
    return switch (source) {
      case IDS -> Set.of(Output.More.IDS);
      case DEPTH -> Set.of(Output.More.DEPTH);
      case LUMA, SHAPE, AND, OR, MINUS -> Set.of();
    };
  }

  /** Returns the matte made of something else; what that does not need stays. */
  public MatteDef withSource(Source next) {
    return new MatteDef(name, next, picks, by, range, outline, grow, invert, extra);
  }

  /** Returns the matte of another layer of ID mattes, or of another layer's luminance. */
  public MatteDef withBy(String next) {
    return new MatteDef(name, source, picks, next, range, outline, grow, invert, extra);
  }

  /** Returns the matte of another shape. */
  public MatteDef withOutline(Outline next) {
    return new MatteDef(name, source, picks, by, range, next, grow, invert, extra);
  }

  /** Returns the matte of other names. */
  public MatteDef withPicks(List<String> next) {
    return new MatteDef(name, source, next, by, range, outline, grow, invert, extra);
  }

  /** Returns the matte over another range. */
  public MatteDef withRange(Range next) {
    return new MatteDef(name, source, picks, by, next, outline, grow, invert, extra);
  }

  /** Returns the matte grown by other pixels. */
  public MatteDef withGrow(int next) {
    return new MatteDef(name, source, picks, by, range, outline, next, invert, extra);
  }

  /** Returns the matte inverted, or not. */
  public MatteDef withInvert(boolean next) {
    return new MatteDef(name, source, picks, by, range, outline, grow, next, extra);
  }

  /** Returns the matte under another name. */
  public MatteDef withName(String next) {
    return new MatteDef(next, source, picks, by, range, outline, grow, invert, extra);
  }
}
