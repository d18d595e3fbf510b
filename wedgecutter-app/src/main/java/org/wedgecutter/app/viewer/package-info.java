/**
 * The viewer: the picture, its tool bars, the probe, and the way of pictures to the screen.
 *
 * <p>{@link org.wedgecutter.app.viewer.PicturePipe} takes traced pictures, has images made of them
 * off the interface thread ({@code ShownImages}) and shows those that are still wanted. {@code
 * ToScreen} applies exposure, channel and view transform; files never contain them.
 */
@NullMarked
package org.wedgecutter.app.viewer;

import org.jspecify.annotations.NullMarked;
