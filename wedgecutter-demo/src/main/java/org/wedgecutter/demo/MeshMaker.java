package org.wedgecutter.demo;

import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;

/** Puts shapes together into one mesh with positions and uvs; normals are made at the end. */
final class MeshMaker {
  private float[] points = new float[3000];
  private float[] uvs = new float[2000];
  private int[] triangles = new int[3000];
  private int vertices;
  private int corners;

  /** Returns positions, three numbers each. */
  float[] points() {
    return Arrays.copyOf(points, 3 * vertices);
  }

  float[] uvs() {
    return Arrays.copyOf(uvs, 2 * vertices);
  }

  int[] triangles() {
    return Arrays.copyOf(triangles, corners);
  }

  int vertex(double x, double y, double z, double u, double v) {
    if (3 * vertices + 3 > points.length) {
      points = Arrays.copyOf(points, 2 * points.length);
      uvs = Arrays.copyOf(uvs, 2 * uvs.length);
    }
    points[3 * vertices] = (float) x;
    points[3 * vertices + 1] = (float) y;
    points[3 * vertices + 2] = (float) z;
    uvs[2 * vertices] = (float) u;
    uvs[2 * vertices + 1] = (float) v;
    return vertices++;
  }

  void triangle(int a, int b, int c) {
    if (corners + 3 > triangles.length) {
      triangles = Arrays.copyOf(triangles, 2 * triangles.length);
    }
    triangles[corners++] = a;
    triangles[corners++] = b;
    triangles[corners++] = c;
  }

  void quad(int a, int b, int c, int d) {
    triangle(a, b, c);
    triangle(a, c, d);
  }

  /**
   * Turns a profile of (radius, height) pairs about the y axis; from bottom to top faces outwards.
   */
  MeshMaker lathe(int segments, double... profile) {
    int rows = profile.length / 2;
    double[] along = new double[rows];
    for (int r = 1; r < rows; r++) {
      along[r] =
          along[r - 1]
              + Math.hypot(
                  profile[2 * r] - profile[2 * r - 2], profile[2 * r + 1] - profile[2 * r - 1]);
    }
    int[][] ring = new int[rows][segments + 1];
    for (int r = 0; r < rows; r++) {
      for (int s = 0; s <= segments; s++) {
        double a = 2 * Math.PI * s / segments;
        double radius = profile[2 * r];
        ring[r][s] =
            vertex(
                radius * Math.cos(a),
                profile[2 * r + 1],
                -radius * Math.sin(a),
                (double) s / segments,
                along[r] * 4);
      }
    }
    for (int r = 0; r + 1 < rows; r++) {
      for (int s = 0; s < segments; s++) {
        quadUnlessFlat(ring[r][s], ring[r][s + 1], ring[r + 1][s + 1], ring[r + 1][s]);
      }
    }
    return this;
  }

  private void quadUnlessFlat(int a, int b, int c, int d) {
    if (!same(a, b)) {
      triangle(a, b, c);
    }
    if (!same(c, d)) {
      triangle(a, c, d);
    }
  }

  private boolean same(int a, int b) {
    return Math.abs(points[3 * a] - points[3 * b]) < 1e-9
        && Math.abs(points[3 * a + 1] - points[3 * b + 1]) < 1e-9
        && Math.abs(points[3 * a + 2] - points[3 * b + 2]) < 1e-9;
  }

  /** A sphere about a point; u goes round, v from the north pole down. */
  MeshMaker sphere(double x, double y, double z, double radius, int rows) {
    int segments = 2 * rows;
    int[][] grid = new int[rows + 1][segments + 1];
    for (int r = 0; r <= rows; r++) {
      double polar = Math.PI * r / rows;
      for (int s = 0; s <= segments; s++) {
        double a = 2 * Math.PI * s / segments;
        grid[r][s] =
            vertex(
                x + radius * Math.sin(polar) * Math.cos(a),
                y + radius * Math.cos(polar),
                z - radius * Math.sin(polar) * Math.sin(a),
                (double) s / segments,
                (double) r / rows);
      }
    }
    for (int r = 0; r < rows; r++) {
      for (int s = 0; s < segments; s++) {
        quadUnlessFlat(grid[r + 1][s], grid[r + 1][s + 1], grid[r][s + 1], grid[r][s]);
      }
    }
    return this;
  }

