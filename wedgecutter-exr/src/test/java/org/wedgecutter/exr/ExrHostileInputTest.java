package org.wedgecutter.exr;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class ExrHostileInputTest {
  @Test
  void everyTruncationIsRefusedWithAReason() throws Exception {
    byte[] whole = TestImages.bytes(TestImages.part("", Compression.ZIP, Box.ofSize(9, 20), 5));
    for (int size = 0; size < whole.length; size++) {
      byte[] cut = Arrays.copyOf(whole, size);
      assertThatThrownBy(() -> ExrReader.read(cut))
          .as("cut to %d bytes", size)
          .isInstanceOf(ExrException.class)
          .message()
          .isNotBlank();
    }
  }

  @ParameterizedTest
  @EnumSource(Compression.class)
  void damagedBytesNeverEscapeAsOtherExceptions(Compression compression) throws Exception {
    byte[] whole =
        TestImages.bytes(
            TestImages.part("a", compression, Box.ofSize(9, 20), 5),
            TestImages.part("b", compression, Box.ofSize(4, 4), 6));
    int refused = 0;
    for (int seed = 0; seed < 3000; seed++) {
      Random random = new Random(seed);
      byte[] bad = whole.clone();
      for (int k = 0; k <= random.nextInt(4); k++) {
        bad[random.nextInt(seed % 2 == 0 ? 900 : bad.length)] = (byte) random.nextInt();
      }
      try {
        ExrReader.read(bad);
      } catch (ExrException e) {
        refused++;
        assertThat(e.getMessage()).isNotBlank();
      }
    }
    assertThat(refused).isGreaterThan(100);
  }

  @Test
  void aHugeWindowIsRefusedBeforeMemoryIsTaken() throws Exception {
    byte[] file = TestImages.bytes(TestImages.part("", Compression.NONE, Box.ofSize(2, 2), 5));
    byte[] mark = "dataWindow\0box2i\0".getBytes(java.nio.charset.StandardCharsets.UTF_8);
    int at = indexOf(file, mark) + mark.length + 4;
    ByteBuffer.wrap(file)
        .order(ByteOrder.LITTLE_ENDIAN)
        .putInt(at + 8, 1 << 19)
        .putInt(at + 12, 1 << 19);
    assertThatThrownBy(() -> ExrReader.read(file)).hasMessageContaining("samples, at most");
  }

  @Test
  void theMessageNamesTheFile(@TempDir Path dir) throws Exception {
    Path file = dir.resolve("noise.exr");
    Files.write(file, new byte[] {1, 2, 3, 4, 5, 6, 7, 8, 9});
    assertThatThrownBy(() -> ExrReader.read(file))
        .hasMessageContaining("noise.exr: not an OpenEXR file");
  }

  private static int indexOf(byte[] in, byte[] what) {
    for (int i = 0; i < in.length - what.length; i++) {
      if (Arrays.equals(in, i, i + what.length, what, 0, what.length)) {
        return i;
      }
    }
    throw new AssertionError("not found");
  }
}
