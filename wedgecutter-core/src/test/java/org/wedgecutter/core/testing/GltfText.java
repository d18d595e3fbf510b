package org.wedgecutter.core.testing;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;

/**
 * A small glTF document for tests: a triangle under a group, a lamp, a camera, a turn. Change it
 * and save it.
 */
public final class GltfText {
  private static final ObjectMapper JSON = new ObjectMapper();

  /** Three corners, three indices, two key times, two quaternions. */
  private static final float[] CORNERS = {0, 0, 0, 1, 0, 0, 0, 1, 0};

  public final ObjectNode root;
  public final byte[] binary;

  public GltfText() {
    this(CORNERS);
  }

  public GltfText(float[] corners) {
    ByteBuffer b = ByteBuffer.allocate(36 + 8 + 8 + 32).order(ByteOrder.LITTLE_ENDIAN);
    for (float c : corners) {
      b.putFloat(c);
    }
    b.putShort((short) 0).putShort((short) 1).putShort((short) 2).putShort((short) 0);
    b.putFloat(0).putFloat(2);
    float h = (float) Math.sqrt(0.5);
    b.putFloat(0).putFloat(0).putFloat(0).putFloat(1);
    b.putFloat(0).putFloat(h).putFloat(0).putFloat(h);
    binary = b.array();
    try {
      root =
          (ObjectNode)
              JSON.readTree(
                  """
                  {
                    "asset": {"version": "2.0"},
                    "scene": 0,
                    "scenes": [{"nodes": [0, 3]}],
                    "extensionsUsed": ["KHR_lights_punctual"],
                    "extensions": {"KHR_lights_punctual": {"lights": [
                      {"type": "spot", "color": [1, 0.5, 0.25], "intensity": 8,
                       "spot": {"innerConeAngle": 0.1, "outerConeAngle": 0.3}}]}},
                    "nodes": [
                      {"name": "group", "children": [1, 2], "translation": [0, 0, 5],
                       "extras": {"tags": ["set"]}},
                      {"name": "leaf", "mesh": 0, "rotation": [0, 0, 0, 1], "scale": [2, 2, 2],
                       "extras": {"tags": ["hero"]}},
                      {"name": "leaf", "extensions": {"KHR_lights_punctual": {"light": 0}}},
                      {"name": "eye", "camera": 0, "translation": [0, 0, 9]}
                    ],
                    "cameras": [{"name": "main", "type": "perspective",
                                 "perspective": {"yfov": 0.8, "znear": 0.1}}],
                    "meshes": [{"name": "tri", "primitives": [
                      {"attributes": {"POSITION": 0}, "indices": 1, "material": 0}]}],
                    "materials": [{"name": "paint", "emissiveFactor": [0.5, 0, 0],
                      "pbrMetallicRoughness": {"baseColorFactor": [0.1, 0.2, 0.3, 1],
                                               "metallicFactor": 0.4, "roughnessFactor": 0.6}}],
                    "accessors": [
                      {"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3",
                       "min": [0, 0, 0], "max": [1, 1, 0]},
                      {"bufferView": 1, "componentType": 5123, "count": 3, "type": "SCALAR"},
                      {"bufferView": 2, "componentType": 5126, "count": 2, "type": "SCALAR",
                       "min": [0], "max": [2]},
                      {"bufferView": 3, "componentType": 5126, "count": 2, "type": "VEC4"}
                    ],
                    "bufferViews": [
                      {"buffer": 0, "byteOffset": 0, "byteLength": 36},
                      {"buffer": 0, "byteOffset": 36, "byteLength": 6},
                      {"buffer": 0, "byteOffset": 44, "byteLength": 8},
                      {"buffer": 0, "byteOffset": 52, "byteLength": 32}
                    ],
                    "animations": [{
                      "channels": [{"sampler": 0, "target": {"node": 1, "path": "rotation"}}],
                      "samplers": [{"input": 2, "output": 3}]}],
                    "buffers": [{"byteLength": 84}]
                  }
                  """);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  public ObjectNode at(String pointer) {
    return (ObjectNode) root.at(pointer);
  }

  /** Saves it as text, with the buffer within. */
  public Path gltf(Path file) throws IOException {
    at("/buffers/0")
        .put(
            "uri",
            "data:application/octet-stream;base64," + Base64.getEncoder().encodeToString(binary));
    Files.writeString(file, JSON.writeValueAsString(root));
    return file;
  }

  /** Returns it as .glb. */
  public byte[] glb() throws IOException {
    byte[] json = JSON.writeValueAsBytes(root);
    int padded = (json.length + 3) / 4 * 4;
    ByteBuffer b = ByteBuffer.allocate(28 + padded + binary.length).order(ByteOrder.LITTLE_ENDIAN);
    b.putInt(0x46546C67).putInt(2).putInt(b.capacity());
    b.putInt(padded).putInt(0x4E4F534A).put(json);
    b.put(" ".repeat(padded - json.length).getBytes(StandardCharsets.US_ASCII));
    b.putInt(binary.length).putInt(0x004E4942).put(binary);
    return b.array();
  }

  /** A PNG of one colour. */
  public static byte[] png(int width, int height, int rgb) throws IOException {
    var image =
        new java.awt.image.BufferedImage(width, height, java.awt.image.BufferedImage.TYPE_INT_RGB);
    for (int p = 0; p < width * height; p++) {
      image.setRGB(p % width, p / width, rgb);
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    javax.imageio.ImageIO.write(image, "png", out);
    return out.toByteArray();
  }
}