  /** A ring about the y axis whose cross-section is a rounded rectangle. */
  MeshMaker ring(double radius, double wide, double high, int segments) {
    double bevel = 0.18 * Math.min(wide, high);
    double in = radius - wide / 2;
    double out = radius + wide / 2;
    double top = high / 2;
    double[] section = {
      in + bevel,
      -top,
      out - bevel,
      -top,
      out,
      -top + bevel,
      out,
      top - bevel,
      out - bevel,
      top,
      in + bevel,
      top,
      in,
      top - bevel,
      in,
      -top + bevel,
      in + bevel,
      -top
    };
    int rows = section.length / 2;
    double[] v = {0, 0.3, 0.35, 0.45, 0.5, 0.8, 0.85, 0.95, 1};
    int[][] grid = new int[rows][segments + 1];
    for (int r = 0; r < rows; r++) {
      for (int s = 0; s <= segments; s++) {
        double a = 2 * Math.PI * s / segments;
        grid[r][s] =
            vertex(
                section[2 * r] * Math.cos(a),
                section[2 * r + 1],
                -section[2 * r] * Math.sin(a),
                12.0 * s / segments,
                v[r]);
      }
    }
    for (int r = 0; r + 1 < rows; r++) {
      for (int s = 0; s < segments; s++) {
        quad(grid[r][s], grid[r][s + 1], grid[r + 1][s + 1], grid[r + 1][s]);
      }
    }
    return this;
  }

  /** A rod from one point to another, its radius changing evenly, closed at the ends. */
  MeshMaker rod(double[] from, double[] to, double radiusFrom, double radiusTo, int segments) {
    double[] axis = {to[0] - from[0], to[1] - from[1], to[2] - from[2]};
    double length = Math.sqrt(axis[0] * axis[0] + axis[1] * axis[1] + axis[2] * axis[2]);
    double[] side =
        Math.abs(axis[1]) < 0.9 * length ? new double[] {0, 1, 0} : new double[] {1, 0, 0};
    double[] a = unit(cross(axis, side));
    double[] b = unit(cross(a, axis));
    double[][] ends = {from, to};
    double[] radii = {radiusFrom, radiusTo};
    int[][] grid = new int[2][segments + 1];
    for (int e = 0; e < 2; e++) {
      for (int s = 0; s <= segments; s++) {
        double angle = 2 * Math.PI * s / segments;
        double c = radii[e] * Math.cos(angle);
        double d = radii[e] * Math.sin(angle);
        grid[e][s] =
            vertex(
                ends[e][0] + c * a[0] + d * b[0],
                ends[e][1] + c * a[1] + d * b[1],
                ends[e][2] + c * a[2] + d * b[2],
                (double) s / segments,
                e * length * 4);
      }
    }
    int low = vertex(from[0], from[1], from[2], 0, 0);
    int high = vertex(to[0], to[1], to[2], 0, 0);
    for (int s = 0; s < segments; s++) {
      quad(grid[0][s + 1], grid[0][s], grid[1][s], grid[1][s + 1]);
      triangle(low, grid[0][s], grid[0][s + 1]);
      triangle(high, grid[1][s + 1], grid[1][s]);
    }
    return this;
  }

  /**
   * A box with bevelled edges, from one corner to the opposite. uv is in metres times {@code
   * scale}.
   */
  MeshMaker box(
      double x0,
      double y0,
      double z0,
      double x1,
      double y1,
      double z1,
      double bevel,
      double scale) {
    double[] low = {x0, y0, z0};
    double[] high = {x1, y1, z1};
    for (int axis = 0; axis < 3; axis++) {
      int p = (axis + 1) % 3;
      int q = (axis + 2) % 3;
      for (int end = 0; end < 2; end++) {
        int[] face = new int[4];
        for (int k = 0; k < 4; k++) {
          int kp = (k == 1 || k == 2) ? 1 : 0;
          int kq = k >= 2 ? 1 : 0;
          double[] point = new double[3];
          point[axis] = end == 0 ? low[axis] : high[axis];
          point[p] = kp == 0 ? low[p] + bevel : high[p] - bevel;
          point[q] = kq == 0 ? low[q] + bevel : high[q] - bevel;
          face[k] = boxVertex(point, axis, scale);
        }
        if (end == 1) {
          quad(face[0], face[1], face[2], face[3]);
        } else {
          quad(face[3], face[2], face[1], face[0]);
        }
      }
    }
    if (bevel > 0) {
      bevels(low, high, bevel, scale);
    }
    return this;
  }

