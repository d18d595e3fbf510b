/**
 * How far the rejoined picture is from the uncut one, and why.
 *
 * <p><b>One measure.</b> {@link org.wedgecutter.core.proof.Tolerance} says how far a number may be
 * off: it follows the light that can have been rounded, by the precision in which it was kept, and
 * nothing that is not finite passes. {@link org.wedgecutter.core.proof.Residual} compares pictures
 * by it; sums over a frame ({@code Tolerance.excess}) use it, too.
 *
 * <p><b>One search.</b> {@link org.wedgecutter.core.proof.CauseFinder} reads plan and scene for
 * what may explain a residual ({@code LightCauses}: visibility and light; {@code JoinCauses}: the
 * steps of the recipe). {@link org.wedgecutter.core.proof.CauseSearch} undoes suspects over an
 * {@link org.wedgecutter.core.proof.Evidence}, which is immutable, and tells which explain it and
 * how much each: alone for the order, one after another for shares that add up, two at a time, all
 * together. {@link org.wedgecutter.core.proof.TracedEvidence} is a plan traced small; {@code
 * CauseFixes} has the edit that undoes a cause.
 *
 * <p>{@link org.wedgecutter.core.proof.PlanProof} does all of it for a plan; begin with its {@code
 * prove}. Deliveries have an order of evidence of their own, in which the plan is one step. {@link
 * org.wedgecutter.core.proof.FrameResidual} is for charts over frames.
 *
 * <p>Invariants: a residual within tolerance has no cause. Every cause has a kind of the catalogue.
 * Shares are measured or there is none: then it is suspected. Measured shares and what is
 * unexplained add up to 1.
 */
@NullMarked
package org.wedgecutter.core.proof;

import org.jspecify.annotations.NullMarked;
