/**
 * What tracing measures beside pictures: how entities affect one another's light. {@link
 * org.wedgecutter.core.measure.InterplayTable} is section 10 of the algebra.
 *
 * <p>Interplay counts, for each pair of entities, the luminance that reaches one via the other and
 * the direct light that one blocks for the other, summed over pixels. It is measured in the uncut
 * class while that is traced, costs one table for each thread, and changes no bit of a picture.
 */
@NullMarked
package org.wedgecutter.core.measure;

import org.jspecify.annotations.NullMarked;
