package org.wedgecutter.core.rejoin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Correction.Type;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.MatteDef.Outline;
import org.wedgecutter.core.plan.MatteDef.Source;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.ShotFolder;

/** Mattes that are drawn, and those that are made of other ones. */
class DrawnMattesTest {
  private static final int W = RandomPictures.W;
  private static final int H = RandomPictures.H;
  private static final MatteDef NEAR = MatteDef.ranged("near", Source.DEPTH, 8, 2);
  private static final MatteDef BRIGHT = MatteDef.ranged("bright", Source.LUMA, 0.2, 1);

  @TempDir Path dir;

  private static MatteDef drawn(Outline outline) {
    return MatteDef.picked("drawn").withSource(Source.SHAPE).withOutline(outline);
  }

  private static float[] matte(String name, PictureSource source, int w, int h, MatteDef... all) {
    Recipe recipe = new Recipe(List.of(), Extra.NONE).withMattes(List.of(all));
    Picture made = Evaluation.picture(Expression.matte(recipe, name, "L"), w, h, source);
    float[] out = new float[w * h];
    for (int p = 0; p < out.length; p++) {
      out[p] = made.rgba()[4 * p];
      for (int c = 1; c < 4; c++) {
        assertThat(made.rgba()[4 * p + c]).isEqualTo(out[p]);
      }
    }
    return out;
  }

  private static PictureSource source(Picture in) {
    float[] metres = new float[W * H];
    for (int p = 0; p < metres.length; p++) {
      metres[p] = 1 + p % W * 10f / W;
    }
    return new PictureSource(l -> in, Map.of(), Map.of(), Map.of("L", metres), Map.of());
  }

  private static PictureSource nothing() {
    return new PictureSource(l -> Picture.empty(W, H), Map.of());
  }

  private static double sum(float[] matte) {
    double out = 0;
    for (float m : matte) {
      out += m;
    }
    return out;
  }

  @ParameterizedTest
  @CsvSource({"0.3, 0.2, 0", "0.3, 0.2, 33", "0.1, 0.4, -80", "0.25, 0.25, 10"})
  void hardShapesHaveTheirAreaAndTheirMiddle(double across, double along, double turn) {
    int w = 320;
    int h = 240;
    for (Outline.Form form : List.of(Outline.Form.ELLIPSE, Outline.Form.RECTANGLE)) {
      Outline o = new Outline(form, 0.5, 0.5, across, along, turn, 0);
      float[] m = matte("drawn", nothing(), w, h, drawn(o));
      double area = (form == Outline.Form.ELLIPSE ? Math.PI : 4) * across * along * h * h;
      assertThat(sum(m)).as("%s", form).isCloseTo(area, within(0.01 * area));
      double x = 0;
      double xx = 0;
      double yy = 0;
      for (int p = 0; p < m.length; p++) {
        double dx = (p % w + 0.5 - w / 2.0) / h;
        double dy = (p / w + 0.5 - h / 2.0) / h;
        x += m[p] * dx;
        xx += m[p] * dx * dx;
        yy += m[p] * dy * dy;
      }
      assertThat(x / sum(m)).isCloseTo(0, within(1e-3));
      // second moments of a turned ellipse or rectangle
      double share = form == Outline.Form.ELLIPSE ? 0.25 : 1 / 3.0;
      double c = Math.pow(Math.cos(Math.toRadians(turn)), 2);
      double wide = share * (c * across * across + (1 - c) * along * along);
      double high = share * (c * along * along + (1 - c) * across * across);
      assertThat(xx / sum(m)).isCloseTo(wide, within(0.02 * wide));
      assertThat(yy / sum(m)).isCloseTo(high, within(0.02 * high));
    }
  }

  @Test
  void softShapesFadeInwardsAndAreTheSameAtEverySize() {
    Outline o = new Outline(Outline.Form.ELLIPSE, 0.5, 0.5, 0.4, 0.4, 0, 0.5);
    float[] large = matte("drawn", nothing(), 200, 100, drawn(o));
    assertThat(large[50 * 200 + 100]).isEqualTo(1);
    // a pixel beyond three quarters of the radius a little less than half is left; outside nothing
    assertThat(large[50 * 200 + 130]).isCloseTo(0.46f, within(0.02f));
    assertThat(large[50 * 200 + 141]).isZero();
    float[] small = matte("drawn", nothing(), 40, 20, drawn(o));
    assertThat(sum(small) * 25).isCloseTo(sum(large), within(0.01 * sum(large)));
  }

