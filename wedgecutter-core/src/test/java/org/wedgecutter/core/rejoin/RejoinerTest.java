package org.wedgecutter.core.rejoin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.proof.Residual;
import org.wedgecutter.core.proof.Tolerance;

class RejoinerTest {
  private static Picture pixel(double r, double g, double b, double a) {
    return new Picture(1, 1, new float[] {(float) r, (float) g, (float) b, (float) a});
  }

  private static float[] join(Picture onto, Picture layer, Join join) {
    Picture result = onto.copy();
    Rejoiner.join(result, layer, join);
    return result.rgba();
  }

  @Test
  void eachJoinFollowsItsRule() {
    Picture back = pixel(0.5, 0.25, 0.125, 1);
    Picture front = pixel(0.25, 0.125, 0.5, 0.5);
    assertThat(join(back, front, Join.PLUS)).containsExactly(0.75f, 0.375f, 0.625f, 1.5f);
    assertThat(join(back, front, Join.OVER)).containsExactly(0.5f, 0.25f, 0.5625f, 1f);
    assertThat(join(back, front, Join.TIMES)).containsExactly(0.125f, 0.03125f, 0.0625f, 1f);
    assertThat(join(back, front, Join.CATCH)).containsExactly(0.5f, 0.25f, 0.5625f, 1f);
    assertThat(join(pixel(1, 1, 1, 0.5), front, Join.CATCH)[3]).isEqualTo(0.5f);
  }

  @Test
  void joinsForLooksFollowTheirRulesAndOpacityMixes() {
    Picture back = pixel(0.5, 0.25, 2, 1);
    Picture front = pixel(0.25, 0.5, 0.5, 0.5);
    assertThat(join(back, front, Join.SCREEN)).containsExactly(0.625f, 0.625f, 1.5f, 1f);
    assertThat(join(back, front, Join.MIN)).containsExactly(0.25f, 0.25f, 0.5f, 0.5f);
    assertThat(join(back, front, Join.MAX)).containsExactly(0.5f, 0.5f, 2f, 1f);
    assertThat(join(back, front, Join.DIFFERENCE)).containsExactly(0.25f, 0.25f, 1.5f, 0.5f);
    for (Join join : Join.values()) {
      if (join == Join.MATTE || join == Join.DEPTH || join == Join.DEEP) {
        continue;
      }
      Picture mixed = back.copy();
      Rejoiner.join(mixed, front, join, 0.25f);
      float[] all = join(back, front, join);
      for (int c = 0; c < 4; c++) {
        assertThat(mixed.rgba()[c])
            .as("%s, channel %d", join, c)
            .isCloseTo(0.75f * back.rgba()[c] + 0.25f * all[c], within(1e-6f));
      }
    }
  }

  /** The scale bounds what a small error of either picture does to the result. */
  @ParameterizedTest
  @EnumSource(Join.class)
  void theScaleOfTheErrorIsNoLessThanWhatAnErrorDoes(Join join) {
    Random random = new Random(join.ordinal());
    for (int k = 0; k < 500; k++) {
      float[][] v = new float[2][4];
      for (float[] p : v) {
        for (int c = 0; c < 3; c++) {
          p[c] = 2 * random.nextFloat() - 0.5f;
        }
        p[3] = random.nextFloat();
      }
      double opacity = random.nextBoolean() ? 1 : random.nextDouble();
      Recipe recipe =
          new Recipe(
              List.of(
                  new Recipe.Step("back", Join.PLUS, Extra.NONE),
                  new Recipe.Step("front", join, Extra.NONE).withOpacity(opacity)),
              Extra.NONE);
      Rejoiner.Rejoined exact = joined(recipe, v[0], v[1]);
      // colours alone: errors of alpha are those of coverage, which the proof judges by alpha
      float error = 1e-3f;
      for (int c = 0; c < 3; c++) {
        float[] back = v[0].clone();
        back[c] *= 1 + error;
        float[] front = v[1].clone();
        front[c] *= 1 - error;
        for (float[][] pair : new float[][][] {{back, v[1]}, {v[0], front}, {back, front}}) {
          float moved = joined(recipe, pair[0], pair[1]).picture().rgba()[c];
          assertThat(Math.abs(moved - exact.picture().rgba()[c]))
              .as("channel %d of %s onto %s", c, Arrays.toString(v[1]), Arrays.toString(v[0]))
              .isLessThanOrEqualTo(error * exact.scale().rgba()[c] * 1.01f + 2e-6f);
        }
        float apart = 0;
        for (float[][] pair : new float[][][] {{back, v[1]}, {v[0], front}}) {
          float moved = joined(recipe, pair[0], pair[1]).picture().rgba()[c];
          apart += Math.abs(moved - exact.picture().rgba()[c]);
        }
        // in a mix, and where a difference changes its sign, what moves may cancel out
        boolean cancels = opacity < 1 || join == Join.DIFFERENCE;
        assertThat(cancels ? 0 : error * exact.scale().rgba()[c])
            .as("and not more than twice that: channel %d of %s", c, Arrays.toString(v[1]))
            .isLessThanOrEqualTo(2 * apart + 2e-6f);
      }
    }
  }

