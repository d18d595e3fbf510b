package org.wedgecutter.core.trace;

/**
 * Casts rays into a {@link World}; one object serves one thread.
 *
 * <p>Hits are ordered by (distance, instance, triangle), so which of several is the nearest, and
 * which comes after a given one, depends on the ray and the geometry alone, never on the way
 * through the tree. That is what lets a camera segment be followed past entities with the very hits
 * that a trace without them finds.
 *
 * <p>The way through the trees is here; what is done to eight boxes or eight triangles at once is
 * left to the kinds of caster: {@link PlainCaster} and {@link VectorCaster}. Both do the same
 * operations in the same order, so that they find the same hits to the last bit. {@link #of} picks
 * one.
 *
 * <p>Triangles are met by the test of T. Möller and B. Trumbore, "Fast, Minimum Storage
 * Ray-Triangle Intersection", 1997, without culling.
 */
abstract class Caster {
  /** Least size of a direction's part that is not taken for 0: its inverse must be finite. */
  private static final float LEAST = 1e-30f;

  private static final float GROW = 1 + 4e-7f;
  private static final float SHRINK = 1 - 4e-7f;

  private final World world;
  private final long[] upper = new long[WideTree.STACK];
  private final long[] lower = new long[WideTree.STACK];

  /** Where the ray enters each box of a node that was tested last. */
  final float[] near = new float[WideTree.WIDTH];

  /** Distances and weights at the triangles of the packet that was tested last. */
  final float[] ts = new float[MeshTree.PACKET];

  final float[] us = new float[MeshTree.PACKET];
  final float[] vs = new float[MeshTree.PACKET];

  /** The ray in the world. */
  float ox;

  float oy;
  float oz;
  float dx;
  float dy;
  float dz;

  /** The ray in the space of the tree that is walked. */
  float px;

  float py;
  float pz;
  float qx;
  float qy;
  float qz;

  /** Inverse of its direction, made a little smaller for entries and larger for exits. */
  float inX;

  float inY;
  float inZ;
  float outX;
  float outY;
  float outZ;

  /** Where in a node's boxes the planes stand that it meets first: 0 or 8 from each axis' first. */
  int firstX;

  int firstY;
  int firstZ;

  /** Hits must come after this one: distance, then instance, then triangle. */
  float afterT;

  private int afterInstance;
  private int afterSlot;

  /** Moment of the shutter's time that everything is seen at. */
  int moment;

  /** Rays cast so far. */
  long rays;

  Caster(World world) {
    this.world = world;
  }

  /** Returns a caster of the kind that is fastest at this time on this machine. */
  static Caster of(World world) {
    return Kernels.vector() ? new VectorCaster(world) : new PlainCaster(world);
  }

  /** Says whether several numbers are worked on at once. */
  abstract boolean vector();

  /**
   * Tests the ray against the boxes of a node.
   *
   * @param bounds of a {@link WideTree}
   * @param at where the node's begin
   * @param far distance at which the ray ends
   * @return a bit for each box that it meets, which it enters at {@link #near}
   */
  abstract int boxes(float[] bounds, int at, float far);

  /**
   * Tests the ray against the triangles of a packet.
   *
   * @param corners of a {@link MeshTree}
   * @param at where the packet's begin
   * @param far distance at which the ray ends
   * @return a bit for each triangle that it meets from {@link #afterT} to there, both included, at
   *     {@link #ts}
   */
  abstract int packet(float[] corners, int at, float far);

  /**
   * The same for triangles that move.
   *
   * @param end the same numbers at the end of the shutter's time
   * @param part of that time, 0 to 1
   */
  abstract int packet(float[] corners, float[] end, float part, int at, float far);

  void ray(float ox, float oy, float oz, float dx, float dy, float dz) {
    this.ox = ox;
    this.oy = oy;
    this.oz = oz;
    this.dx = dx;
    this.dy = dy;
    this.dz = dz;
  }

