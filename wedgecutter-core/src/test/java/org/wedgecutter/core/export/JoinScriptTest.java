package org.wedgecutter.core.export;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Background;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;

/** An image tool joins what the program joins, by a script that the program writes. */
class JoinScriptTest {
  @TempDir Path dir;

  private Delivery render(Path folder) throws Exception {
    LoadedShot shot = ShotFolder.load(folder);
    return new DeliveryRenderer(
            shot,
            new DeliveryOrder(
                dir.resolve("it's a delivery"),
                List.of(),
                List.of(1, 2),
                true,
                FrameRenderer.Settings.of(shot, 1, 0, 2, false),
                false))
        .run((f, p, s) -> {});
  }

  private static Delivery with(Delivery d, Plan plan) {
    return new Delivery(
        d.folder(),
        plan,
        d.width(),
        d.height(),
        d.region(),
        d.samples(),
        d.seed(),
        d.source(),
        d.units(),
        d.files(),
        d.besides());
  }

  private int sh(StringBuilder told, String... arguments) throws Exception {
    List<String> command = new ArrayList<>(List.of("bash", "../join.sh"));
    command.addAll(List.of(arguments));
    Process p =
        new ProcessBuilder(command)
            .directory(dir.resolve("it's a delivery").toFile())
            .redirectErrorStream(true)
            .start();
    told.append(new String(p.getInputStream().readAllBytes(), StandardCharsets.UTF_8));
    return p.waitFor();
  }