  private int boxVertex(double[] point, int axis, double scale) {
    double u = axis == 0 ? point[2] : point[0];
    double v = axis == 1 ? point[2] : point[1];
    return vertex(point[0], point[1], point[2], u * scale, -v * scale);
  }

  private void bevels(double[] low, double[] high, double bevel, double scale) {
    for (int axis = 0; axis < 3; axis++) {
      int p = (axis + 1) % 3;
      int q = (axis + 2) % 3;
      for (int k = 0; k < 4; k++) {
        boolean pHigh = (k & 1) != 0;
        boolean qHigh = k >= 2;
        double[][] edge = new double[4][3];
        for (int e = 0; e < 4; e++) {
          boolean far = e == 1 || e == 2;
          boolean onP = e < 2;
          edge[e][axis] = far ? high[axis] - bevel : low[axis] + bevel;
          edge[e][p] = inset(low[p], high[p], pHigh, onP ? 0 : bevel);
          edge[e][q] = inset(low[q], high[q], qHigh, onP ? bevel : 0);
        }
        int[] f = new int[4];
        for (int e = 0; e < 4; e++) {
          f[e] = boxVertex(edge[e], p, scale);
        }
        if (pHigh == qHigh) {
          quad(f[3], f[2], f[1], f[0]);
        } else {
          quad(f[0], f[1], f[2], f[3]);
        }
      }
    }
    for (int k = 0; k < 8; k++) {
      boolean[] at = {(k & 1) != 0, (k & 2) != 0, (k & 4) != 0};
      int[] f = new int[3];
      for (int axis = 0; axis < 3; axis++) {
        double[] point = new double[3];
        for (int c = 0; c < 3; c++) {
          point[c] = inset(low[c], high[c], at[c], c == axis ? 0 : bevel);
        }
        f[axis] = boxVertex(point, axis, scale);
      }
      boolean flip = at[0] ^ at[1] ^ at[2];
      if (flip) {
        triangle(f[0], f[1], f[2]);
      } else {
        triangle(f[2], f[1], f[0]);
      }
    }
  }

  private static double inset(double low, double high, boolean atHigh, double by) {
    return atHigh ? high - by : low + by;
  }

  /** A flat rectangle: corner and two edges; faces along first x second. */
  MeshMaker panel(double[] corner, double[] first, double[] second, double uScale, double vScale) {
    int[] f = new int[4];
    for (int k = 0; k < 4; k++) {
      int a = (k == 1 || k == 2) ? 1 : 0;
      int b = k >= 2 ? 1 : 0;
      f[k] =
          vertex(
              corner[0] + a * first[0] + b * second[0],
              corner[1] + a * first[1] + b * second[1],
              corner[2] + a * first[2] + b * second[2],
              a * uScale,
              (1 - b) * vScale);
    }
    quad(f[0], f[1], f[2], f[3]);
    return this;
  }

  /** A toothed wheel about the y axis. */
  MeshMaker gear(double radius, double tooth, double high, int teeth) {
    int steps = teeth * 4;
    double hole = radius * 0.62;
    int[][] grid = new int[4][steps + 1];
    for (int s = 0; s <= steps; s++) {
      double a = 2 * Math.PI * s / steps;
      boolean out = s % 4 == 1 || s % 4 == 2;
      double r = out ? radius + tooth : radius;
      double[] radii = {hole, r, r, hole};
      double[] heights = {-high / 2, -high / 2, high / 2, high / 2};
      for (int k = 0; k < 4; k++) {
        grid[k][s] =
            vertex(
                radii[k] * Math.cos(a),
                heights[k],
                -radii[k] * Math.sin(a),
                radii[k] * Math.cos(a) * 5,
                radii[k] * Math.sin(a) * 5);
      }
    }
    for (int s = 0; s < steps; s++) {
      for (int k = 0; k < 4; k++) {
        int n = (k + 1) % 4;
        quad(grid[k][s], grid[k][s + 1], grid[n][s + 1], grid[n][s]);
      }
    }
    for (int spoke = 0; spoke < 5; spoke++) {
      double a = 2 * Math.PI * spoke / 5;
      double[] to = {hole * 1.02 * Math.cos(a), 0, hole * 1.02 * Math.sin(a)};
      rod(new double[] {0, 0, 0}, to, high * 0.6, high * 0.45, 8);
    }
    return this;
  }