  private static DeepPicture sample(float depth, float light) {
    return new DeepPicture(1, 1, new float[][] {{depth, depth, light, light, light, 1}});
  }

  /** A card before a bright wall. */
  @Test
  void whatIsHiddenByDepthExcusesNothing() {
    PictureSource near =
        new PictureSource(
            Map.of("wall", pixel(1000, 1000, 1000, 1), "card", pixel(0.25, 0.25, 0.25, 1))::get,
            Map.of(),
            Map.of(),
            Map.of("wall", new float[] {5}, "card", new float[] {2}),
            Map.of("wall", sample(5, 1000), "card", sample(2, 0.25f)));
    for (Join join : List.of(Join.DEPTH, Join.DEEP)) {
      Recipe recipe =
          new Recipe(
              List.of(
                  new Recipe.Step("wall", join == Join.DEEP ? join : Join.PLUS, Extra.NONE),
                  new Recipe.Step("card", join, Extra.NONE)),
              Extra.NONE);
      var result = Rejoiner.rejoin(recipe, 1, 1, near);
      assertThat(result.picture().rgba()).containsExactly(0.25f, 0.25f, 0.25f, 1);
      assertThat(result.scale().rgba()[0]).as(join.word()).isEqualTo(0.25f);
      assertThat(Residual.of(result, Tolerance.of(pixel(0.5, 0.5, 0.5, 1))).exact()).isFalse();
    }
  }

  @Test
  void lightJoinsLeaveAlphaAndCountBothLights() {
    assertThat(join(pixel(0.5, 0.25, 0.125, 1), pixel(0.25, 0.5, 0.5, 1), Join.LIGHT))
        .containsExactly(0.75f, 0.75f, 0.625f, 1);
  }

  @Test
  void lightInHalvesCountsFourTimesAndOnlyWhereItIs() {
    PictureSource kept =
        PictureSource.kept(
            Map.of("half", pixel(1, 0, 0, 1), "float", pixel(0, 1, 1, 0))::get, Set.of("half"));
    Recipe recipe =
        new Recipe(
            List.of(
                new Recipe.Step("half", Join.PLUS, Extra.NONE),
                new Recipe.Step("float", Join.PLUS, Extra.NONE)),
            Extra.NONE);
    var result = Rejoiner.rejoin(recipe, 1, 1, kept);
    assertThat(result.scale().rgba()).containsExactly(4, 1, 1, 4);
    Picture off = pixel(1.003, 1, 1, 1);
    assertThat(Residual.of(result, Tolerance.of(off)).exact()).isTrue();
    assertThat(Residual.of(result, Tolerance.of(pixel(1, 1.003, 1, 1))).exact()).isFalse();
  }

  private static Rejoiner.Rejoined joined(Recipe recipe, float[] back, float[] front) {
    return Rejoiner.rejoin(
        recipe,
        1,
        1,
        new PictureSource(
            layer -> new Picture(1, 1, (layer.equals("back") ? back : front).clone()), Map.of()));
  }

  @Test
  void aNegativeDifferenceTakesAway() {
    assertThat(join(pixel(1, 1, 1, 1), pixel(-0.75, 0, 0.5, 0), Join.PLUS))
        .containsExactly(0.25f, 1, 1.5f, 1);
  }

  @Test
  void sizesMustAgree() {
    assertThatThrownBy(() -> Rejoiner.join(Picture.empty(2, 1), Picture.empty(1, 2), Join.PLUS))
        .hasMessageContaining("1 x 2 pixels cannot be joined to 2 x 1");
  }

