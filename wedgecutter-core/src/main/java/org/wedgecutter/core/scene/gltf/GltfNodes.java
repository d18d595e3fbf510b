package org.wedgecutter.core.scene.gltf;

import static org.wedgecutter.core.scene.gltf.GltfSource.list;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.joml.Matrix4f;
import org.joml.Quaternionf;
import org.joml.Vector3f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.Budget;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.Track;

/** The hierarchy of a file in an order with parents first, its animation, and the nodes' tags. */
final class GltfNodes {
  private final GltfSource source;
  private final Set<String> unsupported;
  private final List<Node> all = new ArrayList<>();
  private final List<Integer> rawIndex = new ArrayList<>();
  private final List<List<String>> tags = new ArrayList<>();
  private final Set<String> paths = new HashSet<>();

  /** The last number that was appended to a name that several have. */
  private final Map<String, Integer> numbers = new HashMap<>();

  private final Map<Integer, Integer> places = new HashMap<>();
  private final Map<Integer, Track> weights = new HashMap<>();
  private final Map<Integer, List<Integer>> instances = new HashMap<>();
  private float duration;

  /** What a node takes beside its path, bytes, about. */
  private static final int NODE = 400;

  /** A node that is still to be visited. */
  private record Waiting(int raw, int parent) {}

  GltfNodes(GltfSource source, Set<String> unsupported) throws InputException {
    this.source = source;
    this.unsupported = unsupported;
    checkTree();
    List<List<Channel>> channels = channels();
    Deque<Waiting> queue = new ArrayDeque<>();
    for (int root : roots()) {
      queue.add(new Waiting(root, -1));
    }
    while (!queue.isEmpty()) {
      Waiting next = queue.removeFirst();
      int index = all.size();
      add(next, channels.get(next.raw));
      addInstances(next, index);
      List<Integer> children = list(source.gltf.getNodes().get(next.raw).getChildren());
      for (int c = children.size() - 1; c >= 0; c--) {
        queue.addFirst(new Waiting(children.get(c), index));
      }
    }
  }

  List<Node> all() {
    return all;
  }

  de.javagl.jgltf.impl.v2.Node raw(int node) {
    return source.gltf.getNodes().get(rawIndex.get(node));
  }

  String place(int node) {
    return "nodes[" + rawIndex.get(node) + "]";
  }

  /** Whether a node is one placing of the mesh of its parent (EXT_mesh_gpu_instancing). */
  boolean isInstance(int node) {
    int parent = all.get(node).parent();
    return parent >= 0 && instances(parent).contains(node);
  }

  /** Returns the nodes at which a node's mesh stands, if it has more than its own place. */
  List<Integer> instances(int node) {
    return instances.getOrDefault(node, List.of());
  }

  /** Returns the place of one of the file's nodes, or -1 if it is not in the scene. */
  int ofRaw(int raw) {
    return places.getOrDefault(raw, -1);
  }

  /** Returns how a node's weights of morph targets change, or null. */
  @Nullable Track weights(int node, int targets) throws InputException {
    Track track = weights.get(rawIndex.get(node));
    if (track == null) {
      return null;
    }
    int stride = (track.between() == Channel.Between.CUBIC ? 3 : 1) * targets;
    if (track.values().length != track.times().length * stride) {
      throw new InputException(
          source.file,
          place(node),
          "%d keys of weights with %d numbers, expected %d for each"
              .formatted(track.times().length, track.values().length, stride));
    }
    return new Track(track.between(), track.times(), track.values(), targets);
  }

