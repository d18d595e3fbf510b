package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What stands behind all that is rejoined. It is no part of the proof, which compares with the
 * uncut frame.
 *
 * @param kind what it is
 * @param colour scene-linear red, green and blue of a colour; of a checker's brighter squares
 * @param picture path of a picture, relative to the plan; {@code {frame:4}} in it stands for the
 *     frame's number with four digits
 * @param fit how a picture of another size is brought to the frame's
 * @param extra unknown keys
 */
public record Background(Kind kind, List<Double> colour, String picture, Fit fit, Extra extra) {
  /** No background: what is rejoined stays transparent. */
  public static final Background NONE =
      new Background(Kind.NONE, List.of(), "", Fit.FILL, Extra.NONE);

  public Background {
    colour = List.copyOf(colour);
    boolean coloured = kind == Kind.COLOUR || kind == Kind.CHECKER;
    if (coloured && (colour.size() != 3 || colour.stream().anyMatch(v -> !(v >= 0 && v <= 1e6)))) {
      throw new IllegalArgumentException("expected a colour of three values, 0 to 1000000");
    }
    if (kind == Kind.PICTURE && picture.isBlank()) {
      throw new IllegalArgumentException("expected the path of a picture");
    }
  }

  /** Kinds of backgrounds. */
  public enum Kind {
    NONE,
    COLOUR,
    /** Squares of 16 pixels of the shot's size, of the colour and of half of it. */
    CHECKER,
    PICTURE;

    /** Returns the word in plans and on screens. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Finds a kind by its word. */
    public static Optional<Kind> of(String word) {
      return Arrays.stream(values()).filter(k -> k.word().equals(word)).findFirst();
    }
  }

  /**
   * How a picture is brought to the frame's size; its proportions stay but for {@link #STRETCH}.
   */
  public enum Fit {
    /** So large that it fills the frame; what is beyond is cut off. */
    FILL,
    /** So large that all of it is seen; the rest stays transparent. */
    FIT,
    /** To the frame's size both ways. */
    STRETCH;

    /** Returns the word in plans and on screens. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Finds a way by its word. */
    public static Optional<Fit> of(String word) {
      return Arrays.stream(values()).filter(f -> f.word().equals(word)).findFirst();
    }
  }

  /** Returns a colour. */
  public static Background colour(double red, double green, double blue) {
    return new Background(Kind.COLOUR, List.of(red, green, blue), "", Fit.FILL, Extra.NONE);
  }

  /** Returns a checker whose brighter squares have a level. */
  public static Background checker(double level) {
    return new Background(Kind.CHECKER, List.of(level, level, level), "", Fit.FILL, Extra.NONE);
  }

  /** Returns a picture that fills the frame. */
  public static Background picture(String path) {
    return new Background(Kind.PICTURE, List.of(), path, Fit.FILL, Extra.NONE);
  }

  /** Returns it fitted in another way. */
  public Background withFit(Fit next) {
    return new Background(kind, colour, picture, next, extra);
  }

  /** Whether there is one. */
  public boolean exists() {
    return kind != Kind.NONE;
  }
}
