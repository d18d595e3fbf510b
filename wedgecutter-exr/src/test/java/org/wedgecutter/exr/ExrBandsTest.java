package org.wedgecutter.exr;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;
import java.util.List;
import java.util.SortedMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** A file written band by band is the file written whole. */
class ExrBandsTest {
  private static final Box BOX = new Box(3, 5, 21, 53);

  @TempDir Path dir;

  private static SortedMap<Channel, Samples> band(ExrPart part, int from, int to) {
    int width = part.dataWindow().width();
    SortedMap<Channel, Samples> out = ExrPart.newChannels();
    part.channels()
        .forEach((channel, samples) ->
            out.put(
                channel,
                switch (samples) {
                  case Samples.Real r ->
                      new Samples.Real(Arrays.copyOfRange(r.values(), from * width, to * width));
                  case Samples.Whole w ->
                      new Samples.Whole(Arrays.copyOfRange(w.values(), from * width, to * width));
                }));
    return out;
  }

  private FileChannel open(String name) throws IOException {
    return FileChannel.open(dir.resolve(name), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
  }

  private static ExrBands begin(FileChannel channel, ExrPart part) throws IOException {
    return new ExrBands(
        channel,
        part.compression(),
        part.dataWindow(),
        part.displayWindow(),
        part.attributes(),
        part.channels().keySet());
  }

  @ParameterizedTest
  @EnumSource(
      value = Compression.class,
      mode = EnumSource.Mode.EXCLUDE,
      names = {"B44", "B44A"})
  void bandsMakeTheSameFile(Compression compression) throws Exception {
    ExrPart part = TestImages.part("", compression, BOX, 11);
    int height = BOX.height();
    int chunk = Math.max(16, compression.linesPerChunk());
    for (int lines : new int[] {chunk, 2 * chunk, height}) {
      String name = compression + "-" + lines;
      try (FileChannel channel = open(name)) {
        try (ExrBands bands = begin(channel, part)) {
          for (int y = 0; y < height; y += lines) {
            bands.write(band(part, y, Math.min(height, y + lines)));
          }
        }
      }
      assertThat(Files.readAllBytes(dir.resolve(name)))
          .as("%s, %d lines a band", compression, lines)
          .isEqualTo(TestImages.bytes(part));
    }
  }

  @Test
  void whatStandsBeforeInTheChannelStaysAndIsNotCounted() throws Exception {
    ExrPart part = TestImages.part("", Compression.ZIP, BOX, 12);
    try (FileChannel channel = open("after")) {
      channel.write(java.nio.ByteBuffer.wrap(new byte[] {1, 2, 3}));
      try (ExrBands bands = begin(channel, part)) {
        bands.write(band(part, 0, BOX.height()));
      }
      assertThat(channel.position()).isEqualTo(channel.size());
    }
    byte[] all = Files.readAllBytes(dir.resolve("after"));
    assertThat(all).startsWith(1, 2, 3);
    assertThat(Arrays.copyOfRange(all, 3, all.length)).isEqualTo(TestImages.bytes(part));
  }

  @Test
  void severalPartsGrowSideBySide() throws Exception {
    ExrPart one = TestImages.part("one", Compression.ZIP, BOX, 15);
    ExrPart two = TestImages.part("two", Compression.PIZ, BOX, 16);
    try (FileChannel channel = open("parts")) {
      ExrBands bands = new ExrBands(channel, List.of(one.header(), two.header()));
      bands.write(0, null, band(one, 0, 32));
      bands.write(1, null, band(two, 0, 32));
      bands.write(0, null, band(one, 32, 49));
      assertThatThrownBy(bands::close).hasMessage("32 lines of 49 were written");
      bands.write(1, null, band(two, 32, 49));
      bands.close();
    }
    List<ExrPart> read = ExrReader.read(dir.resolve("parts")).parts();
    List<ExrPart> whole = ExrReader.read(TestImages.bytes(one, two)).parts();
    for (int p = 0; p < 2; p++) {
      assertThat(read.get(p)).usingRecursiveComparison().isEqualTo(whole.get(p));
    }
    try (FileChannel channel = open("same")) {
      assertThatThrownBy(() -> new ExrBands(channel, List.of(one.header(), one.header())))
          .hasMessage("parts need names, all different");
    }
  }

  @Test
  void aFileThatEndsTooSoonIsNoFile() throws Exception {
    ExrPart part = TestImages.part("", Compression.ZIP, BOX, 13);
    try (FileChannel channel = open("short")) {
      ExrBands bands = begin(channel, part);
      bands.write(band(part, 0, 16));
      assertThatThrownBy(bands::close)
          .isInstanceOf(IOException.class)
          .hasMessage("16 lines of 49 were written");
    }
  }

  @Test
  void bandsThatDoNotFitAreRefused() throws Exception {
    ExrPart part = TestImages.part("", Compression.ZIP, BOX, 14);
    try (FileChannel channel = open("wrong")) {
      ExrBands bands = begin(channel, part);
      assertThatThrownBy(() -> bands.write(band(part, 0, 15)))
          .hasMessage("15 lines after 0 of 49 do not fill chunks of 16");
      bands.write(band(part, 0, 32));
      assertThatThrownBy(() -> bands.write(band(part, 0, 32)))
          .hasMessage("32 lines after 32 of 49 do not fill chunks of 16");
      SortedMap<Channel, Samples> fewer = band(part, 32, 49);
      fewer.remove(fewer.firstKey());
      assertThatThrownBy(() -> bands.write(fewer)).hasMessageStartingWith("a band of other");
      SortedMap<Channel, Samples> uneven = band(part, 32, 49);
      uneven.put(uneven.lastKey(), new Samples.Whole(new int[3]));
      assertThatThrownBy(() -> bands.write(uneven)).hasMessageContaining("no whole lines");
      // what was refused left no trace
      bands.write(band(part, 32, 49));
      bands.close();
    }
    assertThat(Files.readAllBytes(dir.resolve("wrong"))).isEqualTo(TestImages.bytes(part));
  }
}
