package org.wedgecutter.core.fragment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.TraceJob;

/** Layers by depth: flat again they are the flat layer, and merged they are what formulas say. */
class DeepSumsTest {
  private static final Medium GLOWING =
      new Medium("m", false, 1, Rgb.BLACK, 0, new Rgb(3, 2, 1), 0, 0, null);

  private static FragmentSums trace(
      Scene scene, Environment environment, int size, int samples, TraceJob.View... views) {
    TraceJob job = new TraceJob(Traces.whole(scene, 1), EntitySet.NONE, List.of(views));
    return Traces.trace(scene, environment, job, size, size, samples);
  }

  private static TraceJob.View only(Scene scene, String path) {
    EntitySet own = Traces.set(scene, path);
    return new TraceJob.View(Traces.all(scene).minus(own), own, own);
  }

  @Test
  void aLayerIsFlatAgainWhateverStandsInIt() {
    var pane = SceneMaker.matte(0.5).with(m -> m.opacity = 0.4f);
    // leaning walls, one of them thin, glowing haze between and around them, a blurred camera
    Scene scene =
        new SceneMaker()
            .mesh("/pane", SceneMaker.wall(0.6, 0.6), pane, 0.2, 0, 1)
            .mesh("/ball", SceneMaker.sphere(0.7, 24), SceneMaker.matte(0.6), -0.4, 0, 0)
            .mesh("/floor", SceneMaker.floor(6, 6), SceneMaker.matte(0.4), 0, -0.6, 0)
            .medium("/haze", GLOWING, 1.2, 2, 1.2, -0.4, 0, 0.3)
            .medium("/air", SceneMaker.haze(0.2, 0.9), 3, 3, 3, 0, 0, 0)
            .camera(0.6, new SceneCamera.Lens(0.5f, 2, 4), 0, 0.3, 5)
            .scene();
    EntitySet all = Traces.all(scene);
    for (EntitySet chosen :
        List.of(
            all,
            Traces.set(scene, "/haze", "/air"),
            Traces.set(scene, "/floor"),
            Traces.set(scene, "/pane", "/ball"))) {
      FragmentSums sums =
          trace(scene, Traces.uniform(0.7), 24, 33, new TraceJob.View(EntitySet.NONE, all, chosen));
      Picture flat = sums.picture(0, chosen);
      DeepPicture deep = sums.deep(0, chosen, null, EntitySet.NONE);
      Picture again = deep.flattened();
      for (int i = 0; i < flat.rgba().length; i++) {
        assertThat(again.rgba()[i])
            .as("number %d", i)
            .isCloseTo(flat.rgba()[i], within(2e-5f * (1 + flat.rgba()[i])));
      }
      assertThat(deep.tidy().pixels()).isDeepEqualTo(deep.pixels());
      assertThat(deep.most()).isGreaterThan(1).isLessThan(120);
    }
  }

  @Test
  void matterMergedWithAWallInItsMiddleGlowsInFrontOfItAlone() {
    // the matter fills depths 4 to 6; the wall at 5 gives off 4
    Scene scene =
        new SceneMaker()
            .mesh("/wall", SceneMaker.wall(1, 1), SceneMaker.glowing(4), 0, 0, 0)
            .medium("/m", GLOWING, 2, 2, 2, 0, 0, 0)
            .camera(0.001, 0, 0, 5)
            .scene();
    FragmentSums sums =
        trace(scene, Environment.DARK, 4, 8, only(scene, "/m"), only(scene, "/wall"));
    DeepPicture matter = sums.deep(0, Traces.set(scene, "/m"), null, EntitySet.NONE);
    assertThat(matter.pixels()[5]).hasSize(DeepPicture.NUMBERS);
    assertThat(matter.pixels()[5][DeepPicture.FRONT]).isCloseTo(4, within(1e-4f));
    assertThat(matter.pixels()[5][DeepPicture.BACK]).isCloseTo(6, within(1e-4f));
    DeepPicture wall = sums.deep(1, Traces.set(scene, "/wall"), null, EntitySet.NONE);
    Picture merged = wall.merged(matter).flattened();
    double through = Math.exp(-1);
    assertThat(Traces.middle(merged, 0)).isCloseTo(3 * (1 - through) + 4 * through, within(2e-3));
    assertThat(Traces.middle(merged, 2)).isCloseTo(1 - through + 4 * through, within(2e-3));
    assertThat(Traces.middle(merged, 3)).isCloseTo(1, within(1e-6));
  }

