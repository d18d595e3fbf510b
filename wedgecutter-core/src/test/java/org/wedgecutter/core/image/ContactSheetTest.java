package org.wedgecutter.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.awt.Font;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.image.BufferedImage;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

class ContactSheetTest {
  private static Picture plain(float light, float alpha) {
    Picture out = Picture.empty(64, 32);
    for (int p = 0; p < 64 * 32; p++) {
      Arrays.fill(out.rgba(), 4 * p, 4 * p + 3, light);
      out.rgba()[4 * p + 3] = alpha;
    }
    return out;
  }

  private static float at(Picture p, int x, int y) {
    return p.rgba()[4 * (y * p.width() + x)];
  }

  @Test
  void picturesStandInLinesWithTheirNamesBelow() {
    Picture sheet =
        ContactSheet.of(
            List.of(
                new ContactSheet.Tile("hero", plain(0.5f, 1)),
                new ContactSheet.Tile("", plain(0.25f, 1)),
                new ContactSheet.Tile("shadow", plain(-0.1f, 0))),
            2,
            80);
    assertThat(sheet.width()).isEqualTo(12 + 2 * 92);
    assertThat(at(sheet, 50, 30)).isCloseTo(0.5f, within(1e-5f));
    assertThat(at(sheet, 140, 30)).isCloseTo(0.25f, within(1e-5f));
    assertThat(at(sheet, 50, 30 + 40 + 21 + 12)).as("around grey").isBetween(0.08f, 0.12f);
    assertThat(bright(sheet, 12, 52, 80, 20)).as("letters").isGreaterThan(40);
    assertThat(bright(sheet, 104, 52, 80, 20)).as("no name").isZero();
    for (int i = 3; i < sheet.rgba().length; i += 4) {
      assertThat(sheet.rgba()[i]).isEqualTo(1);
    }
  }

  private static int bright(Picture p, int x, int y, int width, int height) {
    int out = 0;
    for (int k = 0; k < width * height; k++) {
      out += at(p, x + k % width, y + k / width) > 0.3f ? 1 : 0;
    }
    return out;
  }

  private static int rightmost(Picture p) {
    int out = -1;
    for (int k = 0; k < p.width() * p.height(); k++) {
      out = p.rgba()[4 * k] > 0.05f ? Math.max(out, k % p.width()) : out;
    }
    return out;
  }

  private static Picture written(String text, int room) {
    Picture out = Picture.empty(200, 24);
    Letters.write(text, out, 4, 2, room, 1);
    return out;
  }

  @Test
  void lettersAreThoseOfTheWindowsFont() throws Exception {
    String text = "Größe μ Ж 7%";
    Font font =
        Font.createFont(
                Font.TRUETYPE_FONT,
                Path.of(
                        "../wedgecutter-app/src/main/resources/org/wedgecutter/app/theme/fonts",
                        "IBMPlexSans_500Medium.ttf")
                    .toFile())
            .deriveFont(14f);
    BufferedImage wanted = new BufferedImage(200, 24, BufferedImage.TYPE_BYTE_GRAY);
    Graphics2D on = wanted.createGraphics();
    on.setFont(font);
    on.setRenderingHint(
        RenderingHints.KEY_TEXT_ANTIALIASING, RenderingHints.VALUE_TEXT_ANTIALIAS_ON);
    int x = 4;
    for (int c : text.codePoints().toArray()) {
      on.drawString(Character.toString(c), x, 2 + on.getFontMetrics().getMaxAscent());
      x += on.getFontMetrics().charWidth(c);
    }
    Picture ours = written(text, 180);
    int differ = 0;
    int lit = 0;
    for (int k = 0; k < 200 * 24; k++) {
      float theirs = wanted.getRaster().getSample(k % 200, k / 200, 0) / 255f;
      lit += theirs > 0.5f ? 1 : 0;
      differ += Math.abs(theirs - ours.rgba()[4 * k]) > 0.3f ? 1 : 0;
    }
    assertThat(lit).isGreaterThan(200);
    assertThat(differ).isLessThan(lit / 20);
  }

  @Test
  void longNamesEndWithDotsAndUnknownLettersWithAMark() {
    assertThat(rightmost(written("Table shadows, soft, of the lamp", 90))).isBetween(70, 94);
    assertThat(written("a☃", 90).rgba()).isEqualTo(written("a?", 90).rgba());
    assertThat(rightmost(written("", 90))).isEqualTo(-1);
  }
}
