package org.wedgecutter.core.scene.gltf;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import java.util.Base64;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.TextureRef;
import org.wedgecutter.core.testing.GltfText;

/** The extensions of glTF, and the forms of our own in extras. */
class GltfExtensionsTest {
  @TempDir Path dir;
  private GltfText text;

  @BeforeEach
  void make() {
    text = new GltfText();
  }

  private Scene read() throws Exception {
    return GltfReader.read(text.gltf(dir.resolve("a.gltf")));
  }

  private Material material() throws Exception {
    return read().materials().getFirst();
  }

  /** Adds numbers in a buffer of their own and returns their accessor. */
  private int numbers(String type, int component, byte[] bytes, int count) {
    text.root
        .withArray("buffers")
        .addObject()
        .put("byteLength", bytes.length)
        .put(
            "uri",
            "data:application/octet-stream;base64," + Base64.getEncoder().encodeToString(bytes));
    text.root
        .withArray("bufferViews")
        .addObject()
        .put("buffer", text.root.withArray("buffers").size() - 1)
        .put("byteLength", bytes.length);
    text.root
        .withArray("accessors")
        .addObject()
        .put("bufferView", text.root.withArray("bufferViews").size() - 1)
        .put("componentType", component)
        .put("count", count)
        .put("type", type);
    return text.root.withArray("accessors").size() - 1;
  }

  private int floats(String type, int size, float... values) {
    ByteBuffer b = ByteBuffer.allocate(4 * values.length).order(ByteOrder.LITTLE_ENDIAN);
    for (float v : values) {
      b.putFloat(v);
    }
    return numbers(type, 5126, b.array(), values.length / size);
  }

  private ObjectNode extensions() {
    return text.at("/materials/0").putObject("extensions");
  }

  @Test
  void glassOfABodyAndOfAWall() throws Exception {
    ObjectNode e = extensions();
    e.putObject("KHR_materials_transmission").put("transmissionFactor", 0.8);
    e.putObject("KHR_materials_ior").put("ior", 1.33);
    assertThat(material().isThinGlass()).isTrue();
    assertThat(material().dielectric().ior()).isEqualTo(1.33f);
    ObjectNode v = e.putObject("KHR_materials_volume");
    v.put("thicknessFactor", 0.1).put("attenuationDistance", 2.5);
    v.putArray("attenuationColor").add(0.5).add(0.6).add(0.7);
    Material.Glass glass = material().glass();
    assertThat(glass)
        .isEqualTo(new Material.Glass(0.8f, null, true, new Rgb(0.5f, 0.6f, 0.7f), 2.5f));
  }

  @Test
  void coatSheenSpecularAndUnlit() throws Exception {
    ObjectNode e = extensions();
    e.putObject("KHR_materials_clearcoat")
        .put("clearcoatFactor", 0.7)
        .put("clearcoatRoughnessFactor", 0.2);
    ObjectNode sheen = e.putObject("KHR_materials_sheen").put("sheenRoughnessFactor", 0.4);
    sheen.putArray("sheenColorFactor").add(0.1).add(0.2).add(0.3);
    e.putObject("KHR_materials_unlit");
    Material m = material();
    assertThat(m.coat()).isEqualTo(new Material.Coat(0.7f, null, 0.2f, null));
    assertThat(m.sheen()).isEqualTo(new Material.Sheen(new Rgb(0.1f, 0.2f, 0.3f), null, 0.4f));
    assertThat(m.unlit()).isTrue();
  }

  @Test
  void maskAndBlendAreCover() throws Exception {
    text.at("/materials/0").put("alphaMode", "MASK").put("alphaCutoff", 0.3);
    text.at("/materials/0/pbrMetallicRoughness").withArray("baseColorFactor").set(3, 0.25);
    assertThat(material().cutoff()).isEqualTo(0.3f);
    assertThat(material().opacity()).isEqualTo(0.25f);
    assertThat(material().isPartlyTransparent()).isTrue();
    text.at("/materials/0").put("alphaMode", "BLEND");
    assertThat(material().cutoff()).isZero();
    assertThat(material().fades()).isTrue();
    text.at("/materials/0").put("alphaMode", "OPAQUE");
    assertThat(material().opacity()).as("alpha says nothing then").isEqualTo(1);
    assertThat(material().isPartlyTransparent()).isFalse();
    text.at("/materials/0").put("alphaMode", "FOGGY");
    assertThat(read().unsupported()).anyMatch(n -> n.contains("alphaMode"));
  }