  /** The closed form of light through even matter: exp(-density x distance). */
  @Test
  void hazeToTheHorizonHidesAWallAsMuchAsLiesInFrontOfIt() {
    Medium air = new Medium("air", true, 0.25f, new Rgb(0, 0, 0), 0, new Rgb(1, 1, 1), 0, 0, null);
    assertHides(air, Math.exp(-0.25 * 5));
  }

  /** Haze that thins out with height, seen from below and from above: as in the uncut frame. */
  @Test
  void hazeThatThinsOutMergesAsItIsSeenUncut() {
    Medium air = new Medium("air", true, 0.6f, Rgb.BLACK, 0, new Rgb(1, 1, 1), 0.8f, 0, null);
    Scene scene =
        new SceneMaker()
            .mesh("/wall", SceneMaker.wall(9, 9), SceneMaker.glowing(4), 0, 0, 0)
            .medium("/air", air, 1, 1, 1, 0, 0, 0)
            .camera(1.2, 0, 0.5, 5)
            .scene();
    EntitySet all = Traces.all(scene);
    FragmentSums sums =
        trace(
            scene,
            Environment.DARK,
            40,
            4,
            only(scene, "/air"),
            only(scene, "/wall"),
            new TraceJob.View(EntitySet.NONE, all, EntitySet.NONE));
    DeepPicture haze = sums.deep(0, Traces.set(scene, "/air"), null, EntitySet.NONE);
    DeepPicture wall = sums.deep(1, Traces.set(scene, "/wall"), null, EntitySet.NONE);
    Picture merged = wall.merged(haze).flattened();
    Picture uncut = sums.picture(2, Traces.set(scene, "/air", "/wall"));
    for (int p = 0; p < 1600; p++) {
      assertThat(merged.rgba()[4 * p])
          .as("pixel %d of light %s", p, uncut.rgba()[4 * p])
          .isCloseTo(uncut.rgba()[4 * p], within(0.02f * uncut.rgba()[4 * p]));
    }
  }

  private static void assertHides(Medium air, double through) {
    SceneMaker maker =
        new SceneMaker().mesh("/wall", SceneMaker.wall(1, 1), SceneMaker.glowing(4), 0, 0, 0);
    Scene scene = maker.medium("/air", air, 1, 1, 1, 0, 0, 0).camera(0.001, 0, 0, 5).scene();
    FragmentSums sums =
        trace(scene, Environment.DARK, 4, 8, only(scene, "/air"), only(scene, "/wall"));
    DeepPicture haze = sums.deep(0, Traces.set(scene, "/air"), null, EntitySet.NONE);
    assertThat(haze.pixels()[5][haze.pixels()[5].length - DeepPicture.NUMBERS + DeepPicture.BACK])
        .as("it ends where it hides all")
        .isLessThan(200);
    DeepPicture wall = sums.deep(1, Traces.set(scene, "/wall"), null, EntitySet.NONE);
    Picture merged = wall.merged(haze).flattened();
    double glow = (1 - through) / 1;
    assertThat(Traces.middle(merged, 0) - 4 * through)
        .as("what glows in front of the wall")
        .isCloseTo(glow, within(4e-3));
    assertThat(Traces.middle(merged, 3)).isCloseTo(1, within(1e-6));
  }

