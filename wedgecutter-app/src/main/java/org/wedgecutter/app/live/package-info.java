/**
 * Tracing in the background while the plan is edited, without JavaFX types. {@link
 * org.wedgecutter.app.live.LiveTrace} traces small pictures first, then larger ones, then more
 * samples; an edit that only moves entities between Seen and Holdout regroups the sums that are
 * there. {@link org.wedgecutter.app.live.Pictures} are the pictures of one moment, with residual
 * and causes. {@link org.wedgecutter.app.live.FilePictures} are what a delivery's files give by the
 * same recipe.
 *
 * <p>One thread traces; it hands pictures to a listener and nobody waits for it. A request for
 * another plan stops the sample that is being traced. A request for another recipe alone is met by
 * a second thread, from pictures that are there; the trace waits for it, since either takes all
 * cores.
 *
 * <p>{@link org.wedgecutter.app.live.LiveSurvey} reads the shot on a thread of its own, {@link
 * org.wedgecutter.app.live.PixelReader} single pixels on another, and {@link
 * org.wedgecutter.app.live.LiveCauses} measures on a third what each cause of a residual explains.
 *
 * <p>Invariant: sums are reused only if they serve the new request ({@code FragmentSums} decides),
 * so a picture after an edit has the bits that a fresh trace gives. Begin with {@code
 * LiveTrace.show}.
 */
@NullMarked
package org.wedgecutter.app.live;

import org.jspecify.annotations.NullMarked;
