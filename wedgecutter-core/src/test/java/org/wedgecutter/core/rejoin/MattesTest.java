package org.wedgecutter.core.rejoin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Correction.Type;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.testing.Programs;

/** Mattes, and what is done through them, against an image tool and by hand. */
class MattesTest {
  private static final int W = RandomPictures.W;
  private static final int H = RandomPictures.H;
  private static final MatteDef HERO = MatteDef.picked("hero", "/hero");

  @TempDir Path dir;

  private static Recipe recipe(MatteDef matte, Correction c, Recipe.Step... steps) {
    return new Recipe(List.of(steps), Extra.NONE)
        .withMattes(List.of(matte))
        .withCorrections(List.of(c));
  }

  private static Recipe.Step plus(String layer) {
    return new Recipe.Step(layer, Join.PLUS, Extra.NONE);
  }

  private static Picture picture(Recipe recipe, PictureSource source) {
    Expression e = Expression.of(recipe);
    Picture out = Evaluation.picture(e, W, H, source);
    assertThat(Evaluation.of(e, W, H, source).picture().rgba()).isEqualTo(out.rgba());
    return out;
  }

  /** A cover beside the alpha of a picture, at most as large. */
  private static Picture cover(Picture of, long seed) {
    Random random = new Random(seed);
    Picture out = of.copy();
    for (int p = 0; p < W * H; p++) {
      float m = out.rgba()[4 * p + 3] * (random.nextInt(3) == 0 ? 1 : random.nextFloat());
      Arrays.fill(out.rgba(), 4 * p, 4 * p + 3, m);
    }
    return out;
  }

  /** How much of what is in a pixel is meant. */
  private static Picture share(Picture cover) {
    Picture out = Picture.empty(W, H);
    for (int p = 0; p < W * H; p++) {
      float a = cover.rgba()[4 * p + 3];
      Arrays.fill(out.rgba(), 4 * p, 4 * p + 4, a > 0 ? cover.rgba()[4 * p] / a : 0);
    }
    return out;
  }

  private Picture tool(String... command) throws Exception {
    List<String> all = new ArrayList<>(List.of("oiiotool"));
    all.addAll(List.of(command));
    all.addAll(List.of("-d", "float", "-o", "out.exr"));
    Programs.run(dir, all.toArray(String[]::new));
    return RandomPictures.read(dir.resolve("out.exr"));
  }

  private static void assertClose(Picture ours, Picture theirs) {
    for (int i = 0; i < ours.rgba().length; i++) {
      float size = Math.max(1e-2f, Math.abs(theirs.rgba()[i]));
      assertThat(ours.rgba()[i])
          .as("number %d", i)
          .isCloseTo(theirs.rgba()[i], within(2e-5f * size));
    }
  }

  @Tag(Programs.TAG)
  @Test
  void anImageToolCorrectsThroughAMatteAlike() throws Exception {
    Picture in = RandomPictures.random(11, true);
    Picture cover = cover(in, 1);
    RandomPictures.write(in, dir.resolve("in.exr"));
    RandomPictures.write(share(cover), dir.resolve("m.exr"));
    Picture theirs =
        tool("in.exr", "--mulc", "4,4,4,1", "in.exr", "--sub", "m.exr", "--mul", "in.exr", "--add");
    Correction brighter = Correction.of("L", "", Type.EXPOSURE, 2.0).through("hero");
    PictureSource source =
        new PictureSource(l -> in, Map.of(), Map.of("L", cover), Map.of(), Map.of());
    assertClose(picture(recipe(HERO, brighter, plus("L")), source), theirs);
  }

