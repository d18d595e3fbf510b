package org.wedgecutter.core.fragment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.pass.IdMattes;
import org.wedgecutter.core.pass.PassPicture;

/** The filter by itself, and mattes with more names than ranks. */
class DenoiserTest {
  private static final int W = 24;
  private static final int H = 16;
  private static final int DATA = FragmentSums.DATA;

  private final float[] data = new float[DATA * W * H];
  private final int[] dominant = new int[W * H];
  private final float[] cover = new float[W * H];

  private Denoiser halves() {
    Arrays.fill(cover, 1);
    for (int p = 0; p < W * H; p++) {
      boolean right = p % W >= W / 2;
      dominant[p] = right ? 1 : 0;
      data[DATA * p] = right ? 3 : 5;
      data[DATA * p + 3] = 1;
      for (int c = 13; c < 16; c++) {
        data[DATA * p + c] = 0.5f;
      }
    }
    return new Denoiser(W, H, data, dominant, cover);
  }

  @Test
  void evenLightStaysEven() {
    float[] light = new float[3 * W * H];
    Arrays.fill(light, 0.7f);
    halves().filter(light, 3, List.of(0, 1, 2), 1);
    for (float l : light) {
      assertThat(l).isCloseTo(0.7f, within(1e-5f));
    }
  }

  @Test
  void noLightCrossesFromOneThingToAnother() {
    float[] light = new float[4 * W * H];
    for (int p = 0; p < W * H; p++) {
      light[4 * p] = p % W >= W / 2 ? 1 : 0;
      light[4 * p + 3] = p % 2;
    }
    float[] before = light.clone();
    halves().filter(light, 4, List.of(0), 1);
    for (int p = 0; p < W * H; p++) {
      assertThat(light[4 * p]).isCloseTo(before[4 * p], within(1e-5f));
      assertThat(light[4 * p + 3]).as("other channels are left").isEqualTo(before[4 * p + 3]);
    }
  }

  @Test
  void itIsLinearAndTakesNoiseAway() {
    Random random = new Random(3);
    float[] a = new float[W * H];
    float[] b = new float[W * H];
    float[] both = new float[W * H];
    for (int p = 0; p < W * H; p++) {
      a[p] = random.nextFloat();
      b[p] = (float) random.nextGaussian();
      both[p] = 2 * a[p] - b[p];
    }
    double before = spread(a);
    Denoiser filter = halves();
    filter.filter(a, 1, List.of(0), 1);
    filter.filter(b, 1, List.of(0), 1);
    filter.filter(both, 1, List.of(0), 1);
    for (int p = 0; p < W * H; p++) {
      assertThat(both[p]).isCloseTo(2 * a[p] - b[p], within(1e-5f));
    }
    assertThat(spread(a)).isLessThan(0.15 * before);
  }

  private static double spread(float[] values) {
    double mean = 0;
    double square = 0;
    for (float v : values) {
      mean += v / values.length;
      square += v * (double) v / values.length;
    }
    return square - mean * mean;
  }

  @Test
  void unlikeNormalsColoursAndDepthsKeepApart() {
    for (int what : new int[] {0, 1, 13}) {
      halves();
      Arrays.fill(dominant, 0);
      for (int p = 0; p < W * H; p++) {
        data[DATA * p] = what == 0 && p % W >= W / 2 ? 5.2f + 4 : 5;
        data[DATA * p + 1] = what == 1 && p % W >= W / 2 ? 1 : 0;
        data[DATA * p + 13] = what == 13 && p % W >= W / 2 ? 1 : 0.5f;
      }
      float[] light = new float[W * H];
      for (int p = 0; p < W * H; p++) {
        light[p] = p % W >= W / 2 ? 1 : 0;
      }
      new Denoiser(W, H, data, dominant, cover).filter(light, 1, List.of(0), 1);
      // away from the border's own pixels, whose slope in depth is not known
      assertThat(light[5 * W + W / 2 - 3]).as("datum %d", what).isLessThan(0.1f);
      assertThat(light[5 * W + W / 2 + 3]).as("datum %d", what).isGreaterThan(0.9f);
    }
  }

  @Test
  void theSmallestNamesAreLeftOutWhereThereAreTooMany() {
    IdMattes mattes = new IdMattes("CryptoObject", 1);
    for (int k = 1; k <= 9; k++) {
      mattes.name("n" + k);
      mattes.add(0, IdMattes.id("n" + k), k / 100f);
    }
    mattes.add(0, IdMattes.id("n9"), 0.1f);
    List<PassPicture> pictures = mattes.pictures();
    assertThat(pictures).hasSize(4);
    assertThat(pictures.getFirst().name()).isEqualTo("CryptoObject");
    assertThat(pictures.getFirst().values()).containsOnly(0);
    assertThat(pictures.get(1).name()).isEqualTo("CryptoObject00");
    assertThat(pictures.get(1).channel(1)).isEqualTo("CryptoObject00.g");
    float[] first = pictures.get(1).values();
    assertThat(first[0]).isEqualTo(IdMattes.id("n9"));
    assertThat(first[1]).isCloseTo(0.19f, within(1e-6f));
    assertThat(first[2]).isEqualTo(IdMattes.id("n8"));
    assertThat(mattes.header()).hasSize(4);
  }

  @Test
  void aNameInPiecesCountsByAllOfThem() {
    IdMattes mattes = new IdMattes("CryptoMaterial", 1);
    for (int k = 1; k <= 6; k++) {
      mattes.add(0, IdMattes.id("n" + k), 0.1f);
    }
    for (int k = 0; k < 8; k++) {
      mattes.add(0, IdMattes.id("many"), 0.05f);
    }
    float[] first = mattes.pictures().get(1).values();
    assertThat(first[0]).isEqualTo(IdMattes.id("many"));
    assertThat(first[1]).isCloseTo(0.4f, within(1e-6f));
  }

  @Test
  void whatStandsAtDepthNothingIsFilteredToo() {
    halves();
    Arrays.fill(cover, 1);
    for (int p = 0; p < W * H; p++) {
      data[DATA * p] = 0;
    }
    float[] light = new float[W * H];
    Arrays.fill(light, 2);
    new Denoiser(W, H, data, dominant, cover).filter(light, 1, List.of(0), 1);
    for (float v : light) {
      assertThat(v).isCloseTo(2, within(1e-5f));
    }
  }

  @Test
  void weightsThatAreNotKeptAreTheSame() {
    halves();
    Random random = new Random(7);
    float[] light = new float[3 * W * H];
    for (int i = 0; i < light.length; i++) {
      light[i] = random.nextFloat();
    }
    float[] again = light.clone();
    new Denoiser(W, H, data, dominant, cover).filter(light, 3, List.of(0, 1, 2), 0.8);
    new Denoiser(W, H, data, dominant, cover, 0).filter(again, 3, List.of(0, 1, 2), 0.8);
    assertThat(again).isEqualTo(light);
  }

  @Test
  void aPixelOfAnotherSizeIsJudgedByTheOneAtItsMiddle() {
    for (int pixel = 0; pixel < 40; pixel++) {
      assertThat(Denoiser.nearest(pixel, 40, 20)).isEqualTo(pixel / 2);
      assertThat(Denoiser.nearest(pixel / 2, 20, 40)).isEqualTo(pixel / 2 * 2 + 1);
      assertThat(Denoiser.nearest(pixel, 40, 40)).isEqualTo(pixel);
    }
    assertThat(Denoiser.nearest(16383, 16384, 6144)).isEqualTo(6143);
  }
}
