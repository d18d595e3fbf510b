package org.wedgecutter.core.rejoin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.awt.image.BufferedImage;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.load.NumberedPictures;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TextureRef;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Shots;

/** A picture on a surface, compared with a render of the surface that has the picture. */
class SurfaceTest {
  private static final int WIDTH = 64;
  private static final int HEIGHT = 48;
  private static final int[] OLD = {0x806040, 0xa0a0a0, 0x407050, 0x9080c0};
  private static final int[] NEW = {
    0xd0d0d0, 0x204080, 0xc03020, 0x60c060, 0x909090, 0xf0e020, 0x303030, 0x80a0ff,
    0xff8040, 0x55aa77, 0x7711cc, 0xeeeeee, 0x123456, 0x654321, 0xabcdef, 0x888888
  };

  @TempDir Path dir;

  /** A canvas with an image, before a wall, lit from the side. */
  private static LoadedShot shot(int width, int[] image, boolean glows) {
    SceneMaker maker = new SceneMaker();
    TextureRef texture = maker.image(width, image);
    Material canvas =
        Material.plain("canvas", Rgb.WHITE)
            .with(m -> {
              m.baseColorTexture = glows ? null : texture;
              m.emission = glows ? Rgb.WHITE : Rgb.BLACK;
              m.emissionTexture = glows ? texture : null;
              m.specular(0);
            });
    Scene scene =
        maker
            .mesh("/canvas", SceneMaker.canvas(0.8), canvas, 0, 0, 0)
            .mesh("/wall", SceneMaker.wall(3, 3), SceneMaker.matte(0.5), 0, 0, -2)
            .pointLight("/lamp", 30, 1.5, 1, 2)
            .camera(2 * Math.atan(1 / 4.0), 0, 0, 4)
            .scene();
    LoadedShot made = Shots.of(scene, "1", "\"samples\": 64, \"bounces\": 0", "");
    Plan plan =
        RecipeEdits.written(
            made.plan(),
            List.of(made.plan().layers().getFirst().name()),
            Set.of(Output.More.UV, Output.More.ALBEDO, Output.More.IDS));
    return made.withPlan(plan);
  }

  private static RenderedFrame render(LoadedShot shot) {
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 64, 2, false))
        .render(1, l -> true, false, p -> {});
  }

  private Picture shown(LoadedShot shot, double gain, double glow) throws Exception {
    String layer = shot.plan().layers().getFirst().name();
    Correction surface =
        Correction.of(layer, "", Correction.Type.SURFACE, gain, glow)
            .showing("new.png")
            .through("canvas");
    Recipe recipe =
        new Recipe(List.of(new Recipe.Step(layer, Join.PLUS, Extra.NONE)), Extra.NONE)
            .withCorrections(List.of(surface))
            .withMattes(List.of(MatteDef.picked("canvas").withPicks(List.of("/canvas"))));
    NumberedPictures pictures = new NumberedPictures(List.of(dir));
    return Evaluation.picture(
        Expression.of(recipe),
        WIDTH,
        HEIGHT,
        new TracedSource(
            shot.plan(),
            render(shot),
            name -> {
              try {
                return pictures.picture(name, 1);
              } catch (Exception e) {
                throw new IllegalStateException(e);
              }
            }));
  }

  private void writeNew() throws Exception {
    BufferedImage image = new BufferedImage(4, 4, BufferedImage.TYPE_INT_RGB);
    for (int p = 0; p < 16; p++) {
      image.setRGB(p % 4, p / 4, NEW[p]);
    }
    ImageIO.write(image, "png", Files.newOutputStream(dir.resolve("new.png")));
  }

  private static void alike(Picture made, Picture rendered, double most) {
    double error = 0;
    double light = 0;
    for (int i = 0; i < made.rgba().length; i++) {
      error += Math.abs(made.rgba()[i] - rendered.rgba()[i]);
      light += Math.abs(rendered.rgba()[i]);
    }
    assertThat(error / light).as("mean error beside the light").isLessThan(most);
  }

  @Test
  void aPictureOnASurfaceIsWhatARenderWithThatPictureGives() throws Exception {
    writeNew();
    LoadedShot before = shot(2, OLD, false);
    Picture rendered = render(shot(4, NEW, false)).layer(0);
    alike(shown(before, 1, 0), rendered, 0.01);
    // without the picture it is another one by far
    assertThat(distance(render(before).layer(0), rendered)).isGreaterThan(0.1);
    Picture brighter = shown(before, 0.5, 0);
    Picture plain = shown(before, 1, 0);
    int middle = 4 * (HEIGHT / 2 * WIDTH + WIDTH / 2);
    assertThat(brighter.rgba()[middle]).isCloseTo(plain.rgba()[middle] / 2, within(1e-3f));
  }

  private static double distance(Picture a, Picture b) {
    double out = 0;
    for (int i = 0; i < a.rgba().length; i++) {
      out += Math.abs(a.rgba()[i] - b.rgba()[i]);
    }
    return out / (WIDTH * HEIGHT);
  }

  @Test
  void aPictureThatShinesReplacesWhatTheSurfaceEmits() throws Exception {
    writeNew();
    LoadedShot before = shot(2, OLD, true);
    Picture made = shown(before, 1, 1);
    // the other scene's emission alone: its lamp lights a white surface as before
    LoadedShot after = shot(4, NEW, true);
    RenderedFrame rendered = render(after);
    Picture emission = rendered.layer(0).copy();
    var diffuse = rendered.passes(0).getFirst();
    assertThat(diffuse.title()).isEqualTo("diffuse.direct");
    Map<Boolean, Double> sums = new HashMap<>();
    for (int y = 12; y < 36; y++) {
      for (int x = 20; x < 44; x++) {
        int p = y * WIDTH + x;
        for (int c = 0; c < 3; c++) {
          double wanted = emission.rgba()[4 * p + c] - diffuse.values()[3 * p + c];
          sums.merge(true, Math.abs(made.rgba()[4 * p + c] - wanted), Double::sum);
          sums.merge(false, wanted, Double::sum);
        }
      }
    }
    assertThat(sums.get(true) / sums.get(false)).isLessThan(0.02);
  }

  @Test
  void aSequenceShowsThePictureOfItsFrameAndAMissingOneIsTold() throws Exception {
    writeNew();
    Files.move(dir.resolve("new.png"), dir.resolve("new.0007.png"));
    NumberedPictures pictures = new NumberedPictures(List.of(dir));
    assertThat(pictures.picture("new.{frame:4}.png", 7).width()).isEqualTo(4);
    assertThat(NumberedPictures.sequence("new.0007.png", 7)).isEqualTo("new.{frame:4}.png");
    assertThat(NumberedPictures.sequence("new.0007.png", 8)).isEqualTo("new.0007.png");
    assertThat(NumberedPictures.sequence("label7.png", 7)).as("no frame").isEqualTo("label7.png");
    assertThatThrownBy(() -> pictures.picture("new.{frame:4}.png", 8))
        .hasMessageContaining("new.0008.png")
        .hasMessageContaining("frame 8");
    assertThatThrownBy(() -> pictures.picture("../x.png", 8))
        .hasMessageContaining("leads out of the folder");
  }
}
