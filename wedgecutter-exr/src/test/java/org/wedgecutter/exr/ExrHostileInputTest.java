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
  @EnumSource(
      value = Compression.class,
      mode = EnumSource.Mode.EXCLUDE,
      names = {"B44", "B44A"})
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
    assertThatThrownBy(() -> ExrReader.read(file))
        .hasMessageMatching("(?s).*(chunks|table|samples, at most).*");
  }

  @ParameterizedTest
  @EnumSource(
      value = Compression.class,
      mode = EnumSource.Mode.EXCLUDE,
      names = {"B44", "B44A"})
  void pixelsThatCannotBeInTheFileAreRefused(Compression compression) throws Exception {
    // a kilobyte that claims half a gigabyte
    byte[] file = TestImages.bytes(TestImages.part("", compression, Box.ofSize(2, 2), 5));
    byte[] mark = "dataWindow\0box2i\0".getBytes(java.nio.charset.StandardCharsets.UTF_8);
    int at = indexOf(file, mark) + mark.length + 4;
    ByteBuffer.wrap(file)
        .order(ByteOrder.LITTLE_ENDIAN)
        .putInt(at + 8, (1 << 14) - 1)
        .putInt(at + 12, (1 << 13) - 1);
    assertThatThrownBy(() -> ExrReader.read(file))
        .hasMessageMatching("(?s).*(the header claims pixels of|inside its table of chunks).*");
  }

  @Test
  void countsThatCannotBeInTheFileAreRefused() throws Exception {
    Box box = Box.ofSize(2, 2);
    ExrHeader header =
        new ExrHeader(
            "deep",
            Compression.ZIPS,
            box,
            box,
            Screen.PLAIN,
            LineOrder.INCREASING,
            null,
            true,
            java.util.Map.of(),
            java.util.List.of());
    byte[] file =
        TestImages.bytes(
            new ExrPart(
                header,
                java.util.List.of(new Level(0, 0, box, new int[4], ExrPart.newChannels()))));
    byte[] mark = "dataWindow\0box2i\0".getBytes(java.nio.charset.StandardCharsets.UTF_8);
    int at = indexOf(file, mark) + mark.length + 4;
    // wide lines of a part without channels: nothing but counts
    ByteBuffer.wrap(file).order(ByteOrder.LITTLE_ENDIAN).putInt(at + 8, (1 << 20) - 1);
    assertThatThrownBy(() -> ExrReader.read(file))
        .isInstanceOf(ExrException.class)
        .hasMessageContaining("the header claims pixels of");
  }

  @ParameterizedTest
  @EnumSource(
      value = Compression.class,
      names = {"NONE", "RLE", "ZIPS"})
  void damagedDeepFilesNeverEscapeAsOtherExceptions(Compression compression) throws Exception {
    Box box = Box.ofSize(5, 6);
    int[] counts = new int[30];
    int all = 0;
    for (int k = 0; k < counts.length; k++) {
      counts[k] = k % 4;
      all += counts[k];
    }
    var channels = ExrPart.newChannels();
    channels.put(new Channel("Z", PixelType.FLOAT), new Samples.Real(new float[all]));
    ExrHeader header =
        new ExrHeader(
            "deep",
            compression,
            box,
            box,
            Screen.PLAIN,
            LineOrder.INCREASING,
            null,
            true,
            java.util.Map.of(),
            java.util.List.copyOf(channels.keySet()));
    byte[] whole =
        TestImages.bytes(
            new ExrPart(header, java.util.List.of(new Level(0, 0, box, counts, channels))));
    int refused = 0;
    for (int seed = 0; seed < 3000; seed++) {
      Random random = new Random(seed);
      byte[] bad = whole.clone();
      for (int k = 0; k <= random.nextInt(4); k++) {
        bad[random.nextInt(bad.length)] = (byte) random.nextInt();
      }
      try {
        ExrReader.read(bad);
      } catch (ExrException e) {
        refused++;
      }
    }
    assertThat(refused).isGreaterThan(100);
  }

  @Test
  void partsOfOneNameAreRefused() throws Exception {
    ExrPart one = TestImages.part("a", Compression.NONE, Box.ofSize(2, 2), 5);
    ExrPart two = TestImages.part("b", Compression.NONE, Box.ofSize(2, 2), 6);
    byte[] file = TestImages.bytes(one, two);
    byte[] mark = "name\0string\0".getBytes(java.nio.charset.StandardCharsets.UTF_8);
    for (int at = 0; at < file.length - mark.length; at++) {
      if (Arrays.equals(file, at, at + mark.length, mark, 0, mark.length)) {
        file[at + mark.length + 4] = 'a';
      }
    }
    assertThatThrownBy(() -> ExrReader.read(file))
        .isInstanceOf(ExrException.class)
        .hasMessageContaining("two parts have the name 'a'");
  }

  @Test
  void aTableThatNamesAChunkTwiceIsRefused() throws Exception {
    byte[] file = TestImages.bytes(TestImages.part("", Compression.ZIPS, Box.ofSize(5, 4), 5));
    ByteBuffer in = ByteBuffer.wrap(file).order(ByteOrder.LITTLE_ENDIAN);
    int table = 0;
    while (in.getLong(table) != table + 32) {
      table++;
    }
    in.putLong(table + 8, in.getLong(table));
    assertThatThrownBy(() -> ExrReader.read(file))
        .isInstanceOf(ExrException.class)
        .hasMessageContaining("names chunk 0 twice");
  }

  @Test
  void namesThatTheFormatDoesNotTakeAreNotWritten() throws Exception {
    for (String name : new String[] {"x".repeat(256), "é".repeat(128)}) {
      var channels = ExrPart.newChannels();
      channels.put(new Channel(name, PixelType.FLOAT), new Samples.Real(new float[] {1, 2, 3, 4}));
      ExrPart part =
          new ExrPart(
              "",
              Compression.NONE,
              Box.ofSize(2, 2),
              Box.ofSize(2, 2),
              java.util.Map.of(),
              channels);
      assertThatThrownBy(() -> TestImages.bytes(part))
          .isInstanceOf(IllegalArgumentException.class)
          .hasMessageContaining("is no name");
    }
    var channels = ExrPart.newChannels();
    String longest = "x".repeat(255);
    channels.put(new Channel(longest, PixelType.FLOAT), new Samples.Real(new float[] {1, 2, 3, 4}));
    ExrPart part =
        new ExrPart(
            "", Compression.NONE, Box.ofSize(2, 2), Box.ofSize(2, 2), java.util.Map.of(), channels);
    assertThat(ExrReader.read(TestImages.bytes(part)).parts().getFirst().has(longest)).isTrue();
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
