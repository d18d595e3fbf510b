package org.wedgecutter.core.check;

import java.util.List;
import java.util.Locale;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Plan;

/**
 * Something about a plan that a TD should know before rendering.
 *
 * @param kind what sort of thing
 * @param layer name of the layer, or empty
 * @param entity path of the entity or name of the collection, or empty
 * @param entities all entities that it is about, by index
 * @param text what is the matter, in plain words
 * @param advice what to do about it
 * @param fix the edit that does it; null if a person must decide
 */
public record Finding(
    Kind kind,
    String layer,
    String entity,
    List<Integer> entities,
    String text,
    String advice,
    @Nullable Fix fix) {
  public Finding {
    entities = List.copyOf(entities);
  }

  /**
   * A repair.
   *
   * @param name the name of the step that it is in the plan's history
   * @param edit what it does to the plan that was checked
   */
  public record Fix(String name, UnaryOperator<Plan> edit) {}

  /** Returns how bad it is. */
  public Severity severity() {
    return kind.severity();
  }

  /** How bad a finding is. */
  public enum Severity {
    /** The result will be wrong. */
    ERROR,
    /** The result may not be what was meant. */
    WARNING,
    /** An approximation that was chosen. */
    NOTE;

    /** Returns the word in documents. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }
}
