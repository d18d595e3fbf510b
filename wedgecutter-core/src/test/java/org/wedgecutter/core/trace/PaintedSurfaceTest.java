package org.wedgecutter.core.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TextureRef;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;

/** Textures land where they should, and mean what the format says. */
class PaintedSurfaceTest {
  private static Material material(
      TextureRef base, TextureRef rough, TextureRef normal, TextureRef emission) {
    return Material.plain("m", Rgb.WHITE)
        .with(m -> {
          m.baseColorTexture = base;
          m.metallic = rough == null ? 0 : 1;
          m.metallicRoughnessTexture = rough;
          m.specular(0);
          m.normalTexture = normal;
          m.emission = emission == null ? Rgb.BLACK : Rgb.WHITE;
          m.emissionTexture = emission;
        });
  }

  /**
   * The mean of a quarter of the picture: 0 top left, 1 top right, 2 bottom left, 3 bottom right.
   */
  private static float quarter(Picture p, int quarter, int channel) {
    int w = p.width() / 2;
    int h = p.height() / 2;
    double sum = 0;
    for (int y = 1; y < h - 1; y++) {
      for (int x = 1; x < w - 1; x++) {
        int at = (y + quarter / 2 * h) * p.width() + x + quarter % 2 * w;
        sum += p.rgba()[4 * at + channel];
      }
    }
    return (float) (sum / ((w - 2) * (h - 2)));
  }

  private static final int[] FOUR = {0xff0000, 0x00ff00, 0x0000ff, 0xffffff};

  @Test
  void anImageStandsUprightOnItsSurface() {
    SceneMaker maker = new SceneMaker();
    TextureRef image = maker.image(2, FOUR);
    Scene scene =
        maker
            .mesh("/canvas", SceneMaker.canvas(1), material(image, null, null, null), 0, 0, 0)
            .camera(2 * Math.atan(1 / 4.0), 0, 0, 4)
            .scene();
    Picture p = Traces.picture(scene, Traces.uniform(1), 0, 48, 48, 16);
    for (int q = 0; q < 4; q++) {
      for (int c = 0; c < 3; c++) {
        boolean bright = (FOUR[q] >> (16 - 8 * c) & 255) > 0;
        assertThat(quarter(p, q, c) > 0.6f).as("quarter %d channel %d", q, c).isEqualTo(bright);
      }
    }
  }

  @Test
  void anEmittingImageLightsWhatItFaces() {
    SceneMaker maker = new SceneMaker();
    TextureRef image = maker.image(2, FOUR);
    Scene scene =
        maker
            .mesh("/screen", SceneMaker.canvas(1), material(null, null, null, image), 0, 0, 0)
            .camera(2 * Math.atan(1 / 4.0), 0, 0, 4)
            .scene();
    Picture p = Traces.picture(scene, Environment.DARK, 0, 48, 48, 16);
    assertThat(quarter(p, 0, 0)).isGreaterThan(0.6f);
    assertThat(quarter(p, 0, 1)).isLessThan(0.3f);
    assertThat(quarter(p, 3, 2)).isGreaterThan(0.6f);
  }

  @ParameterizedTest
  @CsvSource({
    // tilt of the texture's normal, and where a lamp must stand to be faced
    "0xff8080, 1, 0",
    "0x008080, -1, 0",
    "0x80ff80, 0, 1",
    "0x800080, 0, -1"
  })
  void redTiltsToTheRightAndGreenToTheTop(String color, double x, double y) {
    for (int side = -1; side <= 1; side += 2) {
      SceneMaker maker = new SceneMaker();
      TextureRef normal = maker.image(1, Integer.decode(color));
      Scene scene =
          maker
              .mesh("/canvas", SceneMaker.canvas(1), material(null, null, normal, null), 0, 0, 0)
              .pointLight("/lamp", 10, side * 6 * x, side * 6 * y, 1.5)
              .camera(0.1, 0, 0, 4)
              .scene();
      double light = Traces.middle(Traces.picture(scene, Environment.DARK, 0, 6, 6, 4), 0);
      if (side > 0) {
        assertThat(light).as("faces its lamp").isGreaterThan(0.05);
      } else {
        assertThat(light).as("turns its back on the other").isLessThan(0.01);
      }
    }
  }

  @Test
  void aFlatNormalTextureChangesNothing() {
    SceneMaker plain = new SceneMaker();
    SceneMaker flat = new SceneMaker();
    // 128 of 255 is half a step beyond flat, hence the tolerance
    TextureRef normal = flat.image(1, 0x8080ff);
    Picture a =
        Traces.picture(lit(plain, material(null, null, null, null)), Environment.DARK, 0, 8, 8, 4);
    Picture b =
        Traces.picture(lit(flat, material(null, null, normal, null)), Environment.DARK, 0, 8, 8, 4);
    for (int i = 0; i < a.rgba().length; i++) {
      assertThat(b.rgba()[i]).isCloseTo(a.rgba()[i], within(0.01f * a.rgba()[i] + 1e-6f));
    }
  }

  private static Scene lit(SceneMaker maker, Material material) {
    return maker
        .mesh("/canvas", SceneMaker.canvas(1), material, 0, 0, 0)
        .pointLight("/lamp", 10, 2, 1, 3)
        .camera(0.3, 0, 0, 4)
        .scene();
  }

  @Test
  void greenIsRoughnessAndBlueIsMetal() {
    // left half a smooth metal, right half a rough dielectric without reflection
    SceneMaker maker = new SceneMaker();
    TextureRef rough = maker.image(2, 0x0010ff, 0x00ff00);
    Scene scene =
        maker
            .mesh("/canvas", SceneMaker.canvas(1), material(null, rough, null, null), 0, 0, 0)
            .camera(2 * Math.atan(1 / 4.0), 0, 0, 4)
            .scene();
    var sums = Traces.trace(scene, Traces.uniform(1), Traces.job(scene, 0), 40, 40, 32);
    float[] light = sums.passes(0, Traces.all(scene));
    int left = LightPass.NUMBERS * (20 * 40 + 5);
    int right = LightPass.NUMBERS * (20 * 40 + 34);
    assertThat(light[left + LightPass.SPECULAR_DIRECT.at()]).isGreaterThan(0.8f);
    assertThat(light[left + LightPass.DIFFUSE_ENVIRONMENT.at()]).isLessThan(0.1f);
    assertThat(light[right + LightPass.SPECULAR_DIRECT.at()]).isLessThan(0.1f);
    assertThat(light[right + LightPass.DIFFUSE_ENVIRONMENT.at()]).isGreaterThan(0.8f);
  }
}
