package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** How a layer is joined onto what is behind it; see {@code docs/algebra.md}. */
public enum Join {
  /** Adds; negative values subtract. For held-out layers and for catchers' differences. */
  PLUS,
  /** A front over a complete background. */
  OVER,
  /**
   * Adds light and leaves alpha: the same objects again under other lights, whose cover another
   * layer counts.
   */
  LIGHT,
  /** Multiplies: a catcher's ratio. */
  TIMES,
  /** A catcher's one picture: darkens by its alpha, then adds its light. */
  CATCH,
  /** What a matte picks of a layer that was rendered whole: {@code R + m (C - R)}. */
  MATTE,
  /** The nearer of two, by their passes of depth. */
  DEPTH,
  /** Layers by depth, merged sample by sample. */
  DEEP,
  /** Adds, but never beyond 1 what is below it: {@code R + C - R C}. */
  SCREEN,
  /** The lesser of each number. */
  MIN,
  /** The greater of each number. */
  MAX,
  /** What one differs from the other, without its sign. */
  DIFFERENCE;

  /** Returns the word in plans and on screens. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** Whether it adds up light: in any order, and exact where layers hold each other out. */
  public boolean adds() {
    return this == PLUS || this == LIGHT;
  }

  /** Whether it is chosen for its looks: no cut of light rejoins by it. */
  public boolean isForLooks() {
    return ordinal() >= SCREEN.ordinal();
  }

  /** Finds a join by its word. */
  public static Optional<Join> of(String word) {
    return Arrays.stream(values()).filter(j -> j.word().equals(word)).findFirst();
  }
}
