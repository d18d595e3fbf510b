package org.wedgecutter.core.plan;

/** A rule with an error. */
public final class RuleException extends Exception {
  private static final long serialVersionUID = 1L;
  private final int at;

  RuleException(int at, String expected) {
    super("at character %d: %s".formatted(at + 1, expected));
    this.at = at;
  }

  /**
   * Returns the place of the first wrong character, from 0; the rule's length if it ends too early.
   */
  public int at() {
    return at;
  }
}
