package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.joml.Matrix4f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.Track;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/**
 * Skeletons of a stage (UsdSkel): joints become nodes below their skeleton's, and what is bound to
 * them deforms by them; blend shapes become morph targets.
 */
final class UsdSkeletons {
  private static final int MAX_JOINTS = 10_000;
  private static final int MAX_INFLUENCES = 64;
  private final Path file;
  private final UsdTime time;
  private final List<Node> nodes;
  private final List<String> unsupported;
  private final Map<String, Skeleton> known = new HashMap<>();

  UsdSkeletons(Path file, UsdTime time, List<Node> nodes, List<String> unsupported) {
    this.file = file;
    this.time = time;
    this.nodes = nodes;
    this.unsupported = unsupported;
  }

  /**
   * A skeleton that stands somewhere.
   *
   * @param joints their names
   * @param nodes of each joint
   * @param inverseBind of each joint: from the skeleton's space at rest to the joint's
   * @param animation what moves it, or null
   */
  private record Skeleton(
      List<String> joints, int[] nodes, Matrix4f[] inverseBind, @Nullable StagePrim animation) {}

  /**
   * A mesh that is bound.
   *
   * @param prim the mesh
   * @param shape what it is made of
   * @param skeleton its skeleton, or null if blend shapes alone deform it
   * @param animation what moves it where its skeleton does not say, or null
   * @param node of the skeleton, where it stands
   */
  record Bound(
      StagePrim prim,
      UsdMeshes.Shape shape,
      @Nullable StagePrim skeleton,
      @Nullable StagePrim animation,
      int node) {}

  /**
   * Returns how a bound mesh deforms; null if it does not. Adds the nodes of its skeleton's joints.
   *
   * @param primvars finds primvars of the prim and of those above it
   * @param prims finds prims by their paths
   */
  @Nullable Deformation deformation(
      Bound bound,
      Function<String, StagePrim.@Nullable Property> primvars,
      Function<String, @Nullable StagePrim> prims)
      throws InputException {
    Skeleton skeleton = bound.skeleton == null ? null : skeleton(bound, prims);
    StagePrim animation = skeleton == null ? bound.animation : skeleton.animation;
    Deformation.Skin skin = skeleton == null ? null : skin(bound, skeleton, primvars);
    Deformation.Morph morph = morph(bound, animation, prims);
    if (morph == null && skin == null) {
      morph = bound.shape.moved();
    } else if (bound.shape.moved() != null) {
      unsupported.add(bound.prim.path() + ".points: stay, its skeleton moves it");
    }
    return morph == null && skin == null ? null : new Deformation(morph, skin);
  }

  // ---- joints

  private Skeleton skeleton(Bound bound, Function<String, @Nullable StagePrim> prims)
      throws InputException {
    StagePrim prim = bound.skeleton;
    if (prim == null) {
      throw new IllegalStateException("bound to nothing");
    }
    List<String> own = prim.targets("skel:animationSource");
    StagePrim animation = own.isEmpty() ? bound.animation : prims.apply(own.getFirst());
    String key = bound.node + " " + (animation == null ? "" : animation.path());
    Skeleton made = known.get(key);
    if (made == null) {
      made = made(prim, animation, bound.node);
      known.put(key, made);
    }
    return made;
  }

