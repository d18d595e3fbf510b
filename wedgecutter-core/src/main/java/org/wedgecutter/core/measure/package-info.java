/**
 * What tracing measures beside pictures: how entities affect one another's light. Begin with {@link
 * org.wedgecutter.core.measure.InterplayTable}; {@code docs/algebra.md} has a section on interplay.
 *
 * <p>For each pair of entities it counts the luminance that reaches one via the other, and the
 * direct light that one blocks for the other, summed over pixels and divided by samples. {@code
 * prove} prints the shares by pair of layers; the survey and the proposals use them to say what a
 * thing would lose or gain without another.
 *
 * <p>Invariants: it is measured in the uncut class while that is traced anyway, and changes no bit
 * of a picture. It counts what was traced: the bounces that the shot has, and of several blockers
 * the first that a ray met. It is an estimate with the noise of the trace that it came from.
 *
 * <p>Costs: one table for each thread, growing with the pairs that occur and not with the square of
 * the entities; the tables are added when a thread is done.
 */
@NullMarked
package org.wedgecutter.core.measure;

import org.jspecify.annotations.NullMarked;
