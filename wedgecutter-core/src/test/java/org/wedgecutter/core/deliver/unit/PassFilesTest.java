package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.ShotFolder;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.PixelType;

/** Everything that can be written beside the beauty, read by independent tools and by our own. */
class PassFilesTest {
  @TempDir Path dir;

  private Path delivery() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    Output o = shot.plan().output();
    shot = shot.withPlan(shot.plan().withOutput(o.withMore(EnumSet.allOf(Output.More.class))));
    Path folder = dir.resolve("out");
    DeliveryOrder order =
        new DeliveryOrder(
            folder,
            List.of(),
            List.of(1),
            true,
            FrameRenderer.Settings.of(shot, 1, 2, 1, false),
            false);
    DeliveryRenderer renderer = new DeliveryRenderer(shot, order);
    renderer.run((frame, share, all) -> {});
    assertThat(renderer.invalidSamples()).isZero();
    return folder;
  }

  private static List<Path> files(Path folder) throws Exception {
    try (Stream<Path> all = Files.walk(folder)) {
      return all.filter(f -> f.toString().endsWith(".exr") && !f.toString().contains("_deep"))
          .sorted()
          .toList();
    }
  }

  private static String run(Path folder, String... command) throws Exception {
    Process p =
        new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true).start();
    String out = new String(p.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(p.waitFor()).as("%s%n%s", String.join(" ", command), out).isZero();
    return out;
  }

  @Test
  void theHeadersAreRightForOthers() throws Exception {
    Path folder = delivery();
    for (Path file : files(folder)) {
      String header = run(folder, "exrheader", file.toString());
      assertThat(header)
          .contains("CryptoObject00.r, 32-bit floating-point")
          .contains("CryptoMaterial02.a", "CryptoCollection00.r")
          .contains("Z, 32-bit floating-point")
          .contains("N.X, 16-bit floating-point")
          .contains("forward.U", "backward.V", "uv.U", "depth-ramp.Y", "occlusion.Y")
          .contains("unshadowed.R", "shadow.B", "albedo.G", "light.other.R", "medium.R");
      String seen = run(folder, "iinfo", "-v", file.toString());
      assertThat(seen)
          .contains("/conversion: \"uint32_to_float32\"")
          .contains("/hash: \"MurmurHash3_32\"")
          .contains("/name: \"CryptoCollection\"")
          .contains("/front");
    }
  }

  @Test
  void mattesAndDepthAreKeptToTheLastBit() throws Exception {
    Path folder = delivery();
    Path front =
        files(folder).stream().filter(f -> f.toString().contains("Front")).findFirst().get();
    ExrPart part = ExrReader.read(front).parts().getFirst();
    float[] id = part.real("CryptoObject00.r");
    float[] cover = part.real("CryptoObject00.g");
    float[] alpha = part.real("A");
    float own = org.wedgecutter.core.pass.IdMattes.id("/front");
    int covered = 0;
    for (int p = 0; p < alpha.length; p++) {
      assertThat(cover[p]).isCloseTo(alpha[p], within(1e-3f));
      if (alpha[p] > 0) {
        assertThat(id[p]).isEqualTo(own);
        covered++;
      } else {
        assertThat(id[p]).isZero();
      }
    }
    assertThat(covered).isGreaterThan(10);
    assertThat(part.channels().keySet().stream().filter(c -> c.name().equals("Z")))
        .allMatch(c -> c.type() == PixelType.FLOAT);
    // an independent tool adds the mattes of all layers up to the uncut frame's alpha
    List<String> sum = new ArrayList<>(List.of("oiiotool"));
    for (Path file : files(folder)) {
      if (!file.toString().contains("uncut")) {
        for (int rank = 0; rank < 6; rank++) {
          String ranked = "CryptoObject%02d.%s".formatted(rank / 2, rank % 2 == 0 ? "g" : "a");
          sum.addAll(List.of(file.toString(), "--ch", ranked, "--chnames", "Y"));
          if (sum.contains("-d")) {
            sum.add("--add");
          } else {
            sum.addAll(List.of("-d", "float"));
          }
        }
      }
    }
    sum.addAll(List.of("-o", "sum.exr"));
    run(folder, sum.toArray(String[]::new));
    float[] all = ExrReader.read(folder.resolve("sum.exr")).parts().getFirst().real("Y");
    Path uncut =
        files(folder).stream().filter(f -> f.toString().contains("uncut")).findFirst().get();
    float[] whole = ExrReader.read(uncut).parts().getFirst().real("A");
    assertThat(all).hasSameSizeAs(whole);
    for (int p = 0; p < all.length; p++) {
      // alpha is written as half
      assertThat(all[p]).isCloseTo(whole[p], within(1e-3f));
    }
    assertThat(whole).contains(1f);
  }
}
