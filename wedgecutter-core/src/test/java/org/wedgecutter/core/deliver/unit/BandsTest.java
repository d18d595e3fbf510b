package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.concurrent.CancellationException;
import java.util.function.Function;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.Samples;

/** A large frame is rendered and written in bands, and nothing shows where they meet. */
class BandsTest {
  private static final int WIDTH = 240;
  private static final int HEIGHT = 60;

  /** Two bands in a frame. */
  private static final int BAND_PIXELS = 32 * WIDTH;

  @TempDir Path dir;

  private static FrameRenderer.Settings settings(Region region) {
    return new FrameRenderer.Settings(WIDTH, HEIGHT, 1, 2, false, region);
  }

  private DeliveryRenderer renderer(LoadedShot shot, Region region) throws Exception {
    return new DeliveryRenderer(
        shot,
        new DeliveryOrder(dir.resolve("out"), List.of(), List.of(1), true, settings(region), false),
        BAND_PIXELS);
  }

  private ExrPart part(String path) throws Exception {
    return ExrReader.read(dir.resolve("out").resolve(path)).parts().getFirst();
  }

  private static void same(ExrPart part, Picture whole, List<PassPicture> passes, boolean half)
      throws Exception {
    String[] names = {"R", "G", "B", "A"};
    for (int c = 0; c < 4; c++) {
      assertThat(part.real(names[c])).as(names[c]).isEqualTo(kept(whole.rgba(), 4, c, half));
    }
    for (PassPicture pass : passes) {
      int stride = pass.channels().size();
      for (int c = 0; c < stride; c++) {
        assertThat(part.real(pass.channel(c)))
            .as(pass.channel(c))
            .isEqualTo(kept(pass.values(), stride, c, half && !pass.exact()));
      }
    }
  }

  /** One channel of interleaved numbers, as a file keeps it. */
  private static float[] kept(float[] values, int stride, int channel, boolean half) {
    float[] out = new float[values.length / stride];
    for (int p = 0; p < out.length; p++) {
      float value = values[stride * p + channel];
      out[p] = half ? Float.float16ToFloat(Float.floatToFloat16(value)) : value;
    }
    return out;
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

  private LoadedShot filtered() throws Exception {
    return ShotFolder.changed(
        dir,
        "{\"name\": \"Back\", \"hue\": 1,",
        "{\"name\": \"Back\", \"hue\": 1, \"settings\": [{\"property\": \"denoise\","
            + " \"verb\": \"set\", \"value\": 0.7, \"on\": true}],");
  }

  @Test
  void whatIsFilteredIsTheSameInBands() throws Exception {
    LoadedShot shot = filtered();
    Region all = Region.whole(WIDTH, HEIGHT);
    DeliveryRenderer renderer = renderer(shot, all);
    renderer.run((f, p, s) -> {});
    RenderedFrame whole =
        new FrameRenderer(shot, settings(all)).render(1, l -> true, true, p -> {});
    assertThat(renderer.peakBytes()).as("in bands").isLessThan(whole.bytes());
    boolean half = shot.plan().output().half();
    same(part("set/Back/set_Back.0001.exr"), whole.layer(1), whole.passes(1), half);
    LoadedShot plain = ShotFolder.load(dir.resolve("plain"));
    Picture raw =
        new FrameRenderer(plain, settings(all)).render(1, l -> true, false, p -> {}).layer(1);
    assertThat(whole.layer(1).rgba()).as("it is filtered").isNotEqualTo(raw.rgba());
  }

  @ParameterizedTest
  @CsvSource({"0,0,40,30", "100,34,7,5", "118,28,1,1", "200,30,40,30", "60,27,100,9"})
  void aFilteredRegionIsThatOfTheWhole(int x, int y, int w, int h) throws Exception {
    LoadedShot shot = filtered();
    Region region = new Region(x, y, w, h);
    if (wholeFiltered == null) {
      wholeFiltered =
          new FrameRenderer(shot, settings(Region.whole(WIDTH, HEIGHT)))
              .render(1, l -> true, true, p -> {});
    }
    RenderedFrame part =
        new FrameRenderer(shot, settings(region)).render(1, l -> true, true, p -> {});
    assertThat(part.layer(1).rgba()).isEqualTo(wholeFiltered.layer(1).cropped(region).rgba());
    assertThat(part.uncut().rgba()).isEqualTo(wholeFiltered.uncut().cropped(region).rgba());
    PassPicture own = part.passes(1).getFirst();
    PassPicture all = wholeFiltered.passes(1).getFirst();
    for (int p = 0; p < w * h; p++) {
      int at = (y + p / w) * WIDTH + x + p % w;
      for (int c = 0; c < 3; c++) {
        assertThat(own.values()[3 * p + c]).isEqualTo(all.values()[3 * at + c]);
      }
    }
    assertThat(part.dominant(0, 0)).isEqualTo(wholeFiltered.dominant(x, y));
  }

  private static RenderedFrame wholeFiltered;

  @Test
  void aRegionIsWrittenInBandsToo() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    Region region = new Region(7, 11, 220, 44);
    renderer(shot, region).run((f, p, s) -> {});
    RenderedFrame whole =
        new FrameRenderer(shot, settings(region)).render(1, l -> true, true, p -> {});
    ExrPart part = part("set/uncut/set_uncut.0001.exr");
    assertThat(part.dataWindow()).isEqualTo(ExrFrames.box(region));
    same(part, whole.uncut(), List.of(), shot.plan().output().half());
  }