  /**
   * Finds the nearest hit beyond the origin on instances whose mask shares a bit with {@code bits}.
   *
   * @param masks one number for each instance
   */
  void nearest(byte[] masks, int bits, Hit hit) {
    after(0);
    hit.clear(Float.POSITIVE_INFINITY);
    walk(masks, bits, hit, false);
  }

  /**
   * Finds the nearest hit between two distances.
   *
   * @param from hits must lie beyond
   * @param to hits must not lie beyond
   */
  void nearest(byte[] masks, int bits, float from, float to, Hit hit) {
    after(from);
    hit.clear(to);
    walk(masks, bits, hit, false);
  }

  /** Finds the hit that follows {@code hit} in the order of hits, and puts it there. */
  void next(byte[] masks, int bits, Hit hit) {
    afterT = hit.t;
    afterInstance = hit.instance;
    afterSlot = hit.triangle;
    hit.clear(Float.POSITIVE_INFINITY);
    walk(masks, bits, hit, false);
  }

  /** Says whether anything lies between the origin and a distance. */
  boolean blocked(byte[] masks, int bits, float far, Hit scratch) {
    return blocked(masks, bits, 0, far, scratch);
  }

  /** Says whether anything lies between two distances. */
  boolean blocked(byte[] masks, int bits, float from, float to, Hit scratch) {
    after(from);
    scratch.clear(to);
    walk(masks, bits, scratch, true);
    return scratch.found();
  }

  private void after(float t) {
    afterT = t;
    afterInstance = Integer.MAX_VALUE;
    afterSlot = Integer.MAX_VALUE;
  }

  private void aim(float x, float y, float z, float u, float v, float w) {
    px = x;
    py = y;
    pz = z;
    qx = u;
    qy = v;
    qz = w;
    float ix = inverse(u);
    float iy = inverse(v);
    float iz = inverse(w);
    inX = ix * SHRINK;
    inY = iy * SHRINK;
    inZ = iz * SHRINK;
    outX = ix * GROW;
    outY = iy * GROW;
    outZ = iz * GROW;
    firstX = ix < 0 ? 8 : 0;
    firstY = iy < 0 ? 8 : 0;
    firstZ = iz < 0 ? 8 : 0;
  }

  private static float inverse(float d) {
    return 1 / (Math.abs(d) < LEAST ? Math.copySign(LEAST, d) : d);
  }

  private static long entry(float near, int ref) {
    return (long) Float.floatToRawIntBits(near) << 32 | ref & 0xffffffffL;
  }

  private static float near(long entry) {
    return Float.intBitsToFloat((int) (entry >>> 32));
  }

  private void walk(byte[] masks, int bits, Hit hit, boolean any) {
    rays++;
    if (world.instances == 0) {
      return;
    }
    WideTree tree = world.tree(moment);
    float[] bounds = tree.bounds;
    int[] child = tree.child;
    long[] stack = upper;
    aim(ox, oy, oz, dx, dy, dz);
    int top = 0;
    int ref = 0;
    while (true) {
      while (ref >= 0) {
        int met = boxes(bounds, WideTree.STRIDE * ref, hit.t);
        if (met == 0) {
          ref = Integer.MIN_VALUE;
          break;
        }
        top = push(met, child, WideTree.WIDTH * ref, stack, top, !any);
        ref = (int) stack[--top];
      }
      if (ref != Integer.MIN_VALUE) {
        int instance = tree.order[~ref];
        if ((masks[instance] & bits) != 0) {
          instance(instance, hit, any);
          if (any && hit.found()) {
            return;
          }
          if (top > 0 && !world.stands[instance]) {
            aim(ox, oy, oz, dx, dy, dz);
          }
        }
      }
      do {
        if (top == 0) {
          return;
        }
        top--;
      } while (near(stack[top]) > hit.t);
      ref = (int) stack[top];
    }
  }