  @Test
  void aGradientRisesAlongItsTurn() {
    Outline right = new Outline(Outline.Form.GRADIENT, 0.5, 0.5, 0.25, 1, 0, 0);
    float[] m = matte("drawn", nothing(), 200, 100, drawn(right));
    assertThat(m[10 * 200 + 70]).isZero();
    assertThat(m[10 * 200 + 99]).isCloseTo(0.5f, within(0.02f));
    assertThat(m[90 * 200 + 130]).isEqualTo(1);
    float[] down = matte("drawn", nothing(), 200, 100, drawn(right.turned(90)));
    assertThat(down[20 * 200 + 10]).isZero();
    assertThat(down[80 * 200 + 10]).isEqualTo(1);
  }

  @Test
  void mattesAreMadeOfOthers() {
    PictureSource source = source(RandomPictures.random(21, true));
    MatteDef not = BRIGHT.withName("dark").withInvert(true);
    MatteDef[] all = {
      NEAR,
      BRIGHT,
      not,
      MatteDef.combined("both", Source.AND, "near", "bright"),
      MatteDef.combined("any", Source.OR, "near", "bright"),
      MatteDef.combined("rest", Source.MINUS, "near", "bright"),
      MatteDef.combined("nested", Source.OR, "both", "rest", "dark"),
      MatteDef.combined("none", Source.AND)
    };
    float[] near = matte("near", source, W, H, all);
    float[] bright = matte("bright", source, W, H, all);
    assertThat(sum(near)).isPositive();
    assertThat(sum(bright)).isPositive();
    float[] both = matte("both", source, W, H, all);
    float[] any = matte("any", source, W, H, all);
    float[] rest = matte("rest", source, W, H, all);
    float[] nested = matte("nested", source, W, H, all);
    for (int p = 0; p < W * H; p++) {
      assertThat(both[p]).isEqualTo(Math.min(near[p], bright[p]));
      assertThat(any[p]).isEqualTo(Math.max(near[p], bright[p]));
      assertThat(rest[p]).isEqualTo(Math.min(near[p], 1 - bright[p]));
      assertThat(nested[p]).isEqualTo(Math.max(Math.max(both[p], rest[p]), 1 - bright[p]));
    }
    assertThat(sum(matte("none", source, W, H, all))).isZero();
  }

  @Test
  void theLuminanceOfALayerIsThatOfItsPicture() {
    Picture one = RandomPictures.random(31, false);
    Picture other = RandomPictures.random(32, false);
    PictureSource source = new PictureSource(l -> l.equals("Key") ? one : other, Map.of());
    float[] of = matte("bright", source, W, H, BRIGHT.withBy("Key"));
    float[] own = matte("bright", new PictureSource(l -> one, Map.of()), W, H, BRIGHT);
    assertThat(of).containsExactly(own);
    assertThat(of).isNotEqualTo(matte("bright", source, W, H, BRIGHT));
  }

  @Tag(Programs.TAG)
  @Test
  void anImageToolCorrectsThroughACombinationAlike() throws Exception {
    Picture in = RandomPictures.random(11, true);
    MatteDef[] all = {NEAR, BRIGHT, MatteDef.combined("rest", Source.MINUS, "near", "bright")};
    PictureSource source = source(in);
    for (MatteDef each : new MatteDef[] {NEAR, BRIGHT}) {
      float[] m = matte(each.name(), source, W, H, all);
      Picture p = Picture.empty(W, H);
      for (int i = 0; i < p.rgba().length; i++) {
        p.rgba()[i] = m[i / 4];
      }
      RandomPictures.write(p, dir.resolve(each.name() + ".exr"));
    }
    RandomPictures.write(in, dir.resolve("in.exr"));
    List<String> command = new ArrayList<>(List.of("oiiotool", "in.exr", "--mulc", "4,4,4,1"));
    command.addAll(List.of("in.exr", "--sub", "near.exr", "bright.exr", "--mulc", "-1"));
    command.addAll(List.of("--addc", "1", "--min", "--mul", "in.exr", "--add"));
    command.addAll(List.of("-d", "float", "-o", "out.exr"));
    Programs.run(dir, command.toArray(String[]::new));
    Picture theirs = RandomPictures.read(dir.resolve("out.exr"));
    Recipe recipe =
        new Recipe(List.of(new Recipe.Step("L", Join.PLUS, Extra.NONE)), Extra.NONE)
            .withMattes(List.of(all))
            .withCorrections(List.of(Correction.of("L", "", Type.EXPOSURE, 2.0).through("rest")));
    Picture ours = Evaluation.picture(Expression.of(recipe), W, H, source);
    assertThat(Evaluation.of(Expression.of(recipe), W, H, source).picture().rgba())
        .isEqualTo(ours.rgba());
    for (int i = 0; i < ours.rgba().length; i++) {
      float size = Math.max(1e-2f, Math.abs(theirs.rgba()[i]));
      assertThat(ours.rgba()[i]).isCloseTo(theirs.rgba()[i], within(2e-5f * size));
    }
  }

