package org.wedgecutter.core.scene.gltf;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wedgecutter.core.io.InputException;

/**
 * Checks that the values of a glTF file are there where the standard requires them, and of the
 * types that it gives to their keys: a library that reads a text where a number belongs would take
 * it for one without a word.
 *
 * <p>Keys mean the same wherever they stand in glTF 2.0, but for a few that are a number in one
 * object and an object in another. Extensions and extras are not looked into.
 */
final class GltfTypes {
  private static final Set<String> WHOLE =
      Set.of(
          "buffer",
          "bufferView",
          "byteLength",
          "byteOffset",
          "byteStride",
          "camera",
          "componentType",
          "count",
          "index",
          "input",
          "inverseBindMatrices",
          "magFilter",
          "material",
          "mesh",
          "minFilter",
          "mode",
          "node",
          "output",
          "sampler",
          "scene",
          "skeleton",
          "skin",
          "source",
          "texCoord",
          "wrapS",
          "wrapT");
  private static final Set<String> NUMBERS =
      Set.of(
          "alphaCutoff",
          "aspectRatio",
          "metallicFactor",
          "roughnessFactor",
          "strength",
          "xmag",
          "yfov",
          "ymag",
          "zfar",
          "znear");
  private static final Set<String> TEXTS =
      Set.of("alphaMode", "interpolation", "mimeType", "minVersion", "name", "uri", "version");
  private static final Set<String> SWITCHES = Set.of("doubleSided", "normalized");
  private static final Set<String> ROWS =
      Set.of(
          "baseColorFactor",
          "children",
          "emissiveFactor",
          "joints",
          "matrix",
          "max",
          "min",
          "rotation",
          "translation",
          "weights");
  private static final Set<String> PARTS =
      Set.of(
          "asset",
          "baseColorTexture",
          "emissiveTexture",
          "metallicRoughnessTexture",
          "normalTexture",
          "occlusionTexture",
          "orthographic",
          "pbrMetallicRoughness",
          "perspective",
          "sparse",
          "values");
  private static final Set<String> OBJECTS =
      Set.of(
          "accessors",
          "animations",
          "buffers",
          "bufferViews",
          "cameras",
          "channels",
          "images",
          "materials",
          "meshes",
          "primitives",
          "samplers",
          "scenes",
          "skins",
          "textures");

  /** What an object must hold, by its key, or by the key of the list that it is in. */
  private static final Map<String, List<String>> REQUIRED =
      Map.ofEntries(
          Map.entry("accessors", List.of("componentType", "count", "type")),
          Map.entry("animations", List.of("channels", "samplers")),
          Map.entry("asset", List.of("version")),
          Map.entry("baseColorTexture", List.of("index")),
          Map.entry("buffers", List.of("byteLength")),
          Map.entry("bufferViews", List.of("buffer", "byteLength")),
          Map.entry("cameras", List.of("type")),
          Map.entry("channels", List.of("sampler", "target")),
          Map.entry("emissiveTexture", List.of("index")),
          Map.entry("meshes", List.of("primitives")),
          Map.entry("metallicRoughnessTexture", List.of("index")),
          Map.entry("normalTexture", List.of("index")),
          Map.entry("occlusionTexture", List.of("index")),
          Map.entry("perspective", List.of("yfov", "znear")),
          Map.entry("primitives", List.of("attributes")),
          Map.entry("skins", List.of("joints")),
          Map.entry("sparse", List.of("count", "indices", "values")),
          Map.entry("target", List.of("path")));

  private static final int DEEPEST = 64;

  private final Path file;

  private GltfTypes(Path file) {
    this.file = file;
  }

  /** Checks a file's JSON. */
  static void check(JsonNode root, Path file) throws InputException {
    GltfTypes types = new GltfTypes(file);
    types.expect(root.isObject(), "", "an object", root);
    if (!root.has("asset")) {
      throw new InputException(file, "asset", "missing; a glTF file must have it");
    }
    types.object(root, "", "", 0);
  }

  private void object(JsonNode node, String of, String place, int depth) throws InputException {
    if (depth > DEEPEST) {
      throw new InputException(file, place, "objects within objects, deeper than " + DEEPEST);
    }
    for (String required : required(of, place)) {
      if (!node.has(required)) {
        throw new InputException(file, place + "." + required, "missing; a glTF file must have it");
      }
    }
    for (Map.Entry<String, JsonNode> e : node.properties()) {
      String key = e.getKey();
      if (!key.equals("extensions") && !key.equals("extras")) {
        String at = place.isEmpty() ? key : place + "." + key;
        value(key, e.getValue(), at, depth);
      }
    }
  }

  private static List<String> required(String key, String place) {
    // the others are of textures, and need nothing
    return key.equals("samplers") && place.startsWith("animations")
        ? List.of("input", "output")
        : REQUIRED.getOrDefault(key, List.of());
  }

  private void value(String key, JsonNode v, String at, int depth) throws InputException {
    if (WHOLE.contains(key)) {
      expect(v.isIntegralNumber() && v.canConvertToInt(), at, "a whole number", v);
    } else if (NUMBERS.contains(key)) {
      expect(v.isNumber(), at, "a number", v);
    } else if (TEXTS.contains(key)) {
      expect(v.isTextual(), at, "a text", v);
    } else if (SWITCHES.contains(key)) {
      expect(v.isBoolean(), at, "true or false", v);
    } else if (ROWS.contains(key)) {
      row(v, at);
    } else if (key.equals("attributes")) {
      expect(v.isObject(), at, "an object", v);
      for (Map.Entry<String, JsonNode> e : v.properties()) {
        expect(
            e.getValue().canConvertToInt(), at + "." + e.getKey(), "a whole number", e.getValue());
      }
    } else if (PARTS.contains(key) || (key.equals("target") && at.startsWith("animations"))) {
      expect(v.isObject(), at, "an object", v);
    } else if (OBJECTS.contains(key)) {
      expect(v.isArray(), at, "a list", v);
      for (int i = 0; i < v.size(); i++) {
        expect(v.get(i).isObject(), at + "[" + i + "]", "an object", v.get(i));
      }
    }
    if (v.isObject()) {
      object(v, key, at, depth + 1);
    } else if (v.isArray()) {
      for (int i = 0; i < v.size(); i++) {
        if (v.get(i).isObject()) {
          object(v.get(i), key, at + "[" + i + "]", depth + 1);
        }
      }
    }
  }

  private void row(JsonNode v, String at) throws InputException {
    expect(v.isArray(), at, "a list of numbers", v);
    for (int i = 0; i < v.size(); i++) {
      expect(v.get(i).isNumber(), at + "[" + i + "]", "a number", v.get(i));
    }
  }

  private void expect(boolean met, String place, String expected, JsonNode found)
      throws InputException {
    if (!met) {
      String text = found.toString();
      throw new InputException(
          file,
          place,
          "expected %s, found %s"
              .formatted(expected, text.length() > 40 ? text.substring(0, 40) + "…" : text));
    }
  }
}