  /** Each frame has its own command, which an image tool runs. */
  @Test
  void valuesThatFollowTheFramesDoSoInTheScript() throws Exception {
    Delivery delivery = render(dir);
    Correction fade =
        Correction.of("Front", "", Correction.Type.FADE, 1.0)
            .withKey(1, List.of(1.0))
            .withKey(2, List.of(0.25));
    Correction light =
        Correction.of("", "", Correction.Type.EXPOSURE, 0.0)
            .withKey(0, List.of(-1.0))
            .withKey(2, List.of(1.0));
    Delivery keyed =
        with(
            delivery,
            delivery
                .plan()
                .withRecipe(delivery.plan().recipe().withCorrections(List.of(fade, light))));
    Files.writeString(dir.resolve("join.sh"), JoinScript.text(keyed));
    for (int frame = 1; frame <= 2; frame++) {
      StringBuilder told = new StringBuilder();
      assertThat(sh(told, String.valueOf(frame), "../out.exr")).as(told.toString()).isZero();
      Picture theirs = ExrFrames.read(dir.resolve("out.exr"));
      Picture ours = DeliveryPictures.corrected(keyed, frame);
      assertThat(ours.rgba()).usingComparatorWithPrecision(2e-3f).containsExactly(theirs.rgba());
      // by hand: each layer by plus, the front by its share, all by the light of the frame
      Picture front = DeliveryPictures.layer(keyed, "Front", frame);
      Picture rest = DeliveryPictures.rejoin(keyed, frame).picture();
      float share = frame == 1 ? 1 : 0.25f;
      float gain = frame == 1 ? 1 : 2;
      int p = 4 * (12 * ours.width() + ours.width() / 2);
      float expected = gain * (rest.rgba()[p] + (share - 1) * front.rgba()[p]);
      assertThat(ours.rgba()[p]).isCloseTo(expected, within(1e-4f));
    }
    assertThat(DeliveryPictures.corrected(keyed, 1).rgba())
        .isNotEqualTo(DeliveryPictures.corrected(keyed, 2).rgba());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "plus plus plus",
        "over over over",
        "plus times over",
        "plus catch plus",
        "over plus catch",
        "catch plus times",
        "times plus plus",
        "plus screen min",
        "plus max difference",
        "difference screen plus",
        "min max over",
        "plus@0.75 over@0.5 times@0.3",
        "max catch@0.6 plus@0.25",
        "catch@0.5 screen@0.8 difference@0.4"
      })
  void theToolsJoinIsTheProgramsJoin(String joins) throws Exception {
    Delivery delivery = render(dir);
    String[] words = joins.split(" ");
    List<Recipe.Step> steps = new ArrayList<>();
    for (int l = 0; l < 3; l++) {
      String[] word = words[l].split("@");
      steps.add(
          new Recipe.Step(
              delivery.plan().layers().get(l).name(),
              Join.of(word[0]).orElseThrow(),
              word.length > 1 ? Double.parseDouble(word[1]) : 1,
              "",
              Recipe.Light.ALL,
              Extra.NONE));
    }
    Delivery other =
        with(delivery, delivery.plan().withRecipe(delivery.plan().recipe().withJoins(steps)));
    Files.writeString(dir.resolve("join.sh"), JoinScript.text(other));
    StringBuilder told = new StringBuilder();
    assertThat(sh(told, "2", "../out.exr")).as(told.toString()).isZero();
    Picture ours = DeliveryPictures.rejoin(other, 2).picture();
    Picture theirs = ExrFrames.read(dir.resolve("out.exr"));
    for (int i = 0; i < ours.rgba().length; i++) {
      assertThat(theirs.rgba()[i]).as("number %d", i).isCloseTo(ours.rgba()[i], within(2e-6f));
    }
  }

  @Test
  void theToolCorrectsAsTheProgramDoes() throws Exception {
    Delivery delivery = render(dir);
    List<Correction> corrections =
        List.of(
            Correction.of("Back", "", Correction.Type.EXPOSURE, 0.7),
            Correction.of("Back", "", Correction.Type.HUE, 40.0),
            Correction.of("Back", "diffuse.direct", Correction.Type.CONTRAST, 1.4, 0.18),
            Correction.of("Back", "diffuse.direct", Correction.Type.GAIN, 0.5, 1.0, 1.5),
            Correction.of("Back", "specular.direct", Correction.Type.EXPOSURE, -1.0),
            Correction.of("Back", "", Correction.Type.EXPOSURE, -0.3)
                .withReach(Correction.Reach.BEHIND),
            Correction.of("Floor", "", Correction.Type.TEMPERATURE, 4200.0),
            Correction.of("Front", "", Correction.Type.GAMMA, 1.3),
            Correction.of("Front", "", Correction.Type.OFFSET, 0.02, 0.0, 0.01),
            Correction.of("", "", Correction.Type.SATURATION, 0.6),
            Correction.of("", "", Correction.Type.GAIN, 1.0, 0.9, 0.8));
    Recipe recipe =
        delivery
            .plan()
            .recipe()
            .withCorrections(corrections)
            .withBackground(Background.colour(0.25, 0.5, 2));
    assertSame(with(delivery, delivery.plan().withRecipe(recipe)));
    Delivery relit =
        with(
            delivery,
            delivery
                .plan()
                .withRecipe(
                    recipe.withCorrections(
                        List.of(
                            Correction.of(
                                "Back", "diffuse.direct", Correction.Type.EXPOSURE, 1.0)))));
    assertSame(relit);
    Picture lit = DeliveryPictures.corrected(relit, 2);
    Picture plain = DeliveryPictures.rejoin(delivery, 2).picture();
    Path back = delivery.folder().resolve(delivery.held("Back", 2).orElseThrow().path());
    Picture pass = ExrFrames.readPass(back, "diffuse.direct");
    for (int i = 0; i < lit.rgba().length; i++) {
      float wanted = plain.rgba()[i] + ((i & 3) == 3 ? 0 : pass.rgba()[i]);
      assertThat(lit.rgba()[i]).isCloseTo(wanted, within(1e-5f));
    }
    assertThat(DeliveryProof.prove(relit, 2).exact())
        .as("a proof is of the layers as they were rendered")
        .isTrue();
  }

  @ParameterizedTest
  @ValueSource(strings = {"times", "plus", "catch"})
  void theToolThinsAShadowAsTheProgramDoes(String join) throws Exception {
    Delivery delivery = render(dir);
    Recipe recipe =
        LayerEdits.join(delivery.plan(), "Front", Join.of(join).orElseThrow())
            .recipe()
            .withCorrections(
                List.of(
                    Correction.of("Front", "", Correction.Type.OFFSET, -0.5, -0.3, -0.1),
                    Correction.of("Front", "", Correction.Type.SHADOW, 1.5, 0.8, 0.5, 0.0)));
    Delivery thin = with(delivery, delivery.plan().withRecipe(recipe));
    assertSame(thin);
    Correction off = recipe.corrections().getLast().switched(false);
    Delivery plain = with(delivery, delivery.plan().withRecipe(recipe.withCorrection(1, off)));
    assertThat(DeliveryPictures.corrected(thin, 2).rgba())
        .isNotEqualTo(DeliveryPictures.corrected(plain, 2).rgba());
  }

  private void assertSame(Delivery delivery) throws Exception {
    Files.writeString(dir.resolve("join.sh"), JoinScript.text(delivery));
    StringBuilder told = new StringBuilder();
    assertThat(sh(told, "2", "../out.exr")).as(told.toString()).isZero();
    Picture ours = DeliveryPictures.corrected(delivery, 2);
    Picture theirs = ExrFrames.read(dir.resolve("out.exr"));
    for (int i = 0; i < ours.rgba().length; i++) {
      assertThat(theirs.rgba()[i]).as("number %d", i).isCloseTo(ours.rgba()[i], within(5e-6f));
    }
  }

  @Test
  void theToolMergesByDepthAsTheProgramDoes() throws Exception {
    LoadedShot plain = ShotFolder.load(dir);
    Plan plan = plain.plan();
    for (String layer : List.of("Back", "Front")) {
      plan = LayerEdits.join(plan, layer, Join.DEEP);
      plan = RecipeEdits.written(plan, List.of(layer), Set.of(Output.More.DEEP));
    }
    LoadedShot shot = plain.withPlan(plan);
    Delivery delivery = Renders.delivery(shot, dir.resolve("it's a delivery"), 1, false);
    assertSame(delivery);
    assertThat(DeliveryPictures.corrected(delivery, 2).rgba())
        .as("depth decides")
        .isNotEqualTo(
            DeliveryPictures.corrected(with(delivery, LayerEdits.join(plan, "Front", Join.MAX)), 2)
                .rgba());
  }

  @ParameterizedTest
  @CsvSource({"1, false", "0.6, true"})
  void theToolTakesTheNearerAsTheProgramDoes(double opacity, boolean apart) throws Exception {
    LoadedShot plain = ShotFolder.load(dir);
    List<String> layers = List.of("Floor", "Back", "Front");
    Plan deep = RecipeEdits.written(plain.plan(), layers, Set.of(Output.More.DEPTH));
    Plan plan = deep.withOutput(deep.output().with(o -> o.beautyApart = apart));
    Delivery rendered =
        Renders.delivery(plain.withPlan(plan), dir.resolve("it's a delivery"), 1, false);
    Recipe recipe =
        plan.recipe()
            .withJoins(
                List.of(
                    new Recipe.Step("Floor", Join.OVER, Extra.NONE),
                    new Recipe.Step("Back", Join.OVER, Extra.NONE),
                    new Recipe.Step(
                        "Front", Join.DEPTH, opacity, "", Recipe.Light.ALL, Extra.NONE)));
    Delivery delivery = with(rendered, plan.withRecipe(recipe));
    assertSame(delivery);
    Delivery over = with(rendered, LayerEdits.join(delivery.plan(), "Front", Join.OVER));
    assertThat(DeliveryPictures.corrected(delivery, 2).rgba())
        .as("depth decides")
        .isNotEqualTo(DeliveryPictures.corrected(over, 2).rgba());
    Delivery flat = with(rendered, plain.plan().withRecipe(recipe));
    assertThatThrownBy(() -> JoinScript.text(flat))
        .hasMessageContaining("a join by depth with Floor, whose files have no depth");
  }

  @Test
  void whatTheToolCannotDoHasNoScript() throws Exception {
    Delivery delivery = render(dir);
    Recipe recipe = delivery.plan().recipe();
    Correction exposure = Correction.of("Back", "", Correction.Type.EXPOSURE, 1.0);
    Map<String, Recipe> refused =
        Map.of(
            "a blur",
            recipe.withCorrections(List.of(Correction.of("Back", "", Correction.Type.BLUR, 3.0))),
            "a curve",
            recipe.withCorrections(
                List.of(Correction.of("Back", "", Correction.Type.CURVE, 0.0, 0.0, 1.0, 0.5))),
            "a matte",
            recipe
                .withMattes(List.of(MatteDef.picked("m", "/back")))
                .withCorrections(List.of(exposure.through("m"))),
            "a background of squares",
            recipe.withBackground(Background.checker(0.18)));
    refused.forEach((what, with) ->
        assertThatThrownBy(() -> JoinScript.text(with(delivery, delivery.plan().withRecipe(with))))
            .isInstanceOf(InputException.class)
            .hasMessageContaining("the script has no command for " + what));
    Recipe off = refused.get("a blur");
    Recipe switched = off.withCorrection(0, off.corrections().getFirst().switched(false));
    assertSame(with(delivery, delivery.plan().withRecipe(switched)));
  }

  @Test
  void theToolRejoinsTheUncutFrame() throws Exception {
    Delivery delivery = render(dir);
    Files.writeString(dir.resolve("join.sh"), JoinScript.text(delivery));
    String out = dir.resolve("whole.exr").toString();
    assertThat(sh(new StringBuilder(), "1", out)).isZero();
    Picture uncut =
        ExrFrames.read(delivery.folder().resolve(delivery.uncut(1).orElseThrow().path()));
    Picture whole = ExrFrames.read(Path.of(out));
    for (int i = 0; i < uncut.rgba().length; i++) {
      // colours are halves
      assertThat(whole.rgba()[i])
          .isCloseTo(uncut.rgba()[i], within(2e-3f * Math.max(0.1f, uncut.rgba()[i])));
    }
  }

  @Test
  void whatIsNotThereIsTold() throws Exception {
    Delivery delivery = render(dir);
    Files.writeString(dir.resolve("join.sh"), JoinScript.text(delivery));
    StringBuilder told = new StringBuilder();
    assertThat(sh(told, "7", "out.exr")).isEqualTo(2);
    assertThat(told.toString()).contains("frame 7 is not there; expected one of 1,2");
    assertThat(sh(told, "2")).isEqualTo(2);
    assertThat(told.toString())
        .contains("usage, in the delivery's folder: bash ../join.sh FRAME OUT.exr");
    Plan sized =
        LayerEdits.setting(
            delivery.plan(),
            "Back",
            CellOverride.of(Property.SIZE, Property.Verb.SET, new Value.Size(20, 12)));
    assertThatThrownBy(() -> JoinScript.text(with(delivery, sized)))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("plan/layers/Back")
        .hasMessageContaining("a size of its own");
    assertThatThrownBy(() -> JoinScript.text(delivery.withFiles(delivery.files().subList(0, 1))))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("no frame has a file of every joined layer");
  }
}
