/**
 * What tracing measures beside pictures: how much light entities give to and take from one another.
 * {@link org.wedgecutter.core.measure.InterplayTable} is section 10 of the algebra.
 */
@NullMarked
package org.wedgecutter.core.measure;

import org.jspecify.annotations.NullMarked;
