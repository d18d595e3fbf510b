/**
 * What moves in a shot, over its frame range. Begin with {@link
 * org.wedgecutter.core.motion.MotionTable}.
 *
 * <p>Whether and when something changes is told by {@link org.wedgecutter.core.scene.TimeDigest};
 * here it is measured how much, at the shot's frames: how far an origin and a point beside it move
 * from one frame to the next, so that turning in place counts; joints and morph weights of what
 * deforms; the rise of smoke. It is relative to the entity's own fastest frame.
 */
@NullMarked
package org.wedgecutter.core.motion;

import org.jspecify.annotations.NullMarked;
