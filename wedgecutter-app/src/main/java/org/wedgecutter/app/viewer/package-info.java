/**
 * The viewer: the picture, its tool bars, the probe, and the way of pictures to the screen.
 *
 * <p>{@link org.wedgecutter.app.viewer.PicturePipe} takes traced pictures, has images made of them
 * off the interface thread ({@code ShownImages}) and shows those that are still wanted. {@code
 * ToScreen} applies exposure, channel and view transform; files never contain them.
 *
 * <p>While something of the recipe is dragged, the rejoined picture is a draft: as many pixels as
 * the screen shows of it. The whole one follows where the drag rests. Until then nothing counts as
 * up to date.
 *
 * <p>{@code Shown} is everything that a displayed image depends on, so an image can be made on any
 * thread and compared with what is wanted now. Exposure and backdrops change the image only; the
 * pictures stay. {@code PictureCanvas} zooms and pans, by pointer and keys. Begin with {@code
 * ViewerPane}.
 */
@NullMarked
package org.wedgecutter.app.viewer;

import org.jspecify.annotations.NullMarked;
