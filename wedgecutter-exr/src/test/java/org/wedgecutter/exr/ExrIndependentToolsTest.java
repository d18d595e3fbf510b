package org.wedgecutter.exr;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** The OpenEXR project's own tools, and an image tool built on them, read what is written here. */
class ExrIndependentToolsTest {
  @TempDir Path dir;

  private String run(String... command) throws Exception {
    Process process =
        new ProcessBuilder(command).directory(dir.toFile()).redirectErrorStream(true).start();
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor()).as("%s: %s", List.of(command), out).isZero();
    return out;
  }

  private void write(String name, ExrPart... parts) throws Exception {
    Files.write(dir.resolve(name), TestImages.bytes(parts));
  }

  @ParameterizedTest
  @EnumSource(
      value = Compression.class,
      mode = EnumSource.Mode.EXCLUDE,
      names = {"B44", "B44A"})
  void headersReadTheSameElsewhere(Compression compression) throws Exception {
    write("one.exr", TestImages.part("", compression, new Box(-2, 3, 30, 40), 9));
    String header = run("exrheader", "one.exr");
    assertThat(header)
        .contains("diffuse.direct.R, 16-bit floating-point")
        .contains("Z, 32-bit floating-point")
        .contains("id, 32-bit unsigned integer")
        .contains("framesPerSecond")
        .contains("layer (type string): \"Hero\"");
    write(
        "two.exr",
        TestImages.part("room", compression, Box.ofSize(30, 40), 9),
        TestImages.part("hero", compression, Box.ofSize(11, 12), 10));
    assertThat(run("exrheader", "two.exr")).contains("part 1").contains("\"hero\"");
  }

  @ParameterizedTest
  @EnumSource(
      value = Compression.class,
      names = {"NONE", "RLE", "ZIPS", "ZIP", "PIZ"})
  void pixelsReadTheSameElsewhere(Compression compression) throws Exception {
    float[] red = new float[35 * 21];
    for (int i = 0; i < red.length; i++) {
      red[i] = (float) Math.sin(i) * 5;
    }
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    channels.put(new Channel("R", PixelType.FLOAT), new Samples.Real(red));
    channels.put(new Channel("G", PixelType.HALF), new Samples.Real(red.clone()));
    Box box = Box.ofSize(35, 21);
    write("ours.exr", new ExrPart("", compression, box, box, Map.of(), channels));
    run("oiiotool", "ours.exr", "-d", "float", "--compression", "zip", "-o", "theirs.exr");
    run("idiff", "-fail", "0", "-warn", "0", "ours.exr", "theirs.exr");
    ExrPart back = ExrReader.read(dir.resolve("theirs.exr")).parts().getFirst();
    assertThat(back.real("R")).containsExactly(red);
    List<Float> rounded = new ArrayList<>();
    for (float v : red) {
      rounded.add(Float.float16ToFloat(Float.floatToFloat16(v)));
    }
    float[] green = back.real("G");
    for (int i = 0; i < green.length; i++) {
      assertThat(green[i]).isEqualTo(rounded.get(i));
    }
  }
}
