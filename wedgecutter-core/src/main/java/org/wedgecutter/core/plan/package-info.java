/**
 * The plan: collections, layers, cells, roles, overrides and the recipe, as immutable records, and
 * their JSON form.
 *
 * <p>A {@link org.wedgecutter.core.plan.Plan} holds the {@link org.wedgecutter.core.plan.Shot},
 * collections in order of precedence, layers back to front, and the {@link
 * org.wedgecutter.core.plan.Recipe}. An edit is a function from plan to plan ({@link
 * org.wedgecutter.core.plan.PlanEdits}, {@link org.wedgecutter.core.plan.LayerEdits}, {@link
 * org.wedgecutter.core.plan.CollectionEdits}), which makes undo, snapshots for rendering and tests
 * simple. {@link org.wedgecutter.core.plan.Rule} is the pattern language of collections.
 *
 * <p>Files: {@link org.wedgecutter.core.plan.PlanReader} checks against the shipped JSON Schema,
 * keeps unknown keys ({@link org.wedgecutter.core.plan.Extra}) and refuses newer versions; {@link
 * org.wedgecutter.core.plan.PlanWriter} writes keys in a stable order with an indent of two, so
 * that plans diff well. Begin with {@code Plan}.
 */
@NullMarked
package org.wedgecutter.core.plan;

import org.jspecify.annotations.NullMarked;
