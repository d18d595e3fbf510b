/**
 * Tracing in the background while the plan is edited, without JavaFX types. {@link
 * org.wedgecutter.app.live.LiveTrace} traces small pictures first, then larger ones, then more
 * samples; an edit that only moves entities between Seen and Holdout regroups the sums that are
 * there. {@link org.wedgecutter.app.live.Pictures} are the pictures of one moment, with residual
 * and causes.
 */
@NullMarked
package org.wedgecutter.app.live;

import org.jspecify.annotations.NullMarked;
