package org.wedgecutter.core.load;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;

import java.awt.image.BufferedImage;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Base64;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.image.PictureFiles;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.Wildcards;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.files.SceneFiles;

/** Small scenes that ask for much: read in a time that grows with them, or refused at once. */
class HostileScenesTest {
  private static final Duration SOON = Duration.ofSeconds(20);

  @TempDir Path dir;

  private static String buffer(int floats) {
    byte[] bytes = new byte[4 * floats];
    bytes[15] = 0x3f;
    bytes[14] = (byte) 0x80;
    bytes[31] = 0x3f;
    bytes[30] = (byte) 0x80;
    return Base64.getEncoder().encodeToString(bytes);
  }

  /** A scene of one triangle with these nodes. */
  private Path scene(String roots, String nodes, String more) throws Exception {
    Path file = dir.resolve("scene.gltf");
    Files.writeString(
        file,
        """
        {"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [%s]}], "nodes": [%s],
         "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
         "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3"}%s
        }
        """
            .formatted(
                roots,
                nodes,
                more.isEmpty()
                    ? "], \"bufferViews\": [{\"buffer\": 0, \"byteLength\": 36}], \"buffers\": [{\"byteLength\": 36, \"uri\": \"data:application/octet-stream;base64,%s\"}]"
                        .formatted(buffer(9))
                    : more));
    return file;
  }

  @Test
  void manyNodesOfOneNameAreReadInATimeThatGrowsWithThem() throws Exception {
    int count = 60_000;
    Path file =
        scene(
            IntStream.range(0, count).mapToObj(String::valueOf).collect(Collectors.joining(",")),
            IntStream.range(0, count)
                .mapToObj(i -> "{\"name\": \"leaf\", \"mesh\": 0}")
                .collect(Collectors.joining(",")),
            "");
    Scene scene = assertTimeoutPreemptively(SOON, () -> SceneFiles.read(file));
    assertThat(scene.entity("/leaf")).isPresent();
    assertThat(scene.entity("/leaf~2")).isPresent();
    assertThat(scene.entity("/leaf~" + count)).isPresent();
  }

  @Test
  void aChainOfNodesIsRefused() throws Exception {
    int count = 100_000;
    Path file =
        scene(
            "0",
            IntStream.range(0, count)
                .mapToObj(
                    i -> i == count - 1 ? "{\"mesh\": 0}" : "{\"children\": [%d]}".formatted(i + 1))
                .collect(Collectors.joining(",")),
            "");
    assertTimeoutPreemptively(
        SOON,
        () ->
            assertThatThrownBy(() -> SceneFiles.read(file))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("levels deep, at most 1000 are read"));
  }

  @Test
  void instancesThatTheFileDoesNotHoldAreRefused() throws Exception {
    Path file =
        scene(
            "0",
            "{\"mesh\": 0, \"extensions\": {\"EXT_mesh_gpu_instancing\": {\"attributes\": {\"TRANSLATION\": 1}}}}",
            ", {\"componentType\": 5126, \"count\": 5000000, \"type\": \"VEC3\"}], \"bufferViews\": [{\"buffer\": 0, \"byteLength\": 36}], \"buffers\": [{\"byteLength\": 36, \"uri\": \"data:application/octet-stream;base64,%s\"}]"
                .formatted(buffer(9)));
    assertTimeoutPreemptively(
        SOON,
        () ->
            assertThatThrownBy(() -> SceneFiles.read(file))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("MiB of memory"));
  }

  @Test
  void oneBufferNamedManyTimesIsReadOnce() throws Exception {
    byte[] bytes = new byte[1 << 20];
    System.arraycopy(Base64.getDecoder().decode(buffer(9)), 0, bytes, 0, 36);
    Files.write(dir.resolve("all.bin"), bytes);
    String one = "{\"byteLength\": 1048576, \"uri\": \"all.bin\"}";
    Path file =
        scene(
            "0",
            "{\"mesh\": 0}",
            "], \"bufferViews\": [{\"buffer\": 0, \"byteLength\": 36}], \"buffers\": [%s]"
                .formatted(
                    IntStream.range(0, 3000).mapToObj(i -> one).collect(Collectors.joining(","))));
    assertTimeoutPreemptively(SOON, () -> assertThat(SceneFiles.read(file).meshes()).hasSize(1));
  }

