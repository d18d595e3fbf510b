/**
 * Joining layers by the recipe, in scene-linear light. A recipe means an {@link
 * org.wedgecutter.core.rejoin.Expression} over the layers' pictures and passes; {@link
 * org.wedgecutter.core.rejoin.Evaluation} makes its picture by bands of lines, from whatever hands
 * out the layers: live sums, or files.
 *
 * <p>Where the layers come from is a {@link org.wedgecutter.core.rejoin.LayerSource}: pictures,
 * passes of light, the cover of ID mattes, depth, deep files. {@code TracedSource} has those of a
 * trace. A matte is an expression, too: the covers of its names in each layer are joined as the
 * layers are, so that it goes on across them. {@code Effects}, {@code Surface} and {@code
 * MatteShape} need the whole picture and are made before the bands. With a memo, what two
 * expressions have in common is made once; so dragging one value costs what depends on it.
 *
 * <p>{@link org.wedgecutter.core.rejoin.JoinRule} holds the rule of each join: what it does to
 * numbers, to the scale of their errors and to cover, how it is undone, and how it is written for
 * people and for other programs. {@code Rejoiner} applies it from the back to the front in 32-bit
 * float; {@code Grade} has the rules of corrections. Beside each number stands the scale of its
 * error, against which rounding is judged: it grows with what is added and removed and with the
 * slope of a correction, not with what is left, and light that is hidden counts for nothing. Light
 * that was kept in half floats counts four times ({@link org.wedgecutter.core.rejoin.Precision}).
 * Whoever only shows the picture leaves it out. Layers of another size are resampled first.
 *
 * <p>Proofs are of the joins alone: corrections are meant to change what was rendered.
 */
@NullMarked
package org.wedgecutter.core.rejoin;

import org.jspecify.annotations.NullMarked;
