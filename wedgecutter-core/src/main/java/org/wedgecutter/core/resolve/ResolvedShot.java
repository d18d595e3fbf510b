package org.wedgecutter.core.resolve;

import java.util.List;

/**
 * What every layer of a plan is.
 *
 * @param layers in the plan's order, all of them, rendered or not
 * @param uncut the transport class of the frame without any layers: everything is there
 * @param entities number of entities of the scene
 */
public record ResolvedShot(List<ResolvedLayer> layers, TransportClass uncut, int entities) {
  public ResolvedShot {
    layers = List.copyOf(layers);
  }

  /** Returns the set of all entities. */
  public EntitySet all() {
    return EntitySet.where(entities, e -> true);
  }
}
