package org.wedgecutter.core.trace.light;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.MotionPath;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.world.World;

/**
 * Emitters with a position, in a binary tree by position and direction: a vertex finds those that
 * matter to it, and a ray those that it hits, in a time that hardly grows with their number.
 *
 * <p>Each node has a box about its emitters over the whole shutter, the sum of their strengths
 * (what they would bring to a place at a distance of one metre that they face) and a cone: the axes
 * of all their light lie within an angle of its axis, and each shines no farther from its own axis
 * than another angle. The importance of a node at a point is its strength, divided by the square of
 * the distance, times the largest cosines at which it could emit and arrive. It is 0 only where no
 * light can come from it; what arrives below the horizon counts a little, since a shading normal
 * may see it.
 *
 * <p>A child is picked by its importance. The strength of all is not known at the root from near
 * by; therefore picking begins at up to {@value #TOP} nodes, each weighed by its square root, as
 * emitters at no place are ({@link LightPicker}).
 *
 * <p>Sources: A. Conty Estevez and C. Kulla, "Importance Sampling of Many Lights with Adaptive Tree
 * Splitting", 2018 (cones, their union, the cost of a split).
 *
 * <p>Immutable. Nodes are numbered with children after their parents.
 */
public final class LightTree {
  /** Nodes that picking begins at. */
  static final int TOP = 8;

  /** What arrives from below the horizon counts at least as if at this cosine. */
  private static final float LEAST_COSINE = 0.05f;

  private static final int NONE = -1;

  /** Numbers of a node: box, strength, axis, cosine and sine of its angle, cosine of the reach. */
  private static final int SIZE = 13;

  private static final int STRENGTH = 6;
  private static final int AXIS = 7;
  private static final int COS = 10;
  private static final int SIN = 11;
  private static final int REACH = 12;

  private float[] nodes = new float[SIZE];

  /** Of each node: its first child, the other follows; or the one's complement of an emitter. */
  private int[] child = new int[1];

  private int[] parent = new int[1];
  private int used;

  /** Node of each emitter, or -1. */
  private final int[] leaf;

  /** The nodes that picking begins at. */
  final int[] top;

  /** Whether rays can meet some light of a node. */
  private boolean[] extended = new boolean[0];

  /** An emitter on its way into the tree. */
  private record Item(int emitter, double[] box, double strength, Cone cone) {
    double middle(int axis) {
      return box[axis] + box[3 + axis];
    }
  }

  /**
   * Directions: axes of light within an angle of an axis, and how far from its own axis each
   * shines, radians.
   */
  record Cone(double[] axis, double angle, double reach) {
    private static final Cone ALL = new Cone(new double[] {0, 0, 1}, Math.PI, Math.PI / 2);

    /** A cone about both. */
    Cone with(Cone other) {
      Cone a = angle >= other.angle ? this : other;
      Cone b = angle >= other.angle ? other : this;
      double far = Math.max(reach, other.reach);
      double between =
          Math.acos(
              Math.clamp(
                  a.axis[0] * b.axis[0] + a.axis[1] * b.axis[1] + a.axis[2] * b.axis[2], -1, 1));
      if (Math.min(between + b.angle, Math.PI) <= a.angle) {
        return new Cone(a.axis, a.angle, far);
      }
      double half = (a.angle + between + b.angle) / 2;
      if (half >= Math.PI) {
        return new Cone(a.axis, Math.PI, far);
      }
      // the axis is turned from a's towards b's until both edges are as far
      double[] turned = turned(a.axis, b.axis, half - a.angle, between);
      return turned == null ? new Cone(a.axis, Math.PI, far) : new Cone(turned, half, far);
    }

    private static double @org.jspecify.annotations.Nullable [] turned(
        double[] from, double[] to, double by, double between) {
      double sin = Math.sin(between);
      if (sin < 1e-6) {
        return null;
      }
      double p = Math.sin(between - by) / sin;
      double q = Math.sin(by) / sin;
      return new double[] {
        p * from[0] + q * to[0], p * from[1] + q * to[1], p * from[2] + q * to[2]
      };
    }

