package org.wedgecutter.core.resolve;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Role;

/**
 * The role of an entity in a layer, and the row that decided it.
 *
 * @param role its role
 * @param row the collection that decided; null means the rest
 */
public record Decision(Role role, @Nullable String row) {
  /** Returns the deciding row in words. */
  public String by() {
    return row == null ? "the rest" : row;
  }
}
