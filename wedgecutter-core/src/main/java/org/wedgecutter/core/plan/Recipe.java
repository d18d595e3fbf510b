package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.List;

/**
 * How the layers rejoin.
 *
 * @param joins from the back to the front
 * @param corrections of layers, passes and the rejoined picture, in order
 * @param extra unknown keys
 */
public record Recipe(List<Step> joins, List<Correction> corrections, Extra extra) {
  public Recipe {
    joins = List.copyOf(joins);
    corrections = List.copyOf(corrections);
  }

  /** A recipe without corrections. */
  public Recipe(List<Step> joins, Extra extra) {
    this(joins, List.of(), extra);
  }

  /**
   * One layer and how it is joined onto what is behind it.
   *
   * @param opacity how much of the join is taken, 0 (none) to 1 (all): a mix of what is behind with
   *     what the join makes of it. Of a catcher's layer it is the density of the shadow
   * @param extra unknown keys
   */
  public record Step(String layer, Join join, double opacity, Extra extra) {
    /** A step that takes all of the join. */
    public Step(String layer, Join join, Extra extra) {
      this(layer, join, 1, extra);
    }

    /** Returns the step with another join. */
    public Step withJoin(Join next) {
      return new Step(layer, next, opacity, extra);
    }

    /** Returns the step for a layer of another name. */
    public Step withLayer(String next) {
      return new Step(next, join, opacity, extra);
    }

    /** Returns the step with another opacity, 0 to 1. */
    public Step withOpacity(double next) {
      return new Step(layer, join, next, extra);
    }
  }

  /** Returns the recipe with other steps. */
  public Recipe withJoins(List<Step> next) {
    return new Recipe(next, corrections, extra);
  }

  /** Returns the recipe with other corrections. */
  public Recipe withCorrections(List<Correction> next) {
    return new Recipe(joins, next, extra);
  }

  /** Returns the recipe with another correction at a place. */
  public Recipe withCorrection(int at, Correction next) {
    List<Correction> all = new ArrayList<>(corrections);
    all.set(at, next);
    return withCorrections(all);
  }

  /** Returns the recipe for a layer that has another name. */
  public Recipe renamed(String layer, String next) {
    return new Recipe(
        joins.stream().map(s -> s.layer().equals(layer) ? s.withLayer(next) : s).toList(),
        corrections.stream().map(c -> c.layer().equals(layer) ? c.withLayer(next) : c).toList(),
        extra);
  }
}
