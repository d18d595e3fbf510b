/** Finds the camera of a photograph from what is marked in it. */
@NullMarked
package org.wedgecutter.core.match;

import org.jspecify.annotations.NullMarked;