  /**
   * Makes a normal for every vertex: the mean of the faces that meet at its place and turn away
   * from its own face by less than {@code crease} degrees. Vertices that need two are doubled, so
   * every triangle gets its own first; sharing is found again by equal values.
   */
  Finished finish(double crease) {
    double limit = Math.cos(Math.toRadians(crease));
    int count = corners / 3;
    float[] face = new float[3 * count];
    Map<Long, int[]> around = new HashMap<>();
    for (int t = 0; t < count; t++) {
      faceNormal(t, face);
      for (int k = 0; k < 3; k++) {
        long key = place(triangles[3 * t + k]);
        int[] list = around.getOrDefault(key, new int[] {0, 0, 0, 0});
        if (list[0] + 1 == list.length) {
          list = Arrays.copyOf(list, 2 * list.length);
        }
        list[++list[0]] = t;
        around.put(key, list);
      }
    }
    Welder welder = new Welder();
    int[] indices = new int[corners];
    for (int c = 0; c < corners; c++) {
      int t = c / 3;
      int vertex = triangles[c];
      double[] sum = new double[3];
      int[] list = around.getOrDefault(place(vertex), new int[1]);
      double own = length(face, t);
      for (int i = 1; i <= list[0]; i++) {
        int other = list[i];
        double dot = 0;
        for (int axis = 0; axis < 3; axis++) {
          dot += (double) face[3 * t + axis] * face[3 * other + axis];
        }
        if (dot >= limit * own * length(face, other)) {
          for (int axis = 0; axis < 3; axis++) {
            sum[axis] += face[3 * other + axis];
          }
        }
      }
      double[] n = unit(sum);
      indices[c] =
          welder.vertex(
              points[3 * vertex],
              points[3 * vertex + 1],
              points[3 * vertex + 2],
              (float) n[0],
              (float) n[1],
              (float) n[2],
              uvs[2 * vertex],
              uvs[2 * vertex + 1]);
    }
    return welder.finished(indices);
  }

  private static double length(float[] face, int t) {
    return Math.sqrt(
        (double) face[3 * t] * face[3 * t]
            + (double) face[3 * t + 1] * face[3 * t + 1]
            + (double) face[3 * t + 2] * face[3 * t + 2]);
  }

  private void faceNormal(int t, float[] out) {
    int a = 3 * triangles[3 * t];
    int b = 3 * triangles[3 * t + 1];
    int c = 3 * triangles[3 * t + 2];
    double[] p = {
      points[b] - points[a], points[b + 1] - points[a + 1], points[b + 2] - points[a + 2]
    };
    double[] q = {
      points[c] - points[a], points[c + 1] - points[a + 1], points[c + 2] - points[a + 2]
    };
    double[] n = cross(p, q);
    for (int axis = 0; axis < 3; axis++) {
      out[3 * t + axis] = (float) (n[axis] * 1e4);
    }
  }

  private long place(int vertex) {
    long x = Math.round(points[3 * vertex] * 2e5);
    long y = Math.round(points[3 * vertex + 1] * 2e5);
    long z = Math.round(points[3 * vertex + 2] * 2e5);
    return (x * 2097593L + y) * 2097593L + z;
  }

  /** A mesh with normals. */
  record Finished(float[] points, float[] normals, float[] uvs, int[] indices) {}

  /** Gives equal vertices one number. */
  private static final class Welder {
    private final Map<java.util.List<Float>, Integer> known = new java.util.LinkedHashMap<>();

    int vertex(Float... values) {
      java.util.List<Float> key = java.util.List.of(values);
      Integer at = known.get(key);
      if (at == null) {
        at = known.size();
        known.put(key, at);
      }
      return at;
    }

    Finished finished(int[] indices) {
      float[] points = new float[3 * known.size()];
      float[] normals = new float[3 * known.size()];
      float[] uvs = new float[2 * known.size()];
      int i = 0;
      for (java.util.List<Float> v : known.keySet()) {
        for (int c = 0; c < 3; c++) {
          points[3 * i + c] = v.get(c);
          normals[3 * i + c] = v.get(3 + c);
        }
        uvs[2 * i] = v.get(6);
        uvs[2 * i + 1] = v.get(7);
        i++;
      }
      return new Finished(points, normals, uvs, indices);
    }
  }

  private static double[] cross(double[] a, double[] b) {
    return new double[] {
      a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]
    };
  }

  private static double[] unit(double[] v) {
    double length = Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2]);
    double inverse = length > 0 ? 1 / length : 0;
    return new double[] {v[0] * inverse, v[1] * inverse, v[2] * inverse};
  }
}
