/** How far the rejoined picture is from the uncut one, and why. */
@NullMarked
package org.wedgecutter.core.proof;

import org.jspecify.annotations.NullMarked;
