package org.wedgecutter.exr;

/**
 * How the picture lies on the screen.
 *
 * @param pixelAspectRatio width of a pixel by its height
 * @param centerX middle of the screen window
 * @param centerY middle of the screen window
 * @param width width of the screen window
 */
public record Screen(float pixelAspectRatio, float centerX, float centerY, float width) {
  /** Square pixels, and the window that all use that need none. */
  public static final Screen PLAIN = new Screen(1, 0, 0, 1);
}
