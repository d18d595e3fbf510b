package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/** In uniform light a white thing cannot be seen: it sends back all that it gets. */
class FurnaceTest {
  private static Scene ball(Material material) {
    return new SceneMaker()
        .mesh("/ball", SceneMaker.sphere(1, 96), material, 0, 0, 0)
        .camera(0.5, 0, 0, 5)
        .scene();
  }

  @ParameterizedTest
  @CsvSource({
    "0, 0.0", "0, 0.15", "0, 0.3", "0, 0.5", "0, 0.7", "0, 1.0",
    "1, 0.0", "1, 0.15", "1, 0.3", "1, 0.5", "1, 0.7", "1, 1.0",
    "0.5, 0.2", "0.5, 0.6"
  })
  void aWhiteBallVanishesInUniformLight(double metallic, double roughness) {
    Scene scene = ball(SceneMaker.surface(1, metallic, roughness, 1, 0));
    Picture p = Traces.picture(scene, Traces.uniform(1), 8, 24, 24, 256);
    for (int c = 0; c < 3; c++) {
      assertThat(Traces.middle(p, c)).isCloseTo(1, within(0.01));
    }
  }

  @Test
  void aMatteBallSendsBackItsAlbedo() {
    Picture p = Traces.picture(ball(SceneMaker.matte(0.5)), Traces.uniform(2), 8, 24, 24, 64);
    assertThat(Traces.middle(p, 0)).isCloseTo(1, within(0.01));
  }

  @ParameterizedTest
  @CsvSource({"0.02", "0.2", "0.5", "0.8"})
  void noPixelOfAnyBallIsBrighterThanTheLight(double roughness) {
    // a tilted eye ray and grazing edges are included: the whole picture counts
    for (double metallic : new double[] {0, 1}) {
      Scene scene = ball(SceneMaker.surface(1, metallic, roughness, 1, 0));
      Picture p = Traces.picture(scene, Traces.uniform(1), 8, 16, 16, 512);
      double sum = 0;
      for (int i = 0; i < p.rgba().length; i += 4) {
        assertThat(p.rgba()[i]).isBetween(0f, 1.15f);
        sum += p.rgba()[i];
      }
      assertThat(sum / (16 * 16)).isLessThan(1.01);
    }
  }

  @Test
  void aClosedGlowingRoomFillsUpToTheGeometricSeries() {
    // every surface emits 1 and sends back half: 1 + 1/2 + 1/4 ... = 2
    Material wall = SceneMaker.surface(0.5, 0, 1, 0, 1);
    Scene scene =
        new SceneMaker()
            .mesh("/room", SceneMaker.box(2), wall, 0, 0, 0)
            .camera(0.8, 0.3, 0.1, 0.2)
            .scene();
    Picture p = Traces.picture(scene, Environment.DARK, 24, 16, 16, 128);
    assertThat(Traces.middle(p, 0)).isCloseTo(2, within(0.02));
  }

  @Test
  void fewerBouncesCutTheSeriesShort() {
    Material wall = SceneMaker.surface(0.5, 0, 1, 0, 1);
    Scene scene =
        new SceneMaker()
            .mesh("/room", SceneMaker.box(2), wall, 0, 0, 0)
            .camera(0.8, 0.3, 0.1, 0.2)
            .scene();
    assertThat(Traces.middle(Traces.picture(scene, Environment.DARK, 0, 16, 16, 128), 0))
        .isCloseTo(1.5, within(0.015));
    assertThat(Traces.middle(Traces.picture(scene, Environment.DARK, 1, 16, 16, 128), 0))
        .isCloseTo(1.75, within(0.02));
  }
}
