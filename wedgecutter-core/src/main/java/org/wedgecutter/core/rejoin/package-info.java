/** Putting layers together again by the recipe. */
@NullMarked
package org.wedgecutter.core.rejoin;

import org.jspecify.annotations.NullMarked;
