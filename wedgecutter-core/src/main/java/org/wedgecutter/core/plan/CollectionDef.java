package org.wedgecutter.core.plan;

import java.util.List;
import org.wedgecutter.core.scene.Entity;

/**
 * A collection: entities that a rule takes, and some by hand.
 *
 * @param name unique in the plan
 * @param rule what it takes; the empty rule takes nothing
 * @param added paths taken by hand
 * @param removed paths left out by hand
 * @param extra unknown keys
 */
public record CollectionDef(
    String name, Rule rule, List<String> added, List<String> removed, Extra extra) {
  public CollectionDef {
    added = List.copyOf(added);
    removed = List.copyOf(removed);
  }

  /** Says whether an entity belongs to it. */
  public boolean takes(Entity entity) {
    return !removed.contains(entity.path())
        && (rule.takes(entity) || added.contains(entity.path()));
  }
}
