package org.wedgecutter.core.rejoin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.Background;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Correction.Type;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;

/** Corrections against an image tool over random pictures, and against formulas. */
class CorrectionsTest {
  private static final int W = RandomPictures.W;
  private static final int H = RandomPictures.H;
  private static final String[] NAMES = RandomPictures.NAMES;

  @TempDir Path dir;

  private static Correction correction(String word, String values) {
    List<Double> v = new ArrayList<>();
    for (String s : values.split(" ")) {
      v.add(Double.parseDouble(s));
    }
    return Correction.of("L", "", Type.of(word).orElseThrow(), v.toArray(Double[]::new));
  }

  private static Recipe recipe(Correction... corrections) {
    return new Recipe(
        List.of(new Recipe.Step("L", Join.PLUS, Extra.NONE)),
        List.of(corrections),
        List.of(),
        Background.NONE,
        Extra.NONE);
  }

  private static Picture corrected(Recipe recipe, Picture of, Map<String, Picture> passes) {
    PictureSource source = new PictureSource(l -> of, passes);
    Expression e = Expression.of(recipe);
    Picture out = Evaluation.picture(e, of.width(), of.height(), source);
    // the scale of errors changes nothing
    assertThat(Evaluation.of(e, of.width(), of.height(), source).picture().rgba())
        .isEqualTo(out.rgba());
    return out;
  }

  private static float[] pixel(Correction c, float... rgba) {
    return corrected(recipe(c), new Picture(1, 1, rgba), Map.of()).rgba();
  }

