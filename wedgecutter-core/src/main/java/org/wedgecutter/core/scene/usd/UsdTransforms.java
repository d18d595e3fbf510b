package org.wedgecutter.core.scene.usd;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import org.joml.Matrix4f;
import org.joml.Quaternionf;
import org.joml.Vector3f;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.usd.stage.Numbers;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/**
 * Transform operations of UsdGeomXformable as shift, turn and scale. A stack of operations is
 * multiplied out at each of its time samples and taken apart again; between samples the parts are
 * interpolated. Shear is lost, and told.
 */
final class UsdTransforms {
  private static final float SHEAR = 1e-3f;
  private final UsdTime time;
  private final List<String> unsupported;

  UsdTransforms(UsdTime time, List<String> unsupported) {
    this.time = time;
    this.unsupported = unsupported;
  }

  /**
   * Makes a node of a prim's operations and of its visibility over time.
   *
   * @param path of the node
   */
  Node node(StagePrim prim, String path, int parent) {
    List<String> ops = new ArrayList<>();
    if (prim.value("xformOpOrder") instanceof List<?> list) {
      list.forEach(o -> ops.add(String.valueOf(o)));
    }
    TreeSet<Double> times = new TreeSet<>();
    for (String op : ops) {
      StagePrim.Property p = prim.properties().get(op.replace("!invert!", ""));
      if (p != null) {
        times.addAll(p.samples().keySet());
      }
      if (op.equals("!resetXformStack!")) {
        unsupported.add(prim.path() + ": !resetXformStack!");
      }
    }
    Node.Local rest = local(prim, matrix(prim, ops, times.isEmpty() ? 0 : times.first()));
    List<Channel> channels = new ArrayList<>();
    if (times.size() > 1) {
      channels.addAll(channels(prim, ops, times));
    }
    Channel visible = time.visible(prim);
    if (visible != null) {
      channels.add(visible);
    }
    return new Node(path, parent, rest, channels);
  }

  private List<Channel> channels(StagePrim prim, List<String> ops, TreeSet<Double> times) {
    int n = times.size();
    float[] seconds = new float[n];
    float[] shift = new float[3 * n];
    float[] turn = new float[4 * n];
    float[] scale = new float[3 * n];
    int k = 0;
    for (double time : times) {
      Node.Local local = local(prim, matrix(prim, ops, time));
      seconds[k] = this.time.seconds(time);
      System.arraycopy(local.translation(), 0, shift, 3 * k, 3);
      System.arraycopy(local.rotation(), 0, turn, 4 * k, 4);
      System.arraycopy(local.scale(), 0, scale, 3 * k, 3);
      if (k > 0) {
        UsdTime.nearest(turn, k);
      }
      k++;
    }
    List<Channel> out = new ArrayList<>();
    out.add(new Channel(Channel.Target.TRANSLATION, Channel.Between.LINEAR, seconds, shift));
    out.add(new Channel(Channel.Target.ROTATION, Channel.Between.LINEAR, seconds, turn));
    out.add(new Channel(Channel.Target.SCALE, Channel.Between.LINEAR, seconds, scale));
    return out.stream().filter(Channel::changes).toList();
  }

  private Node.Local local(StagePrim prim, Matrix4f m) {
    Node.Local out = apart(m);
    Matrix4f again =
        new Matrix4f()
            .translationRotateScale(
                new Vector3f(out.translation()),
                new Quaternionf(
                    out.rotation()[0], out.rotation()[1], out.rotation()[2], out.rotation()[3]),
                new Vector3f(out.scale()));
    if (!again.equals(m, SHEAR * Math.max(1, new Vector3f(out.scale()).length()))) {
      String told = prim.path() + ": shear in its transform";
      if (!unsupported.contains(told)) {
        unsupported.add(told);
      }
    }
    return out;
  }

