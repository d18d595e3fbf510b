package org.wedgecutter.demo;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.List;

/**
 * Collects a scene and writes it as binary glTF 2.0. Things are named by the numbers they get here.
 */
final class GlbWriter {
  private static final ObjectMapper JSON = new ObjectMapper();

  private final ObjectNode root = JSON.createObjectNode();
  private final ByteArrayOutputStream binary = new ByteArrayOutputStream();
  private final List<ObjectNode> nodes = new ArrayList<>();
  private final ArrayNode roots;
  private final ArrayNode channels = JSON.createArrayNode();
  private final ArrayNode samplers = JSON.createArrayNode();

  GlbWriter() {
    root.putObject("asset").put("version", "2.0").put("generator", "Wedgecutter demo");
    root.put("scene", 0);
    roots = root.putArray("scenes").addObject().put("name", "shot").putArray("nodes");
  }

  /** Adds a node under a parent (-1 for none). */
  int node(String name, int parent) {
    ObjectNode node = JSON.createObjectNode();
    node.put("name", name);
    nodes.add(node);
    int number = nodes.size() - 1;
    if (parent < 0) {
      roots.add(number);
    } else {
      nodes.get(parent).withArray("children").add(number);
    }
    return number;
  }

  GlbWriter move(int node, double... xyz) {
    return numbers(nodes.get(node).putArray("translation"), xyz);
  }

  GlbWriter turn(int node, double... quaternion) {
    return numbers(nodes.get(node).putArray("rotation"), quaternion);
  }

  GlbWriter tag(int node, String tag) {
    nodes.get(node).withObject("/extras").withArray("tags").add(tag);
    return this;
  }

  private GlbWriter numbers(ArrayNode array, double... values) {
    for (double value : values) {
      array.add((float) value);
    }
    return this;
  }

  /** Adds a mesh of one material. */
  int mesh(String name, MeshMaker.Finished mesh, int material) {
    ObjectNode primitive =
        root.withArray("meshes").addObject().put("name", name).putArray("primitives").addObject();
    ObjectNode attributes = primitive.putObject("attributes");
    attributes.put("POSITION", accessor(mesh.points(), "VEC3", 34962, true));
    attributes.put("NORMAL", accessor(mesh.normals(), "VEC3", 34962, false));
    attributes.put("TEXCOORD_0", accessor(mesh.uvs(), "VEC2", 34962, false));
    primitive.put("indices", indices(mesh.indices()));
    primitive.put("material", material);
    return root.withArray("meshes").size() - 1;
  }

  /** Puts a mesh on a node. */
  GlbWriter place(int node, int mesh) {
    nodes.get(node).put("mesh", mesh);
    return this;
  }

  /** Adds a node that holds a mesh of its own. */
  int object(String name, int parent, MeshMaker shape, double crease, int material) {
    int node = node(name, parent);
    place(node, mesh(name, shape.finish(crease), material));
    return node;
  }

  ObjectNode material(
      String name, double r, double g, double b, double metallic, double roughness) {
    ObjectNode material = root.withArray("materials").addObject().put("name", name);
    ObjectNode pbr = material.putObject("pbrMetallicRoughness");
    numbers(pbr.putArray("baseColorFactor"), r, g, b, 1);
    pbr.put("metallicFactor", (float) metallic).put("roughnessFactor", (float) roughness);
    return material;
  }

  int lastMaterial() {
    return root.withArray("materials").size() - 1;
  }

  static ObjectNode pbr(ObjectNode material) {
    return material.withObject("/pbrMetallicRoughness");
  }

  /** Makes a material glow: the colour's largest part must be at most 1. */
  void emit(ObjectNode material, double r, double g, double b, double strength) {
    numbers(material.putArray("emissiveFactor"), r, g, b);
    material
        .withObject("/extensions")
        .putObject("KHR_materials_emissive_strength")
        .put("emissiveStrength", (float) strength);
    use("KHR_materials_emissive_strength");
  }

