package org.wedgecutter.core.proof;

import java.util.List;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Mistake;

/**
 * Why a plan does not rejoin exactly.
 *
 * @param message what is wrong, as kind and arguments
 * @param layer name of the layer, or empty if it is about no layer in particular
 * @param entity path of the entity that is named first, or empty
 * @param entities all entities that it is about, by index
 * @param share share of the residual, 0 to 1, that undoing this cause removes beyond those that are
 *     named before it; NaN where that was not measured: the cause is suspected
 */
public record Cause(
    Message message, String layer, String entity, List<Integer> entities, double share) {
  public Cause {
    entities = List.copyOf(entities);
  }

  /** A cause without particular entities. */
  public Cause(Message message, String layer, double share) {
    this(message, layer, "", List.of(), share);
  }

  /** Returns it with another share. */
  public Cause withShare(double next) {
    return new Cause(message, layer, entity, entities, next);
  }

  /** Whether it was measured how much it explains. */
  public boolean isMeasured() {
    return !Double.isNaN(share);
  }

  /** Returns the kind of mistake. */
  public Mistake kind() {
    return message.mistake();
  }

  /** Returns what is wrong, in words. */
  public String text() {
    return message.text();
  }

  /** Returns what to do about it, in words. */
  public String fix() {
    return message.advice();
  }
}