  /** Takes a transform apart; shear is lost. */
  static Node.Local apart(Matrix4f m) {
    Vector3f t = m.getTranslation(new Vector3f());
    Vector3f s = m.getScale(new Vector3f());
    Matrix4f pure = new Matrix4f(m);
    if (m.determinant3x3() < 0) {
      s.x = -s.x;
      pure.scale(-1, 1, 1);
    }
    Quaternionf q = pure.getNormalizedRotation(new Quaternionf());
    return new Node.Local(
        new float[] {t.x, t.y, t.z}, new float[] {q.x, q.y, q.z, q.w}, new float[] {s.x, s.y, s.z});
  }

  /** The first operation of the order is the outermost. */
  private Matrix4f matrix(StagePrim prim, List<String> ops, double time) {
    Matrix4f m = new Matrix4f();
    for (String op : ops) {
      boolean invert = op.startsWith("!invert!");
      String name = invert ? op.substring("!invert!".length()) : op;
      StagePrim.Property p = prim.properties().get(name);
      if (p != null) {
        Matrix4f one = operation(prim, name, values(p, time));
        m.mul(invert ? one.invert() : one);
      }
    }
    return m;
  }

  private static double[] values(StagePrim.Property p, double time) {
    if (p.samples().isEmpty()) {
      return numbers(p.value());
    }
    var before = p.samples().floorEntry(time);
    var after = p.samples().ceilingEntry(time);
    if (before == null || after == null || before.getKey().equals(after.getKey())) {
      return numbers((before == null ? p.samples().firstEntry() : before).getValue());
    }
    double[] a = numbers(before.getValue());
    double[] b = numbers(after.getValue());
    double t = (time - before.getKey()) / (after.getKey() - before.getKey());
    double[] out = new double[Math.min(a.length, b.length)];
    for (int i = 0; i < out.length; i++) {
      out[i] = a[i] + t * (b[i] - a[i]);
    }
    return out;
  }

  private static double[] numbers(@org.jspecify.annotations.Nullable Object value) {
    return value instanceof Numbers n
        ? n.doubles()
        : value instanceof Double d ? new double[] {d} : new double[0];
  }

  /** Returns the k-th matrix of some numbers. */
  static Matrix4f matrix(double[] v, int k) {
    // rows for row vectors lie in memory as columns for column vectors
    float[] f = new float[16];
    for (int i = 0; i < 16; i++) {
      f[i] = (float) v[16 * k + i];
    }
    return new Matrix4f().set(f);
  }

  private Matrix4f operation(StagePrim prim, String name, double[] v) {
    String kind = name.split(":")[Math.min(1, name.split(":").length - 1)];
    Matrix4f m = new Matrix4f();
    int wanted =
        switch (kind) {
          case "translate",
              "scale",
              "rotateXYZ",
              "rotateXZY",
              "rotateYXZ",
              "rotateYZX",
              "rotateZXY",
              "rotateZYX" ->
              3;
          case "rotateX", "rotateY", "rotateZ" -> 1;
          case "orient" -> 4;
          case "transform" -> 16;
          default -> -1;
        };
    if (wanted != v.length) {
      unsupported.add(prim.path() + ": " + name);
      return m;
    }
    switch (kind) {
      case "translate" -> m.translate((float) v[0], (float) v[1], (float) v[2]);
      case "scale" -> m.scale((float) v[0], (float) v[1], (float) v[2]);
      // real part first
      case "orient" ->
          m.rotate(
              new Quaternionf((float) v[1], (float) v[2], (float) v[3], (float) v[0]).normalize());
      case "transform" -> m.set(matrix(v, 0));
      default -> {
        String axes = kind.substring("rotate".length());
        // the first letter is turned about first, so it stands innermost
        for (int i = axes.length() - 1; i >= 0; i--) {
          int axis = axes.charAt(i) - 'X';
          double angle = Math.toRadians(v.length == 1 ? v[0] : v[axis]);
          m.rotate((float) angle, axis == 0 ? 1 : 0, axis == 1 ? 1 : 0, axis == 2 ? 1 : 0);
        }
      }
    }
    return m;
  }
}