  private Skeleton made(StagePrim prim, @Nullable StagePrim animation, int node)
      throws InputException {
    List<String> joints = texts(prim, "joints");
    double[] bind = numbers(prim, "bindTransforms");
    double[] rest = numbers(prim, "restTransforms");
    int n = joints.size();
    if (n > MAX_JOINTS) {
      throw wrong(prim, "joints", "%d, expected at most %d".formatted(n, MAX_JOINTS));
    }
    if (bind == null || bind.length != 16 * n) {
      throw wrong(prim, "bindTransforms", "expected a matrix for each of %d joints".formatted(n));
    }
    if (rest != null && rest.length != 16 * n) {
      throw wrong(prim, "restTransforms", "expected a matrix for each of %d joints".formatted(n));
    }
    int[] of = new int[n];
    Matrix4f[] inverse = new Matrix4f[n];
    Map<String, Integer> numbers = new HashMap<>();
    for (int j = 0; j < n; j++) {
      Matrix4f bound = UsdTransforms.matrix(bind, j);
      if (!(Math.abs(bound.determinant3x3()) > 0)) {
        throw wrong(prim, "bindTransforms", "that of joint %d cannot be inverted".formatted(j));
      }
      inverse[j] = new Matrix4f(bound).invertAffine();
      String joint = joints.get(j);
      int parent = -1;
      for (int slash = joint.lastIndexOf('/');
          slash > 0 && parent < 0;
          slash = joint.lastIndexOf('/', slash - 1)) {
        parent = numbers.getOrDefault(joint.substring(0, slash), -1);
      }
      // a joint without a rest of its own stands as it was bound
      Matrix4f local =
          rest != null
              ? UsdTransforms.matrix(rest, j)
              : parent < 0 ? bound : new Matrix4f(inverse[parent]).mul(bound);
      numbers.put(joint, j);
      of[j] = nodes.size();
      nodes.add(
          joint(
              nodes.get(node).path() + "/" + joint,
              parent < 0 ? node : of[parent],
              UsdTransforms.apart(local),
              animation,
              animation == null ? -1 : texts(animation, "joints").indexOf(joint)));
    }
    return new Skeleton(joints, of, inverse, animation);
  }

  private Node joint(
      String path, int parent, Node.Local rest, @Nullable StagePrim animation, int at) {
    if (animation == null || at < 0) {
      return new Node(path, parent, rest, List.of());
    }
    int n = texts(animation, "joints").size();
    List<Channel> channels = new ArrayList<>();
    float[] shift = part(animation, "translations", 3, n, at, Channel.Target.TRANSLATION, channels);
    float[] turn = part(animation, "rotations", 4, n, at, Channel.Target.ROTATION, channels);
    float[] scale = part(animation, "scales", 3, n, at, Channel.Target.SCALE, channels);
    return new Node(
        path,
        parent,
        new Node.Local(
            shift == null ? rest.translation() : shift,
            turn == null ? rest.rotation() : turn,
            scale == null ? rest.scale() : scale),
        channels);
  }

  /** A part of a joint's first sample; null if there is none. */
  private float @Nullable [] part(
      StagePrim animation,
      String name,
      int size,
      int joints,
      int at,
      Channel.Target target,
      List<Channel> channels) {
    UsdTime.Samples samples = time.samples(animation, name, size * joints);
    if (samples == null) {
      return null;
    }
    Channel channel = UsdTime.channel(target, samples, size * at);
    if (channel != null) {
      channels.add(channel);
    }
    return UsdTime.part(target, samples.values().getFirst(), size * at);
  }

  // ---- skins

  private Deformation.@Nullable Skin skin(
      Bound bound, Skeleton skeleton, Function<String, StagePrim.@Nullable Property> primvars)
      throws InputException {
    StagePrim prim = bound.prim;
    StagePrim.Property index = primvars.apply("primvars:skel:jointIndices");
    StagePrim.Property weight = primvars.apply("primvars:skel:jointWeights");
    double[] of = index == null ? null : UsdTime.first(index);
    double[] weights = weight == null ? null : UsdTime.first(weight);
    if (index == null || of == null || weights == null) {
      return null;
    }
    if ("dualQuaternion".equals(prim.value("primvars:skel:skinningMethod"))) {
      unsupported.add(prim.path() + ": dualQuaternion; blended linearly");
    }
    int each = index.fields().get("elementSize") instanceof Double d ? d.intValue() : 1;
    boolean rigid = "constant".equals(index.fields().get("interpolation"));
    int points = bound.shape.count();
    int wanted = each * (rigid ? 1 : points);
    if (each < 1 || each > MAX_INFLUENCES || of.length != wanted || weights.length != wanted) {
      throw wrong(
          prim,
          "primvars:skel:jointIndices",
          "%d, and %d weights; expected %d of each".formatted(of.length, weights.length, wanted));
    }
    List<String> own = texts(prim, "skel:joints");
    int[] joints = new int[each * points];
    float[] shares = new float[each * points];
    for (int k = 0; k < joints.length; k++) {
      int from = rigid ? k % each : k;
      int joint = (int) of[from];
      boolean listed = own.isEmpty() || (joint >= 0 && joint < own.size());
      int at = listed && !own.isEmpty() ? skeleton.joints.indexOf(own.get(joint)) : joint;
      if (!listed || at < 0 || at >= skeleton.nodes.length) {
        throw wrong(
            prim,
            "primvars:skel:jointIndices",
            "joint %d; its skeleton has %d".formatted(joint, skeleton.nodes.length));
      }
      joints[k] = at;
      shares[k] = (float) weights[from];
    }
    double[] geom = numbers(prim, "primvars:skel:geomBindTransform");
    Matrix4f toSkeleton =
        geom != null && geom.length == 16 ? UsdTransforms.matrix(geom, 0) : new Matrix4f();
    float[] inverse = new float[16 * skeleton.nodes.length];
    for (int j = 0; j < skeleton.nodes.length; j++) {
      new Matrix4f(skeleton.inverseBind[j]).mul(toSkeleton).get(inverse, 16 * j);
    }
    int[] ofVertex = bound.shape.points();
    int[] spread = joints;
    if (ofVertex != null) {
      spread = new int[each * ofVertex.length];
      for (int v = 0; v < ofVertex.length; v++) {
        System.arraycopy(joints, each * ofVertex[v], spread, each * v, each);
      }
    }
    return new Deformation.Skin(
        skeleton.nodes, inverse, each, spread, bound.shape.spread(shares, each));
  }

