/**
 * Joining layers by the recipe, in scene-linear light. {@link org.wedgecutter.core.rejoin.Rejoiner}
 * does the joins of section 4 of the algebra and keeps the scale of each pixel, against which
 * rounding is judged.
 *
 * <p>Joins are plus, over, times and catch, applied from the back to the front in 32-bit float. The
 * scale of a pixel's error is joined alongside with absolute values: rounding grows with what is
 * added and removed, not with what is left, and light that an opaque front covers counts for
 * nothing. Layers of another size are resampled first.
 */
@NullMarked
package org.wedgecutter.core.rejoin;

import org.jspecify.annotations.NullMarked;
