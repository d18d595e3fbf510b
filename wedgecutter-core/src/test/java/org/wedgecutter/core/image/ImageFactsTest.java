package org.wedgecutter.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.awt.image.BufferedImage;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrHeader;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.Level;
import org.wedgecutter.exr.LineOrder;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;
import org.wedgecutter.exr.Screen;

class ImageFactsTest {
  @TempDir Path dir;

  private Path write(ExrPart... parts) throws Exception {
    Path file = dir.resolve("a.exr");
    try (OutputStream out = Files.newOutputStream(file)) {
      ExrWriter.write(new ExrImage(List.of(parts)), out);
    }
    return file;
  }

  @Test
  void channelsOfEveryPartAreSummedUp() throws Exception {
    SortedMap<Channel, Samples> one = ExrPart.newChannels();
    float nan = Float.NaN;
    float inf = Float.POSITIVE_INFINITY;
    one.put(
        new Channel("R", PixelType.FLOAT),
        new Samples.Real(new float[] {1, -2, 4, nan, inf, -inf}));
    one.put(new Channel("id", PixelType.UINT), new Samples.Whole(new int[] {0, 0, 0, 0, 0, -1}));
    one.put(
        new Channel("none", PixelType.HALF),
        new Samples.Real(new float[] {nan, nan, nan, nan, nan, nan}));
    Map<String, Attribute> attributes = new LinkedHashMap<>();
    attributes.put("layer", new Attribute.Text("Hero"));
    attributes.put("framesPerSecond", new Attribute.Rational(24, 1));
    attributes.put("cryptomatte/abc/name", new Attribute.Text("CryptoObject"));
    attributes.put(
        "cryptomatte/abc/manifest", new Attribute.Text("{\"hero\":\"0011\",\"table\":\"22ff\"}"));
    ExrPart a =
        new ExrPart("a", Compression.ZIP, new Box(-1, 2, 1, 3), Box.ofSize(9, 9), attributes, one);
    SortedMap<Channel, Samples> two = ExrPart.newChannels();
    two.put(new Channel("Z", PixelType.FLOAT), new Samples.Real(new float[] {3, 4, 8}));
    ExrHeader deep =
        new ExrHeader(
            "b",
            Compression.ZIPS,
            Box.ofSize(2, 1),
            Box.ofSize(9, 9),
            Screen.PLAIN,
            LineOrder.INCREASING,
            null,
            true,
            Map.of(),
            List.copyOf(two.keySet()));
    ExrPart b =
        new ExrPart(deep, List.of(new Level(0, 0, Box.ofSize(2, 1), new int[] {1, 2}, two)));
    List<ImageFacts.Part> parts = ImageFacts.of(write(a, b)).parts();
    ImageFacts.Part first = parts.get(0);
    assertThat(first.name()).isEqualTo("a");
    assertThat(first.type()).isEqualTo("scanlineimage");
    assertThat(first.compression()).isEqualTo("zip");
    assertThat(first.dataWindow()).containsExactly(-1, 2, 1, 3);
    assertThat(first.displayWindow()).containsExactly(0, 0, 8, 8);
    assertThat(first.attributes()).containsEntry("layer", "Hero");
    assertThat(first.attributes()).containsEntry("framesPerSecond", "24/1");
    assertThat(first.channels())
        .containsExactly(
            new ImageFacts.ChannelFacts("R", "float", -2.0, 4.0, 1.0, 1, 2),
            new ImageFacts.ChannelFacts("id", "uint", 0.0, 4294967295.0, 4294967295.0 / 6, 0, 0),
            new ImageFacts.ChannelFacts("none", "half", null, null, null, 6, 0));
    assertThat(first.mattes())
        .containsExactly(new ImageFacts.Matte("CryptoObject", List.of("hero", "table")));
    ImageFacts.Part second = parts.get(1);
    assertThat(second.type()).isEqualTo("deepscanline");
    assertThat(second.deep()).isEqualTo(new ImageFacts.Deep(3, 2));
    assertThat(second.channels().getFirst().mean()).isCloseTo(5, within(1e-12));
  }

  @Test
  void largeFilesAreSummedBandByBand() throws Exception {
    int side = 1200;
    float[] values = new float[side * side];
    for (int k = 0; k < values.length; k++) {
      values[k] = k / side;
    }
    SortedMap<Channel, Samples> c = ExrPart.newChannels();
    c.put(new Channel("Y", PixelType.FLOAT), new Samples.Real(values));
    Box box = Box.ofSize(side, side);
    ImageFacts.ChannelFacts told =
        ImageFacts.of(write(new ExrPart("", Compression.PIZ, box, box, Map.of(), c)))
            .parts()
            .getFirst()
            .channels()
            .getFirst();
    assertThat(told.min()).isEqualTo(0);
    assertThat(told.max()).isEqualTo(side - 1);
    assertThat(told.mean()).isCloseTo((side - 1) / 2.0, within(1e-9));
  }

  @ParameterizedTest
  @ValueSource(strings = {"png", "tif"})
  void codesOfOtherFormatsAreAsStored(String format) throws Exception {
    BufferedImage image = new BufferedImage(2, 1, BufferedImage.TYPE_3BYTE_BGR);
    image.setRGB(0, 0, 0x102030);
    image.setRGB(1, 0, 0x304050);
    Path file = dir.resolve("a." + format);
    assertThat(ImageIO.write(image, format.equals("tif") ? "TIFF" : format, file.toFile()))
        .isTrue();
    ImageFacts.Part part = ImageFacts.of(file).parts().getFirst();
    assertThat(part.type()).isEqualTo(format.equals("tif") ? "tiff" : "png");
    assertThat(part.channels())
        .containsExactly(
            new ImageFacts.ChannelFacts("R", "uint8", 16.0, 48.0, 32.0, 0, 0),
            new ImageFacts.ChannelFacts("G", "uint8", 32.0, 64.0, 48.0, 0, 0),
            new ImageFacts.ChannelFacts("B", "uint8", 48.0, 80.0, 64.0, 0, 0));
  }

  @Test
  void whatCannotBeReadIsTold() throws Exception {
    assertThatThrownBy(() -> ImageFacts.of(dir.resolve("none.exr")))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("no such file");
    assertThatThrownBy(() -> ImageFacts.of(dir.resolve("none.png")))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("no such file");
    for (String name : new String[] {"bad.exr", "bad.png", "bad.tif", "bad.hdr"}) {
      Path file = dir.resolve(name);
      Files.write(file, new byte[] {1, 2, 3, 4, 5, 6, 7, 8, 9, 10});
      assertThatThrownBy(() -> ImageFacts.of(file))
          .as(name)
          .isInstanceOf(InputException.class)
          .hasMessageContaining(name);
    }
  }
}