  @Test
  void whatIsStoppedBetweenBandsLeavesNoFileAndGoesOnWithTheBandsThatThereAre() throws Exception {
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
    Path out = dir.resolve("out");
    assertThat(Delivery.read(out).files()).isEmpty();
    assertThat(out.resolve("set")).doesNotExist();
    Path band = out.resolve("units/Back.0001.bands/0000.exr");
    assertThat(band).isRegularFile();
    Files.write(out.resolve("units/Front.0001.bands/0000.exr"), new byte[] {1});
    DeliveryRenderer again =
        new DeliveryRenderer(
            shot,
            new DeliveryOrder(
                out, List.of(), List.of(1), true, settings(Region.whole(WIDTH, HEIGHT)), true),
            BAND_PIXELS);
    again.run((f, p, s) -> {});
    RenderedFrame whole =
        new FrameRenderer(shot, settings(Region.whole(WIDTH, HEIGHT)))
            .render(1, l -> true, true, p -> {});
    same(part("set/Back/set_Back.0001.exr"), whole.layer(1), whole.passes(1), true);
    same(part("set/Front/set_Front.0001.exr"), whole.layer(2), whole.passes(2), true);
    assertThat(band).doesNotExist();
    // the band that was there was not traced again: of the first, only one layer was
    long again1 = again.classes().stream().mapToLong(RenderedFrame.ClassTime::rays).sum();
    long all = whole.classes().stream().mapToLong(RenderedFrame.ClassTime::rays).sum();
    assertThat(again1).isLessThan(all);
  }

  /** A band whose pixels, channels, parts, window or attributes were altered is rendered again. */
  @ParameterizedTest
  @ValueSource(strings = {"light", "channel", "part", "window", "passes", "cost"})
  void aBandThatIsNotWhatWasWrittenIsMadeAgain(String what) throws Exception {
    isMadeAgain(part -> altered(part, what));
  }

  /** With another file in place of its first band, a delivery goes on to the same bytes. */
  private void isMadeAgain(Function<ExrPart, ExrImage> change) throws Exception {
    BandedDelivery delivery = new BandedDelivery(ShotFolder.load(dir), dir.resolve("banded"));
    Path band = delivery.stopped().resolve(BandedDelivery.BAND);
    delivery.resume();
    Path file = dir.resolve("banded/set/Back/set_Back.0001.exr");
    byte[] right = Files.readAllBytes(file);
    delivery.stopped();
    write(change.apply(ExrReader.read(band).parts().getFirst()), band);
    delivery.resume();
    assertThat(Files.readAllBytes(file)).isEqualTo(right);
  }

