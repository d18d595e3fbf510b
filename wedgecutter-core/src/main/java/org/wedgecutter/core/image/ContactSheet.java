package org.wedgecutter.core.image;

import java.util.List;

/** Small pictures side by side with their names below, as one picture. */
public final class ContactSheet {
  private static final int GAP = 12;
  private static final int LABEL = 2 + Letters.height();
  private static final float GROUND = 0.018f;
  private static final float LIGHT = 0.55f;

  /** Middle grey, around which differences are shown. */
  private static final float GREY = 0.18f;

  /** Most numbers of a sheet's picture. */
  private static final long MOST = 1L << 28;

  private ContactSheet() {}

  /**
   * A picture and its name.
   *
   * @param picture scene-linear, premultiplied; one that takes light away is shown around grey
   */
  public record Tile(String name, Picture picture) {}

  /**
   * Returns a sheet, scene-linear, without alpha that is not 1.
   *
   * @param tiles at least one
   * @param columns how many stand in a line
   * @param width of a tile's picture in pixels
   */
  public static Picture of(List<Tile> tiles, int columns, int width) {
    int across = Math.max(1, Math.min(columns, tiles.size()));
    int height = 1;
    for (Tile t : tiles) {
      height = Math.max(height, height(t.picture, width));
    }
    int lines = (tiles.size() + across - 1) / across;
    int sheetWidth = GAP + across * (width + GAP);
    int sheetHeight = GAP + lines * (height + LABEL + GAP);
    if (4L * sheetWidth * sheetHeight > MOST) {
      throw new IllegalArgumentException(
          "a contact sheet of %d x %d pixels".formatted(sheetWidth, sheetHeight));
    }
    Picture out = Picture.empty(sheetWidth, sheetHeight);
    for (int i = 0; i < out.rgba().length; i++) {
      out.rgba()[i] = (i & 3) == 3 ? 1 : GROUND;
    }
    for (int k = 0; k < tiles.size(); k++) {
      int x = GAP + k % across * (width + GAP);
      int y = GAP + k / across * (height + LABEL + GAP);
      Tile t = tiles.get(k);
      put(t.picture.resized(width, height(t.picture, width)), out, x, y);
      Letters.write(t.name, out, x, y + height + 2, width, LIGHT);
    }
    return out;
  }

  private static int height(Picture p, int width) {
    return Math.max(1, Math.round((float) width * p.height() / p.width()));
  }

  private static void put(Picture small, Picture on, int x, int y) {
    float offset = small.takesLight() ? GREY : 0;
    for (int line = 0; line < small.height(); line++) {
      for (int column = 0; column < small.width(); column++) {
        int from = 4 * (line * small.width() + column);
        int to = 4 * ((y + line) * on.width() + x + column);
        float through = Math.max(0, 1 - small.rgba()[from + 3]);
        for (int c = 0; c < 3; c++) {
          on.rgba()[to + c] = small.rgba()[from + c] + offset + through * GROUND;
        }
      }
    }
  }
}
