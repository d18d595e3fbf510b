package org.wedgecutter.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.ByteArrayOutputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;

/** What is written, as an image tool reads it. */
class PictureWriterTest {
  @TempDir Path dir;

  private static Picture picture() {
    Picture p = Picture.empty(9, 5);
    Random random = new Random(2);
    for (int k = 0; k < p.rgba().length; k += 4) {
      float alpha = k == 0 ? 0 : k == 4 ? 1 : random.nextFloat();
      for (int c = 0; c < 3; c++) {
        p.rgba()[k + c] = alpha * 2 * random.nextFloat();
      }
      p.rgba()[k + 3] = alpha;
    }
    return p;
  }

  private ExrPart read(String name) throws Exception {
    try (OutputStream out = Files.newOutputStream(dir.resolve(name))) {
      PictureWriter.write(picture(), Path.of(name), out);
    }
    // without taking alpha into or out of the colours
    Process p =
        new ProcessBuilder("oiiotool", "--no-autopremult", name, "-d", "float", "-o", "read.exr")
            .directory(dir.toFile())
            .redirectErrorStream(true)
            .start();
    String told = new String(p.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(p.waitFor()).as(told).isZero();
    return ExrReader.read(dir.resolve("read.exr")).parts().getFirst();
  }

  @Test
  void tiffHoldsEveryBitOfLight() throws Exception {
    ExrPart part = read("a.tif");
    float[] expected = picture().rgba();
    for (int c = 0; c < 4; c++) {
      float[] plane = part.real("RGBA".substring(c, c + 1));
      for (int k = 0; k < plane.length; k++) {
        assertThat(plane[k]).isEqualTo(expected[4 * k + c]);
      }
    }
  }

  @Test
  void pngIsWhatAScreenShows() throws Exception {
    ExrPart part = read("a.png");
    float[] p = picture().rgba();
    for (int k = 0; k < 45; k++) {
      float alpha = p[4 * k + 3];
      assertThat(part.real("A")[k]).isCloseTo(alpha, within(1e-5f));
      for (int c = 0; c < 3; c++) {
        double light = alpha > 0 ? Math.min(1, p[4 * k + c] / alpha) : 0;
        double shown =
            light <= 0.0031308 ? 12.92 * light : 1.055 * Math.pow(light, 1 / 2.4) - 0.055;
        assertThat((double) part.real("RGB".substring(c, c + 1))[k]).isCloseTo(shown, within(2e-5));
      }
    }
    String bytes = Files.readString(dir.resolve("a.png"), StandardCharsets.ISO_8859_1);
    assertThat(bytes).contains("sRGB");
    assertThat(ImageFacts.of(dir.resolve("a.png")).parts().getFirst().channels())
        .extracting(ImageFacts.ChannelFacts::type)
        .containsOnly("uint16");
  }

  @Test
  void hdrHoldsColoursToAHundredth() throws Exception {
    ExrPart part = read("a.hdr");
    float[] p = picture().rgba();
    for (int k = 0; k < 45; k++) {
      float most = Math.max(p[4 * k], Math.max(p[4 * k + 1], p[4 * k + 2]));
      for (int c = 0; c < 3; c++) {
        assertThat(part.real("RGB".substring(c, c + 1))[k])
            .isCloseTo(p[4 * k + c], within(0.01f * most));
      }
    }
  }

  @Test
  void otherEndingsAreRefused() {
    for (String name : List.of("a.jpg", "a", "png")) {
      assertThat(PictureWriter.isFor(Path.of(name))).isFalse();
      assertThatThrownBy(
              () -> PictureWriter.write(picture(), Path.of(name), new ByteArrayOutputStream()))
          .isInstanceOf(IllegalArgumentException.class);
    }
    assertThat(PictureWriter.isFor(Path.of("A.TIFF"))).isTrue();
  }
}