  /** Adds an image of the given media type and a texture of it; returns the texture. */
  int texture(String name, byte[] image, String type) {
    root.withArray("images")
        .addObject()
        .put("name", name)
        .put("mimeType", type)
        .put("bufferView", view(image, 0));
    root.withArray("textures").addObject().put("source", root.withArray("images").size() - 1);
    return root.withArray("textures").size() - 1;
  }

  void spot(int node, String name, double[] color, double intensity, double inner, double outer) {
    ObjectNode light =
        root.withObject("/extensions/KHR_lights_punctual").withArray("lights").addObject();
    light.put("name", name).put("type", "spot").put("intensity", (float) intensity);
    numbers(light.putArray("color"), color);
    light
        .putObject("spot")
        .put("innerConeAngle", (float) inner)
        .put("outerConeAngle", (float) outer);
    int number = root.withObject("/extensions/KHR_lights_punctual").withArray("lights").size() - 1;
    nodes.get(node).withObject("/extensions").putObject("KHR_lights_punctual").put("light", number);
    use("KHR_lights_punctual");
  }

  void camera(int node, String name, double verticalView) {
    ObjectNode camera = root.withArray("cameras").addObject().put("name", name);
    camera.put("type", "perspective");
    camera.putObject("perspective").put("yfov", (float) verticalView).put("znear", 0.01f);
    nodes.get(node).put("camera", root.withArray("cameras").size() - 1);
  }

  /** Gives the camera that was added last a lens. */
  void lens(double sensor, double fStop, double focus) {
    ArrayNode cameras = root.withArray("cameras");
    ((ObjectNode) cameras.get(cameras.size() - 1))
        .putObject("extras")
        .putObject("lens")
        .put("sensor", (float) sensor)
        .put("fStop", (float) fStop)
        .put("focus", (float) focus);
  }

  /** Fills a cube of sides w, h, d about a place with a medium; returns what describes it. */
  ObjectNode medium(String name, int parent, double[] place, double[] size, double density) {
    int node = node(name, parent);
    move(node, place);
    numbers(nodes.get(node).putArray("scale"), size);
    return nodes.get(node).putObject("extras").putObject("medium").put("density", (float) density);
  }

  /** Puts colours of three parts into an object. */
  void color(ObjectNode in, String key, double... rgb) {
    numbers(in.putArray(key), rgb);
  }

  /** Turns a material into the glass of a solid body. */
  void glass(ObjectNode material, double ior, double distance, double... attenuation) {
    ObjectNode extensions = material.withObject("/extensions");
    extensions.putObject("KHR_materials_transmission").put("transmissionFactor", 1);
    extensions.putObject("KHR_materials_ior").put("ior", (float) ior);
    ObjectNode volume = extensions.putObject("KHR_materials_volume");
    volume.put("thicknessFactor", 0.01f).put("attenuationDistance", (float) distance);
    numbers(volume.putArray("attenuationColor"), attenuation);
    use("KHR_materials_transmission");
    use("KHR_materials_ior");
    use("KHR_materials_volume");
  }

  /** Puts a clear coat over a material. */
  void coat(ObjectNode material, double strength, double roughness) {
    material
        .withObject("/extensions")
        .putObject("KHR_materials_clearcoat")
        .put("clearcoatFactor", (float) strength)
        .put("clearcoatRoughnessFactor", (float) roughness);
    use("KHR_materials_clearcoat");
  }

  /** Adds a directional light that looks along its node's -z axis, of an angle in degrees. */
  void sun(int node, String name, double[] color, double intensity, double angle) {
    ObjectNode light =
        root.withObject("/extensions/KHR_lights_punctual").withArray("lights").addObject();
    light.put("name", name).put("type", "directional").put("intensity", (float) intensity);
    numbers(light.putArray("color"), color);
    int number = root.withObject("/extensions/KHR_lights_punctual").withArray("lights").size() - 1;
    nodes.get(node).withObject("/extensions").putObject("KHR_lights_punctual").put("light", number);
    nodes.get(node).withObject("/extras").putObject("light").put("angle", (float) angle);
    use("KHR_lights_punctual");
  }

