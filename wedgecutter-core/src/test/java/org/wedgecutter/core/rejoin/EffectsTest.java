package org.wedgecutter.core.rejoin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Correction.Type;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.HandCamera;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.Environment;

/** Effects against their formulas, summed up here in another way. */
class EffectsTest {
  private static final int W = 41;
  private static final int H = 37;

  private static Picture with(Correction c, Picture of, float... metres) {
    Recipe recipe =
        new Recipe(List.of(new Recipe.Step("L", Join.PLUS, Extra.NONE)), Extra.NONE)
            .withCorrections(List.of(c));
    Map<String, float[]> depths = metres.length == 0 ? Map.of() : Map.of("L", metres);
    return Evaluation.picture(
        Expression.of(recipe),
        of.width(),
        of.height(),
        new PictureSource(l -> of, Map.of(), Map.of(), depths, Map.of()));
  }

  private static Picture point(int x, int y, float light) {
    Picture out = Picture.empty(W, H);
    Arrays.fill(out.rgba(), 4 * (y * W + x), 4 * (y * W + x) + 4, light);
    return out;
  }

  private static double sum(Picture p, int channel) {
    double out = 0;
    for (int i = channel; i < p.rgba().length; i += 4) {
      out += p.rgba()[i];
    }
    return out;
  }

  @Test
  void aBlurIsTheWeightedMeanOfWhatIsInside() {
    Picture in = RandomPictures.random(3, true);
    double sigma = 1.7;
    Picture out = with(Correction.of("L", "", Type.BLUR, sigma), in);
    for (int[] at : new int[][] {{0, 0}, {30, 30}, {60, 12}, {5, 69}}) {
      double[] wanted = new double[4];
      double all = 0;
      for (int y = 0; y < in.height(); y++) {
        for (int x = 0; x < in.width(); x++) {
          int dx = x - at[0];
          int dy = y - at[1];
          if (Math.max(Math.abs(dx), Math.abs(dy)) <= Math.ceil(3.5 * sigma)) {
            double w = Math.exp(-(dx * dx + dy * dy) / (2 * sigma * sigma));
            all += w;
            for (int c = 0; c < 4; c++) {
              wanted[c] += w * in.rgba()[4 * (y * in.width() + x) + c];
            }
          }
        }
      }
      for (int c = 0; c < 4; c++) {
        double v = wanted[c] / all;
        assertThat((double) out.rgba()[4 * (at[1] * in.width() + at[0]) + c])
            .isCloseTo(v, within(1e-5 * Math.max(1, Math.abs(v))));
      }
    }
    Picture plain = Picture.empty(W, H);
    Arrays.fill(plain.rgba(), 0.75f);
    for (float v : with(Correction.of("L", "", Type.BLUR, 9.0), plain).rgba()) {
      assertThat(v).as("edges do not darken").isCloseTo(0.75f, within(1e-5f));
    }
  }

  @Test
  void aGlowAddsWhatIsBrightWithoutAlpha() {
    Picture in = point(20, 18, 3);
    in.rgba()[0] = 0.9f;
    Picture out = with(Correction.of("L", "", Type.GLOW, 1.0, 2.0, 0.5), in);
    assertThat(sum(out, 0) - sum(in, 0)).as("half of the 2 above").isCloseTo(1, within(1e-4));
    assertThat(sum(out, 3)).isEqualTo(sum(in, 3));
    assertThat(out.rgba()[0]).isCloseTo(0.9f, within(1e-4f));
  }

  @Test
  void aDistortionMovesPlacesByItsFormula() {
    Picture in = Picture.empty(W, H);
    for (int p = 0; p < W * H; p++) {
      in.rgba()[4 * p] = p % W;
      in.rgba()[4 * p + 1] = p / W;
      in.rgba()[4 * p + 3] = 1;
    }
    assertThat(with(Correction.of("L", "", Type.DISTORTION, 0.0, 0.0), in).rgba())
        .containsExactly(in.rgba(), within(1e-4f));
    Picture out = with(Correction.of("L", "", Type.DISTORTION, -0.2, 0.1), in);
    double unit = Math.hypot(W, H) / 2;
    for (int[] at : new int[][] {{20, 18}, {3, 4}, {38, 30}}) {
      double dx = at[0] + 0.5 - W / 2.0;
      double dy = at[1] + 0.5 - H / 2.0;
      double r2 = (dx * dx + dy * dy) / (unit * unit);
      double f = 1 - 0.2 * r2 + 0.1 * r2 * r2;
      int i = 4 * (at[1] * W + at[0]);
      assertThat((double) out.rgba()[i]).isCloseTo(W / 2.0 + dx * f - 0.5, within(1e-3));
      assertThat((double) out.rgba()[i + 1]).isCloseTo(H / 2.0 + dy * f - 0.5, within(1e-3));
    }
  }

