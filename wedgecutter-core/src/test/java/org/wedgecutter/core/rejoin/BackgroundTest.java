package org.wedgecutter.core.rejoin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureWriter;
import org.wedgecutter.core.image.ScreenPicture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.Background;
import org.wedgecutter.core.plan.Background.Fit;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/** What stands behind all that is rejoined. */
class BackgroundTest {
  @TempDir Path dir;

  private static Picture over(Background background, Picture front, Picture shown) {
    Recipe recipe =
        new Recipe(List.of(new Recipe.Step("L", Join.PLUS, Extra.NONE)), Extra.NONE)
            .withBackground(background);
    PictureSource source = new PictureSource(l -> front, Map.of("shown", shown));
    return Evaluation.picture(Expression.of(recipe), front.width(), front.height(), source);
  }

  @Test
  void aColourIsSeenAsFarAsTheLayersLeaveIt() {
    Picture front = RandomPictures.random(3, false);
    Picture made = over(Background.colour(0.25, 0.5, 2), front, Picture.empty(1, 1));
    double[] colour = {0.25, 0.5, 2, 1};
    for (int i = 0; i < made.rgba().length; i++) {
      double wanted = front.rgba()[i] + (1 - (double) front.rgba()[i | 3]) * colour[i & 3];
      assertThat((double) made.rgba()[i]).isCloseTo(wanted, within(1e-5 * (1 + Math.abs(wanted))));
    }
  }

  @Test
  void aCheckerHasSquaresOfSixteenPixels() {
    Picture made = over(Background.checker(0.4), Picture.empty(40, 40), Picture.empty(1, 1));
    float[] v = made.rgba();
    assertThat(v[0]).isEqualTo(0.4f);
    assertThat(v[4 * 15]).isEqualTo(0.4f);
    assertThat(v[4 * 16]).isEqualTo(0.2f);
    assertThat(v[4 * (16 * 40)]).isEqualTo(0.2f);
    assertThat(v[4 * (16 * 40 + 16)]).isEqualTo(0.4f);
    assertThat(v[3]).isEqualTo(1f);
  }

  /** A picture of 4 x 2 pixels, numbered in red, onto a frame of 4 x 4. */
  @ParameterizedTest
  @CsvSource({
    "FILL,    2 2 3 3  2 2 3 3  6 6 7 7  6 6 7 7",
    "FIT,     0 0 0 0  1 2 3 4  5 6 7 8  0 0 0 0",
    "STRETCH, 1 2 3 4  1 2 3 4  5 6 7 8  5 6 7 8"
  })
  void aPictureOfAnotherShapeIsFitted(Fit fit, String wanted) {
    Picture shown = Picture.empty(4, 2);
    for (int p = 0; p < 8; p++) {
      shown.rgba()[4 * p] = p + 1;
      shown.rgba()[4 * p + 3] = 1;
    }
    Picture made = over(Background.picture("shown").withFit(fit), Picture.empty(4, 4), shown);
    String[] each = wanted.strip().split("\\s+");
    for (int p = 0; p < 16; p++) {
      float red = Float.parseFloat(each[p]);
      assertThat(made.rgba()[4 * p]).as("pixel %d", p).isEqualTo(red);
      assertThat(made.rgba()[4 * p + 3]).isEqualTo(red > 0 ? 1f : 0f);
    }
  }

  @Test
  void itIsInTheRecipesTextAndNotInWhatIsProven() {
    Recipe recipe =
        new Recipe(List.of(new Recipe.Step("L", Join.PLUS, Extra.NONE)), Extra.NONE)
            .withBackground(Background.picture("plates/sky.exr"));
    assertThat(Expression.of(recipe).line()).isEqualTo("L over (plates/sky.exr)");
    Recipe two =
        recipe.withJoins(
            List.of(recipe.joins().getFirst(), new Recipe.Step("M", Join.PLUS, Extra.NONE)));
    assertThat(Expression.of(two).line()).isEqualTo("(L + M) over (plates/sky.exr)");
    assertThat(Expression.equations(recipe)).last().isEqualTo("R = R1 over (plates/sky.exr)");
    assertThat(Expression.joins(recipe).line()).isEqualTo("L");
  }

  @Test
  void aPlanKeepsItAndADeliveryRejoinsWithoutThePlansFolder() throws Exception {
    Path folder = Files.createDirectories(dir.resolve("shot"));
    Path file = ShotFolder.make(folder);
    Files.createDirectories(folder.resolve("plates"));
    Picture sky = Picture.empty(2, 2);
    java.util.Arrays.fill(sky.rgba(), 1);
    try (var out = Files.newOutputStream(folder.resolve("plates/sky.0001.png"))) {
      PictureWriter.png(ScreenPicture.of(sky), out);
    }
    Files.copy(folder.resolve("plates/sky.0001.png"), folder.resolve("plates/sky.0002.png"));
    PlanWriter.save(
        RecipeEdits.background(
            PlanReader.read(file), Background.picture("plates/sky.{frame:4}.png")),
        file);
    assertThat(PlanReader.read(file).recipe().background().picture())
        .isEqualTo("plates/sky.{frame:4}.png");
    LoadedShot shot = LoadedShot.load(file);
    Path out = dir.resolve("delivery");
    var delivery = Renders.delivery(shot, out, 1, false);
    Files.delete(folder.resolve("plates/sky.0001.png"));
    Picture rejoined = DeliveryPictures.corrected(delivery, 1);
    for (int i = 3; i < rejoined.rgba().length; i += 4) {
      assertThat(rejoined.rgba()[i]).as("nothing stays transparent").isGreaterThan(0.998f);
    }

    LoadedShot without = LoadedShot.load(file);
    var findings = PlanCheck.check(without, without.resolve(1));
    assertThat(findings).extracting(Finding::kind).containsExactly(Mistake.PICTURE_MISSING);
    assertThat(findings.getFirst().text())
        .isEqualTo("the recipe shows plates/sky.{frame:4}.png, which is missing at the frames 1");
    assertThatThrownBy(() -> Renders.delivery(without, dir.resolve("again"), 1, false))
        .hasMessageContaining("sky.0001.png")
        .hasMessageContaining("no such file");
    assertThat(dir.resolve("again")).as("told before anything is rendered").doesNotExist();
    Files.writeString(folder.resolve("plates/sky.0001.png"), "no picture");
    assertThat(PlanCheck.check(without, without.resolve(1)).getFirst().text())
        .startsWith("the recipe shows plates/sky.{frame:4}.png, which cannot be read at frame 1: ")
        .doesNotContain(folder.toString());
    LoadedShot mended = without.withPlan(findings.getFirst().fix().edit().apply(without.plan()));
    assertThat(PlanCheck.check(mended, mended.resolve(1))).isEmpty();
  }

  @Test
  void aBackgroundThatIsNoneIsRefusedWithItsPlace() throws Exception {
    Path file = ShotFolder.make(dir);
    String text = Files.readString(file);
    Files.writeString(
        file,
        text.replaceFirst(
            "\"recipe\": *\\{", "\"recipe\": {\"background\": {\"kind\": \"colour\"},"));
    assertThatThrownBy(() -> PlanReader.read(file))
        .hasMessageContaining("recipe/background")
        .hasMessageContaining("three values");
  }
}
