package org.wedgecutter.core.resolve;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.CatcherTuning;

/**
 * What a layer catches.
 *
 * @param surfaces the entities whose surfaces catch
 * @param casters the casters: present in one transport class, absent from the other
 * @param without the transport class without the casters
 * @param output the form in which it is delivered
 * @param tuning how strongly it catches, and where
 * @param lights the emitters whose shadows are caught, or null for all
 */
public record CatcherSpec(
    EntitySet surfaces,
    EntitySet casters,
    TransportClass without,
    CatcherOutput output,
    CatcherTuning tuning,
    @Nullable EntitySet lights) {
  /** A catcher with default options. */
  public CatcherSpec(
      EntitySet surfaces, EntitySet casters, TransportClass without, CatcherOutput output) {
    this(surfaces, casters, without, output, CatcherTuning.USUAL, null);
  }

  /** Whether rays still meet casters in the class without them, because a part is left out. */
  public boolean remain() {
    for (int e : casters.indices()) {
      if (without.reach(e).isMet()) {
        return true;
      }
    }
    return false;
  }
}
