/**
 * What moves in a shot, over its frame range. Begin with {@link
 * org.wedgecutter.core.motion.MotionTable}.
 *
 * <p>Motion is measured from transforms alone, at the shot's frames: how far an origin and a point
 * beside it move from one frame to the next, so that turning in place counts. It is relative to the
 * entity's own fastest frame. Deformed meshes that stay in place are not counted.
 */
@NullMarked
package org.wedgecutter.core.motion;

import org.jspecify.annotations.NullMarked;
