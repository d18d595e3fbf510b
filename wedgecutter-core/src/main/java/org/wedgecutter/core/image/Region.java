package org.wedgecutter.core.image;

/**
 * A rectangle of pixels of a frame.
 *
 * @param x first column
 * @param y first line, from the top
 * @param width columns, at least 1
 * @param height lines, at least 1
 */
public record Region(int x, int y, int width, int height) {
  public Region {
    if (x < 0 || y < 0 || width < 1 || height < 1) {
      throw new IllegalArgumentException(
          "a region of %d x %d pixels at %d, %d".formatted(width, height, x, y));
    }
  }

  /** Returns the whole of a frame. */
  public static Region whole(int width, int height) {
    return new Region(0, 0, width, height);
  }

  /** Says whether all of it lies in a frame of this size. */
  public boolean fits(int frameWidth, int frameHeight) {
    return (long) x + width <= frameWidth && (long) y + height <= frameHeight;
  }
}
