/** Pictures in memory and the image files that hold them. */
@NullMarked
package org.wedgecutter.core.image;

import org.jspecify.annotations.NullMarked;
