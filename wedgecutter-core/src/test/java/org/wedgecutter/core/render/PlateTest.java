package org.wedgecutter.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureFiles;
import org.wedgecutter.core.image.RadianceHdr;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.testing.ShotFolder;

/** A plate behind everything, with stand-ins for what it shows. */
class PlateTest {
  @TempDir Path dir;

  private LoadedShot shot() throws Exception {
    return ShotFolder.loadWithPlate(dir);
  }

  @Test
  void layersOverAPlateRejoinExactly() throws Exception {
    LoadedShot shot = shot();
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(shot, 1, 0, 2, false);
    FrameRenderer renderer = new FrameRenderer(shot, settings);
    PlanProof proof = PlanProof.prove(shot, 2, renderer, p -> {});
    assertThat(proof.residual().exact()).isTrue();
    assertThat(proof.causes()).isEmpty();
    RenderedFrame rendered = renderer.render(2, l -> true, true, p -> {});
    assertThat(rendered.classes()).as("with and without what is set in").hasSize(2);
  }

  @Test
  void whereNothingIsSetInTheUncutFrameIsThePlate() throws Exception {
    LoadedShot shot = shot();
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(shot, 1, 0, 2, false);
    RenderedFrame frame = new FrameRenderer(shot, settings).render(2, l -> true, true, p -> {});
    Picture uncut = frame.uncut();
    Picture plate = PictureFiles.read(dir.resolve("plate.hdr"));
    Picture caught = frame.layer(1);
    Picture things = frame.layer(2);
    int same = 0;
    int darker = 0;
    for (int p = 0; p < uncut.width() * uncut.height(); p++) {
      assertThat(uncut.rgba()[4 * p + 3]).isCloseTo(1, within(1e-5f));
      if (things.rgba()[4 * p + 3] == 0) {
        float expected = plate.rgba()[4 * p] + caught.rgba()[4 * p];
        assertThat(uncut.rgba()[4 * p]).isCloseTo(expected, within(1e-5f));
        same += caught.rgba()[4 * p] == 0 ? 1 : 0;
        darker += caught.rgba()[4 * p] < -1e-3 ? 1 : 0;
      }
    }
    assertThat(same).as("the sky is not touched").isGreaterThan(20);
    assertThat(darker).as("the floor is").isGreaterThan(5);
    assertThat(frame.uncutPasses()).anyMatch(p -> p.name().equals("plate"));
  }

  @Test
  void thePlateIsNotFilteredAndFilteredLayersOverItRejoinExactly() throws Exception {
    LoadedShot noisy = shot();
    Plan plan = noisy.plan();
    LoadedShot shot = noisy.withPlan(plan.withShot(plan.requireShot().with(s -> s.denoise = 1)));
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(shot, 1, 0, 2, false);
    PlanProof proof = PlanProof.prove(shot, 2, new FrameRenderer(shot, settings), p -> {});
    assertThat(proof.residual().exact()).isTrue();
    RenderedFrame filtered = new FrameRenderer(shot, settings).render(2, l -> true, true, p -> {});
    RenderedFrame plain = new FrameRenderer(noisy, settings).render(2, l -> true, true, p -> {});
    assertThat(filtered.layer(0).rgba())
        .as("a layer of nothing but the plate")
        .isEqualTo(plain.layer(0).rgba());
    assertThat(filtered.layer(2).rgba()).isNotEqualTo(plain.layer(2).rgba());
    float[] was = pass(plain);
    assertThat(pass(filtered)).isEqualTo(was);
    for (int index = 0; index < 3; index++) {
      Picture beauty = filtered.layer(index);
      double[] sum = new double[3 * beauty.width() * beauty.height()];
      filtered.passes(index).stream()
          .filter(pass ->
              pass.isLight()
                  && !pass.name().startsWith("light.")
                  && !pass.name().equals("shadow")
                  && !pass.name().equals("unshadowed"))
          .forEach(pass -> {
            for (int i = 0; i < sum.length; i++) {
              sum[i] += pass.values()[i];
            }
          });
      for (int i = 0; i < sum.length; i++) {
        assertThat(sum[i])
            .as("passes add up to layer %d", index)
            .isCloseTo(beauty.rgba()[i / 3 * 4 + i % 3], within(2e-5));
      }
    }
  }

  private static float[] pass(RenderedFrame frame) {
    return frame.uncutPasses().stream()
        .filter(p -> p.name().equals("plate"))
        .findFirst()
        .orElseThrow()
        .values();
  }

  @Test
  void plateAndLinksAreKeptInThePlan() throws Exception {
    Plan plan = shot().plan();
    Plan linked =
        plan.withShot(
            plan.requireShot()
                .with(s -> {
                  s.links = java.util.Map.of("/lamp", "Front");
                  s.shutter = 0.5;
                  s.denoise = 0.25;
                  s.seeThrough = true;
                  s.variant = "worn";
                  s.bounces = new org.wedgecutter.core.plan.Bounces(3, 7, 2);
                }));
    Path file = dir.resolve("again.wedge");
    PlanWriter.save(linked, file);
    assertThat(PlanReader.read(file).requireShot()).isEqualTo(linked.requireShot());
  }

  @Test
  void aPlateThatIsMissingIsToldWithItsName() throws Exception {
    shot();
    Files.delete(dir.resolve("plate.hdr"));
    assertThatThrownBy(() -> LoadedShot.load(dir.resolve("plate.wedge")))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("plate.hdr");
    assertThatThrownBy(() -> PictureFiles.read(dir.resolve("plate.txt")))
        .isInstanceOf(InputException.class);
  }

  @Test
  void picturesOfEveryFormatAreReadAlike() throws Exception {
    Picture p = Picture.empty(9, 2);
    for (int i = 0; i < p.rgba().length; i++) {
      p.rgba()[i] = (i & 3) == 3 ? 1 : (i % 7) / 8f;
    }
    try (var out = Files.newOutputStream(dir.resolve("a.hdr"))) {
      RadianceHdr.write(p, out);
    }
    var output =
        new org.wedgecutter.core.plan.Output(
            "x",
            false,
            org.wedgecutter.exr.Compression.ZIP,
            false,
            org.wedgecutter.core.plan.Extra.NONE);
    org.wedgecutter.core.deliver.file.ExrFrames.write(
        dir.resolve("a.exr"),
        p,
        java.util.List.of(),
        output,
        org.wedgecutter.exr.Box.ofSize(9, 2),
        org.wedgecutter.exr.Box.ofSize(9, 2),
        java.util.Map.of());
    var coded = new java.awt.image.BufferedImage(9, 2, java.awt.image.BufferedImage.TYPE_INT_RGB);
    for (int i = 0; i < 18; i++) {
      int rgb = 0;
      for (int c = 0; c < 3; c++) {
        double v = p.rgba()[4 * i + c];
        double s = v <= 0.0031308 ? 12.92 * v : 1.055 * Math.pow(v, 1 / 2.4) - 0.055;
        rgb = rgb << 8 | (int) Math.round(255 * s);
      }
      coded.setRGB(i % 9, i / 9, rgb);
    }
    javax.imageio.ImageIO.write(coded, "png", dir.resolve("a.png").toFile());
    for (String name : new String[] {"a.hdr", "a.exr", "a.png"}) {
      Picture read = PictureFiles.read(dir.resolve(name));
      for (int i = 0; i < p.rgba().length; i++) {
        assertThat(read.rgba()[i]).as(name).isCloseTo(p.rgba()[i], within(0.006f));
      }
    }
  }
}
