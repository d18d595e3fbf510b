package org.wedgecutter.core.deliver;

import java.util.Locale;

/** What is known of a unit. */
public enum UnitState {
  /** Nobody has begun it. */
  WAITING,
  /** It is being rendered. */
  RUNNING,
  /** Its files are there. */
  DONE,
  /** It could not be rendered; the reason is noted. */
  FAILED,
  /** Its files are there, but plan or scene have changed since. */
  STALE;

  /** Returns the word for it. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
