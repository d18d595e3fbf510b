package org.wedgecutter.core.rejoin;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Join;

/**
 * The rule of each join, in one place: what it does to numbers, how the errors of both sides pass
 * through it, how it is undone, what it does to cover, and how it is written for people, for an
 * image tool and for painting programs. {@code docs/algebra.md}, section 4, is the definition.
 *
 * <p>Pictures are premultiplied, four numbers for each pixel: red, green, blue, alpha. R is what is
 * behind, C the layer in front, A its alpha.
 *
 * <p>The scale of an error is how much light can have been rounded on the way to a number. A rule
 * passes on of each side what it leaves of that side: light that an opaque front covers adds
 * nothing, or a proof would pass wrong pictures in front of bright ones.
 */
public enum JoinRule {
  PLUS(Cover.ADDED, " --add", "", "svg:plus", Exactness.EXACT) {
    @Override
    void apply(float[] r, float[] c, int at, int count) {
      for (int i = 0; i < count; i++) {
        r[i] += c[at + i];
      }
    }

    @Override
    float scale(Side side, boolean alpha) {
      return side.behind + side.own;
    }

    @Override
    String line(String back, String front, String bracketed, String share) {
      return "%s + %s%s".formatted(back, front, share);
    }
  },

  OVER(Cover.OVER, " --swap --over", "", "svg:src-over", Exactness.EDGES) {
    @Override
    void apply(float[] r, float[] c, int at, int count) {
      // written out: the compiler makes no vectors of a loop over four channels
      for (int p = 0; p < count; p += 4) {
        int q = at + p;
        float alpha = c[q + 3];
        float through = 1 - alpha;
        r[p] = c[q] + through * r[p];
        r[p + 1] = c[q + 1] + through * r[p + 1];
        r[p + 2] = c[q + 2] + through * r[p + 2];
        r[p + 3] = alpha + through * r[p + 3];
      }
    }

    @Override
    float scale(Side side, boolean alpha) {
      return side.own + Math.abs(1 - side.alpha) * side.behind;
    }

    @Override
    String line(String back, String front, String bracketed, String share) {
      return "%s over%s (%s)".formatted(bracketed, share, back);
    }
  },

  LIGHT(Cover.NONE, " --ch R,G,B,A=0 --add", " --ch R,G,B,A=0", "svg:plus", Exactness.EXACT) {
    @Override
    void apply(float[] r, float[] c, int at, int count) {
      for (int p = 0; p < count; p += 4) {
        for (int k = p; k < p + 3; k++) {
          r[k] += c[at + k];
        }
      }
    }

    @Override
    float scale(Side side, boolean alpha) {
      return alpha ? side.behind : side.behind + side.own;
    }

    @Override
    String line(String back, String front, String bracketed, String share) {
      return "%s + light of %s%s".formatted(back, bracketed, share);
    }
  },

  TIMES(Cover.NONE, " --ch R,G,B,A=1 --mul", " --mulc 0", "svg:multiply", Exactness.DIFFUSE) {
    @Override
    void apply(float[] r, float[] c, int at, int count) {
      for (int p = 0; p < count; p += 4) {
        for (int k = p; k < p + 3; k++) {
          r[k] *= c[at + k];
        }
      }
    }

    @Override
    float scale(Side side, boolean alpha) {
      return alpha ? side.behind : Math.abs(side.c) * side.behind + Math.abs(side.r) * side.own;
    }

    @Override
    String line(String back, String front, String bracketed, String share) {
      return "(%s) × %s%s".formatted(back, front, share);
    }
  },

  CATCH(
      Cover.NONE,
      " --label c --pop c --ch R=A,G=A,B=A,A=0 --mulc -1 --addc 1 --mul c --ch R,G,B,A=0 --add",
      // there is nothing behind to darken, and alpha is left alone
      " --ch R,G,B,A=0",
      "svg:src-over",
      Exactness.GREY) {
    @Override
    void apply(float[] r, float[] c, int at, int count) {
      // the alpha darkens a surface that is already there; it covers nothing itself
      for (int p = 0; p < count; p += 4) {
        int q = at + p;
        float through = 1 - c[q + 3];
        r[p] = c[q] + through * r[p];
        r[p + 1] = c[q + 1] + through * r[p + 1];
        r[p + 2] = c[q + 2] + through * r[p + 2];
      }
    }

    @Override
    float scale(Side side, boolean alpha) {
      return alpha ? side.behind : side.own + Math.abs(1 - side.alpha) * side.behind;
    }

    @Override
    String line(String back, String front, String bracketed, String share) {
      return "%s catches%s on (%s)".formatted(front, share, back);
    }
  },

  MATTE(Cover.OVER, null, null, "svg:src-over", Exactness.EDGES),

  DEPTH(Cover.NEAREST, null, null, "svg:src-over", Exactness.EDGES),

  DEEP(Cover.MERGED, null, null, "svg:src-over", Exactness.EDGES),

