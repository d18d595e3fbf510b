package org.wedgecutter.core.plan;

import java.util.Locale;

/**
 * The role of an entity in a layer; see {@code docs/algebra.md}. The words are those of the plan
 * file.
 */
public enum Role {
  /** In the picture, occludes what is behind it, and takes part in all light. */
  SEEN("Seen"),
  /** Not in the picture, but occludes what is behind it, and takes part in all light. */
  HOLDOUT("Holdout"),
  /** Shows only what other entities do to its surface. */
  CATCHER("Catcher"),
  /** The camera looks through it; it takes part in all light. */
  UNSEEN("Unseen"),
  /** Not there at all. */
  ABSENT("Absent");

  private final String word;

  Role(String word) {
    this.word = word;
  }

  /** Returns the word in plans and on screens. */
  public String word() {
    return word;
  }

  /** Returns the key that sets it on the sheet, which is the word's first letter. */
  public char key() {
    return Character.toUpperCase(word.charAt(0));
  }

  /** Whether the camera looks through it. */
  public boolean skipped() {
    return this == UNSEEN || this == ABSENT;
  }

  /** Finds a role by its word. */
  public static Role of(String word) {
    return valueOf(word.toUpperCase(Locale.ROOT));
  }
}
