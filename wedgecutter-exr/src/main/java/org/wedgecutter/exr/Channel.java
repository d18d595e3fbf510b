package org.wedgecutter.exr;

/**
 * One channel of a part, with a number for every pixel of the data window.
 *
 * @param name not empty, without zero bytes, at most 255 bytes of UTF-8; parts of a pass are joined
 *     by dots
 * @param type how its numbers are stored
 */
public record Channel(String name, PixelType type) {
  public Channel {
    if (name.isEmpty() || name.indexOf('\0') >= 0) {
      throw new IllegalArgumentException("a channel's name must not be empty or hold a zero byte");
    }
  }
}
