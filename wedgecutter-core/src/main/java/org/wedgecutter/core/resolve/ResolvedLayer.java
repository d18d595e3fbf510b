package org.wedgecutter.core.resolve;

import org.jspecify.annotations.Nullable;

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
    @Nullable CatcherSpec catcher) {}