    /** The measure of directions that Conty and Kulla give for the cost of a split. */
    double measure() {
      double w = Math.min(angle + reach, Math.PI);
      double c = Math.cos(angle);
      double s = Math.sin(angle);
      return 2 * Math.PI * (1 - c)
          + Math.PI / 2 * (2 * w * s - Math.cos(angle - 2 * w) - 2 * angle * s + c);
    }
  }

  /**
   * @param emitters all of a scene
   * @param strength of each: its light at one metre, facing it, over pi or less of its directions
   */
  LightTree(List<Emitters.Emitter> emitters, float[] strength, World world) {
    leaf = new int[emitters.size()];
    Arrays.fill(leaf, NONE);
    List<Item> items = new ArrayList<>();
    boolean[] meets = new boolean[emitters.size()];
    for (int e = 0; e < leaf.length; e++) {
      Item item = item(e, emitters.get(e), strength[e], world);
      if (item != null) {
        items.add(item);
        meets[e] = emitters.get(e) instanceof Emitters.Shining s && s.hasExtent();
      }
    }
    if (items.isEmpty()) {
      top = new int[0];
      return;
    }
    int most = 2 * items.size();
    nodes = new float[SIZE * most];
    child = new int[most];
    parent = new int[most];
    parent[0] = NONE;
    used = 1;
    build(0, items);
    extended = new boolean[used];
    for (int n = used - 1; n >= 0; n--) {
      extended[n] = child[n] < 0 ? meets[~child[n]] : extended[child[n]] | extended[child[n] + 1];
    }
    top = topmost();
  }

  // ---- building

  private static @org.jspecify.annotations.Nullable Item item(
      int number, Emitters.Emitter emitter, float strength, World world) {
    return switch (emitter) {
      case Emitters.Surround s -> null;
      case Emitters.Area a -> new Item(number, box(a, world), strength, Cone.ALL);
      case Emitters.Shining s when s.light().type() == Light.Type.DIRECTIONAL -> null;
      case Emitters.Shining s -> new Item(number, box(s), strength, cone(s));
    };
  }

  private static double[] noBox() {
    double huge = Double.MAX_VALUE;
    return new double[] {huge, huge, huge, -huge, -huge, -huge};
  }

  private static void about(double[] box, double x, double y, double z) {
    box[0] = Math.min(box[0], x);
    box[1] = Math.min(box[1], y);
    box[2] = Math.min(box[2], z);
    box[3] = Math.max(box[3], x);
    box[4] = Math.max(box[4], y);
    box[5] = Math.max(box[5], z);
  }

  private static double[] box(Emitters.Area area, World world) {
    double[] box = noBox();
    if (!world.isMoving(area.instance())) {
      Moment middle = new Moment(world);
      float[] c = new float[9];
      for (int t : area.triangles()) {
        Emitters.corners(middle, area.instance(), t, c);
        about(box, c[0], c[1], c[2]);
        about(box, c[0] + c[3], c[1] + c[4], c[2] + c[5]);
        about(box, c[0] + c[6], c[1] + c[7], c[2] + c[8]);
      }
      return box;
    }
    float[] outline = new float[6];
    world.span(area.instance(), area.triangles(), outline);
    about(box, outline[0], outline[1], outline[2]);
    about(box, outline[3], outline[4], outline[5]);
    return box;
  }

