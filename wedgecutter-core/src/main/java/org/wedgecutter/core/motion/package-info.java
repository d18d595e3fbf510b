/**
 * What moves in a shot, over its frame range. Begin with {@link
 * org.wedgecutter.core.motion.MotionTable}.
 */
@NullMarked
package org.wedgecutter.core.motion;

import org.jspecify.annotations.NullMarked;
