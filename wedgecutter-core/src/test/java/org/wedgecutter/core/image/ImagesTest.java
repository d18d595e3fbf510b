package org.wedgecutter.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.testing.GltfText;

class ImagesTest {
  @TempDir Path dir;

  private static Picture noise(int width, int height, long seed) {
    Random random = new Random(seed);
    Picture p = Picture.empty(width, height);
    for (int i = 0; i < p.rgba().length; i++) {
      p.rgba()[i] = (i & 3) == 3 ? 1 : (float) Math.pow(10, random.nextDouble() * 6 - 3);
    }
    return p;
  }

  @Test
  void radiancePicturesComeBackWithinTheirPrecision() throws Exception {
    for (int width : new int[] {8, 127, 128, 129, 300}) {
      Picture p = noise(width, 5, width);
      Path file = dir.resolve("p.hdr");
      try (var out = Files.newOutputStream(file)) {
        RadianceHdr.write(p, out);
      }
      Picture back = RadianceHdr.read(file);
      assertThat(back.sameSize(p)).isTrue();
      for (int i = 0; i < p.rgba().length; i += 4) {
        float max = Math.max(p.rgba()[i], Math.max(p.rgba()[i + 1], p.rgba()[i + 2]));
        for (int c = 0; c < 3; c++) {
          assertThat(back.rgba()[i + c]).isCloseTo(p.rgba()[i + c], within(max / 127));
        }
        assertThat(back.rgba()[i + 3]).isEqualTo(1);
      }
    }
  }

  @Test
  void anIndependentToolReadsWhatIsWritten() throws Exception {
    Path file = dir.resolve("p.hdr");
    try (var out = Files.newOutputStream(file)) {
      RadianceHdr.write(noise(64, 32, 4), out);
    }
    Process process =
        new ProcessBuilder("oiiotool", "--stats", "p.hdr")
            .directory(dir.toFile())
            .redirectErrorStream(true)
            .start();
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor()).as(out).isZero();
    assertThat(out).contains("64 x   32");
  }

  @Test
  void widthsThatTheFormHasNotAreRefused() {
    assertThatThrownBy(() -> RadianceHdr.write(noise(7, 2, 1), new ByteArrayOutputStream()))
        .isInstanceOf(IOException.class);
  }

  @Test
  void brokenRadiancePicturesAreRefused() throws Exception {
    Path file = dir.resolve("p.hdr");
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    RadianceHdr.write(noise(64, 32, 4), out);
    byte[] whole = out.toByteArray();
    for (int size : new int[] {0, 4, 20, 50, 200, whole.length - 5}) {
      Files.write(file, Arrays.copyOf(whole, size));
      assertThatThrownBy(() -> RadianceHdr.read(file))
          .isInstanceOf(InputException.class)
          .hasMessageContaining("p.hdr");
    }
    Files.writeString(file, "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 100000 +X 100000\n");
    assertThatThrownBy(() -> RadianceHdr.read(file)).isInstanceOf(InputException.class);
    assertThatThrownBy(() -> RadianceHdr.read(dir.resolve("none.hdr")))
        .isInstanceOf(InputException.class);
  }

  @Test
  void texturesKeepTheirNumbers() throws Exception {
    TextureImage image =
        TextureImage.decode(GltfText.png(2, 1, 0x4080c0), "t", Path.of("f"), "images[0]");
    assertThat(image.rgba())
        .containsExactly(
            0x40, (byte) 0x80, (byte) 0xc0, (byte) 255, 0x40, (byte) 0x80, (byte) 0xc0, (byte) 255);
  }

  @Test
  void greyImagesKeepTheirNumbersToo() throws Exception {
    var grey = new java.awt.image.BufferedImage(2, 1, java.awt.image.BufferedImage.TYPE_BYTE_GRAY);
    grey.getRaster().setSample(0, 0, 0, 77);
    grey.getRaster().setSample(1, 0, 0, 200);
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    javax.imageio.ImageIO.write(grey, "png", out);
    TextureImage image = TextureImage.decode(out.toByteArray(), "t", Path.of("f"), "images[0]");
    assertThat(image.rgba()[0]).isEqualTo((byte) 77);
    assertThat(image.rgba()[5]).isEqualTo((byte) 200);
  }

  @ParameterizedTest
  @CsvSource({"jpg, 5", "png, 5", "png, 6"})
  void coloursAreWhereverTheFileHasThem(String form, int type) throws Exception {
    // 5: blue, green, red; 6: alpha, blue, green, red
    int[] colors = {0xffd03020, 0xff20b040, 0xff3050e0, 0xffe0e010};
    var image = new java.awt.image.BufferedImage(32, 16, type);
    for (int k = 0; k < 32 * 16; k++) {
      image.setRGB(k % 32, k / 32, colors[k % 32 / 16 + 2 * (k / 32 / 8)]);
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    javax.imageio.ImageIO.write(image, form, out);
    TextureImage read = TextureImage.decode(out.toByteArray(), "t", Path.of("f"), "images[0]");
    assertThat(read.rgba()).hasSize(4 * 32 * 16);
    for (int quarter = 0; quarter < 4; quarter++) {
      int at = 4 * (32 * (4 + 8 * (quarter / 2)) + 8 + 16 * (quarter % 2));
      for (int c = 0; c < 3; c++) {
        int stored = read.rgba()[at + c] & 0xff;
        assertThat(stored).isCloseTo(colors[quarter] >> (16 - 8 * c) & 0xff, within(12));
      }
      assertThat(read.rgba()[at + 3]).isEqualTo((byte) 255);
    }
  }

  @Test
  void picturesKnowTheirSize() {
    assertThatThrownBy(() -> new Picture(2, 2, new float[15]))
        .isInstanceOf(IllegalArgumentException.class);
    Picture a = Picture.empty(2, 3);
    Picture b = a.copy();
    b.rgba()[0] = 1;
    assertThat(a.rgba()[0]).isZero();
    assertThat(a.sameSize(Picture.empty(3, 2))).isFalse();
    assertThat(Picture.luma(1, 1, 1)).isCloseTo(1, within(1e-6f));
  }
}
