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

  /** A collection of what a rule takes. */
  public static CollectionDef of(String name, Rule rule) {
    return new CollectionDef(name, rule, List.of(), List.of(), Extra.NONE);
  }

  /** A collection of entities that are taken by hand. */
  public static CollectionDef of(String name, List<String> paths) {
    return new CollectionDef(name, RuleParser.nothing(), paths, List.of(), Extra.NONE);
  }

  /** Returns it with another name. */
  public CollectionDef withName(String next) {
    return new CollectionDef(next, rule, added, removed, extra);
  }

  /** Returns it with another rule. */
  public CollectionDef withRule(Rule next) {
    return new CollectionDef(name, next, added, removed, extra);
  }

  /** Says whether an entity belongs to it. */
  public boolean takes(Entity entity) {
    return !removed.contains(entity.path())
        && (rule.takes(entity) || added.contains(entity.path()));
  }
}
