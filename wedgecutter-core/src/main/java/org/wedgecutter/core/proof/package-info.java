/**
 * How far the rejoined picture is from the uncut one, and why.
 *
 * <p>{@link org.wedgecutter.core.proof.Residual} compares pixels within a {@link
 * org.wedgecutter.core.proof.Tolerance}. {@link org.wedgecutter.core.proof.CauseFinder} reads the
 * plan for what explains a residual: entities seen in no layer or in several, light that differs,
 * joins that do not fit. {@link org.wedgecutter.core.proof.PlanProof} does both for a plan by
 * tracing it. Begin with {@code PlanProof.prove}.
 */
@NullMarked
package org.wedgecutter.core.proof;

import org.jspecify.annotations.NullMarked;
