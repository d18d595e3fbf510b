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
 *     one
 * @param by part of the name of the layer of ID mattes, such as {@code material}; empty for the
 *     first one that knows a name
 * @param range of depth or luminance where it is 0 and where it is 1
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
    /** The luminance of the picture that is corrected. */
    LUMA;

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

  /** A matte of what some names mean. */
  public static MatteDef picked(String name, String... picks) {
    return new MatteDef(name, Source.IDS, List.of(picks), "", Range.UNIT, 0, false, Extra.NONE);
  }

  /** A matte of a range of depth or luminance. */
  public static MatteDef ranged(String name, Source source, double from, double to) {
    return new MatteDef(name, source, List.of(), "", new Range(from, to, 1), 0, false, Extra.NONE);
  }

  /** Returns the passes that it reads. */
  public Set<Output.More> reads() {
    return switch (source) {
      case IDS -> Set.of(Output.More.IDS);
      case DEPTH -> Set.of(Output.More.DEPTH);
      case LUMA -> Set.of();
    };
  }

  /** Returns the matte of other names. */
  public MatteDef withPicks(List<String> next) {
    return new MatteDef(name, source, next, by, range, grow, invert, extra);
  }

  /** Returns the matte over another range. */
  public MatteDef withRange(Range next) {
    return new MatteDef(name, source, picks, by, next, grow, invert, extra);
  }

  /** Returns the matte grown by other pixels. */
  public MatteDef withGrow(int next) {
    return new MatteDef(name, source, picks, by, range, next, invert, extra);
  }

  /** Returns the matte inverted, or not. */
  public MatteDef withInvert(boolean next) {
    return new MatteDef(name, source, picks, by, range, grow, next, extra);
  }

  /** Returns the matte under another name. */
  public MatteDef withName(String next) {
    return new MatteDef(next, source, picks, by, range, grow, invert, extra);
  }
}
