/**
 * Findings: what can be seen to be wrong in a plan before anything is traced.
 *
 * <p>{@link org.wedgecutter.core.check.PlanCheck} runs the checks, one class per subject
 * (membership, layers, overrides, rejoining, output). Each adds findings of a kind in the
 * catalogue, with the layer, the entity, and where there is one a fix: a function from plan to
 * plan. {@code docs/findings.md} is written from the catalogue. Begin with {@code PlanCheck}.
 *
 * <p>Invariants: a check never traces; a fix leaves no finding of its own kind at that place (a
 * test applies each).
 */
@NullMarked
package org.wedgecutter.core.check;

import org.jspecify.annotations.NullMarked;