  /** What a bent camera shows is what the effect makes of a straight camera's picture. */
  @Test
  void aBentCameraShowsWhatTheEffectMakes() throws Exception {
    Projection lens = new Projection(0, 0, -0.2, 0.05);
    HandCamera eye = HandCamera.of(0, 0, 6, 0, 0, 0, 50);
    Picture straight = spots(eye.placed());
    Picture bent = spots(eye.placed().with(lens));
    Picture made =
        new Effects(Correction.of("", "", Type.DISTORTION, lens.k1(), lens.k2()), 1, null)
            .of(straight);
    double same = 0;
    double moved = 0;
    double whole = 0;
    for (int i = 3; i < bent.rgba().length; i += 4) {
      same += Math.abs(bent.rgba()[i] - made.rgba()[i]);
      moved += Math.abs(bent.rgba()[i] - straight.rgba()[i]);
      whole += bent.rgba()[i];
    }
    assertThat(same / whole).as("resampling blurs edges a little").isLessThan(0.1);
    assertThat(moved / whole).isGreaterThan(3 * same / whole);
  }

  private static Picture spots(PlacedCamera camera) {
    SceneMaker maker = new SceneMaker();
    for (int k = 0; k < 9; k++) {
      maker.mesh(
          "/spot" + k,
          SceneMaker.sphere(0.4, 16),
          SceneMaker.glowing(1),
          3 * (k % 3 - 1),
          1.6 * (k / 3 - 1),
          0);
    }
    Scene scene = maker.camera(camera.camera()).scene();
    return Traces.trace(scene, Environment.DARK, Traces.job(scene, 1), 96, 54, 36)
        .picture(
            0,
            EntitySet.where(
                scene.entities().size(),
                e -> !scene.entities().get(e).equals(scene.environment())));
  }

  @Test
  void aDefocusSpreadsAPointOverTheApertureAndLosesNoLight() {
    float[] far = new float[W * H];
    Arrays.fill(far, Float.POSITIVE_INFINITY);
    far[18 * W + 20] = 4;
    Picture in = point(20, 18, 1);
    // in focus at 2, seen at 4: half of the radius of what is infinitely far
    Picture disc = with(Correction.of("L", "", Type.DEFOCUS, 2.0, 12.0, 0.0), in, far);
    assertThat(sum(disc, 3)).isCloseTo(1, within(1e-3));
    assertThat(disc.rgba()[4 * (18 * W + 20) + 3])
        .isCloseTo((float) (1 / (Math.PI * 36)), within(1e-3f));
    assertThat(disc.rgba()[4 * (18 * W + 20 + 5) + 3]).isPositive();
    assertThat(disc.rgba()[4 * (18 * W + 20 + 8) + 3]).isZero();
    Picture blades = with(Correction.of("L", "", Type.DEFOCUS, 2.0, 12.0, 3.0), in, far);
    assertThat(sum(blades, 3)).isCloseTo(1, within(1e-3));
    assertThat(lit(blades)).as("a triangle in the disc").isLessThan(lit(disc) / 2 + 20);
  }

  private static long lit(Picture p) {
    long out = 0;
    for (int i = 3; i < p.rgba().length; i += 4) {
      out += p.rgba()[i] > 0 ? 1 : 0;
    }
    return out;
  }

  @Test
  void whatIsInFocusStaysAndWhatIsOpaqueStaysOpaque() {
    Picture in = Picture.empty(W, H);
    float[] metres = new float[W * H];
    for (int p = 0; p < W * H; p++) {
      boolean front = p % W < 20;
      metres[p] = front ? 2 : 9;
      in.rgba()[4 * p] = front ? 0.25f : 8 * (p % 3);
      in.rgba()[4 * p + 3] = 1;
    }
    Picture out = with(Correction.of("L", "", Type.DEFOCUS, 2.0, 10.0, 0.0), in, metres);
    for (int p = 0; p < W * H; p++) {
      assertThat(out.rgba()[4 * p + 3]).isCloseTo(1, within(1e-5f));
      if (p % W < 20) {
        assertThat(out.rgba()[4 * p]).as("the bright back is not on it").isEqualTo(0.25f);
      }
    }
    assertThat(out.rgba()[4 * (18 * W + 33)]).isCloseTo(8, within(0.8f));
  }

  @Test
  void aFadeTakesLightAndAlpha() {
    Picture in = RandomPictures.random(4, false);
    Picture out = with(Correction.of("L", "", Type.FADE, 0.25), in);
    for (int i = 0; i < in.rgba().length; i++) {
      assertThat(out.rgba()[i]).isEqualTo(0.25f * in.rgba()[i]);
    }
  }

  @Test
  void lengthsAreThoseOfTheShotsSize() {
    Picture in = point(20, 18, 1);
    Picture half =
        Evaluation.picture(
            new Expression.Effect(
                new Expression.Read("L", ""), Correction.of("L", "", Type.BLUR, 6.0), List.of()),
            W,
            H,
            new PictureSource(l -> in, Map.of(), Map.of(), Map.of(), Map.of(), 2 * W));
    assertThat(half.rgba()).isEqualTo(with(Correction.of("L", "", Type.BLUR, 3.0), in).rgba());
  }
}
