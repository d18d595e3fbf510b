package org.wedgecutter.core.trace;

/**
 * Casts rays into a {@link World}; one object serves one thread.
 *
 * <p>Hits are ordered by (distance, instance, triangle), so which of several is the nearest, and
 * which comes after a given one, depends on the ray and the geometry alone, never on the way
 * through the tree. That is what lets a camera segment be followed past entities with the very hits
 * that a trace without them finds.
 *
 * <p>Triangles are met by the test of T. Möller and B. Trumbore, "Fast, Minimum Storage
 * Ray-Triangle Intersection", 1997, without culling.
 */
final class Caster {
  private final World world;
  private final int[] upper = new int[Bvh.STACK];
  private final float[] upperNear = new float[Bvh.STACK];
  private final int[] lower = new int[Bvh.STACK];
  private final float[] lowerNear = new float[Bvh.STACK];

  /** The ray in the world. */
  float ox;

  float oy;
  float oz;
  float dx;
  float dy;
  float dz;

  /** Hits must come after this one: distance, then instance, then slot. */
  private float afterT;

  private int afterInstance;
  private int afterSlot;

  /** Moment of the shutter's time that everything is seen at. */
  int moment;

  /** Rays cast so far. */
  long rays;

  Caster(World world) {
    this.world = world;
  }

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
    afterT = 0;
    afterInstance = Integer.MAX_VALUE;
    afterSlot = Integer.MAX_VALUE;
    hit.clear(Float.POSITIVE_INFINITY);
    walk(masks, bits, hit, false);
  }

  /** Finds the hit that follows {@code hit} in the order of hits, and puts it there. */
  void next(byte[] masks, int bits, Hit hit) {
    afterT = hit.t;
    afterInstance = hit.instance;
    afterSlot = hit.slot;
    hit.clear(Float.POSITIVE_INFINITY);
    walk(masks, bits, hit, false);
  }

  /** Says whether anything lies between the origin and a distance. */
  boolean blocked(byte[] masks, int bits, float far, Hit scratch) {
    afterT = 0;
    afterInstance = Integer.MAX_VALUE;
    afterSlot = Integer.MAX_VALUE;
    scratch.clear(far);
    walk(masks, bits, scratch, true);
    return scratch.found();
  }

  private void walk(byte[] masks, int bits, Hit hit, boolean any) {
    rays++;
    if (world.instances == 0) {
      return;
    }
    Bvh bvh = world.bvh;
    float ix = 1 / dx;
    float iy = 1 / dy;
    float iz = 1 / dz;
    int top = 0;
    int ref = bvh.root;
    while (true) {
      if (ref < 0) {
        int leaf = ~ref;
        int start = leaf >> Bvh.LEAF_BITS;
        int end = start + (leaf & Bvh.MAX_LEAF);
        for (int k = start; k < end; k++) {
          int instance = bvh.order[k];
          if ((masks[instance] & bits) != 0) {
            walkInstance(instance, hit, any);
            if (any && hit.found()) {
              return;
            }
          }
        }
      } else {
        int b = 12 * ref;
        float first = enter(bvh.bounds, b, ox, oy, oz, ix, iy, iz, afterT, hit.t);
        float second = enter(bvh.bounds, b + 6, ox, oy, oz, ix, iy, iz, afterT, hit.t);
        int next = pickChild(bvh, ref, first, second, upper, upperNear, top);
        if (next != NONE) {
          if (first < Float.POSITIVE_INFINITY && second < Float.POSITIVE_INFINITY) {
            top++;
          }
          ref = next;
          continue;
        }
      }
      do {
        if (top == 0) {
          return;
        }
        top--;
      } while (upperNear[top] > hit.t);
      ref = upper[top];
    }
  }

  private static final int NONE = Integer.MIN_VALUE;

  /** Returns the child to go on with, and puts the farther of two on the stack at {@code top}. */
  private static int pickChild(
      Bvh bvh, int node, float first, float second, int[] stack, float[] near, int top) {
    int a = bvh.child[2 * node];
    int b = bvh.child[2 * node + 1];
    if (first <= second) {
      if (first == Float.POSITIVE_INFINITY) {
        return NONE;
      }
      if (second < Float.POSITIVE_INFINITY) {
        stack[top] = b;
        near[top] = second;
      }
      return a;
    }
    if (first < Float.POSITIVE_INFINITY) {
      stack[top] = a;
      near[top] = first;
    }
    return b;
  }

  /**
   * Returns the distance at which the ray enters a box, or infinity if it does not within reach.
   */
  private static float enter(
      float[] box,
      int at,
      float ox,
      float oy,
      float oz,
      float ix,
      float iy,
      float iz,
      float from,
      float to) {
    float x0 = (box[at] - ox) * ix;
    float x1 = (box[at + 3] - ox) * ix;
    float y0 = (box[at + 1] - oy) * iy;
    float y1 = (box[at + 4] - oy) * iy;
    float z0 = (box[at + 2] - oz) * iz;
    float z1 = (box[at + 5] - oz) * iz;
    // a ray within a face gives 0 * infinity = NaN: then the slab does not bound it
    float near = from;
    float far = to;
    near = larger(near, smaller(x0, x1));
    near = larger(near, smaller(y0, y1));
    near = larger(near, smaller(z0, z1));
    far = smaller(far, larger(x0, x1) * GROW);
    far = smaller(far, larger(y0, y1) * GROW);
    far = smaller(far, larger(z0, z1) * GROW);
    return near * SHRINK <= far ? near * SHRINK : Float.POSITIVE_INFINITY;
  }

  private static final float GROW = 1 + 3e-7f;
  private static final float SHRINK = 1 - 3e-7f;

  private static float smaller(float a, float b) {
    return b < a ? b : a;
  }

  private static float larger(float a, float b) {
    return b > a ? b : a;
  }

  private void walkInstance(int instance, Hit hit, boolean any) {
    float[] m = world.toObject[moment];
    int r = 12 * instance;
    float px = m[r] * ox + m[r + 1] * oy + m[r + 2] * oz + m[r + 3];
    float py = m[r + 4] * ox + m[r + 5] * oy + m[r + 6] * oz + m[r + 7];
    float pz = m[r + 8] * ox + m[r + 9] * oy + m[r + 10] * oz + m[r + 11];
    float qx = m[r] * dx + m[r + 1] * dy + m[r + 2] * dz;
    float qy = m[r + 4] * dx + m[r + 5] * dy + m[r + 6] * dz;
    float qz = m[r + 8] * dx + m[r + 9] * dy + m[r + 10] * dz;
    float ix = 1 / qx;
    float iy = 1 / qy;
    float iz = 1 / qz;
    MeshTree tree = world.tree[instance];
    Bvh bvh = tree.bvh;
    int top = 0;
    int ref = bvh.root;
    while (true) {
      if (ref < 0) {
        int leaf = ~ref;
        int start = leaf >> Bvh.LEAF_BITS;
        int end = start + (leaf & Bvh.MAX_LEAF);
        for (int k = start; k < end; k++) {
          if (tree.end == null) {
            triangle(tree.corners, 9 * k, k, px, py, pz, qx, qy, qz, instance, hit);
          } else {
            tree.corners(k, world.part(moment), bent);
            triangle(bent, 0, k, px, py, pz, qx, qy, qz, instance, hit);
          }
        }
        if (any && hit.found()) {
          return;
        }
      } else {
        int b = 12 * ref;
        float first = enter(bvh.bounds, b, px, py, pz, ix, iy, iz, afterT, hit.t);
        float second = enter(bvh.bounds, b + 6, px, py, pz, ix, iy, iz, afterT, hit.t);
        int next = pickChild(bvh, ref, first, second, lower, lowerNear, top);
        if (next != NONE) {
          if (first < Float.POSITIVE_INFINITY && second < Float.POSITIVE_INFINITY) {
            top++;
          }
          ref = next;
          continue;
        }
      }
      do {
        if (top == 0) {
          return;
        }
        top--;
      } while (lowerNear[top] > hit.t);
      ref = lower[top];
    }
  }

  private final float[] bent = new float[9];

  private void triangle(
      float[] c,
      int a,
      int slot,
      float px,
      float py,
      float pz,
      float qx,
      float qy,
      float qz,
      int instance,
      Hit hit) {
    float e1x = c[a + 3];
    float e1y = c[a + 4];
    float e1z = c[a + 5];
    float e2x = c[a + 6];
    float e2y = c[a + 7];
    float e2z = c[a + 8];
    float hx = qy * e2z - qz * e2y;
    float hy = qz * e2x - qx * e2z;
    float hz = qx * e2y - qy * e2x;
    float det = e1x * hx + e1y * hy + e1z * hz;
    float inverse = 1 / det;
    float sx = px - c[a];
    float sy = py - c[a + 1];
    float sz = pz - c[a + 2];
    float u = (sx * hx + sy * hy + sz * hz) * inverse;
    if (!(u >= 0 && u <= 1)) {
      return;
    }
    float kx = sy * e1z - sz * e1y;
    float ky = sz * e1x - sx * e1z;
    float kz = sx * e1y - sy * e1x;
    float v = (qx * kx + qy * ky + qz * kz) * inverse;
    if (!(v >= 0 && u + v <= 1)) {
      return;
    }
    float t = (e2x * kx + e2y * ky + e2z * kz) * inverse;
    if (!(t <= hit.t && t >= afterT)) {
      return;
    }
    if (t == afterT && !later(instance, slot, afterInstance, afterSlot)) {
      return;
    }
    if (t == hit.t && hit.found() && !later(hit.instance, hit.slot, instance, slot)) {
      return;
    }
    hit.t = t;
    hit.instance = instance;
    hit.slot = slot;
    hit.u = u;
    hit.v = v;
  }

  private static boolean later(int instance, int slot, int thanInstance, int thanSlot) {
    return instance > thanInstance || (instance == thanInstance && slot > thanSlot);
  }
}
