package org.wedgecutter.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.io.InputException;
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
import org.wedgecutter.exr.Tiles;

/** Pictures from EXR files of kinds that others write; numbers worked out by hand. */
class ExrPicturesTest {
  @TempDir Path dir;

  private static void put(SortedMap<Channel, Samples> to, String name, int sampling, float... v) {
    to.put(
        new Channel(name, PixelType.FLOAT, false, sampling, sampling), new Samples.Real(v.clone()));
  }

  private static ExrPart part(
      String name, Box box, Tiles tiles, int[] counts, SortedMap<Channel, Samples> channels) {
    ExrHeader header =
        new ExrHeader(
            name,
            counts == null ? Compression.PIZ : Compression.ZIPS,
            box,
            Box.ofSize(4, 4),
            Screen.PLAIN,
            LineOrder.INCREASING,
            tiles,
            counts != null,
            Map.of(),
            List.copyOf(channels.keySet()));
    return new ExrPart(header, List.of(new Level(0, 0, box, counts, channels)));
  }

  private Picture read(ExrPart... parts) throws Exception {
    Path file = dir.resolve("p.exr");
    try (OutputStream out = Files.newOutputStream(file)) {
      ExrWriter.write(new ExrImage(List.of(parts)), out);
    }
    return PictureFiles.read(file);
  }

  @Test
  void tilesOfASecondPartAreRead() throws Exception {
    SortedMap<Channel, Samples> depth = ExrPart.newChannels();
    put(depth, "Z", 1, 1, 2);
    SortedMap<Channel, Samples> colour = ExrPart.newChannels();
    put(colour, "R", 1, 1, 2, 3, 4, 5, 6);
    put(colour, "G", 1, 0, 0, 0, 0, 0, 7);
    put(colour, "B", 1, 9, 0, 0, 0, 0, 0);
    Picture p =
        read(
            part("depth", Box.ofSize(2, 1), null, null, depth),
            part("colour", Box.ofSize(3, 2), Tiles.of(2, 2), null, colour));
    assertThat(p.width()).isEqualTo(3);
    assertThat(p.rgba())
        .containsExactly(1, 0, 9, 1, 2, 0, 0, 1, 3, 0, 0, 1, 4, 0, 0, 1, 5, 0, 0, 1, 6, 7, 0, 1);
  }

  @Test
  void brightnessAndSubSampledColoursBecomeRgb() throws Exception {
    SortedMap<Channel, Samples> c = ExrPart.newChannels();
    put(c, "Y", 1, 0.5f, 0.5f, 0.5f, 1);
    // red is twice the brightness, blue half of it
    put(c, "RY", 2, 1);
    put(c, "BY", 2, -0.5f);
    Picture p = read(part("", Box.ofSize(2, 2), null, null, c));
    for (int k = 0; k < 4; k++) {
      float y = k < 3 ? 0.5f : 1;
      float r = p.rgba()[4 * k];
      float g = p.rgba()[4 * k + 1];
      float b = p.rgba()[4 * k + 2];
      assertThat(r).isCloseTo(2 * y, within(1e-6f));
      assertThat(b).isCloseTo(y / 2, within(1e-6f));
      assertThat(0.2126f * r + 0.7152f * g + 0.0722f * b).isCloseTo(y, within(1e-6f));
      assertThat(p.rgba()[4 * k + 3]).isEqualTo(1);
    }
  }

  @Test
  void brightnessAloneIsGrey() throws Exception {
    SortedMap<Channel, Samples> c = ExrPart.newChannels();
    put(c, "Y", 1, 0.25f);
    put(c, "A", 1, 0.5f);
    assertThat(read(part("", Box.ofSize(1, 1), null, null, c)).rgba())
        .containsExactly(0.25f, 0.25f, 0.25f, 0.5f);
  }

  @Test
  void deepSamplesLieOverOneAnotherByDepth() throws Exception {
    SortedMap<Channel, Samples> c = ExrPart.newChannels();
    // the far one first: red behind half-transparent green; and a pixel without samples
    put(c, "R", 1, 1, 0);
    put(c, "G", 1, 0, 0.5f);
    put(c, "B", 1, 0, 0);
    put(c, "A", 1, 1, 0.5f);
    put(c, "Z", 1, 5, 2);
    assertThat(read(part("deep", Box.ofSize(2, 1), null, new int[] {2, 0}, c)).rgba())
        .containsExactly(0.5f, 0.5f, 0, 1, 0, 0, 0, 0);
  }

  @Test
  void aFileWithoutColoursAndNumbersThatAreNoneAreTold() {
    SortedMap<Channel, Samples> c = ExrPart.newChannels();
    put(c, "Z", 1, 1);
    assertThatThrownBy(() -> read(part("", Box.ofSize(1, 1), null, null, c)))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("p.exr")
        .hasMessageContaining("no part has the channels R, G and B, or Y");
    SortedMap<Channel, Samples> bad = ExrPart.newChannels();
    put(bad, "Y", 1, 1, Float.NaN);
    assertThatThrownBy(() -> read(part("", Box.ofSize(2, 1), null, null, bad)))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("pixel 1, channel R");
  }
}
