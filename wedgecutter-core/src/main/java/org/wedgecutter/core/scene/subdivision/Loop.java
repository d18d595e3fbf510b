package org.wedgecutter.core.scene.subdivision;

import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import org.wedgecutter.core.scene.Mesh;

/**
 * Loop's subdivision of triangles: each level cuts every triangle in four and moves vertices
 * towards the smooth surface that the levels come close to.
 *
 * <p>Vertices at the same place count as one in the rules of the shape, so that seams of texture
 * coordinates and normals do not open; what they carry is cut in halves. Edges with one triangle,
 * or more than two, are creases.
 *
 * <p>Source: C. Loop, "Smooth Subdivision Surfaces Based on Triangles", 1987; the weight of a
 * vertex of valence n is J. Warren's, 3/(8n), and 3/16 for n = 3; on creases cubic B-splines.
 */
final class Loop {
  private Loop() {}

  /** Returns a mesh with so many levels of subdivision. */
  static Mesh divided(Mesh mesh, int levels) {
    Mesh out = mesh;
    for (int l = 0; l < levels; l++) {
      out = once(out);
    }
    return levels == 0 ? out : smooth(out);
  }

  /** An edge between places: what lies across it. */
  private static final class Edge {
    final int a;
    final int b;
    int left = -1;
    int right = -1;
    int triangles;

    Edge(int a, int b) {
      this.a = a;
      this.b = b;
    }

    boolean isCrease() {
      return triangles != 2;
    }
  }

  private static Mesh once(Mesh mesh) {
    int[] place = places(mesh);
    int[] indices = mesh.indices();
    Map<Long, Edge> edges = new HashMap<>();
    for (int t = 0; t < indices.length; t += 3) {
      for (int k = 0; k < 3; k++) {
        Edge e = edge(edges, place[indices[t + k]], place[indices[t + (k + 1) % 3]]);
        int across = place[indices[t + (k + 2) % 3]];
        if (e.triangles++ == 0) {
          e.left = across;
        } else {
          e.right = across;
        }
      }
    }
    int vertices = mesh.positions().length / 3;
    float[] moved = moved(mesh, place, edges);
    Map<Long, Integer> middles = new HashMap<>();
    int corners = 4 * indices.length;
    int[] next = new int[corners];
    int[] materials = new int[corners / 3];
    int most = vertices + indices.length;
    float[] p = Arrays.copyOf(moved, 3 * most);
    float[] uvs = mesh.uvs() == null ? null : Arrays.copyOf(mesh.uvs(), 2 * most);
    float[] colors = mesh.colors() == null ? null : Arrays.copyOf(mesh.colors(), 4 * most);
    int count = vertices;
    int at = 0;
    for (int t = 0; t < indices.length; t += 3) {
      int[] m = new int[3];
      for (int k = 0; k < 3; k++) {
        int a = indices[t + k];
        int b = indices[t + (k + 1) % 3];
        Integer known = middles.get(key(a, b));
        if (known == null) {
          known = count++;
          middles.put(key(a, b), known);
          middle(mesh.positions(), edge(edges, place[a], place[b]), p, known);
          half(uvs, 2, a, b, known);
          half(colors, 4, a, b, known);
        }
        m[k] = known;
      }
      int[] four = {
        indices[t],
        m[0],
        m[2],
        m[0],
        indices[t + 1],
        m[1],
        m[2],
        m[1],
        indices[t + 2],
        m[0],
        m[1],
        m[2]
      };
      System.arraycopy(four, 0, next, at, 12);
      Arrays.fill(materials, at / 3, at / 3 + 4, mesh.triangleMaterials()[t / 3]);
      at += 12;
    }
    return new Mesh(
        mesh.name(),
        Arrays.copyOf(p, 3 * count),
        null,
        uvs == null ? null : Arrays.copyOf(uvs, 2 * count),
        colors == null ? null : Arrays.copyOf(colors, 4 * count),
        next,
        materials);
  }

  private static long key(int a, int b) {
    return (long) Math.min(a, b) << 32 | Math.max(a, b);
  }

  private static Edge edge(Map<Long, Edge> edges, int a, int b) {
    return edges.computeIfAbsent(key(a, b), k -> new Edge(Math.min(a, b), Math.max(a, b)));
  }

