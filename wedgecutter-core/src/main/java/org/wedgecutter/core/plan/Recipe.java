package org.wedgecutter.core.plan;

import java.util.List;

/**
 * How the layers rejoin.
 *
 * @param joins from the back to the front
 * @param extra unknown keys
 */
public record Recipe(List<Step> joins, Extra extra) {
  public Recipe {
    joins = List.copyOf(joins);
  }

  /** One layer and how it is joined onto what is behind it. */
  public record Step(String layer, Join join, Extra extra) {}

  /** Returns the recipe with other steps. */
  public Recipe withJoins(List<Step> next) {
    return new Recipe(next, extra);
  }
}