  @Tag(Programs.TAG)
  @Test
  void anImageToolJoinsByAMatteAlike() throws Exception {
    Picture back = RandomPictures.random(12, true);
    Picture front = RandomPictures.random(13, true);
    Picture cover = cover(front, 2);
    RandomPictures.write(back, dir.resolve("r.exr"));
    RandomPictures.write(front, dir.resolve("c.exr"));
    RandomPictures.write(share(cover), dir.resolve("m.exr"));
    Picture theirs = tool("c.exr", "r.exr", "--sub", "m.exr", "--mul", "r.exr", "--add");
    Recipe.Step step = new Recipe.Step("front", Join.MATTE, Extra.NONE).withMatte("hero");
    Recipe recipe = new Recipe(List.of(plus("back"), step), Extra.NONE).withMattes(List.of(HERO));
    PictureSource source =
        new PictureSource(
            l -> l.equals("back") ? back : front,
            Map.of(),
            Map.of("front", cover),
            Map.of(),
            Map.of());
    assertClose(picture(recipe, source), theirs);
    assertThat(Expression.of(recipe).line()).isEqualTo("front through hero over (back)");
    assertThat(Expression.equations(recipe))
        .containsExactly("R1 = back", "R2 = front through hero over (R1)", "R = R2");
  }

  @Test
  void aMatteOfTheWholeGoesOnAcrossLayers() {
    Picture back = Picture.empty(W, H);
    Picture front = Picture.empty(W, H);
    Picture shade = Picture.empty(W, H);
    Arrays.fill(shade.rgba(), 0.5f);
    for (int p = 0; p < W * H; p++) {
      // three quarters of each pixel are the back's, of which a third is meant; all of the front's
      fill(back, p, 0.75f, 0.75f);
      fill(front, p, 0.25f, 0.25f);
    }
    Picture third = back.copy();
    for (int p = 0; p < W * H; p++) {
      fill(third, p, 0.25f, 0.75f);
    }
    Map<String, Picture> layers = Map.of("back", back, "front", front, "shade", shade);
    PictureSource source =
        new PictureSource(
            layers::get, Map.of(), Map.of("back", third, "front", front), Map.of(), Map.of());
    Recipe recipe =
        recipe(
            HERO,
            Correction.of("", "", Type.GAIN, 3.0, 3.0, 3.0).through("hero"),
            plus("back"),
            new Recipe.Step("shade", Join.CATCH, Extra.NONE).withOpacity(0),
            plus("front"));
    Picture out = picture(recipe, source);
    // half of the pixel is meant: 1 and half of what 3 has more
    assertThat(out.rgba()[0]).isCloseTo(2, within(1e-6f));
    assertThat(out.rgba()[3]).isCloseTo(1, within(1e-6f));
    Recipe inverted = recipe.withMattes(List.of(HERO.withInvert(true)));
    assertThat(picture(inverted, source).rgba()[0]).isCloseTo(2, within(1e-6f));
    assertThat(Expression.of(recipe).line())
        .isEqualTo("(shade catches at 0 on (back) + front)[gain 3 3 3 through hero]");
  }

  private static void fill(Picture p, int pixel, float light, float alpha) {
    Arrays.fill(p.rgba(), 4 * pixel, 4 * pixel + 3, light);
    p.rgba()[4 * pixel + 3] = alpha;
  }

  @Test
  void aMatteGrowsAndShrinksByADisc() {
    Picture matte = Picture.empty(W, H);
    Random random = new Random(5);
    for (int p = 0; p < W * H; p++) {
      Arrays.fill(
          matte.rgba(), 4 * p, 4 * p + 4, random.nextInt(9) == 0 ? random.nextFloat() : 0.125f);
    }
    for (double radius : new double[] {1, -1, 3.5, -4, 80}) {
      Picture out = MatteShape.grown(matte, radius);
      for (int[] at : new int[][] {{0, 0}, {30, 40}, {60, 69}, {17, 3}}) {
        float best = matte.rgba()[4 * (at[1] * W + at[0])];
        for (int y = 0; y < H; y++) {
          for (int x = 0; x < W; x++) {
            if (Math.hypot(x - at[0], y - at[1]) <= Math.abs(radius)) {
              float v = matte.rgba()[4 * (y * W + x)];
              best = radius > 0 ? Math.max(best, v) : Math.min(best, v);
            }
          }
        }
        assertThat(out.rgba()[4 * (at[1] * W + at[0])]).isEqualTo(best);
      }
    }
  }

