package org.wedgecutter.core.proof;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;

/**
 * A frame as it was rejoined, and as it would be with a cause undone: traced from a plan, or read
 * from files. Immutable: undoing a cause gives other evidence, so that causes are tried in any
 * order and combination, and what is tried first changes nothing.
 */
public interface Evidence {
  /** Returns the sum of what is beyond the tolerance, over pixels and channels. */
  double residual();

  /** Returns the rejoined frame. */
  Picture rejoined();

  /** Returns the frame with a cause undone; null if there is no way to do that. */
  @Nullable Evidence without(Cause cause);
}
