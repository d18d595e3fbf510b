package org.wedgecutter.core.trace.accel;

import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Mesh;

/**
 * A mesh prepared for rays: its tree, and its triangles in packets of eight.
 *
 * <p>Packet u belongs to unit u of the tree: {@code corners[72 u ..]} holds eight numbers each of
 * x, y, z of the first corner, of the edge to the second and of the edge to the third; {@code
 * triangle[8 u + i]} is the number of the i-th one in the mesh. A packet of less than eight repeats
 * its last. A shape of a mesh that deforms has the same layout for its end, where the next shape
 * begins, in {@code end}; between, corners move linearly, and boxes hold both.
 */
public final class MeshTree {
  /** Triangles of a packet. */
  static final int PACKET = 8;

  /** Numbers of a packet. */
  static final int STRIDE = 9 * PACKET;

  /** Boxes that an outline is made of, about: so many tell the shape well enough. */
  private static final int OUTLINE = 256;

  public final Mesh mesh;
  public final @Nullable Mesh last;
  final WideTree tree;
  final float[] corners;
  final float @Nullable [] end;
  final int[] triangle;

  /** Boxes that hold the mesh, six numbers each as {@link WideTree#outline} has them. */
  final float[] outline;

  public MeshTree(Mesh mesh) {
    this(mesh, null);
  }

  /**
   * @param mesh the shape at first
   * @param last the shape at its end, of the same triangles; null if it stays
   */
  public MeshTree(Mesh mesh, @Nullable Mesh last) {
    this.mesh = mesh;
    this.last = last;
    TriangleSplits pieces =
        last == null ? new TriangleSplits(mesh) : new TriangleSplits(mesh, last);
    tree = new WideTree(pieces.boxes, pieces.triangle.length, PACKET);
    outline = tree.outline(OUTLINE);
    int units = tree.begins.length - 1;
    triangle = new int[PACKET * units];
    for (int u = 0; u < units; u++) {
      int from = tree.begins[u];
      int size = tree.begins[u + 1] - from;
      for (int i = 0; i < PACKET; i++) {
        triangle[PACKET * u + i] = pieces.triangle[tree.order[from + Math.min(i, size - 1)]];
      }
    }
    corners = corners(mesh);
    end = last == null ? null : corners(last);
  }

  private static final int CHUNK = 8192;

  private float[] corners(Mesh of) {
    int units = triangle.length / PACKET;
    float[] out = new float[STRIDE * units];
    float[] p = of.positions();
    int[] indices = of.indices();
    IntStream.range(0, (units + CHUNK - 1) / CHUNK)
        .parallel()
        .forEach(c -> {
          int to = Math.min(units, (c + 1) * CHUNK);
          for (int u = c * CHUNK; u < to; u++) {
            for (int i = 0; i < PACKET; i++) {
              int t = 3 * triangle[PACKET * u + i];
              int a = 3 * indices[t];
              int b = 3 * indices[t + 1];
              int d = 3 * indices[t + 2];
              int at = STRIDE * u + i;
              for (int axis = 0; axis < 3; axis++) {
                out[at + PACKET * axis] = p[a + axis];
                out[at + PACKET * (3 + axis)] = p[b + axis] - p[a + axis];
                out[at + PACKET * (6 + axis)] = p[d + axis] - p[a + axis];
              }
            }
          }
        });
    return out;
  }

  /**
   * Sets first corner and both edges of a triangle on the way to the shape's end, 0 to 1.
   *
   * @param number of the triangle in the mesh
   */
  public void corners(int number, float part, float[] out) {
    edges(mesh, number, out);
    if (last != null) {
      float[] p = last.positions();
      int[] indices = last.indices();
      int a = 3 * indices[3 * number];
      for (int corner = 0; corner < 3; corner++) {
        int v = 3 * indices[3 * number + corner];
        for (int axis = 0; axis < 3; axis++) {
          float x = corner == 0 ? p[v + axis] : p[v + axis] - p[a + axis];
          int k = 3 * corner + axis;
          out[k] += part * (x - out[k]);
        }
      }
    }
  }

  private static void edges(Mesh of, int number, float[] out) {
    float[] p = of.positions();
    int[] indices = of.indices();
    int a = 3 * indices[3 * number];
    for (int corner = 0; corner < 3; corner++) {
      int v = 3 * indices[3 * number + corner];
      for (int axis = 0; axis < 3; axis++) {
        out[3 * corner + axis] = corner == 0 ? p[v + axis] : p[v + axis] - p[a + axis];
      }
    }
  }
}