  @Test
  void depthAndLuminanceAreRamps() {
    Picture in = Picture.empty(W, H);
    Arrays.fill(in.rgba(), 1);
    float[] metres = new float[W * H];
    for (int p = 0; p < W * H; p++) {
      metres[p] = p == 0 ? Float.POSITIVE_INFINITY : p % W;
      fill(in, p, (p % W) / 50f * 0.5f, 0.5f);
    }
    PictureSource source =
        new PictureSource(l -> in, Map.of(), Map.of(), Map.of("L", metres), Map.of());
    Correction black = Correction.of("L", "", Type.GAIN, 0.0, 0.0, 0.0).through("m");
    MatteDef far = MatteDef.ranged("m", MatteDef.Source.DEPTH, 10, 30);
    Picture out = picture(recipe(far, black, plus("L")), source);
    assertThat(left(out, in, 15)).isCloseTo(0.75f, within(1e-5f));
    assertThat(left(out, in, 31)).isZero();
    assertThat(out.rgba()[0]).as("nothing is as far as can be").isZero();
    MatteDef near = far.withRange(new MatteDef.Range(30, 10, 2));
    out = picture(recipe(near, black, plus("L")), source);
    assertThat(left(out, in, 15)).isCloseTo(1 - 0.75f * 0.75f, within(1e-5f));
    MatteDef bright = MatteDef.ranged("m", MatteDef.Source.LUMA, 0.2, 0.6);
    out = picture(recipe(bright, black, plus("L")), source);
    assertThat(left(out, in, 20)).as("luma 0.4 without alpha").isCloseTo(0.5f, within(1e-5f));
  }

  private static float left(Picture out, Picture in, int p) {
    return out.rgba()[4 * (W + p)] / in.rgba()[4 * (W + p)];
  }

  @Test
  void theNearerIsShownAndLightWithoutDepthIsAdded() {
    Picture back = RandomPictures.random(6, false);
    Picture front = RandomPictures.random(7, false);
    float[] behind = new float[W * H];
    float[] ahead = new float[W * H];
    Random random = new Random(8);
    for (int p = 0; p < W * H; p++) {
      behind[p] = random.nextInt(3) == 0 ? Float.POSITIVE_INFINITY : random.nextFloat();
      ahead[p] = random.nextInt(3) == 0 ? Float.POSITIVE_INFINITY : random.nextFloat();
    }
    Recipe recipe =
        new Recipe(
            List.of(plus("back"), new Recipe.Step("front", Join.DEPTH, Extra.NONE)), Extra.NONE);
    PictureSource source =
        new PictureSource(
            l -> l.equals("back") ? back : front,
            Map.of(),
            Map.of(),
            Map.of("back", behind, "front", ahead),
            Map.of());
    Picture out = picture(recipe, source);
    for (int i = 0; i < out.rgba().length; i++) {
      int p = i / 4;
      boolean none = Float.isInfinite(behind[p]) && Float.isInfinite(ahead[p]);
      float wanted =
          none
              ? back.rgba()[i] + front.rgba()[i]
              : ahead[p] < behind[p] ? front.rgba()[i] : back.rgba()[i];
      assertThat(out.rgba()[i]).isCloseTo(wanted, within(1e-3f));
    }
  }

