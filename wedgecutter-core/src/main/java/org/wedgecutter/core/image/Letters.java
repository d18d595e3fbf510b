package org.wedgecutter.core.image;

import java.awt.image.Raster;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import javax.imageio.ImageIO;

/**
 * Letters that are drawn into pictures. They come from a raster that was made from the font of the
 * window by {@code scripts/Letters.java}, so they look alike on every machine, also where no font
 * is installed.
 */
final class Letters {
  private static final Letters OWN = read();

  /** Left of a letter in its cell, for those that reach out of their width. */
  private static final int MARGIN = 1;

  private static final int IN_LINE = 32;

  private final Raster raster;
  private final int width;
  private final int height;
  private final Map<Integer, Cell> cells = new HashMap<>();

  /**
   * A letter.
   *
   * @param index its place in the raster
   * @param advance pixels to the next letter
   */
  private record Cell(int index, int advance) {}

  private Letters(Raster raster, List<String> told) {
    this.raster = raster;
    String[] size = told.getFirst().split(" ");
    width = Integer.parseInt(size[0]);
    height = Integer.parseInt(size[1]);
    int[] letters = told.get(1).codePoints().toArray();
    String[] advances = told.get(2).split(" ");
    for (int k = 0; k < letters.length; k++) {
      cells.put(letters[k], new Cell(k, Integer.parseInt(advances[k])));
    }
  }

  private static Letters read() {
    try (InputStream picture = resource("letters.png");
        InputStream told = resource("letters.txt")) {
      String text = new String(told.readAllBytes(), StandardCharsets.UTF_8);
      return new Letters(ImageIO.read(picture).getRaster(), text.lines().toList());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static InputStream resource(String name) {
    return Objects.requireNonNull(Letters.class.getResourceAsStream(name), name);
  }

  /** Returns how high a line is, in pixels. */
  static int height() {
    return OWN.height;
  }

  /**
   * Writes a line of text; a letter that is not known is a question mark.
   *
   * @param x where it begins
   * @param y top of the line
   * @param room pixels across; what is longer ends with dots
   * @param light of the letters, scene-linear
   */
  static void write(String text, Picture on, int x, int y, int room, float light) {
    List<Cell> line = OWN.line(text, room);
    int at = x;
    for (Cell cell : line) {
      OWN.draw(cell, on, at - MARGIN, y, light);
      at += cell.advance;
    }
  }

  private List<Cell> line(String text, int room) {
    List<Cell> out = new ArrayList<>();
    text.codePoints().forEach(c -> out.add(cells.getOrDefault(c, cell('?'))));
    if (width(out) > room) {
      while (!out.isEmpty() && width(out) + cell('…').advance > room) {
        out.removeLast();
      }
      out.add(cell('…'));
    }
    return out;
  }

  private Cell cell(int letter) {
    return Objects.requireNonNull(cells.get(letter));
  }

  private static int width(List<Cell> line) {
    return line.stream().mapToInt(Cell::advance).sum();
  }

  private void draw(Cell cell, Picture on, int x, int y, float light) {
    int left = cell.index % IN_LINE * width;
    int top = cell.index / IN_LINE * height;
    for (int dy = 0; dy < height; dy++) {
      for (int dx = 0; dx < width; dx++) {
        float cover = raster.getSample(left + dx, top + dy, 0) / 255f;
        int column = x + dx;
        int line = y + dy;
        if (cover == 0 || column < 0 || column >= on.width() || line < 0 || line >= on.height()) {
          continue;
        }
        int at = 4 * (line * on.width() + column);
        for (int c = at; c < at + 3; c++) {
          on.rgba()[c] += cover * (light - on.rgba()[c]);
        }
      }
    }
  }
}
