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

  /** Whether all of it lies in a frame of this size. */
  public boolean fits(int frameWidth, int frameHeight) {
    return (long) x + width <= frameWidth && (long) y + height <= frameHeight;
  }

  /** Returns the smallest region that holds this one and another. */
  public Region or(Region other) {
    int left = Math.min(x, other.x);
    int top = Math.min(y, other.y);
    int right = Math.max(x + width, other.x + other.width);
    int bottom = Math.max(y + height, other.y + other.height);
    return new Region(left, top, right - left, bottom - top);
  }

  /** Returns it with a margin to each side, as far as the frame goes. */
  public Region grown(int margin, int frameWidth, int frameHeight) {
    int left = Math.max(0, x - margin);
    int top = Math.max(0, y - margin);
    int right = Math.min(frameWidth, x + width + margin);
    int bottom = Math.min(frameHeight, y + height + margin);
    return new Region(left, top, right - left, bottom - top);
  }

  /** Returns the part of a frame of another size that covers the same: grown to whole pixels. */
  public Region scaled(int toWidth, int toHeight, int fromWidth, int fromHeight) {
    if (toWidth == fromWidth && toHeight == fromHeight) {
      return this;
    }
    int left = (int) ((long) x * toWidth / fromWidth);
    int top = (int) ((long) y * toHeight / fromHeight);
    int right = (int) (((long) (x + width) * toWidth + fromWidth - 1) / fromWidth);
    int bottom = (int) (((long) (y + height) * toHeight + fromHeight - 1) / fromHeight);
    return new Region(left, top, Math.max(1, right - left), Math.max(1, bottom - top));
  }
}
