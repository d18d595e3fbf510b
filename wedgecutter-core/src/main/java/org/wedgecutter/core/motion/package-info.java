/**
 * What moves in a shot, over its frame range. Begin with {@link
 * org.wedgecutter.core.motion.MotionTable}.
 *
 * <p>Whether and when something changes is decided by {@link
 * org.wedgecutter.core.scene.TimeDigest}; here it is measured how much, at the shot's frames: how
 * far an origin and a point beside it move from one frame to the next, so that turning in place
 * counts; joints and morph weights of what deforms; the rise of smoke. The number is relative to
 * the entity's own fastest frame, 0 to 1: it shows when a thing moves, not which of two things
 * moves more.
 *
 * <p>The sheet draws it beside the names of entities and the survey lists what moves; what is held
 * from frame to frame is decided by the digest alone, never by this number.
 *
 * <p>Costs: one pose of the whole scene for each frame, and what the skin's joints and morph
 * weights add; nothing is traced. Entities that never move have an empty row.
 */
@NullMarked
package org.wedgecutter.core.motion;

import org.jspecify.annotations.NullMarked;
