package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.SortedMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.core.testing.Renders;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrHeader;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.Level;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;

/** Deep files: flattened and merged by a program that is not ours. */
class DeepFilesTest {
  @TempDir Path dir;

  private LoadedShot deep(boolean half) throws Exception {
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    return shot.withPlan(
        shot.plan()
            .withOutput(
                shot.plan()
                    .output()
                    .with(o -> {
                      o.half = half;
                      o.more = Set.of(Output.More.DEEP);
                      o.leftOut = Map.of("Back", Set.of("deep"));
                    })));
  }

  private static DeepPicture read(Path file) throws Exception {
    return DeepPicture.of(ExrReader.read(file).parts().getFirst());
  }

  @Test
  void anotherProgramFlattensADeepLayerToItsFlatPicture() throws Exception {
    Path out = dir.resolve("out");
    Delivery delivery = Renders.delivery(deep(false), out, 1, false);
    for (String layer : List.of("Floor", "Front")) {
      String deep = "out/set/%1$s_deep/set_%1$s_deep.0002.exr".formatted(layer);
      Programs.run(dir, "oiiotool", deep, "--flatten", "-o", "flat.exr");
      Programs.run(
          dir,
          "oiiotool",
          delivery.folder().resolve(delivery.held(layer, 2).orElseThrow().path()).toString(),
          "--ch",
          "R,G,B,A",
          "-o",
          "beauty.exr");
      Programs.run(dir, "oiiotool", "flat.exr", "--ch", "R,G,B,A", "-o", "flat.exr");
      Programs.run(dir, "idiff", "-fail", "2e-6", "flat.exr", "beauty.exr");
      assertThat(Programs.run(dir, "exrheader", deep)).contains("deepscanline");
    }
    assertThat(out.resolve("set/Back_deep")).doesNotExist();
    assertThat(delivery.files())
        .filteredOn(f -> f.passes().equals(List.of("deep")))
        .extracting(Delivery.Entry::layer)
        .containsOnly("Floor", "Front");
    assertThat(DeliveryProof.prove(delivery, 2).exact()).isTrue();
  }

  @Test
  void bandsAndThreadsChangeNothing() throws Exception {
    LoadedShot shot = deep(false);
    FrameRenderer.Settings settings =
        new FrameRenderer.Settings(240, 96, 3, 2, false, Region.whole(240, 96));
    Path out = dir.resolve("out");
    new DeliveryRenderer(
            shot, new DeliveryOrder(out, List.of(), List.of(1), false, settings, false), 240 * 32)
        .run((f, p, s) -> {});
    FrameRenderer.Settings one =
        new FrameRenderer.Settings(240, 96, 3, 1, false, Region.whole(240, 96));
    var whole = new FrameRenderer(shot, one).forFiles().render(1, l -> true, false, p -> {});
    DeepPicture expected = whole.deep(0);
    DeepPicture found = read(out.resolve("set/Floor_deep/set_Floor_deep.0001.exr"));
    assertThat(expected).isNotNull();
    assertThat(found.pixels()).isDeepEqualTo(expected.pixels());
    assertThat(expected.most()).isGreaterThan(2);
  }

  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void mergingIsWhatAnotherProgramMerges(boolean stretches) throws Exception {
    // it merges pictures whose samples ascend and do not overlap; where a place and a stretch begin
    // at the same depth it does not always put the place in front
    DeepPicture a = random(1, stretches).tidy();
    DeepPicture b = random(2, stretches).tidy();
    write(a, "a.exr");
    write(b, "b.exr");
    Programs.run(dir, "oiiotool", "a.exr", "b.exr", "--deepmerge", "-o", "m.exr");
    Programs.run(dir, "oiiotool", "m.exr", "--flatten", "-d", "float", "-o", "f.exr");
    DeepPicture own = a.merged(b);
    DeepPicture other = read(dir.resolve("m.exr"));
    for (int p = 0; p < own.pixels().length; p++) {
      // it may leave out what is behind an opaque sample
      int seen = Math.min(own.pixels()[p].length, untilOpaque(own.pixels()[p]));
      assertThat(other.pixels()[p].length).as("pixel %d", p).isGreaterThanOrEqualTo(seen);
      for (int k = 0; k < seen; k++) {
        assertThat(own.pixels()[p][k])
            .as("pixel %d, number %d", p, k)
            .isCloseTo(other.pixels()[p][k], within(2e-5f));
      }
    }
    Picture flat = own.flattened();
    ExrPart told = ExrReader.read(dir.resolve("f.exr")).parts().getFirst();
    String[] names = {"R", "G", "B", "A"};
    for (int c = 0; c < 4; c++) {
      float[] plane = told.real(names[c]);
      for (int p = 0; p < plane.length; p++) {
        assertThat(flat.rgba()[4 * p + c])
            .as("%s of pixel %d", names[c], p)
            .isCloseTo(plane[p], within(2e-5f));
      }
    }
  }

  private static int untilOpaque(float[] samples) {
    int at = 0;
    while (at < samples.length && samples[at + DeepPicture.ALPHA] < 1) {
      at += DeepPicture.NUMBERS;
    }
    return at + DeepPicture.NUMBERS;
  }

  /** Pixels of up to six samples, some of them at the same depths, some opaque. */
  private static DeepPicture random(long seed, boolean stretches) {
    Random random = new Random(seed);
    float[][] pixels = new float[24 * 16][];
    for (int p = 0; p < pixels.length; p++) {
      float[] own = new float[DeepPicture.NUMBERS * random.nextInt(7)];
      for (int at = 0; at < own.length; at += DeepPicture.NUMBERS) {
        float front = 1 + random.nextInt(8);
        own[at] = front;
        own[at + 1] = front + (stretches ? random.nextInt(1, 5) : 0);
        float alpha =
            switch (random.nextInt(6)) {
              case 0 -> 1;
              case 1 -> 0;
              default -> random.nextFloat();
            };
        own[at + 5] = alpha;
        for (int c = 2; c < 5; c++) {
          own[at + c] = alpha * random.nextFloat();
        }
      }
      pixels[p] = own;
    }
    return new DeepPicture(24, 16, pixels);
  }

  private void write(DeepPicture picture, String name) throws Exception {
    Box box = Box.ofSize(picture.width(), picture.height());
    SortedMap<Channel, Samples> channels = picture.channels(PixelType.FLOAT);
    ExrHeader head =
        ExrHeader.of("", Compression.ZIPS, box, box, Map.of(), List.copyOf(channels.keySet()));
    ExrPart part =
        new ExrPart(head.asDeep(), List.of(new Level(0, 0, box, picture.counts(), channels)));
    try (OutputStream to = Files.newOutputStream(dir.resolve(name))) {
      ExrWriter.write(new ExrImage(List.of(part)), to);
    }
    assertThat(read(dir.resolve(name)).pixels()).isDeepEqualTo(picture.pixels());
    assertThat(Arrays.stream(picture.counts()).sum()).isPositive();
  }
}