  /** Animates a node's turn by quaternions at times in seconds. */
  void animateTurn(int node, float[] times, float[] quaternions) {
    samplers
        .addObject()
        .put("input", accessor(times, "SCALAR", 0, true))
        .put("output", accessor(quaternions, "VEC4", 0, false));
    ObjectNode channel = channels.addObject().put("sampler", samplers.size() - 1);
    channel.putObject("target").put("node", node).put("path", "rotation");
  }

  private void use(String extension) {
    ArrayNode used = root.withArray("extensionsUsed");
    for (var name : used) {
      if (name.asText().equals(extension)) {
        return;
      }
    }
    used.add(extension);
  }

  private int accessor(float[] values, String type, int target, boolean bounds) {
    ByteBuffer bytes = ByteBuffer.allocate(4 * values.length).order(ByteOrder.LITTLE_ENDIAN);
    bytes.asFloatBuffer().put(values);
    int size = type.equals("SCALAR") ? 1 : type.charAt(3) - '0';
    ObjectNode accessor = root.withArray("accessors").addObject();
    accessor.put("bufferView", view(bytes.array(), target)).put("componentType", 5126);
    accessor.put("count", values.length / size).put("type", type);
    if (bounds) {
      ArrayNode low = accessor.putArray("min");
      ArrayNode high = accessor.putArray("max");
      for (int c = 0; c < size; c++) {
        float min = Float.POSITIVE_INFINITY;
        float max = Float.NEGATIVE_INFINITY;
        for (int i = c; i < values.length; i += size) {
          min = Math.min(min, values[i]);
          max = Math.max(max, values[i]);
        }
        low.add(min);
        high.add(max);
      }
    }
    return root.withArray("accessors").size() - 1;
  }

  private int indices(int[] values) {
    int most = 0;
    for (int value : values) {
      most = Math.max(most, value);
    }
    boolean small = most < 65535;
    ByteBuffer bytes =
        ByteBuffer.allocate((small ? 2 : 4) * values.length).order(ByteOrder.LITTLE_ENDIAN);
    for (int value : values) {
      if (small) {
        bytes.putShort((short) value);
      } else {
        bytes.putInt(value);
      }
    }
    root.withArray("accessors")
        .addObject()
        .put("bufferView", view(bytes.array(), 34963))
        .put("componentType", small ? 5123 : 5125)
        .put("count", values.length)
        .put("type", "SCALAR");
    return root.withArray("accessors").size() - 1;
  }

  private int view(byte[] bytes, int target) {
    while (binary.size() % 4 != 0) {
      binary.write(0);
    }
    ObjectNode view = root.withArray("bufferViews").addObject().put("buffer", 0);
    view.put("byteOffset", binary.size()).put("byteLength", bytes.length);
    if (target != 0) {
      view.put("target", target);
    }
    binary.writeBytes(bytes);
    return root.withArray("bufferViews").size() - 1;
  }

  void write(OutputStream out) throws IOException {
    ArrayNode list = root.putArray("nodes");
    nodes.forEach(list::add);
    if (!channels.isEmpty()) {
      ObjectNode animation = root.putArray("animations").addObject().put("name", "turning");
      animation.set("channels", channels);
      animation.set("samplers", samplers);
    }
    while (binary.size() % 4 != 0) {
      binary.write(0);
    }
    root.putArray("buffers").addObject().put("byteLength", binary.size());
    byte[] json = padded(JSON.writeValueAsBytes(root));
    ByteBuffer head = ByteBuffer.allocate(20).order(ByteOrder.LITTLE_ENDIAN);
    head.putInt(0x46546C67).putInt(2).putInt(28 + json.length + binary.size());
    head.putInt(json.length).putInt(0x4E4F534A);
    out.write(head.array());
    out.write(json);
    ByteBuffer chunk = ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN);
    out.write(chunk.putInt(binary.size()).putInt(0x004E4942).array());
    binary.writeTo(out);
  }

  private static byte[] padded(byte[] json) {
    byte[] out = java.util.Arrays.copyOf(json, (json.length + 3) / 4 * 4);
    java.util.Arrays.fill(out, json.length, out.length, (byte) ' ');
    return out;
  }
}
