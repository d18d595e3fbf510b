package org.wedgecutter.core.io;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.joml.Matrix4f;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TimeRange;
import org.wedgecutter.core.testing.ShotFolder;

class ContentDigestTest {
  @TempDir Path dir;

  private record Pair(String a, String b) {}

  private record Other(String a, String b) {}

  private enum Word {
    ONE
  }

  @Test
  void differentValuesHaveDifferentDigests() {
    Object[] values = {
      "a",
      "b",
      "",
      1,
      2L,
      1.0,
      true,
      false,
      Word.ONE,
      "ONE",
      List.of(),
      List.of("a"),
      List.of(List.of("a")),
      List.of("a", "b"),
      List.of("ab"),
      List.of("b", "a"),
      Set.of("a", "b"),
      new Pair("a", "b"),
      new Pair("ab", ""),
      new Other("a", "b"),
      new float[] {1, 2},
      new float[] {2, 1},
      new float[] {-0f},
      new float[] {0f},
      new int[] {1},
      new byte[] {1},
      new short[] {1},
      new double[] {1},
      new boolean[] {true},
      new Matrix4f(),
      new Matrix4f().translate(1, 0, 0),
      Map.of("a", "b"),
      Map.of("b", "a")
    };
    Set<String> found = new HashSet<>();
    for (Object value : values) {
      found.add(ContentDigest.of(value));
    }
    assertThat(found).hasSize(values.length);
  }

  @Test
  void mapsAndSetsHaveNoOrderAndPathsNoMeaning() {
    Map<String, Integer> one = new LinkedHashMap<>(Map.of("a", 1));
    one.put("b", 2);
    Map<String, Integer> other = new LinkedHashMap<>(Map.of("b", 2));
    other.put("a", 1);
    assertThat(ContentDigest.of(one)).isEqualTo(ContentDigest.of(other));
    assertThat(ContentDigest.of(Path.of("x"))).isEqualTo(ContentDigest.of(Path.of("y")));
    assertThat(ContentDigest.of(Optional.of("a"))).isEqualTo(ContentDigest.of("a"));
    assertThat(ContentDigest.of(Optional.empty())).isEqualTo(ContentDigest.of((Object) null));
  }

  @Test
  void itIsTheShaOfTheDocumentedBytes() throws Exception {
    // a list of one value, a string of two bytes: kind and length before each
    byte[] bytes = new byte[6 + 6 + 2];
    bytes[1] = 'l';
    bytes[5] = 1;
    bytes[7] = 's';
    bytes[11] = 2;
    System.arraycopy("ab".getBytes(StandardCharsets.UTF_8), 0, bytes, 12, 2);
    String expected = HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
    assertThat(ContentDigest.of("ab")).isEqualTo(expected);
  }

  @Test
  void longArraysGoPastTheBlock() {
    float[] a = new float[10_000];
    float[] b = a.clone();
    assertThat(ContentDigest.of((Object) a)).isEqualTo(ContentDigest.of((Object) b));
    b[9_999] = 1;
    assertThat(ContentDigest.of((Object) a)).isNotEqualTo(ContentDigest.of((Object) b));
  }

  @Test
  void aSceneReadTwiceFromTwoPlacesHasOneDigest() throws Exception {
    LoadedShot one = ShotFolder.load(dir.resolve("a"));
    LoadedShot other = ShotFolder.load(dir.resolve("b"));
    assertThat(ContentDigest.of(one.scene(), one.pictures()))
        .isEqualTo(ContentDigest.of(other.scene(), other.pictures()));
    Scene s = one.scene();
    Scene longer =
        new Scene(
            s.file(),
            s.nodes(),
            s.entities(),
            s.meshes(),
            s.materials(),
            s.images(),
            s.lights(),
            s.media(),
            s.deformations(),
            s.cameras(),
            TimeRange.until(s.duration() + 1),
            s.variants(),
            s.unsupported());
    assertThat(ContentDigest.of(longer)).isNotEqualTo(ContentDigest.of(s));
  }

  @Test
  void whatIsNoValueIsRefused() {
    assertThatThrownBy(() -> ContentDigest.of(new Object()))
        .isInstanceOf(IllegalArgumentException.class);
  }
}
