package org.wedgecutter.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

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
    assertThat(at(sheet, 50, 30 + 40 + 16 + 12)).as("around grey").isBetween(0.08f, 0.12f);
    assertThat(bright(sheet, 12, 52, 80, 14)).as("letters").isGreaterThan(100);
    assertThat(bright(sheet, 104, 52, 80, 14)).as("no name").isZero();
    for (int i = 3; i < sheet.rgba().length; i += 4) {
      assertThat(sheet.rgba()[i]).isEqualTo(1);
    }
  }

  private static int bright(Picture p, int x, int y, int width, int height) {
    int out = 0;
    for (int k = 0; k < width * height; k++) {
      out += at(p, x + k % width, y + k / width) > 0.5f ? 1 : 0;
    }
    return out;
  }
}
