package org.wedgecutter.core.trace;

import org.wedgecutter.core.scene.Mesh;

/**
 * A mesh ready for rays: its tree and its triangles in the tree's order.
 *
 * <p>{@code corners[9 k]} holds of the k-th triangle in the tree's order the first corner and the
 * edges to the second and third; {@code bvh.order[k]} is its number in the mesh.
 */
final class MeshTree {
  final Mesh mesh;
  final Bvh bvh;
  final float[] corners;

  MeshTree(Mesh mesh) {
    this.mesh = mesh;
    int count = mesh.triangles();
    float[] boxes = new float[6 * Math.max(1, count)];
    for (int t = 0; t < count; t++) {
      for (int axis = 0; axis < 3; axis++) {
        float a = corner(t, 0, axis);
        float b = corner(t, 1, axis);
        float c = corner(t, 2, axis);
        boxes[6 * t + axis] = Math.min(a, Math.min(b, c));
        boxes[6 * t + 3 + axis] = Math.max(a, Math.max(b, c));
      }
    }
    bvh = new Bvh(boxes, count, 4);
    corners = new float[9 * count];
    for (int k = 0; k < count; k++) {
      int t = bvh.order[k];
      for (int axis = 0; axis < 3; axis++) {
        float a = corner(t, 0, axis);
        corners[9 * k + axis] = a;
        corners[9 * k + 3 + axis] = corner(t, 1, axis) - a;
        corners[9 * k + 6 + axis] = corner(t, 2, axis) - a;
      }
    }
  }

  private float corner(int triangle, int corner, int axis) {
    return mesh.positions()[3 * mesh.indices()[3 * triangle + corner] + axis];
  }
}
