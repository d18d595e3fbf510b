package org.wedgecutter.core.scene.gltf;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import org.joml.Vector3f;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneFacts;
import org.wedgecutter.core.testing.GltfText;

class GltfReaderTest {
  @TempDir Path dir;

  private Scene read(GltfText text) throws Exception {
    return GltfReader.read(text.gltf(dir.resolve("a.gltf")));
  }

  private void refused(GltfText text, String message) throws Exception {
    Path file = text.gltf(dir.resolve("a.gltf"));
    assertThatThrownBy(() -> GltfReader.read(file))
        .isInstanceOf(InputException.class)
        .hasMessageStartingWith(file + ": ")
        .hasMessageContaining(message)
        .satisfies(e -> assertThat(e.getMessage()).doesNotContain("\n"));
  }

  @Test
  void readsHierarchyMaterialsLightsAndCamera() throws Exception {
    Scene scene = read(new GltfText());
    assertThat(scene.entities().stream().map(Entity::path))
        .containsExactly("/group/leaf", "/group/leaf~2", "/environment");
    Entity leaf = scene.entities().getFirst();
    assertThat(leaf.kind()).isEqualTo(EntityKind.MESH);
    assertThat(leaf.tags()).containsExactly("set", "hero");
    assertThat(leaf.materials()).containsExactly("paint");
    assertThat(leaf.moves()).isTrue();
    assertThat(scene.entities().get(1).kind()).isEqualTo(EntityKind.LIGHT);
    assertThat(scene.entities().get(1).moves()).isFalse();
    Material paint = scene.materials().getFirst();
    assertThat(paint.baseColor()).isEqualTo(new Rgb(0.1f, 0.2f, 0.3f));
    assertThat(paint.metallic()).isEqualTo(0.4f);
    assertThat(paint.roughness()).isEqualTo(0.6f);
    assertThat(paint.emission()).isEqualTo(new Rgb(0.5f, 0, 0));
    assertThat(paint.dielectric().specular()).isEqualTo(1);
    Light lamp = scene.lights().getFirst();
    assertThat(lamp.type()).isEqualTo(Light.Type.SPOT);
    assertThat(lamp.intensity()).isEqualTo(new Rgb(8, 4, 2));
    assertThat(lamp.outerCone()).isEqualTo(0.3f);
    assertThat(scene.cameras().getFirst().verticalView()).isEqualTo(0.8f);
    assertThat(scene.unsupported()).isEmpty();
    assertThat(scene.triangles()).isEqualTo(1);
    assertThat(scene.duration()).isEqualTo(2);
    assertThat(SceneFacts.lights(scene))
        .containsExactly("/group/leaf (area)", "/group/leaf~2 (spot)");
    assertThat(SceneFacts.cameraNames(scene)).containsExactly("main");
    assertThat(SceneFacts.materialNames(scene)).containsExactly("paint");
    assertThat(SceneFacts.bounds(scene)).containsExactly(0, 0, 5, 2, 2, 5);
  }

  @Test
  void binaryAndTextAreTheSame() throws Exception {
    GltfText text = new GltfText();
    Path glb = dir.resolve("a.glb");
    Files.write(glb, text.glb());
    Scene a = GltfReader.read(glb);
    Scene b = read(text);
    assertThat(a.entities()).isEqualTo(b.entities());
    assertThat(a.meshes().getFirst().positions()).isEqualTo(b.meshes().getFirst().positions());
  }

  @Test
  void turnsAreInterpolatedOnTheSphereAndStandStillOutside() throws Exception {
    Scene scene = read(new GltfText());
    int node = scene.entities().getFirst().node();
    double[][] expected = {
      {-1, 2, 5, 0},
      {0, 2, 5, 0},
      {1, 2 * Math.sqrt(0.5), 5 - 2 * Math.sqrt(0.5), 0},
      {2, 0, 3, 0},
      {9, 0, 3, 0}
    };
    for (double[] e : expected) {
      Vector3f p = scene.pose(e[0])[node].transformPosition(new Vector3f(1, 0, 0));
      assertThat(p.x).isCloseTo((float) e[1], within(1e-5f));
      assertThat(p.z).isCloseTo((float) e[2], within(1e-5f));
    }
  }