  @Test
  void layersMergeByDepthSampleBySample() {
    // near and far belong to one layer, what is between to another
    DeepPicture ends =
        new DeepPicture(1, 1, new float[][] {{1, 1, 0.5f, 0, 0, 0.5f, 3, 3, 0, 0, 1, 1}});
    DeepPicture middle = new DeepPicture(1, 1, new float[][] {{2, 2, 0, 0.5f, 0, 0.5f}});
    Picture none = Picture.empty(1, 1);
    PictureSource source =
        new PictureSource(
            l -> none, Map.of(), Map.of(), Map.of(), Map.of("ends", ends, "middle", middle));
    Recipe recipe =
        new Recipe(
            List.of(
                new Recipe.Step("middle", Join.DEEP, Extra.NONE),
                new Recipe.Step("ends", Join.DEEP, Extra.NONE)),
            Extra.NONE);
    Expression e = Expression.of(recipe);
    assertThat(Evaluation.picture(e, 1, 1, source).rgba())
        .containsExactly(new float[] {0.5f, 0.25f, 0.25f, 1}, within(1e-6f));
    assertThat(e.line()).isEqualTo("deep(middle, ends)");
    Recipe corrected =
        recipe.withCorrections(List.of(Correction.of("middle", "", Type.EXPOSURE, 1.0)));
    assertThat(Evaluation.picture(Expression.of(corrected), 1, 1, source).rgba())
        .containsExactly(new float[] {0.5f, 0.5f, 0.25f, 1}, within(1e-6f));
    // of whole pixels, where samples are not known
    Recipe blurred =
        recipe.withCorrections(
            List.of(
                Correction.of("middle", "", Type.BLUR, 0.0),
                Correction.of("middle", "", Type.GAIN, 1.0, 3.0, 1.0)));
    assertThat(Evaluation.picture(Expression.of(blurred), 1, 1, source).rgba()[1])
        .isCloseTo(0.75f, within(1e-6f));
  }

  /** Whatever the order of the recipe, a gain through the far thing's matte leaves the near one. */
  @ParameterizedTest
  @CsvSource({"deep,near,far", "deep,far,near", "depth,near,far", "depth,far,near"})
  void mattesOfWhatIsJoinedByDepthGoByDepth(String join, String first, String second) {
    // the near thing covers half of the first pixel, all of the second, nothing of the third
    Picture near = new Picture(3, 1, new float[] {.5f, 0, 0, .5f, 1, 0, 0, 1, 0, 0, 0, 0});
    Picture far = new Picture(3, 1, new float[] {0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1});
    boolean byDepth = join.equals("depth");
    PictureSource source =
        new PictureSource(
            l -> l.equals("near") ? near : far,
            Map.of(),
            Map.of(
                "near",
                new Picture(3, 1, new float[] {0, 0, 0, .5f, 0, 0, 0, 1, 0, 0, 0, 0}),
                "far",
                new Picture(3, 1, new float[] {1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1})),
            Map.of(
                "near",
                new float[] {byDepth ? 9 : 1, 1, Float.POSITIVE_INFINITY},
                "far",
                new float[] {5, 5, 5}),
            Map.of("near", deep(near, 1), "far", deep(far, 5)));
    Join by = Join.of(join).orElseThrow();
    Recipe recipe =
        recipe(
            MatteDef.picked("far", "/far"),
            Correction.of("", "", Type.GAIN, 0.0, 0.0, 0.0).through("far"),
            new Recipe.Step(first, by, Extra.NONE),
            new Recipe.Step(second, by, Extra.NONE));
    float[] out = Evaluation.picture(Expression.of(recipe), 3, 1, source).rgba();
    // of the first pixel, half is the far thing; by depth alone a pixel is one thing or the other
    float[] expected =
        byDepth
            ? new float[] {0, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1}
            : new float[] {.25f, .25f, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1};
    assertThat(out).containsExactly(expected, within(1e-6f));
  }

  private static DeepPicture deep(Picture flat, float metres) {
    float[][] pixels = new float[flat.width() * flat.height()][];
    for (int p = 0; p < pixels.length; p++) {
      float[] c = flat.rgba();
      pixels[p] =
          c[4 * p + 3] == 0
              ? new float[0]
              : new float[] {metres, metres, c[4 * p], c[4 * p + 1], c[4 * p + 2], c[4 * p + 3]};
    }
    return new DeepPicture(flat.width(), flat.height(), pixels);
  }

