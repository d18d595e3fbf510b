/**
 * Pictures in memory, and the image files that hold them.
 *
 * <p>A {@link org.wedgecutter.core.image.Picture} is scene-linear RGBA, premultiplied, one float
 * array in row order from the top left, four floats per pixel. {@link
 * org.wedgecutter.core.image.Region} is a rectangle of pixels. {@link
 * org.wedgecutter.core.image.PictureFiles} reads OpenEXR of any kind, Radiance HDR and PNG; PNG is
 * decoded from sRGB. {@link org.wedgecutter.core.image.PictureWriter} writes TIFF, HDR and PNG;
 * {@link org.wedgecutter.core.image.ImageFacts} tells what is in a file. Begin with {@code
 * Picture}.
 *
 * <p>Units: scene-linear light with Rec. 709 primaries; alpha is coverage, 0 to 1. Untrusted files:
 * sizes are checked before memory is taken.
 */
@NullMarked
package org.wedgecutter.core.image;

import org.jspecify.annotations.NullMarked;