  private Plan plan(String mattes) throws Exception {
    return PlanReader.parse(
        ShotFolder.PLAN.replace("\"joins\":", "\"mattes\": [%s], \"joins\":".formatted(mattes)),
        dir.resolve("a.wedge"));
  }

  @Test
  void theyAreKeptInThePlanAndFollowNames() throws Exception {
    Plan plan =
        plan(
            """
            {"name": "a", "source": "shape", "shape": {"form": "rectangle", "at": [0.25, 0.75],
              "size": [0.5, 0.125], "turn": -30, "soft": 0.25}},
            {"name": "b", "source": "luma", "by": "Back", "from": 0, "to": 2},
            {"name": "c", "source": "minus", "picks": ["a", "b"], "grow": 3}
            """);
    assertThat(plan.recipe().matte("a").orElseThrow().outline())
        .isEqualTo(new Outline(Outline.Form.RECTANGLE, 0.25, 0.75, 0.5, 0.125, -30, 0.25));
    assertThat(PlanReader.parse(PlanWriter.text(plan), dir.resolve("b.wedge"))).isEqualTo(plan);
    Plan renamed = RecipeEdits.renameMatte(plan, "a", "box");
    assertThat(renamed.recipe().matte("c").orElseThrow().picks()).containsExactly("box", "b");
    assertThat(RecipeEdits.removeMatte(plan, "a").recipe().matte("c").orElseThrow().picks())
        .containsExactly("b");
    Plan other = LayerEdits.rename(plan, "Back", "Far");
    assertThat(other.recipe().matte("b").orElseThrow().by()).isEqualTo("Far");
    assertThat(LayerEdits.remove(plan, "Back").recipe().matte("b").orElseThrow().by()).isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "{'name': 'a', 'source': 'and', 'picks': ['a']}; refers to itself",
        "{'name': 'a', 'source': 'and', 'picks': ['b']}, {'name': 'b', 'source': 'or', 'picks':"
            + " ['a']}; refers to itself",
        "{'name': 'a', 'source': 'or', 'picks': ['b']}, {'name': 'b', 'source': 'and', 'picks':"
            + " ['b']}; refers to itself",
        "{'name': 'a', 'source': 'minus', 'picks': ['x']}; no matte 'x'",
        "{'name': 'a', 'source': 'luma', 'by': 'x', 'from': 0, 'to': 1}; no layer 'x'",
        "{'name': 'a', 'source': 'shape', 'shape': {'size': [0, 1]}}; size",
        "{'name': 'a', 'source': 'shape', 'shape': {'form': 'star'}}; form"
      })
  void whatCannotBeIsToldByItsPlace(String mattes, String told) {
    assertThatThrownBy(() -> plan(mattes.replace('\'', '"')))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("recipe/mattes/")
        .hasMessageContaining(told);
  }

  /** Each of two of the one before: what would be 2 to the power of 200 is refused at once. */
  @Test
  void mattesThatDoubleAreRefusedBeforeTheyAreMade() {
    StringBuilder all =
        new StringBuilder("{\"name\": \"m0\", \"source\": \"luma\", \"from\": 0, \"to\": 1}");
    List<MatteDef> made = new ArrayList<>(List.of(BRIGHT.withName("m0")));
    for (int k = 1; k <= 200; k++) {
      String before = "m" + (k - 1);
      all.append(
          ", {\"name\": \"m%d\", \"source\": \"or\", \"picks\": [\"%s\", \"%s\"]}"
              .formatted(k, before, before));
      made.add(MatteDef.combined("m" + k, Source.OR, before, before));
    }
    assertThatThrownBy(() -> plan(all.toString()))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("recipe/mattes/9/picks")
        .hasMessageContaining("more than 1000 mattes");
    assertThat(sum(matte("m200", nothing(), W, H, made.toArray(MatteDef[]::new)))).isZero();
  }

  @Test
  void aCircleThatWasMadeByHandIsNoEndlessLoop() {
    MatteDef[] circle = {
      MatteDef.combined("a", Source.AND, "b"), MatteDef.combined("b", Source.OR, "a")
    };
    assertThat(sum(matte("a", nothing(), W, H, circle))).isZero();
  }
}
