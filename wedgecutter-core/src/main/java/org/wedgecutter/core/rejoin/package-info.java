/**
 * Joining layers by the recipe, in scene-linear light. {@link org.wedgecutter.core.rejoin.Rejoiner}
 * does the joins of section 4 of the algebra and keeps the scale of each pixel, against which
 * rounding is judged.
 */
@NullMarked
package org.wedgecutter.core.rejoin;

import org.jspecify.annotations.NullMarked;
