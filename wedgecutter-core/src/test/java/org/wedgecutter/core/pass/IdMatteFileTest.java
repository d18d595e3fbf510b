package org.wedgecutter.core.pass;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.testing.Programs;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;

/** ID mattes in files that an image tool has written, with IDs that this test works out itself. */
class IdMatteFileTest {
  @TempDir Path dir;

  /** MurmurHash3 of 32 bits, seed 0, from its public definition. */
  private static int murmur(String name) {
    byte[] in = name.getBytes(StandardCharsets.UTF_8);
    int h = 0;
    int k = 0;
    for (int i = 0; i < in.length; i++) {
      k |= (in[i] & 0xff) << 8 * (i % 4);
      boolean full = i % 4 == 3;
      if (full || i == in.length - 1) {
        k = Integer.rotateLeft(k * 0xcc9e2d51, 15) * 0x1b873593;
        h ^= k;
        h = full ? Integer.rotateLeft(h, 13) * 5 + 0xe6546b64 : h;
        k = 0;
      }
    }
    h ^= in.length;
    h = (h ^ h >>> 16) * 0x85ebca6b;
    h = (h ^ h >>> 13) * 0xc2b2ae35;
    return h ^ h >>> 16;
  }

  /** The ID as a float: its exponent is neither all zeros nor all ones. */
  private static float id(String name) {
    int bits = murmur(name);
    int exponent = bits >>> 23 & 255;
    return Float.intBitsToFloat(exponent == 0 || exponent == 255 ? bits ^ 1 << 23 : bits);
  }

  private static String hex(String name) {
    return "%08x".formatted(Float.floatToRawIntBits(id(name)));
  }

  /** A picture of two halves: hero and set on the left, set and a nameless thing on the right. */
  private ExrPart made(String... header) throws Exception {
    String left = "constant:color=%s,0.75,%s,0.25".formatted(id("hero"), id("set/wall"));
    String right = "constant:color=%s,0.5,%s,0.125".formatted(id("set/wall"), id("lost"));
    List<String> command =
        new ArrayList<>(
            List.of(
                "oiiotool",
                "--evaloff",
                "--pattern",
                left,
                "4x4",
                "4",
                "--pattern",
                right,
                "4x4",
                "4",
                "--mosaic",
                "2x1",
                "--chnames",
                "Layer.Asset00.R,Layer.Asset00.G,Layer.Asset00.B,Layer.Asset00.A",
                "-d",
                "float"));
    for (int k = 0; k < header.length; k += 2) {
      command.addAll(List.of("--sattrib", "cryptomatte/9a1c3f2/" + header[k], header[k + 1]));
    }
    command.addAll(List.of("-o", "made.exr"));
    Programs.run(dir, command.toArray(String[]::new));
    return ExrReader.read(dir.resolve("made.exr")).parts().getFirst();
  }

  @Test
  void theHashIsThePublicOne() {
    assertThat(murmur("hello")).isEqualTo(0x248bfa47);
    for (String name :
        List.of("", "a", "hero", "set/wall", "\u00dcber/gr\u00f6\u00dfe", "{shot}_012")) {
      assertThat(IdMattes.id(name)).as(name).isEqualTo(id(name));
    }
  }

  @Test
  void mattesOfAnotherWriterArePicked() throws Exception {
    ExrPart part =
        made(
            "name",
            "Layer.Asset",
            "hash",
            "MurmurHash3_32",
            "conversion",
            "uint32_to_float32",
            "manifest",
            "{\"hero\":\"%s\",\"set/wall\":\"%s\"}".formatted(hex("hero"), hex("set/wall")));
    IdMatteFile m = IdMatteFile.of(part, dir.resolve("made.exr")).getFirst();
    assertThat(m.layer()).isEqualTo("Layer.Asset");
    assertThat(m.names()).containsExactly("hero", "set/wall");
    assertThat(m.cover(m.ids("hero"))[0]).isEqualTo(0.75f);
    assertThat(m.cover(m.ids("hero"))[7]).isZero();
    assertThat(m.cover(m.ids("set/*"))[0]).isEqualTo(0.25f);
    assertThat(m.cover(m.ids("s?t/wall"))[7]).isEqualTo(0.5f);
    assertThat(m.cover(m.ids("*"))[8]).as("a second line").isEqualTo(1);
    // what the manifest does not tell has its hash all the same
    assertThat(m.cover(m.ids("lost"))[7]).isEqualTo(0.125f);
    assertThat(m.cover(m.ids("#" + hex("lost")))[7]).isEqualTo(0.125f);
    assertThat(m.ids("nothing")).isEmpty();
    assertThat(m.at(7, 3))
        .containsExactly(
            new IdMatteFile.Covered("set/wall", 0.5f),
            new IdMatteFile.Covered("#" + hex("lost"), 0.125f));
    assertThat(IdMatteFile.meant(List.of(m), "hero", "asset")).isPresent();
    assertThat(IdMatteFile.meant(List.of(m), "hero", "material")).isEmpty();
    assertThat(IdMatteFile.like(List.of(m), "WALL")).isEqualTo("set/wall");
  }

  @Test
  void aManifestBesideTheImageIsReadAndNoneElsewhere() throws Exception {
    Files.writeString(dir.resolve("names.json"), "{\"hero\": \"%s\"}".formatted(hex("hero")));
    ExrPart part = made("name", "Layer.Asset", "manif_file", "names.json");
    assertThat(IdMatteFile.of(part, dir.resolve("made.exr")).getFirst().names())
        .containsExactly("hero");
    ExrPart outside = made("name", "Layer.Asset", "manif_file", "../names.json");
    assertThatThrownBy(() -> IdMatteFile.of(outside, dir.resolve("made.exr")))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("manif_file");
    ExrPart wrong = made("name", "Layer.Asset", "manifest", "{\"hero\": \"zz\"}");
    assertThatThrownBy(() -> IdMatteFile.of(wrong, dir.resolve("made.exr")))
        .hasMessageContaining("eight hexadecimal digits");
  }
}
