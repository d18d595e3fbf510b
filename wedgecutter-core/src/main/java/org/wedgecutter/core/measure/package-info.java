/**
 * What tracing measures beside pictures: how entities affect one another's light. {@link
 * org.wedgecutter.core.measure.InterplayTable} is section 10 of the algebra.
 */
@NullMarked
package org.wedgecutter.core.measure;

import org.jspecify.annotations.NullMarked;
