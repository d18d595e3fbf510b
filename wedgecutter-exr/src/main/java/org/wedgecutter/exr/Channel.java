package org.wedgecutter.exr;

/**
 * One channel of a part.
 *
 * @param name not empty, without zero bytes, at most 255 bytes of UTF-8; parts of a pass are joined
 *     by dots
 * @param type how its numbers are stored
 * @param perceptuallyLinear whether steps of its numbers look even; for compressions with loss
 * @param xSampling it has numbers at columns that this divides, from 1
 * @param ySampling it has numbers at lines that this divides, from 1
 */
public record Channel(
    String name, PixelType type, boolean perceptuallyLinear, int xSampling, int ySampling) {
  public Channel {
    if (name.isEmpty() || name.indexOf('\0') >= 0) {
      throw new IllegalArgumentException("a channel's name must not be empty or hold a zero byte");
    }
    if (xSampling < 1 || ySampling < 1) {
      throw new IllegalArgumentException(
          "a channel's sampling of %d x %d, expected from 1".formatted(xSampling, ySampling));
    }
  }

  /** A channel with a number for every pixel. */
  public Channel(String name, PixelType type) {
    this(name, type, false, 1, 1);
  }

  /** Returns how many numbers it has in a window. */
  public long samples(Box window) {
    return (long) Block.sampled(window.minX(), window.width(), xSampling)
        * Block.sampled(window.minY(), window.height(), ySampling);
  }
}