  /** Puts the children that were met on the stack, the nearest on top; returns the new top. */
  private int push(int met, int[] child, int at, long[] stack, int from, boolean sorted) {
    int first = Integer.numberOfTrailingZeros(met);
    int rest = met & met - 1;
    int second = Integer.numberOfTrailingZeros(rest);
    long a = entry(near[first], child[at + first]);
    if (rest == 0) {
      stack[from] = a;
      return from + 1;
    }
    long b = entry(near[second], child[at + second]);
    rest &= rest - 1;
    boolean swap = near[first] < near[second];
    stack[from] = swap ? b : a;
    stack[from + 1] = swap ? a : b;
    int top = from + 2;
    while (rest != 0) {
      int lane = Integer.numberOfTrailingZeros(rest);
      rest &= rest - 1;
      long entry = entry(near[lane], child[at + lane]);
      int k = top++;
      // few are met: sorting by insertion costs less than anything clever
      while (sorted && k > from && near(stack[k - 1]) < near[lane]) {
        stack[k] = stack[k - 1];
        k--;
      }
      stack[k] = entry;
    }
    return top;
  }

  private void instance(int instance, Hit hit, boolean any) {
    if (!world.stands[instance]) {
      float[] m = world.toObject[moment];
      int r = 12 * instance;
      aim(
          m[r] * ox + m[r + 1] * oy + m[r + 2] * oz + m[r + 3],
          m[r + 4] * ox + m[r + 5] * oy + m[r + 6] * oz + m[r + 7],
          m[r + 8] * ox + m[r + 9] * oy + m[r + 10] * oz + m[r + 11],
          m[r] * dx + m[r + 1] * dy + m[r + 2] * dz,
          m[r + 4] * dx + m[r + 5] * dy + m[r + 6] * dz,
          m[r + 8] * dx + m[r + 9] * dy + m[r + 10] * dz);
    }
    MeshTree mesh = world.tree[instance];
    float[] bounds = mesh.tree.bounds;
    int[] child = mesh.tree.child;
    long[] stack = lower;
    int top = 0;
    int ref = 0;
    while (true) {
      while (ref >= 0) {
        int met = boxes(bounds, WideTree.STRIDE * ref, hit.t);
        if (met == 0) {
          ref = Integer.MIN_VALUE;
          break;
        }
        if ((met & met - 1) == 0) {
          ref = child[WideTree.WIDTH * ref + Integer.numberOfTrailingZeros(met)];
        } else {
          top = push(met, child, WideTree.WIDTH * ref, stack, top, !any);
          ref = (int) stack[--top];
        }
      }
      if (ref != Integer.MIN_VALUE) {
        triangles(mesh, ~ref, instance, hit);
        if (any && hit.found()) {
          return;
        }
      }
      do {
        if (top == 0) {
          return;
        }
        top--;
      } while (near(stack[top]) > hit.t);
      ref = (int) stack[top];
    }
  }

  private void triangles(MeshTree mesh, int unit, int instance, Hit hit) {
    float[] end = mesh.end;
    int at = MeshTree.STRIDE * unit;
    int met =
        end == null
            ? packet(mesh.corners, at, hit.t)
            : packet(mesh.corners, end, world.part(moment), at, hit.t);
    while (met != 0) {
      int lane = Integer.numberOfTrailingZeros(met);
      met &= met - 1;
      take(ts[lane], lane, mesh.triangle[MeshTree.PACKET * unit + lane], instance, hit);
    }
  }

  private void take(float t, int lane, int triangle, int instance, Hit hit) {
    if (t == afterT && !later(instance, triangle, afterInstance, afterSlot)) {
      return;
    }
    if (!(t < hit.t)) {
      if (t > hit.t || (hit.found() && !later(hit.instance, hit.triangle, instance, triangle))) {
        return;
      }
    }
    hit.t = t;
    hit.instance = instance;
    hit.triangle = triangle;
    hit.u = us[lane];
    hit.v = vs[lane];
  }

  private static boolean later(int instance, int triangle, int thanInstance, int thanTriangle) {
    return instance > thanInstance || (instance == thanInstance && triangle > thanTriangle);
  }
}
