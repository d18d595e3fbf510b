/** What belongs to a whole shot: the plan with its scene loaded, and rendering a frame of it. */
@NullMarked
package org.wedgecutter.core.shot;

import org.jspecify.annotations.NullMarked;
