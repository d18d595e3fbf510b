package org.wedgecutter.app.viewer;

import static org.assertj.core.api.Assertions.assertThat;

import javafx.scene.image.Image;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;

class ToScreenTest {
  private static final View PLAIN =
      new View(View.Channel.COLOUR, View.Backdrop.BLACK, 0, false, false);

  private static int[] rgb(Image image, int x) {
    int argb = image.getPixelReader().getArgb(x, 0);
    assertThat(argb >>> 24).isEqualTo(255);
    return new int[] {argb >> 16 & 255, argb >> 8 & 255, argb & 255};
  }

  private static Picture pixels(double... rgba) {
    float[] v = new float[rgba.length];
    for (int i = 0; i < v.length; i++) {
      v[i] = (float) rgba[i];
    }
    return new Picture(v.length / 4, 1, v);
  }

  @Test
  void lightIsCodedAsSrgb() {
    Image image = ToScreen.image(pixels(0, 0.2140, 1, 1, 0.0031308, 2, Float.NaN, 1), PLAIN);
    assertThat(rgb(image, 0)).containsExactly(0, 128, 255);
    assertThat(rgb(image, 1)).containsExactly(10, 255, 0);
  }

  @Test
  void lightThatCoversAPartStandsBeforeTheBackdrop() {
    View grey = new View(View.Channel.COLOUR, View.Backdrop.GREY, 0, false, false);
    // half of 0.18 behind it: 0.19, 0.09 and 0.59 by the formula of IEC 61966-2-1
    assertThat(rgb(ToScreen.image(pixels(0.1, 0, 0.5, 0.5), grey), 0))
        .containsExactly(121, 85, 202);
    assertThat(rgb(ToScreen.image(pixels(Float.POSITIVE_INFINITY, 0, 0, 1), PLAIN), 0))
        .containsExactly(255, 0, 0);
  }

  @Test
  void exposureCountsStops() {
    View stops = new View(View.Channel.COLOUR, View.Backdrop.BLACK, 2, false, false);
    assertThat(rgb(ToScreen.image(pixels(0.25, 0.05, 0, 1), stops), 0)[0]).isEqualTo(255);
    assertThat(rgb(ToScreen.image(pixels(0.25, 0.05, 0, 1), stops), 0)[1])
        .isEqualTo(rgb(ToScreen.image(pixels(0.2, 0, 0, 1), PLAIN), 0)[0]);
  }

  @Test
  void theFilmCurveKeepsOrderAndHoldsHighlights() {
    View film = new View(View.Channel.COLOUR, View.Backdrop.BLACK, 0, true, false);
    int before = -1;
    for (double v : new double[] {0, 0.01, 0.1, 0.5, 1, 2}) {
      int now = rgb(ToScreen.image(pixels(v, v, v, 1), film), 0)[0];
      assertThat(now).isGreaterThan(before);
      before = now;
    }
    assertThat(rgb(ToScreen.image(pixels(1, 1, 1, 1), film), 0)[0]).isLessThan(240);
  }

  @Test
  void channelsAreShownAlone() {
    Picture p = pixels(1, 0, 0.2140, 0.5);
    assertThat(rgb(ToScreen.image(p, view(View.Channel.RED)), 0)).containsOnly(255);
    assertThat(rgb(ToScreen.image(p, view(View.Channel.GREEN)), 0)).containsOnly(0);
    assertThat(rgb(ToScreen.image(p, view(View.Channel.BLUE)), 0)).containsOnly(128);
    int alpha = rgb(ToScreen.image(p, view(View.Channel.ALPHA)), 0)[0];
    assertThat(alpha).isBetween(186, 189);
  }

  private static View view(View.Channel channel) {
    return new View(channel, View.Backdrop.BLACK, 0, false, false);
  }

  @Test
  void whatIsNotCoveredShowsTheBackdrop() {
    Picture clear = Picture.empty(32, 1);
    View checker = new View(View.Channel.COLOUR, View.Backdrop.CHECKER, 5, false, false);
    Image image = ToScreen.image(clear, checker);
    assertThat(rgb(image, 0)).isNotEqualTo(rgb(image, 12)).isEqualTo(rgb(image, 24));
    assertThat(rgb(ToScreen.image(clear, PLAIN), 0)).containsOnly(0);
    View grey = new View(View.Channel.COLOUR, View.Backdrop.GREY, 0, false, false);
    assertThat(rgb(ToScreen.image(clear, grey), 0)[0]).isBetween(117, 119);
  }

  @Test
  void lightThatIsTakenAwayIsDarkerThanMiddleGrey() {
    Picture p = pixels(-0.5, 0, 0.5, 0);
    int[] shown = rgb(ToScreen.image(p, PLAIN.withSigned(true)), 0);
    assertThat(shown[0]).isLessThan(90);
    assertThat(shown[1]).isBetween(127, 128);
    assertThat(shown[2]).isGreaterThan(165);
    assertThat(rgb(ToScreen.image(p, PLAIN), 0)[0]).isZero();
  }

  @Test
  void theHeatMapIsBlackWhereExactAndGrowsWithTheError() {
    Image image = ToScreen.heat(pixels(0, 0, 0, 0, 0.001, 0, 0, 0, -1, 0, 0, 0), 0);
    assertThat(rgb(image, 0)).containsOnly(0);
    int low = sum(rgb(image, 1));
    assertThat(low).isPositive();
    assertThat(sum(rgb(image, 2))).isGreaterThan(low);
    Image raised = ToScreen.heat(pixels(0.00005, 0, 0, 0), 4);
    assertThat(sum(rgb(raised, 0))).isPositive();
  }

  private static int sum(int[] rgb) {
    return rgb[0] + rgb[1] + rgb[2];
  }
}
