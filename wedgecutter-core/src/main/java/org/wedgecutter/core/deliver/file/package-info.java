/**
 * The files of a delivery's frames: written as OpenEXR, copied into other forms, read back.
 *
 * <p>{@link org.wedgecutter.core.deliver.file.ExrFrames} is how layers, passes and depth become
 * channels; {@code FilePicture} puts the pixels of a file where its data window says. {@link
 * org.wedgecutter.core.deliver.file.DeliverySource} gives the layers of a frame to a recipe, and
 * {@link org.wedgecutter.core.deliver.file.DeliveryPictures} rejoins them. Begin with the last.
 */
@NullMarked
package org.wedgecutter.core.deliver.file;

import org.jspecify.annotations.NullMarked;