  @Test
  void manyMeshesOnAnAccessorOfZerosAreRefused() throws Exception {
    Path file = dir.resolve("zeros.gltf");
    Files.writeString(
        file,
        """
        {"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [%s]}], "nodes": [%s],
         "meshes": [%s], "accessors": [{"componentType": 5126, "count": 5500000, "type": "VEC3"}]}
        """
            .formatted(
                IntStream.range(0, 200).mapToObj(String::valueOf).collect(Collectors.joining(",")),
                IntStream.range(0, 200)
                    .mapToObj("{\"mesh\": %d}"::formatted)
                    .collect(Collectors.joining(",")),
                IntStream.range(0, 200)
                    .mapToObj(i -> "{\"primitives\": [{\"attributes\": {\"POSITION\": 0}}]}")
                    .collect(Collectors.joining(","))));
    assertTimeoutPreemptively(
        Duration.ofSeconds(60),
        () ->
            assertThatThrownBy(() -> SceneFiles.read(file))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("MiB of memory"));
  }

  @Test
  void onePictureOfManyNamesIsDecodedOnce() throws Exception {
    BufferedImage large = new BufferedImage(4000, 4000, BufferedImage.TYPE_INT_RGB);
    ImageIO.write(large, "png", dir.resolve("large.png").toFile());
    String image = "{\"uri\": \"large.png\"}";
    Path file =
        scene(
            "0",
            "{\"mesh\": 0}",
            "], \"bufferViews\": [{\"buffer\": 0, \"byteLength\": 36}], \"buffers\": [{\"byteLength\": 36, \"uri\": \"data:application/octet-stream;base64,%s\"}], \"images\": [%s]"
                .formatted(
                    buffer(9),
                    IntStream.range(0, 50).mapToObj(i -> image).collect(Collectors.joining(","))));
    Scene scene = assertTimeoutPreemptively(SOON, () -> SceneFiles.read(file));
    assertThat(scene.images()).hasSize(50);
    assertThat(scene.images().get(49).rgba()).isSameAs(scene.images().get(0).rgba());
    assertThat(scene.images().get(49).name()).isEqualTo("image49");
  }

  @Test
  void dataOfTwentyMebibytesWithinTheFileOpen() throws Exception {
    byte[] bytes = new byte[20 << 20];
    System.arraycopy(Base64.getDecoder().decode(buffer(9)), 0, bytes, 0, 36);
    Path file =
        scene(
            "0",
            "{\"mesh\": 0}",
            "], \"bufferViews\": [{\"buffer\": 0, \"byteLength\": 36}], \"buffers\": [{\"byteLength\": %d, \"uri\": \"data:application/octet-stream;base64,%s\"}]"
                .formatted(bytes.length, Base64.getEncoder().encodeToString(bytes)));
    assertThat(SceneFiles.read(file).meshes()).hasSize(1);
  }

  @Test
  void aFaceOfVeryManyCornersIsReadOrRefusedSoon() throws Exception {
    StringBuilder obj = new StringBuilder();
    int count = 300_000;
    for (int i = 0; i < count; i++) {
      double a = 2 * Math.PI * i / count;
      obj.append("v %.6f %.6f 0\n".formatted(Math.cos(a), Math.sin(a)));
    }
    obj.append('f');
    for (int i = 1; i <= count; i++) {
      obj.append(' ').append(i);
    }
    Path file = Files.writeString(dir.resolve("round.obj"), obj.append('\n'));
    assertTimeoutPreemptively(
        SOON,
        () -> {
          try {
            assertThat(SceneFiles.read(file).meshes()).hasSize(1);
          } catch (InputException e) {
            assertThat(e.getMessage()).contains("corners");
          }
        });
  }

  @Test
  void aSkyWithoutEndOfItsHeaderOrOfClaimedPixelsIsRefused() throws Exception {
    Path file = dir.resolve("sky.hdr");
    Files.writeString(file, "#?RADIANCE\nCOMMENT=" + "x".repeat(30_000_000));
    assertTimeoutPreemptively(
        SOON,
        () ->
            assertThatThrownBy(() -> PictureFiles.read(file))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("header is longer"));
    Files.writeString(
        file, "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 10000 +X 10000\n" + "x".repeat(1000));
    assertTimeoutPreemptively(
        SOON,
        () ->
            assertThatThrownBy(() -> PictureFiles.read(file))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("MiB of memory"));
  }

  @Test
  void manyWildcardsAgainstALongNameTakeNoTime() {
    String name = "a".repeat(500);
    String pattern = "*a".repeat(100) + "b";
    assertTimeoutPreemptively(
        Duration.ofSeconds(5),
        () -> {
          for (int k = 0; k < 100; k++) {
            assertThat(Wildcards.matchName(pattern, name)).isFalse();
            assertThat(Wildcards.matchName("*a".repeat(100) + "*", name)).isTrue();
          }
        });
    Map<String, Boolean> expected = new TreeMap<>();
    expected.put("*", true);
    expected.put("/set/*", true);
    expected.put("/s?t/h*o", true);
    expected.put("/set?hero", true);
    expected.put("set", false);
    expected.forEach(
        (p, is) -> assertThat(Wildcards.matchName(p, "/set/hero")).as(p).isEqualTo(is));
  }
}
