package org.wedgecutter.exr;

/**
 * The tiles of a part.
 *
 * @param width columns of a tile, from 1
 * @param height lines of a tile, from 1
 * @param mode which smaller pictures there are
 * @param roundUp whether sizes of smaller pictures are rounded up; else down
 */
public record Tiles(int width, int height, Mode mode, boolean roundUp) {
  /** Which smaller pictures a part has. The order is the code in the file. */
  public enum Mode {
    /** None. */
    ONE,
    /** Halved in both directions, down to one pixel. */
    MIP,
    /** Halved in each direction by itself. */
    RIP
  }

  public Tiles {
    if (width < 1 || height < 1) {
      throw new IllegalArgumentException(
          "tiles of %d x %d pixels, expected from 1".formatted(width, height));
    }
  }

  /** Tiles of one picture. */
  public static Tiles of(int width, int height) {
    return new Tiles(width, height, Mode.ONE, false);
  }

  /** Returns the size of a level. */
  int size(int full, int level) {
    long whole = 1L << level;
    return (int) Math.max(1, roundUp ? (full + whole - 1) / whole : full / whole);
  }

  /** Returns how many levels a size has. */
  private int levels(int full) {
    int floor = 31 - Integer.numberOfLeadingZeros(full);
    return 1 + floor + (roundUp && Integer.bitCount(full) > 1 ? 1 : 0);
  }

  /** Returns how many levels there are across. */
  int levelsX(Box window) {
    return switch (mode) {
      case ONE -> 1;
      case MIP -> levels(Math.max(window.width(), window.height()));
      case RIP -> levels(window.width());
    };
  }

  /** Returns how many levels there are down; of mip levels, one for each across. */
  int levelsY(Box window) {
    return mode == Mode.RIP ? levels(window.height()) : 1;
  }

  /** Returns the window of a level. */
  Box window(Box window, int levelX, int levelY) {
    return new Box(
        window.minX(),
        window.minY(),
        window.minX() + size(window.width(), levelX) - 1,
        window.minY() + size(window.height(), mode == Mode.MIP ? levelX : levelY) - 1);
  }
}