  // ---- blend shapes

  private Deformation.@Nullable Morph morph(
      Bound bound, @Nullable StagePrim animation, Function<String, @Nullable StagePrim> prims)
      throws InputException {
    List<String> names = texts(bound.prim, "skel:blendShapes");
    List<String> targets = bound.prim.targets("skel:blendShapeTargets");
    int n = Math.min(names.size(), targets.size());
    List<String> order = animation == null ? List.of() : texts(animation, "blendShapes");
    UsdTime.Samples samples =
        animation == null || n == 0
            ? null
            : time.samples(animation, "blendShapeWeights", order.size());
    if (samples == null) {
      return null;
    }
    float[][] positions = new float[n][];
    float[][] normals = new float[n][];
    float[] weights = new float[n * samples.count()];
    int points = bound.shape.count();
    for (int t = 0; t < n; t++) {
      StagePrim target = prims.apply(targets.get(t));
      if (target == null) {
        throw wrong(
            bound.prim, "skel:blendShapeTargets", "<%s> is not there".formatted(targets.get(t)));
      }
      if (target.properties().keySet().stream().anyMatch(k -> k.startsWith("inbetweens:"))) {
        unsupported.add(target.path() + ": inbetweens");
      }
      positions[t] = bound.shape.spread(offsets(target, "offsets", points), 3);
      normals[t] = bound.shape.spread(offsets(target, "normalOffsets", points), 3);
      int at = order.indexOf(names.get(t));
      for (int k = 0; k < samples.count(); k++) {
        weights[n * k + t] = at < 0 ? 0 : (float) samples.values().get(k)[at];
      }
    }
    return new Deformation.Morph(
        positions,
        normals,
        Arrays.copyOf(weights, n),
        samples.count() < 2
            ? null
            : new Track(Channel.Between.LINEAR, samples.seconds(), weights, n));
  }

  /** Offsets of all points; empty if the shape has none. */
  private float[] offsets(StagePrim shape, String name, int points) throws InputException {
    double[] v = numbers(shape, name);
    if (v == null) {
      return new float[0];
    }
    double[] at = shape.numbers("pointIndices");
    float[] out = new float[3 * points];
    for (int k = 0; k < v.length / 3; k++) {
      double point = at == null ? k : k < at.length ? at[k] : -1;
      if (!(point >= 0) || point >= points) {
        throw wrong(shape, name, "point %.0f, but there are %d".formatted(point, points));
      }
      for (int c = 0; c < 3; c++) {
        out[3 * (int) point + c] = (float) v[3 * k + c];
      }
    }
    return out;
  }

  /** Returns numbers; null where there are none, or some are not finite. */
  private static double @Nullable [] numbers(StagePrim prim, String name) {
    StagePrim.Property p = prim.properties().get(name);
    return p == null ? null : UsdTime.first(p);
  }

  private static List<String> texts(StagePrim prim, String name) {
    return prim.value(name) instanceof List<?> l
        ? l.stream().map(String::valueOf).toList()
        : List.of();
  }

  private InputException wrong(StagePrim prim, String property, String problem) {
    return new InputException(file, prim.path() + "." + property, problem);
  }
}
