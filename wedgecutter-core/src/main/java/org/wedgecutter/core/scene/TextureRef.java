package org.wedgecutter.core.scene;

/**
 * A use of an image.
 *
 * @param image index into {@link Scene#images()}
 * @param repeatU whether the image repeats along u (else its edge goes on)
 * @param repeatV whether the image repeats along v
 */
public record TextureRef(int image, boolean repeatU, boolean repeatV) {}
