package org.wedgecutter.core.trace;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Mesh;

/**
 * A mesh ready for rays: its tree and its triangles in the tree's order.
 *
 * <p>{@code corners[9 k]} holds of the k-th triangle in the tree's order the first corner and the
 * edges to the second and third; {@code bvh.order[k]} is its number in the mesh. A mesh that bends
 * while the shutter is open has the same numbers for its end in {@code end}; between, corners move
 * straight on, and boxes hold both.
 */
final class MeshTree {
  final Mesh mesh;
  final @Nullable Mesh last;
  final Bvh bvh;
  final float[] corners;
  final float @Nullable [] end;

  MeshTree(Mesh mesh) {
    this(mesh, null);
  }

  /**
   * @param mesh the shape when the shutter opens
   * @param last the shape when it closes, of the same triangles; null if it stays
   */
  MeshTree(Mesh mesh, @Nullable Mesh last) {
    this.mesh = mesh;
    this.last = last;
    int count = mesh.triangles();
    float[] boxes = new float[6 * Math.max(1, count)];
    java.util.Arrays.fill(boxes, Float.NaN);
    grow(mesh, boxes);
    if (last != null) {
      grow(last, boxes);
    }
    if (count == 0) {
      java.util.Arrays.fill(boxes, 0);
    }
    bvh = new Bvh(boxes, count, 4);
    corners = corners(mesh);
    end = last == null ? null : corners(last);
  }

  private static void grow(Mesh mesh, float[] boxes) {
    for (int t = 0; t < mesh.triangles(); t++) {
      for (int k = 0; k < 9; k++) {
        float x = corner(mesh, t, k / 3, k % 3);
        int at = 6 * t + k % 3;
        // the first corner meets NaN, which is no bound
        boxes[at] = boxes[at] <= x ? boxes[at] : x;
        boxes[at + 3] = boxes[at + 3] >= x ? boxes[at + 3] : x;
      }
    }
  }

  private float[] corners(Mesh of) {
    int count = of.triangles();
    float[] out = new float[9 * count];
    for (int k = 0; k < count; k++) {
      int t = bvh.order[k];
      for (int axis = 0; axis < 3; axis++) {
        float a = corner(of, t, 0, axis);
        out[9 * k + axis] = a;
        out[9 * k + 3 + axis] = corner(of, t, 1, axis) - a;
        out[9 * k + 6 + axis] = corner(of, t, 2, axis) - a;
      }
    }
    return out;
  }

  private static float corner(Mesh mesh, int triangle, int corner, int axis) {
    return mesh.positions()[3 * mesh.indices()[3 * triangle + corner] + axis];
  }

  /** Copies the nine numbers of the triangle in a slot at a part of the shutter's time, 0 to 1. */
  void corners(int slot, float part, float[] out) {
    System.arraycopy(corners, 9 * slot, out, 0, 9);
    if (end != null) {
      for (int i = 0; i < 9; i++) {
        out[i] += part * (end[9 * slot + i] - out[i]);
      }
    }
  }
}
