package org.wedgecutter.core.resolve;

import org.wedgecutter.core.plan.CatcherOutput;

/**
 * What a layer catches.
 *
 * @param surfaces the entities whose surfaces catch
 * @param casters the entities whose doings are caught: there in one transport class, not there in
 *     the other
 * @param without the transport class without the casters
 * @param output the form in which it is delivered
 */
public record CatcherSpec(
    EntitySet surfaces, EntitySet casters, TransportClass without, CatcherOutput output) {}
