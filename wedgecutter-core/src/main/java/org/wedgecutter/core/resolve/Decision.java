package org.wedgecutter.core.resolve;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Role;

/**
 * What an entity is to a layer, and why.
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
