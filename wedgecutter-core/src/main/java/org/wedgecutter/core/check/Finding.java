package org.wedgecutter.core.check;

import java.util.List;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.Plan;

/**
 * Something about a plan that a TD should know before rendering.
 *
 * @param message what is wrong, as kind and arguments
 * @param layer name of the layer, or empty
 * @param entity path of the entity or name of the collection, or empty
 * @param entities all entities that it is about, by index
 * @param fix the edit that repairs it; null if the TD must decide
 */
public record Finding(
    Message message, String layer, String entity, List<Integer> entities, @Nullable Fix fix) {
  public Finding {
    entities = List.copyOf(entities);
  }

  /**
   * A repair.
   *
   * @param name its name in the edit history
   * @param edit what it does to the plan that was checked
   */
  public record Fix(String name, UnaryOperator<Plan> edit) {}

  /** Returns the kind of mistake. */
  public Mistake kind() {
    return message.mistake();
  }

  /** Returns how bad it is. */
  public Mistake.Severity severity() {
    return kind().severity();
  }

  /** Returns what is wrong, in words. */
  public String text() {
    return message.text();
  }

  /** Returns what to do about it, in words. */
  public String advice() {
    return message.advice();
  }
}