  @Test
  void texturesAreMovedAsTold() throws Exception {
    text.root
        .putArray("images")
        .addObject()
        .put(
            "uri",
            "data:image/png;base64,"
                + Base64.getEncoder().encodeToString(GltfText.png(2, 2, 0xff0000)));
    text.root.putArray("textures").addObject().put("source", 0);
    ObjectNode use =
        text.at("/materials/0/pbrMetallicRoughness").putObject("baseColorTexture").put("index", 0);
    ObjectNode t = use.putObject("extensions").putObject("KHR_texture_transform");
    t.putArray("offset").add(0.25).add(0.5);
    t.putArray("scale").add(2).add(3);
    t.put("rotation", Math.PI / 2);
    TextureRef.Placing p = material().baseColorTexture().placing();
    // (1, 0) is scaled to 2, turned, and shifted
    assertThat(p.uu() + p.u()).isCloseTo(0.25f, within(1e-6f));
    assertThat(p.vu() + p.v()).isCloseTo(0.5f - 2, within(1e-6f));
    assertThat(p.growth()).isCloseTo(6, within(1e-5f));
  }

  @Test
  void verticesHaveColours() throws Exception {
    ByteBuffer b = ByteBuffer.allocate(12);
    for (int v : new int[] {255, 0, 0, 255, 0, 255, 0, 128, 0, 0, 255, 0}) {
      b.put((byte) v);
    }
    int accessor = numbers("VEC4", 5121, b.array(), 3);
    ((ObjectNode) text.root.withArray("accessors").get(accessor)).put("normalized", true);
    text.at("/meshes/0/primitives/0/attributes").put("COLOR_0", accessor);
    float[] colors = read().meshes().getFirst().colors();
    assertThat(colors[0]).isEqualTo(1);
    assertThat(colors[7]).isCloseTo(128 / 255f, within(1e-6f));
  }

  @Test
  void sparseNumbersChangeSome() throws Exception {
    int places = numbers("SCALAR", 5121, new byte[] {1, 0, 0, 0}, 1);
    int values = floats("VEC3", 3, 7, 8, 9);
    ObjectNode sparse =
        ((ObjectNode) text.root.withArray("accessors").get(0)).putObject("sparse").put("count", 1);
    sparse.putObject("indices").put("bufferView", viewOf(places)).put("componentType", 5121);
    sparse.putObject("values").put("bufferView", viewOf(values));
    float[] p = read().meshes().getFirst().positions();
    assertThat(p).containsExactly(0, 0, 0, 7, 8, 9, 0, 1, 0);
    ((ObjectNode) sparse).put("count", 9);
    assertThatThrownBy(this::read).isInstanceOf(InputException.class);
  }

  private int viewOf(int accessor) {
    return text.root.withArray("accessors").get(accessor).get("bufferView").asInt();
  }

  @Test
  void quantizedPositionsAreRead() throws Exception {
    ByteBuffer b = ByteBuffer.allocate(24).order(ByteOrder.LITTLE_ENDIAN);
    for (int v : new int[] {0, 0, 0, 0, 32767, 0, 0, 0, 0, -32767, 0, 0}) {
      b.putShort((short) v);
    }
    int accessor = numbers("VEC3", 5122, b.array(), 3);
    ((ObjectNode) text.root.withArray("accessors").get(accessor)).put("normalized", true);
    ((ObjectNode) text.root.withArray("bufferViews").get(viewOf(accessor))).put("byteStride", 8);
    text.at("/meshes/0/primitives/0/attributes").put("POSITION", accessor);
    text.root.withArray("extensionsRequired").add("KHR_mesh_quantization");
    assertThat(read().meshes().getFirst().positions()).containsExactly(0, 0, 0, 1, 0, 0, 0, -1, 0);
  }

  @Test
  void instancesAreEntitiesOfTheirOwn() throws Exception {
    int shifts = floats("VEC3", 3, 1, 0, 0, 2, 0, 0, 3, 0, 0);
    text.at("/nodes/1")
        .putObject("extensions")
        .putObject("EXT_mesh_gpu_instancing")
        .putObject("attributes")
        .put("TRANSLATION", shifts);
    Scene scene = read();
    assertThat(scene.entities().stream().filter(e -> e.kind() == EntityKind.MESH))
        .extracting(Entity::path)
        .containsExactly("/group/leaf/1", "/group/leaf/2", "/group/leaf/3");
    Entity second = scene.entity("/group/leaf/2").orElseThrow();
    assertThat(second.tags()).contains("hero");
    assertThat(scene.pose(0)[second.node()].m30()).as("scaled by the node above").isEqualTo(4);
  }

