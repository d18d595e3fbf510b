package org.wedgecutter.core.image;

import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Small pictures side by side with their names below, as one picture. Letters are drawn from a
 * raster of their own, so that no fonts are needed where none are installed.
 */
public final class ContactSheet {
  private static final int GAP = 12;
  private static final int SCALE = 2;
  private static final int LABEL = 8 * SCALE;
  private static final float GROUND = 0.018f;
  private static final float LIGHT = 0.55f;

  /** Middle grey, around which differences are shown. */
  private static final float GREY = 0.18f;

  /** Most numbers of a sheet's picture. */
  private static final long MOST = 1L << 28;

  /** Rows of three dots, the topmost first, an octal digit each. */
  private static final Map<Character, String> LETTERS =
      Map.ofEntries(
          Map.entry('0', "75557"),
          Map.entry('1', "26227"),
          Map.entry('2', "71747"),
          Map.entry('3', "71317"),
          Map.entry('4', "55711"),
          Map.entry('5', "74717"),
          Map.entry('6', "74757"),
          Map.entry('7', "71122"),
          Map.entry('8', "75757"),
          Map.entry('9', "75717"),
          Map.entry('A', "25755"),
          Map.entry('B', "65656"),
          Map.entry('C', "34443"),
          Map.entry('D', "65556"),
          Map.entry('E', "74647"),
          Map.entry('F', "74644"),
          Map.entry('G', "34553"),
          Map.entry('H', "55755"),
          Map.entry('I', "72227"),
          Map.entry('J', "11152"),
          Map.entry('K', "55655"),
          Map.entry('L', "44447"),
          Map.entry('M', "57755"),
          Map.entry('N', "65555"),
          Map.entry('O', "25552"),
          Map.entry('P', "65644"),
          Map.entry('Q', "25563"),
          Map.entry('R', "65655"),
          Map.entry('S', "34216"),
          Map.entry('T', "72222"),
          Map.entry('U', "55557"),
          Map.entry('V', "55552"),
          Map.entry('W', "55775"),
          Map.entry('X', "55255"),
          Map.entry('Y', "55222"),
          Map.entry('Z', "71247"),
          Map.entry('.', "00002"),
          Map.entry(',', "00024"),
          Map.entry(':', "02020"),
          Map.entry('-', "00700"),
          Map.entry('_', "00007"),
          Map.entry('+', "02720"),
          Map.entry('=', "07070"),
          Map.entry('/', "11244"),
          Map.entry('#', "57575"),
          Map.entry('%', "51245"),
          Map.entry('(', "12221"),
          Map.entry(')', "42224"));

  private ContactSheet() {}

  /**
   * A picture and its name.
   *
   * @param picture scene-linear, premultiplied; one with negative light is shown around grey
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
      write(t.name, out, x, y + height + SCALE, width);
    }
    return out;
  }

  private static int height(Picture p, int width) {
    return Math.max(1, Math.round((float) width * p.height() / p.width()));
  }

  private static void put(Picture small, Picture on, int x, int y) {
    float offset = small.hasNegative() ? GREY : 0;
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

  /** Writes a name in capital letters, as far as there is room. */
  private static void write(String name, Picture on, int x, int y, int width) {
    String text = name.toUpperCase(Locale.ROOT);
    int step = 4 * SCALE;
    for (int k = 0; k < text.length() && (k + 1) * step <= width; k++) {
      String rows = LETTERS.getOrDefault(text.charAt(k), "00000");
      for (int dot = 0; dot < 15 * SCALE * SCALE; dot++) {
        int column = dot % (3 * SCALE);
        int line = dot / (3 * SCALE);
        int bits = rows.charAt(line / SCALE) - '0';
        if ((bits >> (2 - column / SCALE) & 1) != 0) {
          int at = 4 * ((y + line) * on.width() + x + k * step + column);
          on.rgba()[at] = LIGHT;
          on.rgba()[at + 1] = LIGHT;
          on.rgba()[at + 2] = LIGHT;
        }
      }
    }
  }
}