  private void addInstances(Waiting of, int parent) throws InputException {
    var raw = source.gltf.getNodes().get(of.raw);
    Json attributes =
        new Json(raw.getExtensions()).get("EXT_mesh_gpu_instancing").get("attributes");
    if (!attributes.exists() || raw.getMesh() == null) {
      return;
    }
    String place = "nodes[" + of.raw + "].extensions.EXT_mesh_gpu_instancing.attributes.";
    float[] shifts = instanced(attributes, "TRANSLATION", "VEC3", place);
    float[] turns = instanced(attributes, "ROTATION", "VEC4", place);
    float[] scales = instanced(attributes, "SCALE", "VEC3", place);
    int count = Math.max(shifts.length / 3, Math.max(turns.length / 4, scales.length / 3));
    long each = NODE + 2L * all.get(parent).path().length();
    source.budget.take(each * count, source.file, place.substring(0, place.length() - 1));
    List<Integer> own = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      Node.Local local =
          new Node.Local(
              part(shifts, i, 3, 0, 0, 0),
              part(turns, i, 4, 0, 0, 0, 1),
              part(scales, i, 3, 1, 1, 1));
      String path = all.get(parent).path() + "/" + (i + 1);
      paths.add(path);
      own.add(all.size());
      tags.add(tags.get(parent));
      rawIndex.add(-1);
      all.add(new Node(path, parent, local, List.of()));
    }
    instances.put(parent, own);
  }

  private float[] instanced(Json attributes, String name, String type, String place)
      throws InputException {
    Json accessor = attributes.get(name);
    return accessor.exists()
        ? source.floats((int) accessor.number(-1), place + name, type)
        : new float[0];
  }

  private static float[] part(float[] all, int i, int size, float... otherwise) {
    return (i + 1) * size <= all.length
        ? Arrays.copyOfRange(all, i * size, (i + 1) * size)
        : otherwise;
  }

  List<String> tags(int node) {
    return tags.get(node);
  }

  float duration() {
    return duration;
  }

  /** Each node has at most one parent, and none is its own ancestor. */
  private void checkTree() throws InputException {
    var nodes = list(source.gltf.getNodes());
    int[] parent = new int[nodes.size()];
    Arrays.fill(parent, -1);
    for (int n = 0; n < nodes.size(); n++) {
      for (Integer child : list(nodes.get(n).getChildren())) {
        String place = "nodes[" + n + "].children";
        source.element(nodes, child, place, "nodes");
        if (parent[child] >= 0) {
          throw new InputException(
              source.file,
              place,
              "nodes[%d] has two parents, nodes[%d] and nodes[%d]; expected a tree"
                  .formatted(child, parent[child], n));
        }
        parent[child] = n;
      }
    }
    // how deep each node is; 0 where that is not known yet
    int[] depth = new int[nodes.size()];
    for (int n = 0; n < nodes.size(); n++) {
      int above = 0;
      for (int up = n; up >= 0 && depth[up] == 0; up = parent[up]) {
        if (above++ > nodes.size()) {
          throw new InputException(
              source.file,
              "nodes[" + n + "]",
              "is its own ancestor; expected a hierarchy without cycles");
        }
      }
      int known = n;
      for (int k = 0; k < above; k++) {
        known = parent[known];
      }
      int from = known < 0 ? 0 : depth[known];
      if (from + above > Budget.MOST_DEPTH) {
        throw new InputException(
            source.file,
            "nodes[" + n + "]",
            "is %d levels deep, at most %d are read".formatted(from + above, Budget.MOST_DEPTH));
      }
      for (int up = n, d = from + above; d > from; up = parent[up], d--) {
        depth[up] = d;
      }
    }
  }

  private List<Integer> roots() throws InputException {
    var scenes = list(source.gltf.getScenes());
    if (scenes.isEmpty()) {
      throw new InputException(source.file, "scenes", "missing; expected at least one scene");
    }
    int index = source.gltf.getScene() == null ? 0 : source.gltf.getScene();
    if (scenes.size() > 1) {
      unsupported.add("scenes: only scenes[%d] of %d is read".formatted(index, scenes.size()));
    }
    var scene = source.element(scenes, index, "scene", "scenes");
    Set<Integer> roots = new java.util.LinkedHashSet<>(list(scene.getNodes()));
    for (Integer root : roots) {
      source.element(source.gltf.getNodes(), root, "scenes[" + index + "].nodes", "nodes");
    }
    return List.copyOf(roots);
  }

  private void add(Waiting next, List<Channel> channels) throws InputException {
    var raw = source.gltf.getNodes().get(next.raw);
    String name =
        raw.getName() == null || raw.getName().isEmpty() ? "node" + next.raw : raw.getName();
    String stem =
        (next.parent < 0 ? "" : all.get(next.parent).path()) + "/" + name.replace('/', '_');
    String path = stem;
    if (!paths.add(path)) {
      int number = numbers.getOrDefault(stem, 1);
      do {
        number++;
        path = stem + "~" + number;
      } while (!paths.add(path));
      numbers.put(stem, number);
    }
    source.budget.take(NODE + 2L * path.length(), source.file, "nodes[" + next.raw + "]");
    List<String> own = new ArrayList<>(next.parent < 0 ? List.of() : tags.get(next.parent));
    for (Json tag : new Json(raw.getExtras()).get("tags").items()) {
      own.add(tag.text(""));
    }
    tags.add(own.stream().filter(t -> !t.isEmpty()).distinct().toList());
    places.put(next.raw, rawIndex.size());
    rawIndex.add(next.raw);
    all.add(new Node(path, next.parent, local(raw, next.raw), channels));
  }

  private Node.Local local(de.javagl.jgltf.impl.v2.Node raw, int index) throws InputException {
    float[] translation = {0, 0, 0};
    float[] rotation = {0, 0, 0, 1};
    float[] scale = {1, 1, 1};
    if (raw.getMatrix() != null) {
      Matrix4f matrix = new Matrix4f().set(raw.getMatrix());
      Vector3f t = matrix.getTranslation(new Vector3f());
      Vector3f s = matrix.getScale(new Vector3f());
      if (matrix.determinant3x3() < 0) {
        s.x = -s.x;
        matrix.scale(-1, 1, 1);
      }
      Quaternionf q = matrix.getNormalizedRotation(new Quaternionf());
      translation = new float[] {t.x, t.y, t.z};
      rotation = new float[] {q.x, q.y, q.z, q.w};
      scale = new float[] {s.x, s.y, s.z};
    }
    translation = raw.getTranslation() == null ? translation : raw.getTranslation();
    rotation = raw.getRotation() == null ? rotation : raw.getRotation();
    scale = raw.getScale() == null ? scale : raw.getScale();
    for (float[] values : List.of(translation, rotation, scale)) {
      for (float value : values) {
        if (!Float.isFinite(value)) {
          throw new InputException(
              source.file, "nodes[" + index + "]", "the transform is not of finite numbers");
        }
      }
    }
    return new Node.Local(translation, rotation, scale);
  }

  private List<List<Channel>> channels() throws InputException {
    List<List<Channel>> out = new ArrayList<>();
    list(source.gltf.getNodes()).forEach(n -> out.add(new ArrayList<>()));
    var animations = list(source.gltf.getAnimations());
    for (int a = 0; a < animations.size(); a++) {
      for (int c = 0; c < animations.get(a).getChannels().size(); c++) {
        var channel = animations.get(a).getChannels().get(c);
        String place = "animations[%d].channels[%d]".formatted(a, c);
        Integer node = channel.getTarget().getNode();
        String path = channel.getTarget().getPath();
        if (path == null) {
          // not one of the standard's: listed by the library's reader
          continue;
        }
        if (node != null && path.equals("weights")) {
          source.element(out, node, place + ".target.node", "nodes");
          weights.put(node, weights(animations.get(a), channel.getSampler(), place));
          continue;
        }
        if (node == null || !Set.of("translation", "rotation", "scale").contains(path)) {
          unsupported.add(place + ".target " + path);
          continue;
        }
        source.element(out, node, place + ".target.node", "nodes");
        var sampler =
            source.element(
                animations.get(a).getSamplers(),
                channel.getSampler(),
                place + ".sampler",
                "samplers");
        out.get(node)
            .add(channel(Channel.Target.valueOf(path.toUpperCase(Locale.ROOT)), sampler, place));
      }
    }
    return out;
  }

  private Channel channel(
      Channel.Target target, de.javagl.jgltf.impl.v2.AnimationSampler sampler, String place)
      throws InputException {
    float[] times = source.floats(sampler.getInput(), place + ".sampler.input", "SCALAR");
    float[] values =
        source.floats(
            sampler.getOutput(),
            place + ".sampler.output",
            target == Channel.Target.ROTATION ? "VEC4" : "VEC3");
    Channel.Between between = between(sampler, place);
    int stride =
        (target == Channel.Target.ROTATION ? 4 : 3) * (between == Channel.Between.CUBIC ? 3 : 1);
    if (times.length == 0 || values.length != times.length * stride) {
      throw new InputException(
          source.file,
          place,
          "%d keys with %d numbers, expected %d for each"
              .formatted(times.length, values.length, stride));
    }
    note(times, place);
    return new Channel(target, between, times, values);
  }

  private Track weights(de.javagl.jgltf.impl.v2.Animation animation, Integer sampler, String place)
      throws InputException {
    var s = source.element(animation.getSamplers(), sampler, place + ".sampler", "samplers");
    float[] times = source.floats(s.getInput(), place + ".sampler.input", "SCALAR");
    float[] values = source.floats(s.getOutput(), place + ".sampler.output", "SCALAR");
    if (times.length == 0 || values.length % times.length != 0) {
      throw new InputException(
          source.file, place, "%d keys with %d numbers".formatted(times.length, values.length));
    }
    note(times, place);
    return new Track(between(s, place), times, values, values.length / times.length);
  }

  private Channel.Between between(de.javagl.jgltf.impl.v2.AnimationSampler sampler, String place)
      throws InputException {
    String how = sampler.getInterpolation() == null ? "LINEAR" : sampler.getInterpolation();
    return switch (how) {
      case "STEP" -> Channel.Between.STEP;
      case "LINEAR" -> Channel.Between.LINEAR;
      case "CUBICSPLINE" -> Channel.Between.CUBIC;
      default ->
          throw new InputException(
              source.file,
              place + ".sampler.interpolation",
              "'%s', expected STEP, LINEAR or CUBICSPLINE".formatted(how));
    };
  }

  private void note(float[] times, String place) throws InputException {
    for (int k = 1; k < times.length; k++) {
      if (!(times[k] > times[k - 1])) {
        throw new InputException(source.file, place, "the times of the keys must increase");
      }
    }
    duration = Math.max(duration, times[times.length - 1]);
  }
}
