import java.awt.Color;
import java.awt.Font;
import java.awt.FontMetrics;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.image.BufferedImage;
import java.io.File;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import javax.imageio.ImageIO;

/**
 * Draws the letters of a font for the names in contact sheets, which must not depend on the fonts
 * of a machine. From the project's folder:
 *
 * <pre>java scripts/Letters.java FONT.ttf wedgecutter-core/src/main/resources/org/wedgecutter/core/image</pre>
 */
public final class Letters {
  private static final float SIZE = 14;
  private static final int IN_LINE = 32;

  public static void main(String[] args) throws Exception {
    System.setProperty("java.awt.headless", "true");
    Font font = Font.createFont(Font.TRUETYPE_FONT, new File(args[0])).deriveFont(SIZE);
    // Latin, Greek, Cyrillic, and the punctuation of names
    int[][] ranges = {{0x20, 0x7e}, {0xa1, 0x24f}, {0x370, 0x4ff}, {0x2010, 0x2026}};
    int[] letters =
        Stream.of(ranges)
            .flatMapToInt(r -> IntStream.rangeClosed(r[0], r[1]))
            .filter(font::canDisplay)
            .toArray();
    Graphics2D probe = graphics(new BufferedImage(1, 1, BufferedImage.TYPE_BYTE_GRAY), font);
    FontMetrics metrics = probe.getFontMetrics();
    int[] advances = IntStream.of(letters).map(metrics::charWidth).toArray();
    int width = IntStream.of(advances).max().orElseThrow() + 2;
    int ascent = metrics.getMaxAscent();
    int height = ascent + metrics.getMaxDescent();
    int lines = (letters.length + IN_LINE - 1) / IN_LINE;
    BufferedImage sheet =
        new BufferedImage(IN_LINE * width, lines * height, BufferedImage.TYPE_BYTE_GRAY);
    for (int k = 0; k < letters.length; k++) {
      BufferedImage cell = new BufferedImage(width, height, BufferedImage.TYPE_BYTE_GRAY);
      graphics(cell, font).drawString(Character.toString(letters[k]), 1, ascent);
      sheet.getRaster().setRect(k % IN_LINE * width, k / IN_LINE * height, cell.getRaster());
    }
    Path out = Path.of(args[1]);
    Files.createDirectories(out);
    ImageIO.write(sheet, "png", out.resolve("letters.png").toFile());
    Files.writeString(
        out.resolve("letters.txt"),
        "%d %d%n%s%n%s%n"
            .formatted(
                width,
                height,
                new String(letters, 0, letters.length),
                IntStream.of(advances)
                    .mapToObj(String::valueOf)
                    .collect(Collectors.joining(" "))));
  }

  private static Graphics2D graphics(BufferedImage on, Font font) {
    Graphics2D out = on.createGraphics();
    out.setFont(font);
    out.setColor(Color.WHITE);
    out.setRenderingHint(
        RenderingHints.KEY_TEXT_ANTIALIASING, RenderingHints.VALUE_TEXT_ANTIALIAS_ON);
    return out;
  }
}