  @Test
  void stepsAndSplinesFollowTheirDefinition() throws Exception {
    GltfText text = new GltfText();
    text.at("/animations/0/samplers/0").put("interpolation", "STEP");
    Scene stepped = read(text);
    Vector3f p =
        stepped.pose(1.9)[stepped.entities().getFirst().node()].transformPosition(
            new Vector3f(1, 0, 0));
    assertThat(p.x).isEqualTo(2);
    text.at("/animations/0/samplers/0").put("interpolation", "CUBICSPLINE");
    refused(text, "2 keys with 8 numbers, expected 12 for each");
    text.at("/animations/0/samplers/0").put("interpolation", "MAGIC");
    assertThat(read(text).unsupported()).anyMatch(n -> n.contains("interpolation"));
  }

  @Test
  void emissiveAndSpecularStrengthAreRead() throws Exception {
    GltfText text = new GltfText();
    var extensions = text.at("/materials/0").putObject("extensions");
    extensions.putObject("KHR_materials_emissive_strength").put("emissiveStrength", 6);
    extensions
        .putObject("KHR_materials_specular")
        .put("specularFactor", 0.25)
        .putArray("specularColorFactor")
        .add(1)
        .add(0.5)
        .add(0);
    Scene scene = read(text);
    assertThat(scene.materials().getFirst().emission()).isEqualTo(new Rgb(3, 0, 0));
    assertThat(scene.materials().getFirst().dielectric().specular()).isEqualTo(0.25f);
    assertThat(scene.materials().getFirst().dielectric().color()).isEqualTo(new Rgb(1, 0.5f, 0));
  }

  @Test
  void whatIsNotUnderstoodIsListedNotDropped() throws Exception {
    GltfText text = new GltfText();
    text.root.withArray("extensionsUsed").add("VENDOR_moon_dust");
    text.at("/meshes/0/primitives/0/attributes").put("TEXCOORD_1", 0);
    text.root
        .withArray("/meshes/0/primitives")
        .addObject()
        .put("mode", 1)
        .putObject("attributes")
        .put("POSITION", 0);
    text.root.withArray("scenes").addObject();
    Scene scene = read(text);
    assertThat(scene.unsupported())
        .anyMatch(s -> s.contains("VENDOR_moon_dust"))
        .anyMatch(s -> s.contains("TEXCOORD_1"))
        .anyMatch(s -> s.contains("points and lines"))
        .anyMatch(s -> s.contains("scenes[0] of 2"));
  }

  @Test
  void aRequiredExtensionThatIsUnknownIsRefused() throws Exception {
    GltfText text = new GltfText();
    text.root.putArray("extensionsRequired").add("VENDOR_moon_dust");
    refused(text, "extensionsRequired: needs VENDOR_moon_dust");
  }

  @Test
  void everyTruncationOfABinaryFileIsRefused() throws Exception {
    byte[] whole = new GltfText().glb();
    Path file = dir.resolve("cut.glb");
    for (int size = 1; size < whole.length; size += 7) {
      Files.write(file, Arrays.copyOf(whole, size));
      assertThatThrownBy(() -> GltfReader.read(file))
          .isInstanceOf(InputException.class)
          .hasMessageContaining("cut.glb");
    }
    Files.write(file, Arrays.copyOf(whole, whole.length - 9));
    assertThatThrownBy(() -> GltfReader.read(file)).hasMessageContaining("the file is cut off");
  }

