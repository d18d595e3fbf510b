/**
 * How far the rejoined picture is from the uncut one, and why.
 *
 * <p>{@link org.wedgecutter.core.proof.Residual} compares pixels within a {@link
 * org.wedgecutter.core.proof.Tolerance}. {@link org.wedgecutter.core.proof.CauseFinder} reads the
 * plan for what explains a residual: entities seen in no layer or in several, light that differs,
 * joins that do not fit. {@code CauseFixes} mends a cause, and {@link
 * org.wedgecutter.core.proof.CauseMeasure} traces what is then left of the residual: alone for the
 * order, one after another for shares that add up. {@link org.wedgecutter.core.proof.FrameResidual}
 * is for charts over frames. {@link org.wedgecutter.core.proof.PlanProof} does all of it for a plan
 * by tracing it. Begin with {@code PlanProof.prove}.
 *
 * <p>Invariant: a residual within tolerance has no cause; every cause has a kind of the catalogue
 * and the share of the residual on the entities it names. Causes are found from plan and scene,
 * shares from the measured pictures.
 */
@NullMarked
package org.wedgecutter.core.proof;

import org.jspecify.annotations.NullMarked;
