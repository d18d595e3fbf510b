package org.wedgecutter.core.export;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.joml.Matrix4f;
import org.joml.Quaternionf;
import org.joml.Vector3f;

/**
 * Writes moving places as binary glTF 2.0: a node for each, with a key for every frame, and a
 * camera on one of them. Lengths are metres, times seconds; frame 1 is at 0.
 */
final class CameraGltf {
  private static final int MAGIC = 0x46546c67;
  private static final int JSON = 0x4e4f534a;
  private static final int BIN = 0x004e4942;
  private static final int FLOAT = 5126;
  private static final float NEAR = 0.01f;

  private final ObjectNode root = JsonNodeFactory.instance.objectNode();
  private final List<float[]> numbers = new ArrayList<>();
  private final float[] times;
  private int bytes;

  /**
   * @param times of the frames, ascending, seconds
   */
  CameraGltf(float[] times) {
    this.times = times.clone();
    root.putObject("asset").put("version", "2.0").put("generator", "Wedgecutter");
    root.put("scene", 0);
    root.putArray("scenes").addObject().putArray("nodes");
    accessor(times, "SCALAR", 1, true);
    ObjectNode animation = root.putArray("animations").addObject().put("name", "shot");
    animation.putArray("channels");
    animation.putArray("samplers");
  }

  /** Adds a node that moves; returns it for what it carries. */
  ObjectNode node(String name, List<Matrix4f> poses, boolean turns) {
    ArrayNode nodes = root.withArray("nodes");
    int index = nodes.size();
    ObjectNode node = nodes.addObject().put("name", name);
    ((ArrayNode) root.at("/scenes/0/nodes")).add(index);
    float[] places = new float[3 * times.length];
    float[] rotations = new float[4 * times.length];
    Quaternionf before = null;
    for (int k = 0; k < times.length; k++) {
      Vector3f at = poses.get(k).getTranslation(new Vector3f());
      places[3 * k] = at.x;
      places[3 * k + 1] = at.y;
      places[3 * k + 2] = at.z;
      Quaternionf q = poses.get(k).getNormalizedRotation(new Quaternionf()).normalize();
      if (before != null && before.dot(q) < 0) {
        // the short way round
        q.set(-q.x, -q.y, -q.z, -q.w);
      }
      before = q;
      rotations[4 * k] = q.x;
      rotations[4 * k + 1] = q.y;
      rotations[4 * k + 2] = q.z;
      rotations[4 * k + 3] = q.w;
    }
    channel(index, "translation", accessor(places, "VEC3", 3, false));
    if (turns) {
      channel(index, "rotation", accessor(rotations, "VEC4", 4, false));
    }
    return node;
  }

  /** Puts a camera on a node. */
  void camera(ObjectNode node, String name, double verticalView, double aspect) {
    ObjectNode camera = root.withArray("cameras").addObject().put("name", name);
    camera.put("type", "perspective");
    camera
        .putObject("perspective")
        .put("yfov", (float) verticalView)
        .put("aspectRatio", (float) aspect)
        .put("znear", NEAR);
    node.put("camera", root.withArray("cameras").size() - 1);
  }

  /**
   * Puts a light on a node.
   *
   * @param type point, spot or directional
   * @param color its hue, at most 1
   * @param cone of a spot the radians from its axis within which it is at full strength, and beyond
   *     which it is dark
   */
  void light(
      ObjectNode node, String name, String type, float[] color, float intensity, float[] cone) {
    if (!root.has("extensionsUsed")) {
      root.putArray("extensionsUsed").add("KHR_lights_punctual");
      root.putObject("extensions").putObject("KHR_lights_punctual").putArray("lights");
    }
    ArrayNode lights = (ArrayNode) root.at("/extensions/KHR_lights_punctual/lights");
    ObjectNode light = lights.addObject().put("name", name).put("type", type);
    ArrayNode rgb = light.putArray("color");
    for (float c : color) {
      rgb.add(c);
    }
    light.put("intensity", intensity);
    if (type.equals("spot")) {
      light.putObject("spot").put("innerConeAngle", cone[0]).put("outerConeAngle", cone[1]);
    }
    node.putObject("extensions").putObject("KHR_lights_punctual").put("light", lights.size() - 1);
  }

  private void channel(int node, String path, int output) {
    ArrayNode samplers = (ArrayNode) root.at("/animations/0/samplers");
    samplers.addObject().put("input", 0).put("output", output).put("interpolation", "LINEAR");
    ((ArrayNode) root.at("/animations/0/channels"))
        .addObject()
        .put("sampler", samplers.size() - 1)
        .putObject("target")
        .put("node", node)
        .put("path", path);
  }

  private int accessor(float[] values, String type, int size, boolean bounded) {
    ArrayNode views = root.withArray("bufferViews");
    views
        .addObject()
        .put("buffer", 0)
        .put("byteOffset", bytes)
        .put("byteLength", 4 * values.length);
    ObjectNode accessor = root.withArray("accessors").addObject();
    accessor.put("bufferView", views.size() - 1).put("componentType", FLOAT);
    accessor.put("count", values.length / size).put("type", type);
    if (bounded) {
      float[] sorted = values.clone();
      Arrays.sort(sorted);
      accessor.putArray("min").add(sorted[0]);
      accessor.putArray("max").add(sorted[sorted.length - 1]);
    }
    numbers.add(values);
    bytes += 4 * values.length;
    return root.withArray("accessors").size() - 1;
  }

  /** Returns the file. */
  byte[] bytes() {
    root.putArray("buffers").addObject().put("byteLength", bytes);
    byte[] json = root.toString().getBytes(StandardCharsets.UTF_8);
    int padded = (json.length + 3) / 4 * 4;
    ByteBuffer out =
        ByteBuffer.allocate(12 + 8 + padded + 8 + bytes).order(ByteOrder.LITTLE_ENDIAN);
    out.putInt(MAGIC).putInt(2).putInt(out.capacity());
    out.putInt(padded).putInt(JSON).put(json);
    while (out.position() < 20 + padded) {
      out.put((byte) ' ');
    }
    out.putInt(bytes).putInt(BIN);
    numbers.forEach(values -> {
      for (float v : values) {
        out.putFloat(v);
      }
    });
    return out.array();
  }
}