  /** A box about a light at every moment: about its hull as each control of its path places it. */
  private static double[] box(Emitters.Shining s) {
    double[] box = noBox();
    Light light = s.light();
    s.path()
        .between(
            0,
            1,
            (m, from) -> {
              for (int axis = 0; axis < 3; axis++) {
                // half of what it reaches along an axis, its node's scale included
                int row = from + 4 * axis;
                double x = Math.abs(m[row]) * light.width() / 2;
                double y = Math.abs(m[row + 1]);
                double z = Math.abs(m[row + 2]) * light.width() / 2;
                double half =
                    switch (light.type()) {
                      case POINT, SPOT, DIRECTIONAL -> 0;
                      case RECTANGLE -> x + y * light.height() / 2;
                      case DISC -> x + y * light.width() / 2;
                      case SPHERE -> x + y * light.width() / 2 + z;
                    };
                double at = m[row + 3];
                box[axis] = Math.min(box[axis], at - half);
                box[3 + axis] = Math.max(box[3 + axis], at + half);
              }
            });
    if (light.type() == Light.Type.SPHERE) {
      // as round as it is read, whatever the node does to its shape
      float[] m = new float[MotionPath.SIZE];
      for (int k = 0; k <= MOMENTS; k++) {
        s.path().at((float) k / MOMENTS, m, 0);
        double radius = 1.01 * LightSampler.radius(light, m);
        about(box, m[3] - radius, m[7] - radius, m[11] - radius);
        about(box, m[3] + radius, m[7] + radius, m[11] + radius);
      }
    }
    return box;
  }

  /** Moments at which directions are asked for; between, they are taken to turn evenly. */
  private static final int MOMENTS = 128;

  private static Cone cone(Emitters.Shining s) {
    Light light = s.light();
    double reach =
        switch (light.type()) {
          case SPOT -> Math.min(light.outerCone() + 1e-3, Math.PI);
          case RECTANGLE, DISC -> Math.PI / 2;
          case POINT, SPHERE, DIRECTIONAL -> -1;
        };
    if (reach < 0) {
      return Cone.ALL;
    }
    Cone cone = null;
    float[] m = new float[MotionPath.SIZE];
    double[] before = null;
    double turn = 0;
    int moments = s.path().moves() ? MOMENTS : 0;
    for (int k = 0; k <= moments; k++) {
      s.path().at(moments == 0 ? 0 : (float) k / moments, m, 0);
      double length = Math.sqrt(m[2] * m[2] + m[6] * m[6] + m[10] * m[10]);
      double[] axis;
      if (light.type() == Light.Type.SPOT) {
        axis = new double[] {-m[2] / length, -m[6] / length, -m[10] / length};
      } else {
        // the normal of the plane, which is not the third axis where a node shears; on its side
        double nx = m[4] * m[9] - m[8] * m[5];
        double ny = m[8] * m[1] - m[0] * m[9];
        double nz = m[0] * m[5] - m[4] * m[1];
        double n = Math.sqrt(nx * nx + ny * ny + nz * nz);
        double side = nx * m[2] + ny * m[6] + nz * m[10] > 0 ? -1 : 1;
        axis = new double[] {side * nx / n, side * ny / n, side * nz / n};
      }
      if (!(axis[0] * axis[0] + axis[1] * axis[1] + axis[2] * axis[2] > 0.5)) {
        return Cone.ALL;
      }
      if (before != null) {
        double cos = before[0] * axis[0] + before[1] * axis[1] + before[2] * axis[2];
        turn = Math.max(turn, Math.acos(Math.max(-1, Math.min(1, cos))));
      }
      before = axis;
      Cone own = new Cone(axis, 1e-3, reach);
      cone = cone == null ? own : cone.with(own);
    }
    if (cone == null) {
      return Cone.ALL;
    }
    // between two moments it turns no farther away than from one to the other
    return new Cone(cone.axis, Math.min(Math.PI, cone.angle + turn), cone.reach);
  }

  private void build(int node, List<Item> items) {
    double[] box = noBox();
    double strength = 0;
    Cone cone = items.getFirst().cone;
    for (Item item : items) {
      about(box, item.box[0], item.box[1], item.box[2]);
      about(box, item.box[3], item.box[4], item.box[5]);
      strength += item.strength;
      cone = cone.with(item.cone);
    }
    int at = SIZE * node;
    for (int k = 0; k < 3; k++) {
      nodes[at + k] = Math.nextDown((float) box[k]);
      nodes[at + 3 + k] = Math.nextUp((float) box[3 + k]);
      nodes[at + AXIS + k] = (float) cone.axis[k];
    }
    nodes[at + STRENGTH] = (float) strength;
    nodes[at + COS] = (float) Math.cos(cone.angle);
    nodes[at + SIN] = (float) Math.sin(cone.angle);
    nodes[at + REACH] = (float) Math.cos(cone.reach);
    if (items.size() == 1) {
      child[node] = ~items.getFirst().emitter;
      leaf[items.getFirst().emitter] = node;
      return;
    }
    List<List<Item>> halves = split(items, box);
    child[node] = used;
    used += 2;
    for (int side = 0; side < 2; side++) {
      parent[child[node] + side] = node;
      build(child[node] + side, halves.get(side));
    }
  }

