package org.wedgecutter.core.plan;

import org.jspecify.annotations.Nullable;

/**
 * What a cell says of catching.
 *
 * @param output for a Catcher: the form of its layer; null means difference
 * @param caster for other roles in a layer with a Catcher: whether what they do to it is caught;
 *     null means by role: Seen and Unseen are casters, a Holdout is part of the plate
 * @param extra unknown keys
 */
public record CatcherOptions(
    @Nullable CatcherOutput output, @Nullable Boolean caster, Extra extra) {}