  @Tag(Programs.TAG)
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "exposure | 1.5 | --mulc 2.8284271247,2.8284271247,2.8284271247,1 | true",
        "exposure | -3 | --mulc 0.125,0.125,0.125,1 | true",
        "gain | 0.5 1 2.5 | --mulc 0.5,1,2.5,1 | true",
        "offset | 0.1 0 -0.2 | --unpremult --addc 0.1,0,-0.2,0 --premult | true",
        "saturation | 0 | --ch R=R,G=G,B=B,A=A --ccmatrix:unpremult=0 0.2126,0.2126,0.2126,0,0.7152,0.7152,0.7152,0,0.0722,0.0722,0.0722,0,0,0,0,1 | true",
        "gamma | 2.2 | --unpremult --powc 0.4545454545,0.4545454545,0.4545454545,1 --premult | false",
        "contrast | 1.6 0.18 | --unpremult --mulc 5.5555555556,5.5555555556,5.5555555556,1 --powc 1.6,1.6,1.6,1 --mulc 0.18,0.18,0.18,1 --premult | false"
      })
  void anImageToolCorrectsAlike(String word, String values, String command, boolean negative)
      throws Exception {
    Picture in = RandomPictures.random(word.hashCode(), negative);
    RandomPictures.write(in, dir.resolve("in.exr"));
    List<String> all = new ArrayList<>(List.of("oiiotool", "in.exr"));
    all.addAll(List.of(command.split(" ")));
    all.addAll(List.of("-d", "float", "-o", "out.exr"));
    Programs.run(dir, all.toArray(String[]::new));
    ExrPart told = ExrReader.read(dir.resolve("out.exr")).parts().getFirst();
    Picture own = corrected(recipe(correction(word, values)), in, Map.of());
    for (int c = 0; c < 4; c++) {
      float[] plane = told.real(NAMES[c]);
      for (int p = 0; p < plane.length; p++) {
        float alpha = in.rgba()[4 * p + 3];
        if (word.equals("offset") && alpha == 0) {
          // the tool lifts what is empty, too
          assertThat(own.rgba()[4 * p + c]).isEqualTo(in.rgba()[4 * p + c]);
          continue;
        }
        if (!negative && alpha == 0 && c < 3) {
          // the tool loses light without alpha when it multiplies by alpha
          double x = in.rgba()[4 * p + c];
          double wanted =
              word.equals("gamma") ? Math.pow(x, 1 / 2.2) : 0.18 * Math.pow(x / 0.18, 1.6);
          assertThat((double) own.rgba()[4 * p + c]).isCloseTo(wanted, within(1e-5 * wanted));
          continue;
        }
        assertThat(own.rgba()[4 * p + c])
            .as("%s of pixel %d, alpha %s", NAMES[c], p, alpha)
            .isCloseTo(plane[p], within(2e-5f * Math.max(1e-3f, Math.abs(plane[p]))));
      }
    }
  }

  @Test
  void eachTypeFollowsItsFormula() {
    assertThat(pixel(correction("hue", "0"), 0.3f, 0.2f, 0.7f, 1))
        .containsExactly(new float[] {0.3f, 0.2f, 0.7f, 1}, within(1e-6f));
    float[] grey = pixel(correction("hue", "137"), 0.4f, 0.4f, 0.4f, 1);
    assertThat(grey).containsExactly(new float[] {0.4f, 0.4f, 0.4f, 1}, within(1e-6f));
    float[] there = pixel(correction("hue", "120"), 0.9f, 0.1f, 0.2f, 1);
    assertThat(Picture.luma(there[0], there[1], there[2]))
        .isCloseTo(Picture.luma(0.9f, 0.1f, 0.2f), within(2e-3f));
    float[] plain = pixel(correction("temperature", "6504"), 0.2f, 0.5f, 0.8f, 1);
    assertThat(plain).containsExactly(new float[] {0.2f, 0.5f, 0.8f, 1}, within(1e-6f));
    float[] warm = pixel(correction("temperature", "3200"), 1, 1, 1, 1);
    float[] cold = pixel(correction("temperature", "12000"), 1, 1, 1, 1);
    assertThat(warm[0]).isGreaterThan(1.2f);
    assertThat(warm[2]).isLessThan(0.5f);
    assertThat(cold[2]).isGreaterThan(1.2f);
    assertThat(Picture.luma(warm[0], warm[1], warm[2])).isCloseTo(1, within(1e-5f));
    // mirrored below 0
    assertThat(pixel(correction("gamma", "2"), -0.25f, 0.25f, 0, 1))
        .containsExactly(new float[] {-0.5f, 0.5f, 0, 1}, within(1e-6f));
    float[] clipped = pixel(correction("soft-clip", "0.5 1"), 0.4f, 0.75f, 100, 1);
    assertThat(clipped[0]).isEqualTo(0.4f);
    assertThat(clipped[1]).isCloseTo((float) (0.5 + 0.5 * (1 - Math.exp(-0.5))), within(1e-6f));
    assertThat(clipped[2]).isCloseTo(1, within(1e-6f));
    // half covered: the colour behind alpha counts
    assertThat(pixel(correction("soft-clip", "0.5 1"), 0, 0.375f, 0, 0.5f)[1])
        .isCloseTo(clipped[1] / 2, within(1e-6f));
  }

  @Test
  void aCurveGoesThroughItsPointsWithoutOvershoot() {
    Correction c = correction("curve", "0 0 0.2 0.1 0.4 0.1 0.5 0.9 1 1");
    float before = -1;
    for (int k = 0; k <= 1000; k++) {
      float now = pixel(c, k / 1000f, 0, 0, 1)[0];
      assertThat(now).as("at %d", k).isGreaterThanOrEqualTo(before - 1e-6f).isBetween(0f, 1.00001f);
      before = now;
    }
    assertThat(pixel(c, 0.2f, 0.4f, 0.5f, 1))
        .containsExactly(new float[] {0.1f, 0.1f, 0.9f, 1}, within(1e-5f));
    float[] line = pixel(correction("curve", "0 0 1 2"), -3, 0.25f, 9, 1);
    assertThat(line).containsExactly(new float[] {-6, 0.5f, 18, 1}, within(1e-5f));
  }

  @ParameterizedTest
  @CsvSource({"times, 1", "plus, 0", "max, 0"})
  void aShadowIsThinnerAndTintedAndLightStays(String join, float neutral) {
    Picture in = RandomPictures.random(3, true);
    Recipe recipe =
        new Recipe(
                List.of(new Recipe.Step("L", Join.of(join).orElseThrow(), Extra.NONE)), Extra.NONE)
            .withCorrections(List.of(Correction.of("L", "", Type.SHADOW, 0.5, 0.0, 0.5, 1.0)));
    Picture out =
        Evaluation.picture(
            Expression.layer(recipe, "L"), W, H, new PictureSource(l -> in, Map.of()));
    float[] left = {0.5f, 0.25f, 0};
    int darker = 0;
    for (int i = 0; i < in.rgba().length; i++) {
      float v = in.rgba()[i];
      boolean shadow = (i & 3) != 3 && v < neutral;
      darker += shadow ? 1 : 0;
      float wanted = shadow ? neutral - left[i & 3] * (neutral - v) : v;
      wanted = shadow && neutral > 0 ? Math.max(0, wanted) : wanted;
      assertThat(out.rgba()[i]).isCloseTo(wanted, within(1e-5f * Math.max(1, Math.abs(v))));
    }
    assertThat(darker).isGreaterThan(10);
    assertThatThrownBy(() -> Correction.of("", "", Type.SHADOW, 1.0, 0.0, 0.0, 0.0))
        .hasMessageContaining("expected one layer");
    assertThatThrownBy(() -> Correction.of("L", "", Type.SHADOW, 1.0, 0.0, 2.0, 0.0))
        .hasMessageContaining("expected a tint of 0 to 1");
  }

  @ParameterizedTest
  @EnumSource(Type.class)
  void nothingBecomesNaNOrInfiniteAndNothingAppearsInWhatIsEmpty(Type type) {
    String values =
        switch (type) {
          case EXPOSURE -> "90";
          case GAIN -> "1000000 0 3";
          case OFFSET -> "5 5 5";
          case GAMMA -> "0.01";
          case SATURATION -> "100";
          case HUE -> "77";
          case CONTRAST -> "40 0.18";
          case TEMPERATURE -> "1000";
          case CURVE -> "0 0.5 1 900000";
          case SOFT_CLIP -> "0 1";
          case FADE -> "0.5";
          case SHADOW -> "0.5 0.2 0.1 0";
          case BLUR -> "3";
          case GLOW -> "1 4 10000";
          case DEFOCUS -> "2 9 6";
          case DISTORTION -> "-0.5 0.3";
          case SURFACE -> "10000 0.5";
        };
    Picture in = RandomPictures.random(9, true);
    in.rgba()[0] = Float.MAX_VALUE;
    in.rgba()[4] = Float.MIN_VALUE;
    in.rgba()[7] = Float.MIN_VALUE;
    in.rgba()[8] = in.rgba()[9] = in.rgba()[10] = in.rgba()[11] = 0;
    Map<String, Picture> passes = new HashMap<>();
    for (String pass : Surface.PASSES) {
      passes.put(pass, RandomPictures.random(pass.length(), true));
    }
    Picture out =
        corrected(recipe(correction(type.word(), values).showing(showing(type))), in, passes);
    for (float v : out.rgba()) {
      assertThat(Float.isFinite(v)).as("%s", v).isTrue();
    }
    if (!type.isSpatial()) {
      assertThat(out.rgba()[8]).isZero();
    }
  }

  private static String showing(Type type) {
    return type.needsPicture() ? "uv" : "";
  }

  @Test
  void aPassIsCorrectedWithinItsLayer() {
    Picture key = RandomPictures.random(1, false);
    Picture sky = RandomPictures.random(2, false);
    Picture whole = Picture.empty(W, H);
    for (int i = 0; i < whole.rgba().length; i++) {
      boolean alpha = (i & 3) == 3;
      key.rgba()[i] = alpha ? 1 : Math.min(9, key.rgba()[i]);
      sky.rgba()[i] = alpha ? 1 : Math.min(9, sky.rgba()[i]);
      whole.rgba()[i] = alpha ? 1 : key.rgba()[i] + sky.rgba()[i];
    }
    Recipe relit =
        recipe(
            Correction.of("L", "light.key", Type.EXPOSURE, 1.0),
            Correction.of("L", "light.key", Type.GAIN, 1.0, 0.5, 0.0),
            Correction.of("L", "light.sky", Type.GAIN, 0.0, 0.0, 0.0),
            Correction.of("L", "light.off", Type.EXPOSURE, 9.0).switched(false));
    Picture out = corrected(relit, whole, Map.of("light.key", key, "light.sky", sky));
    for (int p = 0; p < W * H; p++) {
      assertThat(out.rgba()[4 * p]).isCloseTo(2 * key.rgba()[4 * p], within(1e-5f));
      assertThat(out.rgba()[4 * p + 1]).isCloseTo(key.rgba()[4 * p + 1], within(1e-5f));
      assertThat(out.rgba()[4 * p + 2]).isCloseTo(0, within(1e-5f));
      assertThat(out.rgba()[4 * p + 3]).isEqualTo(1);
    }
    assertThat(Expression.of(relit).line())
        .isEqualTo("L with L.light.key[exposure 1][gain 1 0.5000 0] with L.light.sky[gain 0 0 0]");
  }

  @Test
  void aRecipeIsOneReadableLine() {
    Recipe r =
        new Recipe(
            List.of(
                new Recipe.Step("Floor", Join.PLUS, Extra.NONE),
                new Recipe.Step("Shade", Join.TIMES, Extra.NONE).withOpacity(0.5),
                new Recipe.Step("Hero", Join.OVER, Extra.NONE),
                new Recipe.Step("Glow", Join.SCREEN, Extra.NONE)),
            List.of(
                Correction.of("Hero", "", Type.EXPOSURE, 0.5),
                Correction.of("", "", Type.SATURATION, 0.9)),
            List.of(),
            Background.NONE,
            Extra.NONE);
    assertThat(Expression.of(r).line())
        .isEqualTo(
            "(screen(Hero[exposure 0.5000] over ((Floor) × Shade at 0.5000), Glow))[saturation 0.9000]");
    assertThat(Expression.joins(r).line())
        .isEqualTo("screen(Hero over ((Floor) × Shade at 0.5000), Glow)");
    assertThat(Expression.of(r)).isEqualTo(Expression.of(r));
  }

  @Test
  void plansKeepCorrectionsAndTellWhatIsWrong() throws Exception {
    String text =
        """
        {"wedgecutter": 1, "collections": [],
         "layers": [{"name": "L", "cells": {}, "rest": {"role": "Seen"}}],
         "recipe": {"joins": [{"layer": "L", "join": "plus", "opacity": 0.5}], "corrections": [
           {"layer": "L", "pass": "light.key", "type": "gain", "values": [1, 0.5, 2], "on": false},
           {"type": "soft-clip", "values": [0.8, 1], "note": "kept"}]}}
        """;
    Path file = Path.of("t.wedge");
    Plan plan = PlanReader.parse(text, file);
    assertThat(plan.recipe().corrections()).hasSize(2);
    assertThat(PlanReader.parse(PlanWriter.text(PlanWriter.tree(plan)), file)).isEqualTo(plan);
    assertThat(PlanWriter.text(PlanWriter.tree(plan))).contains("\"note\" : \"kept\"");
    Plan renamed = org.wedgecutter.core.plan.LayerEdits.rename(plan, "L", "M");
    assertThat(renamed.recipe().corrections().getFirst().layer()).isEqualTo("M");
    for (String[] wrong :
        new String[][] {
          {"[1, 0.5, 2]", "[1]", "1 values, expected 3"},
          {"[0.8, 1]", "[0.8, 0.5]", "a ceiling that is not above the threshold"},
          {"\"layer\": \"L\", \"pass\"", "\"layer\": \"X\", \"pass\"", "no layer 'X'"},
          {"\"layer\": \"L\", \"pass\"", "\"pass\"", "a pass is corrected in a layer"},
          {"gain", "shine", "type"}
        }) {
      assertThatThrownBy(() -> PlanReader.parse(text.replace(wrong[0], wrong[1]), file))
          .hasMessageContaining("recipe/corrections/")
          .hasMessageContaining(wrong[2]);
    }
  }

  @Test
  void aRecipeIsAFileOfItsOwn() throws Exception {
    Recipe recipe =
        new Recipe(
            List.of(
                new Recipe.Step("Floor", Join.PLUS, Extra.NONE),
                new Recipe.Step("Hero", Join.OVER, Extra.NONE).withOpacity(0.5)),
            List.of(
                Correction.of("Hero", "", Type.EXPOSURE, 1.0),
                Correction.of("", "", Type.SATURATION, 0.0)),
            List.of(),
            Background.NONE,
            Extra.NONE);
    Plan plan =
        PlanReader.parse(
                """
                {"wedgecutter": 1, "collections": [], "layers": [
                  {"name": "Floor", "cells": {}, "rest": {"role": "Seen"}},
                  {"name": "Hero", "cells": {}, "rest": {"role": "Seen"}}], "recipe": {"joins": []}}
                """,
                Path.of("t.wedge"))
            .withRecipe(recipe);
    assertThat(Expression.equations(recipe))
        .containsExactly(
            "R1 = Floor", "R2 = Hero[exposure 1] over at 0.5000 (R1)", "R = R2[saturation 0]");
    Path file = dir.resolve("recipe.json");
    Files.writeString(file, PlanParts.recipe(plan, Expression.equations(recipe)));
    assertThat(PlanParts.recipe(file, Set.of("Floor", "Hero"))).isEqualTo(recipe);
    Path whole = dir.resolve("plan.wedge");
    Files.writeString(whole, PlanWriter.text(PlanWriter.tree(plan)));
    assertThat(PlanParts.recipe(whole, Set.of("Floor", "Hero"))).isEqualTo(recipe);
    assertThatThrownBy(() -> PlanParts.recipe(file, Set.of("Floor")))
        .hasMessageContaining("there is no layer 'Hero'");
    Files.writeString(
        file, "{\"recipe\": {\"joins\": [{\"layer\": \"Floor\", \"join\": \"glue\"}]}}");
    assertThatThrownBy(() -> PlanParts.recipe(file, Set.of("Floor")))
        .hasMessageContaining("recipe.json")
        .hasMessageContaining("join");
  }

  @Test
  void keysMoveInALineAndStandBeforeAndAfter() {
    Correction c =
        Correction.of("L", "", Type.GAIN, 1.0, 1.0, 1.0)
            .withKey(10, List.of(0.0, 1.0, 2.0))
            .withKey(20, List.of(1.0, 1.0, 4.0));
    assertThat(c.at(1).values()).containsExactly(0.0, 1.0, 2.0);
    assertThat(c.at(10).values()).containsExactly(0.0, 1.0, 2.0);
    assertThat(c.at(15).values()).containsExactly(0.5, 1.0, 3.0);
    assertThat(c.at(99).values()).containsExactly(1.0, 1.0, 4.0);
    assertThat(c.at(15).isKeyed()).isFalse();
    // nobody takes the values of one frame for those of all
    assertThatThrownBy(c::values).isInstanceOf(IllegalStateException.class);
    assertThat(c.withValues(15, List.of(9.0, 9.0, 9.0)).keys()).hasSize(3);
    assertThat(c.withKey(20, List.of(7.0, 7.0, 7.0)).at(20).values()).containsOnly(7.0);
    Correction one = c.withoutKey(10);
    assertThat(one.at(1).values()).containsExactly(1.0, 1.0, 4.0);
    assertThat(one.withoutKey(20).values())
        .as("the last key's stay")
        .containsExactly(1.0, 1.0, 4.0);
    assertThat(c.title()).isEqualTo("L gain 0 1 2 to 1 1 4 over frames 10 to 20");
    assertThat(c.switched(false).withLayer("M").keys()).isEqualTo(c.keys());
  }

  @Test
  void keysAreKeptInPlansAndWrongOnesAreTold() throws Exception {
    String plan =
        ShotFolder.PLAN.replace(
            "\"recipe\": {",
            "\"recipe\": {\"corrections\": [{\"layer\": \"Front\", \"type\": \"exposure\","
                + " \"keys\": [[1, [0]], [24, [2.5]]]}], ");
    Plan read = PlanReader.parse(plan, Path.of("p.wedge"));
    Correction c = read.recipe().corrections().getFirst();
    assertThat(c.at(24).values()).containsExactly(2.5);
    assertThat(PlanReader.parse(PlanWriter.text(read), Path.of("p.wedge"))).isEqualTo(read);
    for (String[] wrong :
        new String[][] {
          {"[24, [2.5]]", "[1, [2.5]]", "ascending frames"},
          {"[24, [2.5]]", "[24, [2.5, 1]]", "2 values, expected 1"},
          {"[24, [2.5]]", "[24, [500]]", "500.0, expected"},
          {"[24, [2.5]]", "[24, 2.5]", "recipe/corrections/0/keys"},
          {"\"keys\": [[1, [0]], [24, [2.5]]]", "\"on\": true", "recipe/corrections/0"},
        }) {
      String bad = plan.replace(wrong[0], wrong[1]);
      assertThat(bad).isNotEqualTo(plan);
      assertThatThrownBy(() -> PlanReader.parse(bad, Path.of("p.wedge")))
          .isInstanceOf(InputException.class)
          .hasMessageContaining(wrong[2]);
    }
  }
}