  @Test
  void cyclesAndTwoParentsAreRefused() throws Exception {
    GltfText cycle = new GltfText();
    cycle.at("/nodes/2").putArray("children").add(0);
    refused(cycle, "nodes[0]: is its own ancestor");
    GltfText own = new GltfText();
    own.at("/nodes/3").putArray("children").add(3);
    refused(own, "nodes[3]: is its own ancestor");
    GltfText two = new GltfText();
    two.at("/nodes/3").putArray("children").add(1);
    refused(two, "nodes[1] has two parents");
  }

  @Test
  void indicesOutOfRangeAreRefusedWithTheirPlace() throws Exception {
    GltfText vertex = new GltfText();
    vertex.binary[36] = 9;
    refused(vertex, "meshes[0].primitives[0].indices: index 9 out of range 0..2");
    GltfText mesh = new GltfText();
    mesh.at("/nodes/1").put("mesh", 4);
    refused(mesh, "nodes[1].mesh: meshes[4] does not exist; there are 1");
    GltfText child = new GltfText();
    child.at("/nodes/3").putArray("children").add(77);
    refused(child, "nodes[3].children: nodes[77] does not exist");
    GltfText accessor = new GltfText();
    accessor.at("/meshes/0/primitives/0").put("indices", -1);
    refused(accessor, "accessors[-1] does not exist");
    GltfText material = new GltfText();
    material.at("/meshes/0/primitives/0").put("material", 3);
    refused(material, "materials[3] does not exist");
    GltfText view = new GltfText();
    view.at("/bufferViews/0").put("byteLength", 4000);
    refused(view, "bufferViews[0]: bytes 0 to 4000 of a buffer of 84");
    GltfText count = new GltfText();
    count.at("/accessors/0").put("count", 2000000000);
    refused(count, "accessors[0]");
    GltfText some = new GltfText();
    some.at("/accessors/0").put("count", 4);
    refused(some, "accessors[0]: 4 elements do not fit into bufferViews[0]");
    GltfText light = new GltfText();
    light.at("/nodes/2/extensions/KHR_lights_punctual").put("light", 2);
    refused(light, "nodes[2].extensions.KHR_lights_punctual.light: lights[2] does not exist");
  }

  @Test
  void positionsThatAreNoNumbersAreRefused() throws Exception {
    refused(
        new GltfText(new float[] {0, 0, 0, Float.NaN, 0, 0, 0, 1, 0}),
        "accessors[0]: element 1 is not a finite number");
    refused(
        new GltfText(new float[] {0, 0, 0, 1, 0, 0, 0, Float.POSITIVE_INFINITY, 0}),
        "accessors[0]: element 2 is not a finite number");
  }

  private static GltfText textured(String uri) {
    GltfText text = new GltfText();
    text.root.putArray("images").addObject().put("uri", uri);
    text.root.putArray("textures").addObject().put("source", 0);
    text.at("/materials/0/pbrMetallicRoughness").putObject("baseColorTexture").put("index", 0);
    return text;
  }

  @Test
  void texturesAreReadFromBesideTheFile() throws Exception {
    Files.write(dir.resolve("red paint.png"), GltfText.png(3, 2, 0xff0000));
    Scene scene = read(textured("red%20paint.png"));
    assertThat(scene.images().getFirst().width()).isEqualTo(3);
    assertThat(scene.images().getFirst().rgba()[0]).isEqualTo((byte) 255);
    assertThat(scene.materials().getFirst().baseColorTexture().image()).isZero();
  }

  @Test
  void missingBrokenAndEscapingTexturesAreRefused() throws Exception {
    refused(textured("gone.png"), "images[0].uri: ");
    refused(textured("gone.png"), "gone.png' not found");
    Files.writeString(dir.resolve("text.png"), "no picture");
    refused(textured("text.png"), "images[0]: not a PNG or JPEG image");
    byte[] png = GltfText.png(30, 20, 0x00ff00);
    Files.write(dir.resolve("cut.png"), Arrays.copyOf(png, 60));
    refused(textured("cut.png"), "images[0]: not a readable image");
    refused(textured("../secret.png"), "leads out of the folder");
    refused(textured("/etc/passwd"), "leads out of the folder");
    refused(textured("data:image/png;base64,@@@"), "the data is not base64");
  }