  @Test
  void aRecipeIsFollowedFromBackToFront() {
    Map<String, Picture> layers =
        Map.of(
            "back",
            pixel(1, 1, 1, 1),
            "shade",
            pixel(-0.5, -0.5, -0.5, 0),
            "front",
            pixel(0.2, 0, 0, 0.5));
    Recipe recipe =
        new Recipe(
            List.of(
                new Recipe.Step("back", Join.PLUS, Extra.NONE),
                new Recipe.Step("shade", Join.PLUS, Extra.NONE),
                new Recipe.Step("front", Join.OVER, Extra.NONE)),
            Extra.NONE);
    var result = Rejoiner.rejoin(recipe, 1, 1, new PictureSource(layers::get, Map.of()));
    assertThat(result.picture().rgba()).containsExactly(0.45f, 0.25f, 0.25f, 1);
    assertThat(result.scale().rgba()[0])
        .as("0.2 and half of what is behind: 1 and 0.5 taken away")
        .isEqualTo(0.95f);
  }

  private static Rejoiner.Rejoined rejoined(Join join, Picture back, Picture front) {
    Recipe recipe =
        new Recipe(
            List.of(
                new Recipe.Step("back", Join.PLUS, Extra.NONE),
                new Recipe.Step("front", join, Extra.NONE)),
            Extra.NONE);
    return Rejoiner.rejoin(
        recipe, 1, 1, new PictureSource(Map.of("back", back, "front", front)::get, Map.of()));
  }

  @Test
  void lightThatAnOpaqueFrontCoversExcusesNothing() {
    var wrong = rejoined(Join.OVER, pixel(1e4, 1e4, 1e4, 1), pixel(0.5, 0.5, 0.5, 1));
    Picture uncut = pixel(0.9, 0.9, 0.9, 1);
    assertThat(Residual.of(wrong, Tolerance.of(uncut)).exact()).isFalse();
    assertThat(Residual.of(wrong, Tolerance.of(uncut, Precision.HALF, 3)).exact()).isFalse();
    var dimmed = rejoined(Join.TIMES, pixel(1e4, 1, 1, 1), pixel(1e-4, 1, 1, 1));
    assertThat(Residual.of(dimmed, Tolerance.of(pixel(1.1, 1, 1, 1))).exact()).isFalse();
    var darkened = rejoined(Join.CATCH, pixel(1e4, 1, 1, 1), pixel(0, 0, 0, 0.9999));
    assertThat(Residual.of(darkened, Tolerance.of(pixel(1.1, 0, 0, 1))).exact()).isFalse();
  }

  @Test
  void theScaleOfErrorFollowsTheJoins() {
    Picture back = pixel(4, 2, 1, 1);
    Picture front = pixel(-1, 0.5, 0.25, 0.75);
    assertThat(rejoined(Join.PLUS, back, front).scale().rgba())
        .containsExactly(5, 2.5f, 1.25f, 1.75f);
    assertThat(rejoined(Join.OVER, back, front).scale().rgba()).containsExactly(2, 1, 0.5f, 1);
    assertThat(rejoined(Join.TIMES, back, front).scale().rgba()).containsExactly(8, 2, 0.5f, 1);
    assertThat(rejoined(Join.CATCH, back, front).scale().rgba()).containsExactly(2, 1, 0.5f, 1);
  }

  private static Residual residual(Picture rejoined, Picture uncut) {
    return Residual.of(
        new Rejoiner.Rejoined(rejoined, Picture.empty(rejoined.width(), rejoined.height())),
        Tolerance.of(uncut));
  }

  @Test
  void theResidualSaysHowMuchHowManyAndWhere() {
    Picture uncut = Picture.empty(4, 2);
    Picture rejoined = uncut.copy();
    rejoined.rgba()[4 * 6 + 1] = -0.5f;
    rejoined.rgba()[4 * 3 + 3] = 0.00005f;
    Residual r = residual(rejoined, uncut);
    assertThat(r.max()).isEqualTo(0.5);
    assertThat(r.worstX()).isEqualTo(2);
    assertThat(r.worstY()).isEqualTo(1);
    assertThat(r.beyond()).isEqualTo(1 / 8.0);
    assertThat(r.rms()).isCloseTo(Math.sqrt(0.25 / 32), org.assertj.core.data.Offset.offset(1e-6));
    assertThat(r.exact()).isFalse();
    assertThat(Residual.difference(rejoined, uncut).rgba()[4 * 6 + 1]).isEqualTo(-0.5f);
  }

