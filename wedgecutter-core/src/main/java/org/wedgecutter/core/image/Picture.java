package org.wedgecutter.core.image;

/**
 * A picture in scene-linear light, premultiplied.
 *
 * @param width pixels in a line, at least 1
 * @param height lines, at least 1
 * @param rgba red, green, blue, alpha of each pixel, line by line from the top: {@code 4 * width *
 *     height} numbers; not copied
 */
public record Picture(int width, int height, float[] rgba) {
  public Picture {
    if (width < 1 || height < 1 || rgba.length != 4 * width * height) {
      throw new IllegalArgumentException(
          "%d x %d pixels with %d numbers".formatted(width, height, rgba.length));
    }
  }

  /** Returns a picture of zeros. */
  public static Picture empty(int width, int height) {
    return new Picture(width, height, new float[4 * width * height]);
  }

  /** Returns a copy with its own numbers. */
  public Picture copy() {
    return new Picture(width, height, rgba.clone());
  }

  /** Says whether another picture has the same number of lines and pixels. */
  public boolean sameSize(Picture other) {
    return width == other.width && height == other.height;
  }

  /** Relative luminance of linear BT.709 light. */
  public static float luma(float r, float g, float b) {
    return 0.2126f * r + 0.7152f * g + 0.0722f * b;
  }
}