  private static void write(ExrImage image, Path file) throws IOException {
    try (OutputStream out = Files.newOutputStream(file)) {
      ExrWriter.write(image, out);
    }
  }

  private static ExrImage altered(ExrPart part, String what) {
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    channels.putAll(part.channels());
    Map<String, Attribute> told = new LinkedHashMap<>(part.attributes());
    Box window = part.dataWindow();
    Channel red = channels.firstKey();
    switch (what) {
      case "light" -> {
        float[] values = ((Samples.Real) channels.get(red)).values().clone();
        values[7] += 0.5f;
        channels.put(red, new Samples.Real(values));
      }
      case "channel" -> channels.remove(red);
      case "window" -> {
        window = new Box(window.minX() + 1, window.minY(), window.maxX() + 1, window.maxY());
      }
      case "passes" -> told.put("unitPasses", new Attribute.Text("depth"));
      case "cost" -> told.put("unitCost", new Attribute.Text("much"));
      default -> {}
    }
    ExrPart flat =
        new ExrPart(
            part.name(),
            part.header().compression(),
            window,
            part.header().displayWindow(),
            told,
            channels);
    ExrPart more =
        new ExrPart(
            "more",
            Compression.ZIP,
            window,
            part.header().displayWindow(),
            Map.of(),
            part.channels());
    return new ExrImage(what.equals("part") ? List.of(flat, more) : List.of(flat));
  }

  /** Bands that are whole, each, but of two forms, are all made again. */
  @Test
  void bandsThatDoNotBelongTogetherAreMadeAgain() throws Exception {
    isMadeAgain(part -> {
      ExrPart fewer = altered(part, "channel").parts().getFirst();
      Map<String, Attribute> attributes = new LinkedHashMap<>(part.attributes());
      attributes.put(UnitBands.CONTENTS, UnitBands.contents(attributes, fewer.channels(), null));
      return new ExrImage(
          List.of(
              new ExrPart(
                  part.name(),
                  Compression.ZIP,
                  part.dataWindow(),
                  part.header().displayWindow(),
                  attributes,
                  fewer.channels())));
    });
  }

  @Test
  void aRecordTellsTheNoiseOfItsFile() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    int samples = 8;
    Region all = Region.whole(WIDTH, HEIGHT);
    FrameRenderer.Settings few = new FrameRenderer.Settings(WIDTH, HEIGHT, samples, 2, false, all);
    Path out = dir.resolve("out");
    new DeliveryRenderer(
            shot, new DeliveryOrder(out, List.of("Floor"), List.of(1), false, few, false))
        .run((f, p, s) -> {});
    double told = DeliveryStatus.read(out).cells().getFirst().noise();
    // other random numbers make another picture with the same error
    LoadedShot other =
        shot.withPlan(shot.plan().withShot(shot.plan().requireShot().with(s -> s.seed = 77)));
    int layer = shot.plan().layerIndex("Floor");
    Picture one =
        new FrameRenderer(shot, few).render(1, l -> l == layer, false, p -> {}).layer(layer);
    Picture two =
        new FrameRenderer(other, few).render(1, l -> l == layer, false, p -> {}).layer(layer);
    double sum = 0;
    for (int i = 0; i < one.rgba().length; i++) {
      double d = (i & 3) == 3 ? 0 : one.rgba()[i] - two.rgba()[i];
      sum += d * d;
    }
    double error = Math.sqrt(sum / (3.0 * WIDTH * HEIGHT) / 2);
    assertThat(told / error).isBetween(0.8, 1.6);
    // the manifest of units is read back as it was
    assertThat(Delivery.unitSchema().check(Files.readString(out.resolve("units/Floor.0001.json"))))
        .isEmpty();
  }
}
