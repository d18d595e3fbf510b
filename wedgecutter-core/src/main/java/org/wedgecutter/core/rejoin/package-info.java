/**
 * Joining layers by the recipe, in scene-linear light. A recipe means an {@link
 * org.wedgecutter.core.rejoin.Expression} over the layers' pictures and passes; {@link
 * org.wedgecutter.core.rejoin.Evaluation} makes its picture by bands of lines, from whatever hands
 * out the layers: live sums, or files.
 *
 * <p>{@link org.wedgecutter.core.rejoin.Rejoiner} holds the rules of the joins, applied from the
 * back to the front in 32-bit float; {@code Grade} those of corrections. Beside each number stands
 * the scale of its error, against which rounding is judged: it grows with what is added and removed
 * and with the slope of a correction, not with what is left, and light that an opaque front covers
 * counts for nothing. Whoever only shows the picture leaves it out. Layers of another size are
 * resampled first.
 *
 * <p>Proofs are of the joins alone: corrections are meant to change what was rendered.
 */
@NullMarked
package org.wedgecutter.core.rejoin;

import org.jspecify.annotations.NullMarked;
