package org.wedgecutter.core.trace.accel;

/**
 * Traverses the tree over instances and those over triangles; keeps the stack, so one object serves
 * one caster.
 *
 * <p>This class has no nested classes: {@link Traversal} makes copies of it alone.
 */
final class TreeTraversal implements Traversal {
  private final long[] upper = new long[WideTree.STACK];
  private final long[] lower = new long[WideTree.STACK];
  private final int[] waiting = new int[WideTree.STACK];

  private static long entry(float near, int ref) {
    return (long) Float.floatToRawIntBits(near) << 32 | ref & 0xffffffffL;
  }

  private static float near(long entry) {
    return Float.intBitsToFloat((int) (entry >>> 32));
  }

  @Override
  public void traverse(RayCaster c, byte[] masks, int bits, Hit hit, boolean any) {
    Instances world = c.world;
    WideTree tree = world.tree(c.moment.time());
    float[] bounds = tree.bounds;
    int[] child = tree.child;
    long[] stack = upper;
    c.aim(c.ox, c.oy, c.oz, c.dx, c.dy, c.dz);
    int top = 0;
    int ref = 0;
    while (true) {
      while (ref >= 0) {
        int met = c.boxes(bounds, WideTree.STRIDE * ref, hit.t);
        if (met == 0) {
          ref = Integer.MIN_VALUE;
          break;
        }
        top = push(c.near, met, child, WideTree.WIDTH * ref, stack, top, !any);
        ref = (int) stack[--top];
      }
      if (ref != Integer.MIN_VALUE) {
        int instance = tree.order[~ref];
        if ((masks[instance] & bits) != 0) {
          instance(c, instance, hit, any);
          if (any && hit.found()) {
            return;
          }
          if (top > 0 && !world.stands[instance]) {
            c.aim(c.ox, c.oy, c.oz, c.dx, c.dy, c.dz);
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
  private static int push(
      float[] near, int met, int[] child, int at, long[] stack, int from, boolean sorted) {
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
      // few are met: insertion sort is the fastest
      while (sorted && k > from && near(stack[k - 1]) < near[lane]) {
        stack[k] = stack[k - 1];
        k--;
      }
      stack[k] = entry;
    }
    return top;
  }

  private void instance(RayCaster c, int instance, Hit hit, boolean any) {
    Instances world = c.world;
    if (!world.stands[instance]) {
      c.moment.place(instance);
      float[] m = c.moment.toObject;
      float ox = c.ox;
      float oy = c.oy;
      float oz = c.oz;
      float dx = c.dx;
      float dy = c.dy;
      float dz = c.dz;
      int r = 12 * instance;
      c.aim(
          m[r] * ox + m[r + 1] * oy + m[r + 2] * oz + m[r + 3],
          m[r + 4] * ox + m[r + 5] * oy + m[r + 6] * oz + m[r + 7],
          m[r + 8] * ox + m[r + 9] * oy + m[r + 10] * oz + m[r + 11],
          m[r] * dx + m[r + 1] * dy + m[r + 2] * dz,
          m[r + 4] * dx + m[r + 5] * dy + m[r + 6] * dz,
          m[r + 8] * dx + m[r + 9] * dy + m[r + 10] * dz);
    }
    if (any) {
      blocked(c, c.moment.shape[instance], instance, hit);
    } else {
      nearest(c, c.moment.shape[instance], instance, hit);
    }
  }

  private void nearest(RayCaster c, MeshTree mesh, int instance, Hit hit) {
    float[] bounds = mesh.tree.bounds;
    int[] child = mesh.tree.child;
    long[] stack = lower;
    int top = 0;
    int ref = 0;
    while (true) {
      while (ref >= 0) {
        int met = c.boxes(bounds, WideTree.STRIDE * ref, hit.t);
        if (met == 0) {
          ref = Integer.MIN_VALUE;
          break;
        }
        if ((met & met - 1) == 0) {
          ref = child[WideTree.WIDTH * ref + Integer.numberOfTrailingZeros(met)];
        } else {
          top = push(c.near, met, child, WideTree.WIDTH * ref, stack, top, true);
          ref = (int) stack[--top];
        }
      }
      if (ref != Integer.MIN_VALUE) {
        triangles(c, mesh, ~ref, instance, hit);
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

  /** Any hit ends it, so the ray is not shortened and order gains nothing. */
  private void blocked(RayCaster c, MeshTree mesh, int instance, Hit hit) {
    float[] bounds = mesh.tree.bounds;
    int[] child = mesh.tree.child;
    int[] stack = waiting;
    int top = 0;
    int ref = 0;
    while (true) {
      if (ref >= 0) {
        int met = c.boxes(bounds, WideTree.STRIDE * ref, hit.t);
        int first = WideTree.WIDTH * ref;
        while (met != 0) {
          stack[top++] = child[first + Integer.numberOfTrailingZeros(met)];
          met &= met - 1;
        }
      } else {
        triangles(c, mesh, ~ref, instance, hit);
        if (hit.found()) {
          return;
        }
      }
      if (top == 0) {
        return;
      }
      ref = stack[--top];
    }
  }

  private static void triangles(RayCaster c, MeshTree mesh, int unit, int instance, Hit hit) {
    float[] end = mesh.end;
    int at = MeshTree.STRIDE * unit;
    int met =
        end == null
            ? c.packet(mesh.corners, at, hit.t)
            : c.packet(mesh.corners, end, c.moment.part[instance], at, hit.t);
    while (met != 0) {
      int lane = Integer.numberOfTrailingZeros(met);
      met &= met - 1;
      take(c, lane, mesh.triangle[MeshTree.PACKET * unit + lane], instance, hit);
    }
  }

  private static void take(RayCaster c, int lane, int triangle, int instance, Hit hit) {
    float t = c.ts[lane];
    if (t == c.afterT && !later(instance, triangle, c.afterInstance, c.afterSlot)) {
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
    hit.u = c.us[lane];
    hit.v = c.vs[lane];
  }

  private static boolean later(int instance, int triangle, int thanInstance, int thanTriangle) {
    return instance > thanInstance || (instance == thanInstance && triangle > thanTriangle);
  }
}
