package org.wedgecutter.core.survey;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.core.testing.Shots;

/** Where the light of a pixel comes from, against closed forms and against the picture itself. */
class PixelReadingTest {
  @TempDir Path dir;

  /** A floor of albedo 0.5, a lamp of intensity 60 at 4 m, a card 1 m above the middle. */
  private static Scene scene(boolean wall) {
    SceneMaker made =
        new SceneMaker()
            .cameraFromAbove(0.9, 0, 9, 0)
            .mesh("/floor", SceneMaker.floor(6, 6), SceneMaker.matte(0.5), 0, 0, 0)
            .mesh("/card", SceneMaker.floor(0.5, 0.5), SceneMaker.matte(0), 1.5, 1, 0)
            .pointLight("/lamp", 60, 0, 4, 0);
    if (wall) {
      made.mesh("/wall", SceneMaker.wall(3, 2), SceneMaker.matte(0.8), 0, 1.5, -2.5);
    }
    return made.scene();
  }

  private static PixelReading read(LoadedShot shot, int x, int y, int samples) {
    return PixelReading.of(shot, shot.frame(1), 1, x, y, 64, 48, samples);
  }

  /** Radiance of the floor under the lamp: albedo / pi * intensity * cos / distance squared. */
  private static double lit(double x, double z) {
    double d2 = x * x + z * z + 16;
    return 0.5 / Math.PI * 60 * (4 / Math.sqrt(d2)) / d2;
  }

  private static double metres() {
    return 2 * Math.tan(0.45) * 9 / 48;
  }

  @Test
  void anOpenPlaceHasTheLampsLightStraight() {
    LoadedShot shot = Shots.of(scene(false), "1", "\"bounces\": 0", "");
    PixelReading p = read(shot, 32, 24, 64);
    assertThat(p.seen()).hasSize(1);
    PixelReading.Seen floor = p.seen().getFirst();
    assertThat(floor.path()).isEqualTo("/floor");
    assertThat(floor.cover()).isCloseTo(1, within(1e-6));
    assertThat(floor.layers()).containsExactly("All");
    assertThat(floor.sources()).singleElement();
    PixelReading.Source lamp = floor.sources().getFirst();
    assertThat(lamp.path()).isEqualTo("/lamp");
    assertThat(lamp.direct()).isCloseTo(lit(0.5 * metres(), 0.5 * metres()), within(0.01));
    assertThat(lamp.ways()).isEmpty();
    assertThat(lamp.blockers()).isEmpty();
  }

  @Test
  void inTheShadowTheCardBlocksWhatTheLampWouldGive() {
    LoadedShot shot = Shots.of(scene(false), "1", "\"bounces\": 0", "");
    // the card's shadow on the floor is about x = 2, outside of the card as the eye sees it
    double x = 2.46;
    int column = (int) Math.floor(32 + x / metres());
    PixelReading p = read(shot, column, 24, 64);
    PixelReading.Seen floor = p.seen().getFirst();
    assertThat(floor.path()).isEqualTo("/floor");
    assertThat(floor.light()).isZero();
    PixelReading.By card = floor.sources().getFirst().blockers().getFirst();
    assertThat(card.path()).isEqualTo("/card");
    double centre = (column + 0.5 - 32) * metres();
    assertThat(card.light()).isCloseTo(lit(centre, 0.5 * metres()), within(0.01));
  }

  @Test
  void bouncedLightIsToldByItsWay() {
    LoadedShot shot = Shots.of(scene(true), "1", "\"bounces\": 1", "");
    PixelReading p = read(shot, 32, 16, 512);
    PixelReading.Source lamp = p.seen().getFirst().sources().getFirst();
    assertThat(lamp.ways()).singleElement();
    assertThat(lamp.ways().getFirst().path()).isEqualTo("/wall");
    assertThat(lamp.light())
        .isCloseTo(lamp.direct() + lamp.ways().getFirst().light(), within(1e-9));
    assertThat(lamp.ways().getFirst().light()).isBetween(0.001, lamp.direct());
  }

  @ParameterizedTest
  @CsvSource({"3,3", "10,12", "20,12", "20,18", "36,4"})
  void allWaysAddUpToThePixelOfThePicture(int x, int y) throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    int samples = 32;
    FrameRenderer renderer =
        new FrameRenderer(
            shot,
            FrameRenderer.Settings.of(shot, 1, samples, 1, false).within(new Region(x, y, 1, 1)));
    Picture one = renderer.render(1, l -> false, true, p -> {}).uncut();
    double luminance = 0.2126 * one.rgba()[0] + 0.7152 * one.rgba()[1] + 0.0722 * one.rgba()[2];
    PixelReading p = PixelReading.of(shot, shot.frame(1), 1, x, y, 40, 24, samples);
    assertThat(p.luminance()).isCloseTo(luminance, within(1e-5 * (1 + luminance)));
    double cover = p.seen().stream().mapToDouble(PixelReading.Seen::cover).sum();
    assertThat(cover).isCloseTo(one.rgba()[3], within(1e-5));
  }
}