  SCREEN(
      Cover.ADDED,
      // r + c - r c is 1 - (1 - r)(1 - c)
      " --mulc -1 --addc 1 --swap --mulc -1 --addc 1 --mul --mulc -1 --addc 1",
      "",
      "svg:screen",
      Exactness.LOOK) {
    @Override
    void apply(float[] r, float[] c, int at, int count) {
      for (int i = 0; i < count; i++) {
        r[i] = r[i] + c[at + i] - r[i] * c[at + i];
      }
    }

    @Override
    float scale(Side side, boolean alpha) {
      return Math.abs(1 - side.c) * side.behind + Math.abs(1 - side.r) * side.own;
    }
  },

  MIN(Cover.ADDED, " --min", " --minc 0", "svg:darken", Exactness.LOOK) {
    @Override
    void apply(float[] r, float[] c, int at, int count) {
      for (int i = 0; i < count; i++) {
        r[i] = Math.min(r[i], c[at + i]);
      }
    }

    @Override
    float scale(Side side, boolean alpha) {
      return side.r < side.c ? side.behind : side.own;
    }
  },

  MAX(Cover.ADDED, " --max", " --maxc 0", "svg:lighten", Exactness.LOOK) {
    @Override
    void apply(float[] r, float[] c, int at, int count) {
      for (int i = 0; i < count; i++) {
        r[i] = Math.max(r[i], c[at + i]);
      }
    }

    @Override
    float scale(Side side, boolean alpha) {
      return side.r > side.c ? side.behind : side.own;
    }
  },

  DIFFERENCE(Cover.ADDED, " --absdiff", " --abs", "svg:difference", Exactness.LOOK) {
    @Override
    void apply(float[] r, float[] c, int at, int count) {
      for (int i = 0; i < count; i++) {
        r[i] = Math.abs(r[i] - c[at + i]);
      }
    }

    @Override
    float scale(Side side, boolean alpha) {
      return side.behind + side.own;
    }
  };

  /** What a join does to the cover of mattes. */
  public enum Cover {
    /** It changes light that is there and covers nothing. */
    NONE,
    /** Covers add up: the layers hold each other out. */
    ADDED,
    /** The front hides what is behind it. */
    OVER,
    /** The nearer hides the other. */
    NEAREST,
    /** Sample by sample, the nearer hides the other. */
    MERGED
  }

  /** How far a join can be exact. */
  public enum Exactness {
    /** But for rounding. */
    EXACT,
    /** Not on edges. */
    EDGES,
    /** Where the shadow is grey. */
    GREY,
    /** Where all light is diffuse. */
    DIFFUSE,
    /** Never: it is a look. */
    LOOK
  }

  /**
   * Both sides of a join at one number.
   *
   * @param r what is behind
   * @param behind scale of its error
   * @param c what is in front
   * @param own scale of its error
   * @param alpha of what is in front
   */
  record Side(float r, float behind, float c, float own, float alpha) {}

  private final Cover cover;
  private final @Nullable String command;
  private final @Nullable String commandOntoBlack;
  private final String compositeOp;
  private final Exactness exactness;

  JoinRule(
      Cover cover,
      @Nullable String command,
      @Nullable String commandOntoBlack,
      String compositeOp,
      Exactness exactness) {
    this.cover = cover;
    this.command = command;
    this.commandOntoBlack = commandOntoBlack;
    this.compositeOp = compositeOp;
    this.exactness = exactness;
  }

  /** Returns the rule of a join. */
  public static JoinRule of(Join join) {
    return valueOf(join.name());
  }

  /**
   * Joins numbers onto others, which are changed.
   *
   * @param r what is behind, from 0 on
   * @param at where the front begins in {@code c}
   * @throws IllegalArgumentException if the join needs more than two pictures: a matte, depths
   */
  void apply(float[] r, float[] c, int at, int count) {
    throw notByPixel();
  }

  /** Returns the scale of the error of a joined number. */
  float scale(Side side, boolean alpha) {
    throw notByPixel();
  }

  private IllegalArgumentException notByPixel() {
    return new IllegalArgumentException("'%s' needs more than two pictures".formatted(word()));
  }

  /**
   * Returns the join as a part of a readable line.
   *
   * @param bracketed the front, in brackets where it is more than a name
   * @param share which part of the join is taken, in words; empty for all of it
   */
  String line(String back, String front, String bracketed, String share) {
    return "%s(%s, %s)%s".formatted(word(), back, front, share);
  }

  /** Returns the join's word in plans. */
  String word() {
    return Join.valueOf(name()).word();
  }

  /** Returns what it does to the cover of mattes. */
  public Cover cover() {
    return cover;
  }

  /** Returns how far it can be exact. */
  public Exactness exactness() {
    return exactness;
  }

  /**
   * Returns the commands of oiiotool that follow a front, which is on the stack above what is
   * behind it; null if it takes more than two pictures.
   */
  public @Nullable String command() {
    return command;
  }

  /** Returns the same for a front that is joined onto black and is alone on the stack. */
  public @Nullable String commandOntoBlack() {
    return commandOntoBlack;
  }

  /** Returns the nearest operation of OpenRaster, which knows neither mattes nor depth. */
  public String compositeOp() {
    return compositeOp;
  }
}
