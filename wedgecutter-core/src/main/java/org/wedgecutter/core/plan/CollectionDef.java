package org.wedgecutter.core.plan;

import java.util.List;
import org.wedgecutter.core.scene.Entity;

/**
 * A collection: entities that a rule matches, and hand-picked ones.
 *
 * @param name unique in the plan
 * @param rule its pattern; the empty rule matches nothing
 * @param added paths picked by hand
 * @param removed paths excluded by hand
 * @param extra unknown keys
 */
public record CollectionDef(
    String name, Rule rule, List<String> added, List<String> removed, Extra extra) {
  public CollectionDef {
    added = List.copyOf(added);
    removed = List.copyOf(removed);
  }

  /** A collection of what a rule matches. */
  public static CollectionDef of(String name, Rule rule) {
    return new CollectionDef(name, rule, List.of(), List.of(), Extra.NONE);
  }

  /** A collection of hand-picked entities. */
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

  /** Whether an entity belongs to it. */
  public boolean matches(Entity entity) {
    return !removed.contains(entity.path())
        && (rule.matches(entity) || added.contains(entity.path()));
  }
}