  @Test
  void whatIsBehindChangesWithoutWhatIsInFront() {
    Map<String, Picture> layers =
        Map.of(
            "back", new Picture(1, 1, new float[] {1, 1, 1, 1}),
            "mid", new Picture(1, 1, new float[] {0.5f, 0, 0, 0.5f}),
            "front", new Picture(1, 1, new float[] {0, 0.25f, 0, 0.25f}));
    Recipe recipe =
        new Recipe(
                List.of(
                    plus("back"),
                    new Recipe.Step("mid", Join.OVER, Extra.NONE),
                    new Recipe.Step("front", Join.OVER, Extra.NONE)),
                Extra.NONE)
            .withCorrections(
                List.of(
                    Correction.of("mid", "", Type.GAIN, 2.0, 2.0, 2.0)
                        .withReach(Correction.Reach.BEHIND)));
    float[] out =
        Evaluation.picture(Expression.of(recipe), 1, 1, new PictureSource(layers::get, Map.of()))
            .rgba();
    assertThat(out).containsExactly(new float[] {1.5f, 1, 0.75f, 1}, within(1e-6f));
    assertThat(Expression.of(recipe).line())
        .isEqualTo("front over ((mid over (back))[gain 2 2 2])");
  }

  @Test
  void whatADragDoesNotTouchIsMadeOnceAndTheResultIsTheSame() {
    Picture[] in = new Picture[5];
    for (int k = 0; k < in.length; k++) {
      in[k] = RandomPictures.random(20 + k, false);
    }
    PictureSource source = new PictureSource(l -> in["abcde".indexOf(l)], Map.of());
    Evaluation.Memo memo = new Evaluation.Memo();
    List<Recipe.Step> steps =
        List.of(
            plus("a"),
            plus("b"),
            new Recipe.Step("c", Join.OVER, Extra.NONE),
            plus("d"),
            new Recipe.Step("e", Join.OVER, Extra.NONE));
    for (int k = 0; k < 5; k++) {
      Recipe recipe =
          new Recipe(steps, Extra.NONE)
              .withCorrections(
                  List.of(
                      Correction.of("a", "", Type.GAMMA, 1.5),
                      Correction.of("c", "", Type.BLUR, 2.0),
                      Correction.of("b", "", Type.EXPOSURE, 0.5 * k),
                      Correction.of("", "", Type.SATURATION, 1.2)));
      Expression e = Expression.of(recipe);
      Picture wanted = Evaluation.picture(e, W, H, source);
      assertClose(Evaluation.picture(e, W, H, source, memo), wanted);
      assertThat(memo.size()).as("behind, and the blurred front").isEqualTo(k == 0 ? 0 : 2);
      assertClose(Evaluation.picture(e, W, H, source, memo), wanted);
    }
  }

  @Test
  void whatIsReadAtAnotherSizeIsResampledOnce() {
    Picture[] in = {RandomPictures.random(31, false), RandomPictures.random(32, false)};
    List<String> read = new ArrayList<>();
    PictureSource source =
        new PictureSource(
            l -> {
              read.add(l);
              return in["ab".indexOf(l)];
            },
            Map.of());
    Evaluation.Memo memo = new Evaluation.Memo();
    for (int k = 0; k < 3; k++) {
      Recipe recipe =
          new Recipe(List.of(plus("a"), plus("b")), Extra.NONE)
              .withCorrections(List.of(Correction.of("a", "", Type.EXPOSURE, 0.5 * k)));
      Picture made = Evaluation.picture(Expression.of(recipe), W / 2, H / 2, source, memo);
      Picture a = in[0].resized(W / 2, H / 2);
      Picture b = in[1].resized(W / 2, H / 2);
      for (int i = 0; i < made.rgba().length; i++) {
        double lit = (i & 3) == 3 ? 1 : Math.pow(2, 0.5 * k);
        double wanted = lit * a.rgba()[i] + b.rgba()[i];
        assertThat((double) made.rgba()[i])
            .isCloseTo(wanted, within(1e-6 * (1 + Math.abs(wanted))));
      }
    }
    assertThat(read).containsExactlyInAnyOrder("a", "b");
  }
}