  /** Parts items in two where strength times area times directions is least. */
  private static List<List<Item>> split(List<Item> items, double[] box) {
    double least = Double.POSITIVE_INFINITY;
    List<Item> best = items;
    int where = items.size() / 2;
    double longest = Math.max(box[3] - box[0], Math.max(box[4] - box[1], box[5] - box[2]));
    for (int a = 0; a < 3; a++) {
      int axis = a;
      List<Item> sorted = new ArrayList<>(items);
      sorted.sort(Comparator.comparingDouble((Item i) -> i.middle(axis)));
      double[] ahead = costs(sorted, false);
      double[] behind = costs(sorted, true);
      // thin slices cost more
      double thin = longest / Math.max(1e-12 * (1 + longest), box[3 + axis] - box[axis]);
      for (int k = 1; k < sorted.size(); k++) {
        double cost = thin * (ahead[k - 1] + behind[k]);
        if (cost < least) {
          least = cost;
          best = sorted;
          where = k;
        }
      }
    }
    return List.of(best.subList(0, where), best.subList(where, best.size()));
  }

  /** Costs of the first items up to each, or of each and those after it. */
  private static double[] costs(List<Item> items, boolean fromEnd) {
    double[] out = new double[items.size()];
    double[] box = noBox();
    double strength = 0;
    Cone cone = items.get(fromEnd ? items.size() - 1 : 0).cone;
    for (int i = 0; i < out.length; i++) {
      int k = fromEnd ? out.length - 1 - i : i;
      Item item = items.get(k);
      about(box, item.box[0], item.box[1], item.box[2]);
      about(box, item.box[3], item.box[4], item.box[5]);
      strength += item.strength;
      cone = cone.with(item.cone);
      double x = box[3] - box[0];
      double y = box[4] - box[1];
      double z = box[5] - box[2];
      // lights in a row have no area: their length counts too
      double area = x * y + y * z + z * x + 1e-3 * (x * x + y * y + z * z);
      out[k] = strength * area * cone.measure();
    }
    return out;
  }

  /** Opens the strongest nodes until there are enough. */
  private int[] topmost() {
    List<Integer> open = new ArrayList<>(List.of(0));
    while (open.size() < TOP) {
      Integer widest = null;
      for (Integer node : open) {
        if (child[node] >= 0
            && (widest == null
                || nodes[SIZE * node + STRENGTH] > nodes[SIZE * widest + STRENGTH])) {
          widest = node;
        }
      }
      if (widest == null) {
        break;
      }
      open.remove(widest);
      open.add(child[widest]);
      open.add(child[widest] + 1);
    }
    return open.stream().mapToInt(Integer::intValue).toArray();
  }

  // ---- picking

  /** Returns the emitter of a node, or -1 if it has children. */
  int emitter(int node) {
    return child[node] < 0 ? ~child[node] : NONE;
  }

  /** Returns the first of a node's two children; the other is the next. */
  int children(int node) {
    return child[node];
  }

  /** Returns the node that a node is a child of. */
  int above(int node) {
    return parent[node];
  }

  /** Returns the node of an emitter, or -1 if it is nowhere. */
  int leaf(int emitter) {
    return leaf[emitter];
  }