  @Test
  void variantsChooseMaterials() throws Exception {
    text.root.withArray("materials").addObject().put("name", "worn");
    text.at("/extensions")
        .putObject("KHR_materials_variants")
        .putArray("variants")
        .addObject()
        .put("name", "old");
    text.at("/meshes/0/primitives/0")
        .putObject("extensions")
        .putObject("KHR_materials_variants")
        .putArray("mappings")
        .addObject()
        .put("material", 1)
        .putArray("variants")
        .add(0);
    Path file = text.gltf(dir.resolve("v.gltf"));
    assertThat(GltfReader.read(file).variants()).containsExactly("old");
    assertThat(GltfReader.read(file).entities().getFirst().materials()).containsExactly("paint");
    assertThat(GltfReader.read(file, "old").entities().getFirst().materials())
        .containsExactly("worn");
    assertThatThrownBy(() -> GltfReader.read(file, "new")).hasMessageContaining("old");
  }

  @Test
  void morphsAndTheirWeightsMove() throws Exception {
    int target = floats("VEC3", 3, 0, 0, 1, 0, 0, 1, 0, 0, 1);
    text.at("/meshes/0/primitives/0").putArray("targets").addObject().put("POSITION", target);
    text.at("/meshes/0").putArray("weights").add(0.5);
    int weights = floats("SCALAR", 1, 0, 1);
    ObjectNode animation = text.at("/animations/0");
    animation.withArray("samplers").addObject().put("input", 2).put("output", weights);
    ObjectNode channel = animation.withArray("channels").addObject().put("sampler", 1);
    channel.putObject("target").put("node", 1).put("path", "weights");
    Scene scene = read();
    Deformation d = scene.deformations().get(0);
    assertThat(d.morph().rest()).containsExactly(0.5f);
    float[] at = new float[1];
    d.morph().weights().sample(1, at);
    assertThat(at[0]).isCloseTo(0.5f, within(1e-6f));
    assertThat(scene.entities().getFirst().moves()).isTrue();
  }

  @Test
  void skinsHaveJoints() throws Exception {
    text.at("/meshes/0/primitives/0/attributes")
        .put("JOINTS_0", numbers("VEC4", 5121, new byte[12], 3))
        .put("WEIGHTS_0", floats("VEC4", 4, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0));
    text.root.putArray("skins").addObject().putArray("joints").add(0);
    text.at("/nodes/1").put("skin", 0);
    Scene scene = read();
    assertThat(scene.deformations().get(0).skin().nodes()).hasSize(1);
    text.at("/skins/0").putArray("joints").add(9);
    assertThatThrownBy(this::read).isInstanceOf(InputException.class);
  }

  @Test
  void lensLightsAndMediaOfOurOwn() throws Exception {
    text.at("/cameras/0").putObject("extras").putObject("lens").put("fStop", 2.8).put("focus", 3.5);
    ObjectNode light = text.at("/nodes/2").putObject("extras").putObject("light");
    light.put("angle", 5);
    text.root
        .withArray("nodes")
        .addObject()
        .put("name", "panel")
        .putObject("extras")
        .putObject("light")
        .put("type", "rectangle")
        .put("width", 2)
        .put("height", 0.5)
        .putArray("radiance")
        .add(3)
        .add(2)
        .add(1);
    ObjectNode medium =
        text.root
            .withArray("nodes")
            .addObject()
            .put("name", "mist")
            .putObject("extras")
            .putObject("medium")
            .put("density", 0.4)
            .put("falloff", 2);
    medium.putObject("puff").put("cells", 6).put("octaves", 20);
    ((ObjectNode) text.root.at("/scenes/0")).withArray("nodes").add(4).add(5);
    Scene scene = read();
    SceneCamera camera = scene.cameras().getFirst();
    assertThat(camera.lens().fStop()).isEqualTo(2.8f);
    assertThat(camera.apertureRadius())
        .isCloseTo((float) (0.012 / Math.tan(0.4) / 5.6), within(1e-5f));
    Light panel = scene.lights().get(scene.entity("/panel").orElseThrow().payload());
    assertThat(panel).isEqualTo(new Light(Light.Type.RECTANGLE, new Rgb(3, 2, 1), 0, 0, 2, 0.5f));
    Entity mist = scene.entity("/mist").orElseThrow();
    assertThat(mist.kind()).isEqualTo(EntityKind.MEDIUM);
    Medium m = scene.media().get(mist.payload());
    assertThat(m.density()).isEqualTo(0.4f);
    assertThat(m.puff().octaves()).as("bounded").isEqualTo(8);
    medium.put("density", -1);
    assertThatThrownBy(this::read).hasMessageContaining("density");
  }
}
