package org.wedgecutter.exr;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * What a file tells of a part before its pixels.
 *
 * @param name the part's name; may be empty in a file of one part
 * @param compression how its chunks are packed
 * @param dataWindow where there are pixels
 * @param displayWindow the frame of the picture
 * @param screen how the picture lies on the screen
 * @param lineOrder in which order its chunks stand in the file
 * @param tiles its tiles, or null if it is of lines
 * @param deep whether pixels have any number of samples each
 * @param attributes further header attributes, in order
 * @param channels ascending by name
 */
public record ExrHeader(
    String name,
    Compression compression,
    Box dataWindow,
    Box displayWindow,
    Screen screen,
    LineOrder lineOrder,
    @Nullable Tiles tiles,
    boolean deep,
    Map<String, Attribute> attributes,
    List<Channel> channels) {
  public ExrHeader {
    attributes = ExrPart.copy(attributes);
    channels = List.copyOf(channels);
    Set<String> names = new HashSet<>();
    for (Channel c : channels) {
      if (!names.add(c.name())) {
        throw new IllegalArgumentException("channel %s appears twice".formatted(c.name()));
      }
      if (deep && (c.xSampling() != 1 || c.ySampling() != 1)) {
        throw new IllegalArgumentException(
            "channel %s of a deep part is sub-sampled".formatted(c.name()));
      }
    }
  }

  /** The header of a flat part of lines. */
  public static ExrHeader of(
      String name,
      Compression compression,
      Box dataWindow,
      Box displayWindow,
      Map<String, Attribute> attributes,
      List<Channel> channels) {
    return new ExrHeader(
        name,
        compression,
        dataWindow,
        displayWindow,
        Screen.PLAIN,
        LineOrder.INCREASING,
        null,
        false,
        attributes,
        channels);
  }

  /** Returns the header of a deep part. */
  public ExrHeader asDeep() {
    return new ExrHeader(
        name,
        compression,
        dataWindow,
        displayWindow,
        screen,
        lineOrder,
        tiles,
        true,
        attributes,
        channels);
  }

  /** Returns the name of its type in the file. */
  public String type() {
    return deep
        ? tiles == null ? "deepscanline" : "deeptile"
        : tiles == null ? "scanlineimage" : "tiledimage";
  }

  /** Returns the windows of all levels, the full picture's first. */
  List<Box> windows() {
    if (tiles == null) {
      return List.of(dataWindow);
    }
    List<Box> out = new ArrayList<>();
    for (int y = 0; y < tiles.levelsY(dataWindow); y++) {
      for (int x = 0; x < tiles.levelsX(dataWindow); x++) {
        out.add(tiles.window(dataWindow, x, y));
      }
    }
    return out;
  }

  /** Returns the level's number across. */
  int levelX(int level) {
    return tiles == null ? 0 : level % tiles.levelsX(dataWindow);
  }

  /** Returns the level's number down. */
  int levelY(int level) {
    return tiles == null
        ? 0
        : tiles.mode() == Tiles.Mode.MIP ? level : level / tiles.levelsX(dataWindow);
  }

  /**
   * The pixels of a chunk.
   *
   * @param level number of its level
   * @param x column of its tile, or 0
   * @param y line of its tile; of lines, the number of the chunk
   */
  record Place(int level, int x, int y, Block block) {}

  /** Returns the chunks in the order of the table of places. */
  List<Place> places() {
    List<Place> out = new ArrayList<>();
    List<Box> windows = windows();
    for (int l = 0; l < windows.size(); l++) {
      Box w = windows.get(l);
      int across = tiles == null ? w.width() : tiles.width();
      int down = tiles == null ? compression.linesPerChunk() : tiles.height();
      for (int y = 0; (long) y * down < w.height(); y++) {
        for (int x = 0; (long) x * across < w.width(); x++) {
          out.add(
              new Place(
                  l,
                  x,
                  y,
                  new Block(
                      channels,
                      w.minX() + x * across,
                      w.minY() + y * down,
                      Math.min(across, w.width() - x * across),
                      Math.min(down, w.height() - y * down))));
        }
      }
    }
    return out;
  }

  /** Returns how many chunks there are. */
  long chunks() {
    long sum = 0;
    for (Box w : windows()) {
      long across = tiles == null ? 1 : (w.width() + tiles.width() - 1L) / tiles.width();
      int lines = tiles == null ? compression.linesPerChunk() : tiles.height();
      sum += across * ((w.height() + lines - 1L) / lines);
    }
    return sum;
  }

  /** Returns how many numbers all levels have, if each pixel of a deep part has one. */
  long samples() {
    long sum = 0;
    for (Box w : windows()) {
      for (Channel c : channels) {
        sum += c.samples(w);
      }
    }
    return sum;
  }
}