  /**
   * Returns the importance of a node at a point.
   *
   * @param facing whether the point has a normal; then nx, ny, nz
   */
  float importance(
      int node, float px, float py, float pz, boolean facing, float nx, float ny, float nz) {
    int at = SIZE * node;
    float x = 0.5f * (nodes[at] + nodes[at + 3]) - px;
    float y = 0.5f * (nodes[at + 1] + nodes[at + 4]) - py;
    float z = 0.5f * (nodes[at + 2] + nodes[at + 5]) - pz;
    float hx = nodes[at + 3] - nodes[at];
    float hy = nodes[at + 4] - nodes[at + 1];
    float hz = nodes[at + 5] - nodes[at + 2];
    float radius2 = 0.25f * (hx * hx + hy * hy + hz * hz);
    float square = x * x + y * y + z * z;
    float inverse = 1 / (float) Math.sqrt(Math.max(square, 1e-30f));
    // the angle that the box takes up, as its ball does
    boolean within = square <= radius2;
    float sinBox = within ? 1 : (float) Math.sqrt(radius2 / square);
    float cosBox = within ? -1 : (float) Math.sqrt(Math.max(0, 1 - radius2 / square));
    float out = nodes[at + STRENGTH] / Math.max(square, Math.max(radius2, 1e-12f));
    if (nodes[at + COS] > -1) {
      float cos =
          -inverse * (x * nodes[at + AXIS] + y * nodes[at + AXIS + 1] + z * nodes[at + AXIS + 2]);
      float lessCone = less(cos, nodes[at + COS], nodes[at + SIN]);
      float least = within ? 1 : less(lessCone, cosBox, sinBox);
      if (least <= nodes[at + REACH] - 1e-4f) {
        return 0;
      }
      out *= Math.max(least, LEAST_COSINE);
    }
    if (facing) {
      float cos = inverse * (x * nx + y * ny + z * nz);
      out *= Math.max(within ? 1 : less(cos, cosBox, sinBox), LEAST_COSINE);
    }
    return out;
  }

  /** Cosine of an angle less another, or 1 if the other is more. */
  private static float less(float cos, float cosOther, float sinOther) {
    if (cos >= cosOther) {
      return 1;
    }
    float sin = (float) Math.sqrt(Math.max(0, 1 - cos * cos));
    return cos * cosOther + sin * sinOther;
  }

  // ---- rays

  /** Numbers that {@link #met} may need on its stack. */
  public int depth() {
    int most = 1;
    for (int n : leaf) {
      int depth = 1;
      for (int at = n; at > 0; at = parent[at]) {
        depth++;
      }
      most = Math.max(most, depth);
    }
    return most + 1;
  }

  /**
   * Finds lights that a ray may meet.
   *
   * @param stack as long as {@link #depth}
   * @param out takes the emitters whose boxes the ray goes through before a distance
   * @return how many there are
   */
  public int met(RayCaster ray, float far, int[] stack, int[] out) {
    if (extended.length == 0 || !extended[0]) {
      return 0;
    }
    int count = 0;
    int depth = 0;
    stack[depth++] = 0;
    float ix = 1 / ray.dx;
    float iy = 1 / ray.dy;
    float iz = 1 / ray.dz;
    while (depth > 0) {
      int node = stack[--depth];
      if (!extended[node] || !crosses(SIZE * node, ray, ix, iy, iz, far)) {
        continue;
      }
      if (child[node] < 0) {
        out[count++] = ~child[node];
      } else {
        stack[depth++] = child[node];
        stack[depth++] = child[node] + 1;
      }
    }
    return count;
  }

  private boolean crosses(int at, RayCaster ray, float ix, float iy, float iz, float far) {
    float ax = (nodes[at] - ray.ox) * ix;
    float bx = (nodes[at + 3] - ray.ox) * ix;
    float ay = (nodes[at + 1] - ray.oy) * iy;
    float by = (nodes[at + 4] - ray.oy) * iy;
    float az = (nodes[at + 2] - ray.oz) * iz;
    float bz = (nodes[at + 5] - ray.oz) * iz;
    float from = Math.max(Math.max(Math.min(ax, bx), Math.min(ay, by)), Math.min(az, bz));
    float to = Math.min(Math.min(Math.max(ax, bx), Math.max(ay, by)), Math.max(az, bz));
    // a ray in the plane of a flat box gives NaN there, which does not exclude the box
    return !(from * 0.9999f > to * 1.0001f) && !(to < 0) && !(from > far);
  }
}