  /** The first vertex at the place of each; places differ if any bit does. */
  private static int[] places(Mesh mesh) {
    record Place(float x, float y, float z) {}
    Map<Place, Integer> first = new HashMap<>();
    float[] p = mesh.positions();
    int[] out = new int[p.length / 3];
    for (int v = 0; v < out.length; v++) {
      Integer known =
          first.putIfAbsent(new Place(p[3 * v] + 0f, p[3 * v + 1] + 0f, p[3 * v + 2] + 0f), v);
      out[v] = known == null ? v : known;
    }
    return out;
  }

  private static float[] moved(Mesh mesh, int[] place, Map<Long, Edge> edges) {
    float[] p = mesh.positions();
    int vertices = place.length;
    int[] valence = new int[vertices];
    int[] creases = new int[vertices];
    double[] around = new double[3 * vertices];
    double[] along = new double[3 * vertices];
    for (Edge e : edges.values()) {
      meet(e, e.a, e.b, p, valence, creases, around, along);
      meet(e, e.b, e.a, p, valence, creases, around, along);
    }
    float[] out = p.clone();
    for (int v = 0; v < vertices; v++) {
      int w = place[v];
      int n = valence[w];
      if (n == 0) {
        continue;
      }
      for (int c = 0; c < 3; c++) {
        double old = p[3 * w + c];
        double next = old;
        if (creases[w] == 2) {
          next = 0.75 * old + 0.125 * along[3 * w + c];
        } else if (creases[w] == 0) {
          double beta = n == 3 ? 3.0 / 16 : 3.0 / (8 * n);
          next = (1 - n * beta) * old + beta * around[3 * w + c];
        }
        out[3 * v + c] = (float) next;
      }
    }
    return out;
  }

  private static void meet(
      Edge e,
      int of,
      int to,
      float[] p,
      int[] valence,
      int[] creases,
      double[] around,
      double[] along) {
    valence[of]++;
    creases[of] += e.isCrease() ? 1 : 0;
    for (int c = 0; c < 3; c++) {
      around[3 * of + c] += p[3 * to + c];
      along[3 * of + c] += e.isCrease() ? p[3 * to + c] : 0;
    }
  }

  private static void middle(float[] p, Edge e, float[] out, int at) {
    for (int c = 0; c < 3; c++) {
      double ends = (double) p[3 * e.a + c] + p[3 * e.b + c];
      out[3 * at + c] =
          (float)
              (e.isCrease()
                  ? 0.5 * ends
                  : 0.375 * ends + 0.125 * (p[3 * e.left + c] + (double) p[3 * e.right + c]));
    }
  }

  private static void half(
      float @org.jspecify.annotations.Nullable [] of, int size, int a, int b, int at) {
    if (of != null) {
      for (int c = 0; c < size; c++) {
        of[size * at + c] = 0.5f * (of[size * a + c] + of[size * b + c]);
      }
    }
  }

  /** Gives a mesh smooth normals: of each place the mean of its triangles', by their areas. */
  private static Mesh smooth(Mesh mesh) {
    int[] place = places(mesh);
    float[] p = mesh.positions();
    float[] sum = new float[p.length];
    int[] indices = mesh.indices();
    for (int t = 0; t < indices.length; t += 3) {
      int a = 3 * indices[t];
      int b = 3 * indices[t + 1];
      int c = 3 * indices[t + 2];
      float ux = p[b] - p[a];
      float uy = p[b + 1] - p[a + 1];
      float uz = p[b + 2] - p[a + 2];
      float vx = p[c] - p[a];
      float vy = p[c + 1] - p[a + 1];
      float vz = p[c + 2] - p[a + 2];
      for (int k = 0; k < 3; k++) {
        int at = 3 * place[indices[t + k]];
        sum[at] += uy * vz - uz * vy;
        sum[at + 1] += uz * vx - ux * vz;
        sum[at + 2] += ux * vy - uy * vx;
      }
    }
    float[] n = new float[p.length];
    for (int v = 0; v < place.length; v++) {
      int at = 3 * place[v];
      double length =
          Math.sqrt(
              sum[at] * (double) sum[at]
                  + sum[at + 1] * (double) sum[at + 1]
                  + sum[at + 2] * (double) sum[at + 2]);
      double inv = length > 0 ? 1 / length : 0;
      for (int c = 0; c < 3; c++) {
        n[3 * v + c] = (float) (sum[at + c] * inv);
      }
    }
    return new Mesh(
        mesh.name(), p, n, mesh.uvs(), mesh.colors(), indices, mesh.triangleMaterials());
  }
}
