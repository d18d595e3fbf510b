package org.wedgecutter.core.resolve;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Join;

/**
 * A layer resolved at a frame.
 *
 * @param name its name
 * @param decisions the role of each entity and why, by index
 * @param seen the entities that are Seen
 * @param skipped the entities that the camera looks through
 * @param transport what is beyond the camera segment
 * @param catcher what it catches; null if it catches nothing
 */
public record ResolvedLayer(
    String name,
    Decisions decisions,
    EntitySet seen,
    EntitySet skipped,
    TransportClass transport,
    @Nullable CatcherSpec catcher) {

  /**
   * Returns what the layer's picture shows: what is Seen, but for a catcher that delivers a ratio,
   * whose picture holds nothing else.
   */
  public EntitySet shown() {
    return catcher != null && catcher.output().join() == Join.TIMES ? EntitySet.NONE : seen;
  }

  /** Returns what the layer's picture is about: what it shows, and the surfaces that catch. */
  public EntitySet subject() {
    return catcher == null ? shown() : shown().or(catcher.surfaces());
  }
}
