package org.wedgecutter.core.scene.obj;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.files.SceneFiles;

/** Wavefront OBJ with its materials. */
class ObjReaderTest {
  @TempDir Path dir;

  private static final String OBJ =
      """
      mtllib paint.mtl
      v 0 0 0
      v 2 0 0
      v 2 1 0
      v 0 1 0
      v 0 0 1
      vt 0 0
      vt 1 0
      vt 1 1
      vt 0 1
      vn 0 0 1
      g panel
      usemtl red
      f 1/1/1 2/2/1 3/3/1 4/4/1
      g sail
      usemtl glass
      f 1 2 5
      usemtl nowhere
      f 1 5 4
      """;

  private static final String MTL =
      """
      newmtl red
      Kd 0.8 0.1 0.05
      Ks 0.04 0.04 0.04
      Ns 198
      d 0.75
      newmtl glass
      Kd 1 1 1
      Ni 1.45
      illum 7
      newmtl lamp
      Kd 0 0 0
      Ke 4 3 2
      """;

  private Scene read(String obj, String mtl) throws Exception {
    Files.writeString(dir.resolve("paint.mtl"), mtl);
    Path file = dir.resolve("thing.obj");
    Files.writeString(file, obj);
    return SceneFiles.read(file);
  }

  /** Many programs write a line for each object, and none for groups, or both. */
  @Test
  void objectsBecomeEntitiesAndTheirGroupsStandBelowThem() throws Exception {
    String faces = "f 1 2 5%nf 2 3 5%n".formatted();
    String obj =
        OBJ.substring(0, OBJ.indexOf("g panel"))
            + "o Little boat\n"
            + faces
            + "g sail\nusemtl red\n"
            + faces
            + "g default\n"
            + faces
            + "o Bu\u00f6y\n"
            + "g sail\n"
            + faces
            + "o a/b # c\n"
            + faces;
    Scene scene = read(obj, MTL);
    assertThat(scene.entities())
        .extracting(e -> e.path())
        .containsExactlyInAnyOrder(
            "/Little boat", "/Little boat/sail", "/Bu\u00f6y/sail", "/a_b _ c", "/environment");
    assertThat(scene.triangles()).isEqualTo(2 * 5);
    Entity sail = scene.entity("/Little boat/sail").orElseThrow();
    assertThat(sail.materials()).containsExactly("red");
    Node parent = scene.nodes().get(scene.nodes().get(sail.node()).parent());
    assertThat(parent.path()).isEqualTo("/Little boat");
    assertThat(scene.nodes().stream().map(Node::path)).doesNotHaveDuplicates();
  }

  @Test
  void groupsBecomeEntitiesAndPolygonsTriangles() throws Exception {
    Scene scene = read(OBJ, MTL);
    assertThat(scene.entities())
        .extracting(e -> e.path())
        .containsExactly("/panel", "/sail", "/environment");
    assertThat(scene.meshes().get(0).triangles()).isEqualTo(2);
    assertThat(scene.meshes().get(0).normals()).isNotNull();
    float[] uvs = scene.meshes().get(0).uvs();
    assertThat(uvs).isNotNull();
    assertThat(uvs[1]).as("v runs downwards here").isEqualTo(1);
    assertThat(scene.meshes().get(1).triangles()).isEqualTo(2);
    assertThat(scene.unsupported()).anyMatch(n -> n.contains("nowhere"));
    assertThat(scene.cameras()).hasSize(1);
  }

  @Test
  void materialsAreTranslated() throws Exception {
    Scene scene = read(OBJ, MTL);
    Material red = scene.material("red").orElseThrow();
    assertThat(red.baseColor()).isEqualTo(new Rgb(0.8f, 0.1f, 0.05f));
    assertThat(red.opacity()).isEqualTo(0.75f);
    assertThat(red.roughness()).isCloseTo((float) Math.sqrt(0.1), within(1e-4f));
    Material glass = scene.material("glass").orElseThrow();
    assertThat(glass.glass().thick()).isTrue();
    assertThat(glass.dielectric().ior()).isEqualTo(1.45f);
    assertThat(scene.material("lamp").orElseThrow().emission()).isEqualTo(new Rgb(4, 3, 2));
    assertThat(scene.entities().get(1).materials()).containsExactly("glass", "default");
  }

  @Test
  void aSceneOfThisKindIsAShotOfItsOwn() throws Exception {
    read(OBJ, MTL);
    LoadedShot shot = LoadedShot.load(dir.resolve("thing.obj"));
    assertThat(shot.camera().name()).isEqualTo("front");
    assertThat(shot.resolve(1).layers()).hasSize(1);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "mtllib ../elsewhere.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n",
        "mtllib missing.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n",
        "v 0 0 0\nv 1 0 0\nf 1 2 9\n",
        "v 0 0 zero\n",
        "v 0 0 0\nv NaN 0 0\nv 0 1 0\nf 1 2 3\n",
        "# nothing\n"
      })
  void badFilesAreRefusedWithOneClearError(String text) {
    assertThatThrownBy(() -> read(text, MTL))
        .isInstanceOf(InputException.class)
        .message()
        .isNotBlank();
  }

  @org.junit.jupiter.params.ParameterizedTest
  @org.junit.jupiter.params.provider.ValueSource(
      strings = {
        "f 0 1 2",
        "f 1 2 9",
        "f -1 -2 -9",
        "f 1/0 2/0 3/0",
        "f 1/-7 2/1 3/1",
        "f 1//-3 2//1 3//1",
        "f 1/9/1 2/1/1 3/1/1",
        "f 99999999999 1 2",
        "f a b c",
        "f 1/ / /",
        "f 1",
        "f"
      })
  void facesWithStrangeIndicesAreInputErrors(String face) throws Exception {
    Path file = dir.resolve("odd.obj");
    Files.writeString(file, "v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvn 0 0 1\n" + face + "\n");
    try {
      org.wedgecutter.core.scene.files.SceneFiles.read(file);
    } catch (InputException e) {
      assertThat(e.getMessage()).startsWith(file + ": ");
    }
  }
}