  @Test
  void matterIsDividedByWhatItHidesWhereAWallEndsWithinAPixel() {
    // half of the middle pixel sees a wall at 5: there the matter reaches from 4 to 5, else to 6
    Scene scene =
        new SceneMaker()
            .mesh("/wall", SceneMaker.wall(0.5, 1), SceneMaker.glowing(4), -0.5, 0, 0)
            .medium("/m", GLOWING, 2, 2, 2, 0, 0, 0)
            .camera(0.001, 0, 0, 5)
            .scene();
    EntitySet both = Traces.set(scene, "/wall", "/m");
    FragmentSums sums =
        trace(
            scene,
            Environment.DARK,
            3,
            64,
            new TraceJob.View(Traces.all(scene).minus(both), both, both));
    float[] pixel = sums.deep(0, both, null, EntitySet.NONE).pixels()[4];
    double wall = sums.picture(0, Traces.set(scene, "/wall")).rgba()[4 * 4 + 3] / Math.exp(-1);
    assertThat(wall).as("share of the pixel that the wall covers").isBetween(0.2, 0.8);
    assertThat(pixel).hasSize(3 * DeepPicture.NUMBERS);
    assertThat(pixel[DeepPicture.BACK]).isCloseTo(5, within(1e-3f));
    assertThat(pixel[DeepPicture.ALPHA])
        .as("all samples go through the same in front of the wall")
        .isCloseTo((float) (1 - Math.exp(-1)), within(2e-3f));
    assertThat(pixel[DeepPicture.NUMBERS + DeepPicture.ALPHA])
        .as("then the wall")
        .isCloseTo((float) wall, within(2e-3f));
    assertThat(pixel[2 * DeepPicture.NUMBERS + DeepPicture.ALPHA])
        .as("and the matter behind, where there is no wall")
        .isCloseTo((float) (1 - Math.exp(-1)), within(2e-3f));
  }

  @Test
  void wallsMergedInAnyOrderHideOneAnotherAsTheyStand() {
    Scene scene =
        new SceneMaker()
            .mesh("/far", SceneMaker.wall(3, 3), SceneMaker.glowing(1), 0, 0, -2)
            .mesh("/near", SceneMaker.wall(0.5, 3), SceneMaker.glowing(5), -0.5, 0, 1)
            .camera(0.4, 0, 0, 5)
            .scene();
    EntitySet all = Traces.all(scene);
    FragmentSums sums =
        trace(
            scene,
            Environment.DARK,
            32,
            16,
            only(scene, "/far"),
            only(scene, "/near"),
            new TraceJob.View(EntitySet.NONE, all));
    DeepPicture far = sums.deep(0, Traces.set(scene, "/far"), null, EntitySet.NONE);
    DeepPicture near = sums.deep(1, Traces.set(scene, "/near"), null, EntitySet.NONE);
    Picture uncut = sums.picture(2, all);
    // nothing else stands on the edge: its cover and the background's light are independent
    for (DeepPicture merged : List.of(far.merged(near), near.merged(far))) {
      Picture flat = merged.flattened();
      for (int i = 0; i < flat.rgba().length; i++) {
        assertThat(flat.rgba()[i]).as("number %d", i).isCloseTo(uncut.rgba()[i], within(1e-4f));
      }
    }
  }

  @Test
  void aSkyStandsInfinitelyFarBehindAll() {
    Scene scene =
        new SceneMaker()
            .mesh("/wall", SceneMaker.wall(0.3, 0.3), SceneMaker.matte(0.5), 0, 0, 0)
            .camera(0.4, 0, 0, 5)
            .scene();
    EntitySet all = Traces.all(scene);
    FragmentSums sums =
        trace(scene, Traces.uniform(2), 16, 8, new TraceJob.View(EntitySet.NONE, all, all));
    DeepPicture deep = sums.deep(0, all, null, EntitySet.NONE);
    float[] corner = deep.pixels()[0];
    assertThat(corner[DeepPicture.FRONT]).isEqualTo(Float.POSITIVE_INFINITY);
    assertThat(corner[DeepPicture.COLOUR]).isCloseTo(2, within(1e-5f));
    assertThat(corner[DeepPicture.ALPHA]).isEqualTo(1);
  }
}
