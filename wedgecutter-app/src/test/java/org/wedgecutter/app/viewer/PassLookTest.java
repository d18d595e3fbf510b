package org.wedgecutter.app.viewer;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.exr.Compression;

class PassLookTest {
  private static final Output OUTPUT =
      new Output("{layer}", true, Compression.ZIP, true, Extra.NONE).withRange(1, 3);

  private static float[] look(String name, List<String> channels, float... values) {
    Picture p =
        PassLook.of(
            new PassPicture(name, channels, values, true),
            values.length / channels.size(),
            1,
            OUTPUT);
    return p.rgba();
  }

  @Test
  void lightIsShownAsItIs() {
    assertThat(look("diffuse.direct", PassPicture.RGB, 0.2f, 0.4f, 8))
        .containsExactly(0.2f, 0.4f, 8, 1);
  }

  @Test
  void nearIsBrightAndFarIsDark() {
    float[] z = look("", List.of("Z"), 1, 2, 3, Float.POSITIVE_INFINITY);
    assertThat(z[0]).isEqualTo(1);
    assertThat(z[4]).isEqualTo(0.5f);
    assertThat(z[8]).isZero();
    assertThat(z[12]).isZero();
  }

  @Test
  void normalsPointAwayFromGrey() {
    assertThat(look("N", List.of("X", "Y", "Z"), 0, 1, -1)).containsExactly(0.5f, 1, 0, 1);
  }

  @Test
  void whatStandsStillIsTheSameEverywhere() {
    float[] still = look("forward", List.of("U", "V"), 0, 0, 5, -5);
    assertThat(still[4]).isGreaterThan(still[0]);
    assertThat(still[5]).isLessThan(still[1]);
  }

  @Test
  void namesHaveColoursByTheirCover() {
    float a = Float.intBitsToFloat(0x41ff0011);
    float[] half = look("CryptoObject00", List.of("r", "g", "b", "a"), a, 0.5f, 0, 0);
    float[] all = look("CryptoObject00", List.of("r", "g", "b", "a"), a, 1, 0, 0);
    for (int c = 0; c < 3; c++) {
      assertThat(all[c]).isEqualTo(2 * half[c]);
    }
    assertThat(all[0]).isNotEqualTo(all[1]);
  }
}
