package org.wedgecutter.exr;

/** A rectangle of pixels, both corners inside; y grows downwards. */
public record Box(int minX, int minY, int maxX, int maxY) {
  /** Returns the box of an image whose first pixel is (0, 0). */
  public static Box ofSize(int width, int height) {
    return new Box(0, 0, width - 1, height - 1);
  }

  /** Returns the number of pixels in a line. */
  public int width() {
    return Math.addExact(Math.subtractExact(maxX, minX), 1);
  }

  /** Returns the number of lines. */
  public int height() {
    return Math.addExact(Math.subtractExact(maxY, minY), 1);
  }
}