  @Test
  void missingFilesFoldersAndOtherFilesAreRefused() throws Exception {
    assertThatThrownBy(() -> GltfReader.read(dir.resolve("none.glb")))
        .hasMessageContaining("no such file");
    assertThatThrownBy(() -> GltfReader.read(dir)).hasMessageContaining("is a folder");
    Path other = dir.resolve("other.gltf");
    for (String content :
        new String[] {"", "{", "{}", "[]", "hello", "{\"asset\":{\"version\":\"2.0\"}}"}) {
      Files.writeString(other, content);
      assertThatThrownBy(() -> GltfReader.read(other))
          .as(content)
          .isInstanceOf(InputException.class);
    }
  }

  @Test
  void damagedFilesNeverEscapeAsOtherExceptions() throws Exception {
    byte[] whole = new GltfText().glb();
    Path file = dir.resolve("bad.glb");
    int read = 0;
    for (int seed = 0; seed < 400; seed++) {
      Random random = new Random(seed);
      byte[] bad = whole.clone();
      for (int k = 0; k <= random.nextInt(3); k++) {
        bad[random.nextInt(bad.length)] =
            (byte)
                (seed % 2 == 0
                    ? random.nextInt()
                    : "0123456789-[]{}\",:".charAt(random.nextInt(18)));
      }
      Files.write(file, bad);
      try {
        GltfReader.read(file);
        read++;
      } catch (InputException e) {
        assertThat(e.getMessage()).contains("bad.glb");
      }
    }
    assertThat(read).isBetween(10, 390);
  }

  @Test
  void aSceneIsFoundByPathAndKeepsItsEnvironmentLast() throws Exception {
    Scene scene = read(new GltfText());
    assertThat(scene.entity("/group/leaf")).isPresent();
    assertThat(scene.entity("/group")).isEmpty();
    assertThat(scene.environment().path()).isEqualTo("/environment");
  }

  @org.junit.jupiter.params.ParameterizedTest
  @org.junit.jupiter.params.provider.CsvSource(
      delimiter = '|',
      value = {
        "/bufferViews/0|byteOffset|\"4\"|bufferViews[0].byteOffset: expected a whole number",
        "/bufferViews/1|buffer|true|bufferViews[1].buffer: expected a whole number",
        "/accessors/1|count|3.5|accessors[1].count: expected a whole number",
        "/accessors/0|componentType|\"FLOAT\"|accessors[0].componentType",
        "/nodes/1|mesh|[0]|nodes[1].mesh: expected a whole number",
        "/nodes/0|translation|\"0 0 5\"|nodes[0].translation: expected a list of numbers",
        "/nodes/0|children|[1,\"2\"]|nodes[0].children[1]: expected a number",
        "/materials/0|doubleSided|1|materials[0].doubleSided: expected true or false",
        "/materials/0|name|7|materials[0].name: expected a text",
        "/cameras/0/perspective|yfov|\"wide\"|cameras[0].perspective.yfov: expected a number",
        "/animations/0/channels/0/target|node|\"leaf\"|target.node: expected a whole number",
        "/buffers/0|byteLength|99999999999|buffers[0].byteLength: expected a whole number"
      })
  void valuesOfAWrongTypeAreRefusedWithTheirPlace(
      String at, String key, String value, String message) throws Exception {
    GltfText text = new GltfText();
    text.at(at).set(key, new com.fasterxml.jackson.databind.ObjectMapper().readTree(value));
    Path file = dir.resolve("wrong.glb");
    Files.write(file, text.glb());
    assertThatThrownBy(() -> GltfReader.read(file))
        .isInstanceOf(InputException.class)
        .hasMessageContaining(message);
  }
}
