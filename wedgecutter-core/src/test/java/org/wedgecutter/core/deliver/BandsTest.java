package org.wedgecutter.core.deliver;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CancellationException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;

/** A large frame is rendered and written in bands, and nothing shows where they meet. */
class BandsTest {
  private static final int WIDTH = 1200;
  private static final int HEIGHT = 300;

  @TempDir Path dir;

  private static FrameRenderer.Settings settings(Region region) {
    return new FrameRenderer.Settings(WIDTH, HEIGHT, 1, 2, false, region);
  }

  private DeliveryRenderer renderer(LoadedShot shot, Region region) throws Exception {
    return new DeliveryRenderer(
        shot,
        new DeliveryRenderer.Order(
            dir.resolve("out"), List.of(), List.of(1), true, settings(region), false));
  }

  private ExrPart part(String path) throws Exception {
    return ExrReader.read(dir.resolve("out").resolve(path)).parts().getFirst();
  }

  private static void same(ExrPart part, Picture whole, List<PassPicture> passes, boolean half)
      throws Exception {
    String[] names = {"R", "G", "B", "A"};
    for (int c = 0; c < 4; c++) {
      float[] plane = part.real(names[c]);
      for (int p = 0; p < plane.length; p++) {
        float value = whole.rgba()[4 * p + c];
        float kept = half ? Float.float16ToFloat(Float.floatToFloat16(value)) : value;
        assertThat(plane[p]).as("%s of pixel %d", names[c], p).isEqualTo(kept);
      }
    }
    for (PassPicture pass : passes) {
      assertThat(part.has(pass.channel(0))).as(pass.channel(0)).isTrue();
    }
  }

  @Test
  void bandsHoldWhatTheWholeHolds() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    Region all = Region.whole(WIDTH, HEIGHT);
    List<Double> shares = new ArrayList<>();
    DeliveryRenderer renderer = renderer(shot, all);
    Delivery delivery =
        renderer.run((f, p, s) -> {
          synchronized (shares) {
            shares.add(p);
          }
        });
    assertThat(shares).allMatch(s -> s >= 0 && s <= 1);
    // the memory of two bands' sums, one after another, is less than the whole's
    RenderedFrame whole =
        new FrameRenderer(shot, settings(all)).render(1, l -> true, true, p -> {});
    assertThat(renderer.peakBytes()).isLessThan(whole.bytes());
    boolean half = shot.plan().output().half();
    for (int l = 0; l < shot.plan().layers().size(); l++) {
      String name = shot.plan().layers().get(l).name();
      ExrPart part = part("set/%s/set_%s.0001.exr".formatted(name, name));
      assertThat(part.dataWindow().width()).isEqualTo(WIDTH);
      assertThat(part.dataWindow().height()).isEqualTo(HEIGHT);
      same(part, whole.layer(l), whole.passes(l), half);
    }
    same(part("set/uncut/set_uncut.0001.exr"), whole.uncut(), whole.uncutPasses(), half);
    assertThat(delivery.files()).allMatch(e -> e.rays() == delivery.files().getFirst().rays());
    assertThat(renderer.classes()).isNotEmpty();
  }

  @Test
  void aRegionIsWrittenInBandsToo() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    Region region = new Region(7, 11, 1100, 270);
    renderer(shot, region).run((f, p, s) -> {});
    RenderedFrame whole =
        new FrameRenderer(shot, settings(region)).render(1, l -> true, true, p -> {});
    ExrPart part = part("set/uncut/set_uncut.0001.exr");
    assertThat(part.dataWindow()).isEqualTo(DeliveryRenderer.box(region));
    same(part, whole.uncut(), List.of(), shot.plan().output().half());
  }

  @Test
  void whatIsStoppedBetweenBandsLeavesNoFile() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    DeliveryRenderer renderer = renderer(shot, Region.whole(WIDTH, HEIGHT));
    assertThatThrownBy(() ->
            renderer.run((f, p, s) -> {
              // the second band has begun
              if (p > 0.8) {
                renderer.stop();
              }
            }))
        .isInstanceOf(CancellationException.class);
    try (var files = Files.walk(dir.resolve("out"))) {
      assertThat(files.filter(Files::isRegularFile)).isEmpty();
    }
  }
}
