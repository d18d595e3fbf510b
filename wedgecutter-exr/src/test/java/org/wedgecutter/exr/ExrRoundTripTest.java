package org.wedgecutter.exr;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class ExrRoundTripTest {
  private static void assertSame(ExrPart was, ExrPart is) {
    assertThat(is.name()).isEqualTo(was.name());
    assertThat(is.compression()).isEqualTo(was.compression());
    assertThat(is.dataWindow()).isEqualTo(was.dataWindow());
    assertThat(is.displayWindow()).isEqualTo(was.displayWindow());
    assertThat(is.channels().keySet()).containsExactlyElementsOf(was.channels().keySet());
    was.channels()
        .forEach((channel, samples) -> {
          switch (samples) {
            case Samples.Real real ->
                assertThat(((Samples.Real) is.channels().get(channel)).values())
                    .containsExactly(real.values());
            case Samples.Whole whole ->
                assertThat(((Samples.Whole) is.channels().get(channel)).values())
                    .containsExactly(whole.values());
          }
        });
    assertThat(is.attributes().keySet())
        .containsExactlyInAnyOrderElementsOf(was.attributes().keySet());
    was.attributes()
        .forEach((name, value) ->
            assertThat(is.attributes().get(name).encode()).isEqualTo(value.encode()));
  }

  @ParameterizedTest
  @EnumSource(
      value = Compression.class,
      names = {"NONE", "RLE", "ZIPS", "ZIP", "PIZ"})
  void everyCompressionGivesTheSameNumbersBack(Compression compression) throws Exception {
    for (int seed = 0; seed < 20; seed++) {
      Box box = new Box(-3, 5, -3 + seed * 2, 5 + (seed * 7) % 40);
      ExrPart part = TestImages.part("", compression, box, seed);
      assertSame(part, ExrReader.read(TestImages.bytes(part)).parts().getFirst());
    }
  }

  @Test
  void severalPartsKeepTheirOrderAndSizes() throws Exception {
    ExrPart a = TestImages.part("room", Compression.ZIP, Box.ofSize(33, 17), 1);
    ExrPart b = TestImages.part("hero", Compression.RLE, Box.ofSize(5, 40), 2);
    ExrPart c = TestImages.part("shadow", Compression.NONE, Box.ofSize(1, 1), 3);
    List<ExrPart> back = ExrReader.read(TestImages.bytes(a, b, c)).parts();
    assertThat(back).hasSize(3);
    assertSame(a, back.get(0));
    assertSame(b, back.get(1));
    assertSame(c, back.get(2));
  }

  @Test
  void runsAndSmoothDataShrink() throws Exception {
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    channels.put(new Channel("A", PixelType.FLOAT), new Samples.Real(new float[64 * 64]));
    for (Compression compression :
        List.of(Compression.RLE, Compression.ZIPS, Compression.ZIP, Compression.PIZ)) {
      ExrPart part =
          new ExrPart(
              "",
              compression,
              Box.ofSize(64, 64),
              Box.ofSize(64, 64),
              java.util.Map.of(),
              channels);
      assertThat(TestImages.bytes(part).length).isLessThan(64 * 64);
    }
  }

  @Test
  void halfRoundsToTheNearestElevenBits() throws Exception {
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    channels.put(
        new Channel("R", PixelType.HALF),
        new Samples.Real(new float[] {1 + 0x1p-11f, 1 + 0x1.8p-10f, 70000, -0.0f}));
    ExrPart part =
        new ExrPart(
            "", Compression.NONE, Box.ofSize(4, 1), Box.ofSize(4, 1), java.util.Map.of(), channels);
    assertThat(ExrReader.read(TestImages.bytes(part)).parts().getFirst().real("R"))
        .containsExactly(1, 1 + 0x1p-9f, Float.POSITIVE_INFINITY, -0.0f);
  }

  @Test
  void aPartRefusesChannelsOfAnotherSize() {
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    channels.put(new Channel("R", PixelType.HALF), new Samples.Real(new float[3]));
    assertThatThrownBy(() ->
            new ExrPart(
                "",
                Compression.NONE,
                Box.ofSize(2, 2),
                Box.ofSize(2, 2),
                java.util.Map.of(),
                channels))
        .hasMessageContaining("channel R needs 4 samples");
  }

  @Test
  void partsOfOneFileNeedDifferentNames() {
    ExrPart part = TestImages.part("a", Compression.NONE, Box.ofSize(1, 1), 1);
    assertThatThrownBy(() -> new ExrImage(List.of(part, part)))
        .hasMessageContaining("different names");
  }

  @Test
  void someLinesAreThoseOfTheWhole() throws Exception {
    for (Compression compression : Compression.values()) {
      if (compression.isWritten()) {
        ExrPart part = TestImages.part("", compression, new Box(-3, 5, 20, 305), 3);
        byte[] file = TestImages.bytes(part);
        ExrPart whole = ExrReader.read(file).parts().getFirst();
        try (ExrInput in = ExrInput.of(file)) {
          float[] lines = ((Samples.Real) samples(in.lines(0, 40, 7), "Z")).values();
          assertThat(lines)
              .isEqualTo(Arrays.copyOfRange(whole.real("Z"), 24 * (40 - 5), 24 * (47 - 5)));
          assertThat(in.lines(0, 305, 1)).hasSize(3);
          assertThatThrownBy(() -> in.lines(0, 300, 7))
              .isInstanceOf(IllegalArgumentException.class);
        }
      }
    }
  }

  @ParameterizedTest
  @EnumSource(
      value = Compression.class,
      names = {"NONE", "RLE", "ZIPS", "ZIP", "PIZ"})
  void someChannelsAreThoseOfTheWhole(Compression compression) throws Exception {
    // lines of more steps than are added up at once
    ExrPart part = TestImages.part("", compression, Box.ofSize(1501, 35), 4);
    try (ExrInput in = ExrInput.of(TestImages.bytes(part))) {
      assertSame(part, in.part(0, n -> true));
      for (Channel channel : part.channels().keySet()) {
        ExrPart one = in.part(0, channel.name()::equals);
        assertThat(one.channels().keySet()).containsExactly(channel);
        switch (part.channels().get(channel)) {
          case Samples.Real real -> assertThat(one.real(channel.name())).isEqualTo(real.values());
          case Samples.Whole whole ->
              assertThat(((Samples.Whole) one.channels().get(channel)).values())
                  .isEqualTo(whole.values());
        }
      }
    }
  }

  private static Samples samples(SortedMap<Channel, Samples> of, String name) {
    return of.entrySet().stream()
        .filter(e -> e.getKey().name().equals(name))
        .findFirst()
        .orElseThrow()
        .getValue();
  }

  @Test
  void whatTheFormatDoesNotTakeIsNotWritten() {
    ExrPart part = TestImages.part("a", Compression.B44, Box.ofSize(4, 4), 1);
    assertThatThrownBy(() -> TestImages.bytes(part)).hasMessageContaining("B44 is read only");
    ExrPart a = TestImages.part("a", Compression.ZIP, Box.ofSize(4, 4), 1);
    ExrPart b =
        new ExrPart(
            "b", Compression.ZIP, Box.ofSize(4, 4), Box.ofSize(9, 9), Map.of(), a.channels());
    assertThatThrownBy(() -> TestImages.bytes(a, b)).hasMessageContaining("display window");
  }
}