  @Test
  void toleranceGoesWithTheLightThatWasPutTogether() {
    Picture uncut = pixel(0.01, 0, 0, 1);
    Picture rejoined = pixel(0.0105, 0, 0, 1);
    assertThat(residual(rejoined, uncut).exact()).isFalse();
    Residual shadow =
        Residual.of(new Rejoiner.Rejoined(rejoined, pixel(1.99, 0, 0, 1)), Tolerance.of(uncut));
    assertThat(shadow.exact()).as("1 - 0.99: rounding goes with the 1").isTrue();
  }

  /** Exposing a whole shot changes no verdict. */
  @Test
  void exposureChangesNoVerdict() {
    Random random = new Random(3);
    for (double light : new double[] {1e-6, 1e-4, 1, 100, 1e6}) {
      Picture uncut = Picture.empty(20, 10);
      Picture good = Picture.empty(20, 10);
      Picture bad = Picture.empty(20, 10);
      for (int i = 0; i < uncut.rgba().length; i++) {
        float v = (float) (light * (0.01 + random.nextDouble()));
        uncut.rgba()[i] = (i & 3) == 3 ? 1 : v;
        good.rgba()[i] = (i & 3) == 3 ? 1 : v * 1.0005f;
        bad.rgba()[i] = (i & 3) == 3 ? 1 : v * (i < 40 ? 1.01f : 1);
      }
      assertThat(residual(good, uncut).exact()).as("light %g", light).isTrue();
      assertThat(residual(bad, uncut).exact()).as("light %g", light).isFalse();
      assertThat(residual(bad, uncut).beyond()).isEqualTo(10 / 200.0);
    }
  }

  /** A lamp that fills a part of the frame is no excuse for the rest of it. */
  @Test
  void aBrightLampExcusesNothingElse() {
    Picture uncut = Picture.empty(10, 10);
    for (int i = 0; i < 400; i++) {
      uncut.rgba()[i] = (i & 3) == 3 ? 1 : i < 240 ? 5000 : 0.05f;
    }
    Picture rejoined = uncut.copy();
    rejoined.rgba()[396] = 0.06f;
    assertThat(residual(rejoined, uncut).exact()).isFalse();
  }

  @Test
  void numbersThatAreNotFiniteAreBeyondAnyTolerance() {
    for (float none : new float[] {Float.NaN, Float.POSITIVE_INFINITY}) {
      Residual r = residual(pixel(none, 0, 0, 1), pixel(0, 0, 0, 1));
      assertThat(r.exact()).isFalse();
      assertThat(r.invalid()).isEqualTo(1);
      assertThat(r.max()).as("of the others").isEqualTo(0);
      assertThat(residual(pixel(none, 0, 0, 1), pixel(none, 0, 0, 1)).exact())
          .as("not even if both are")
          .isFalse();
      var scaled = new Rejoiner.Rejoined(pixel(1, 0, 0, 1), pixel(none, 0, 0, 1));
      assertThat(Residual.of(scaled, Tolerance.of(pixel(1, 0, 0, 1))).exact()).isFalse();
    }
    assertThat(residual(pixel(0, 0, 0, 1), pixel(0, 0, 0, 1)).exact()).isTrue();
  }

  /** In halves, what is lost below the least of them counts only in a frame that is not as dark. */
  @Test
  void stepsOfHalvesAreAllowedBesideAFrameOfLight() {
    Picture uncut = Picture.empty(10, 10);
    for (int i = 0; i < 400; i++) {
      uncut.rgba()[i] = (i & 3) == 3 ? 1 : i < 40 ? 1e-6f : 0.5f;
    }
    Picture rounded = uncut.copy();
    rounded.rgba()[0] += 6e-8f;
    Rejoiner.Rejoined both = new Rejoiner.Rejoined(rounded, rounded);
    assertThat(Residual.of(both, Tolerance.of(uncut, Precision.HALF, 2)).exact()).isTrue();
    assertThat(Residual.of(both, Tolerance.of(uncut)).exact()).isFalse();
    for (int i = 0; i < 400; i++) {
      uncut.rgba()[i] *= (i & 3) == 3 ? 1 : 1e-5f;
    }
    rounded = uncut.copy();
    rounded.rgba()[200] += 6e-8f;
    both = new Rejoiner.Rejoined(rounded, rounded);
    Tolerance dark = Tolerance.of(uncut, Precision.HALF, 2);
    assertThat(dark.isDark()).isTrue();
    assertThat(Residual.of(both, dark).exact()).isFalse();
  }
}
