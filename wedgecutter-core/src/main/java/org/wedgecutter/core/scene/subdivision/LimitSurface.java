package org.wedgecutter.core.scene.subdivision;

import java.util.Arrays;

/**
 * The smooth surface to which the levels of a Catmull-Clark surface tend, at the vertices of one of
 * them, all faces of which are quads.
 *
 * <p>Source: M. Halstead, M. Kass and T. DeRose, "Efficient, fair interpolation using Catmull-Clark
 * surfaces", 1993; along creases H. Biermann, A. Levin and D. Zorin, "Piecewise smooth subdivision
 * surfaces with normal control", 2000. Creases whose sharpness is not spent yet count as sharp.
 */
final class LimitSurface {
  private final Topology level;
  private final Topology.Kind[] kinds;

  /** Corners of each vertex: from {@code first[v]} to before {@code first[v + 1]}. */
  private final int[] first;

  private final int[] cornersOf;

  LimitSurface(Topology level) {
    this.level = level;
    kinds = level.kinds();
    first = new int[level.vertices + 1];
    for (int v : level.corners) {
      first[v + 1]++;
    }
    for (int v = 0; v < level.vertices; v++) {
      first[v + 1] += first[v];
    }
    cornersOf = new int[level.corners.length];
    int[] at = first.clone();
    for (int c = 0; c < level.corners.length; c++) {
      cornersOf[at[level.corners[c]]++] = c;
    }
  }

  private static int after(int corner) {
    return (corner & ~3) | ((corner + 1) & 3);
  }

  private static int before(int corner) {
    return (corner & ~3) | ((corner + 3) & 3);
  }

  /** Returns where values of the vertices tend to, {@code size} numbers each. */
  double[] values(double[] values, int size) {
    double[] out = values.clone();
    double[] ring = new double[size * level.vertices];
    for (int e = 0; e < level.facesOf.length; e++) {
      for (int side = 0; side < 2; side++) {
        int v = level.ends[2 * e + side];
        int other = level.ends[2 * e + 1 - side];
        boolean counts = kinds[v] == Topology.Kind.SMOOTH || level.sharpness(e, v) > 0;
        for (int k = 0; counts && k < size; k++) {
          ring[size * v + k] += values[size * other + k];
        }
      }
    }
    for (int v = 0; v < level.vertices; v++) {
      int n = first[v + 1] - first[v];
      for (int k = 0; n > 0 && k < size; k++) {
        double x = values[size * v + k];
        double around = ring[size * v + k];
        if (kinds[v] == Topology.Kind.CREASE) {
          out[size * v + k] = (4 * x + around) / 6;
        } else if (kinds[v] == Topology.Kind.SMOOTH) {
          double across = 0;
          for (int i = first[v]; i < first[v + 1]; i++) {
            across += values[size * level.corners[after(after(cornersOf[i]))] + k];
          }
          out[size * v + k] = ((double) n * n * x + 4 * around + across) / (n * (n + 5.0));
        }
      }
    }
    return out;
  }

  /**
   * Normals of the surface.
   *
   * @param ofCorner number of the normal of each corner of a face
   * @param xyz the normals, unit length
   */
  record Normals(int[] ofCorner, double[] xyz) {}

  /**
   * Returns the normals: of each vertex one, or one for each side of the creases that meet in it.
   *
   * @param points x, y, z of the vertices, not yet where they tend to
   */
  Normals normals(double[] points) {
    int[] ofCorner = new int[level.corners.length];
    Arrays.fill(ofCorner, -1);
    double[] xyz = new double[3 * level.corners.length];
    int[] fan = new int[64];
    int count = 0;
    for (int v = 0; v < level.vertices; v++) {
      // fans between sharp edges first, then what is left: whole rings
      for (int pass = 0; pass < 2; pass++) {
        for (int i = first[v]; i < first[v + 1]; i++) {
          int c = cornersOf[i];
          boolean begins = pass == 1 || isBorder(v, level.edges[c]);
          if (ofCorner[c] >= 0 || !begins) {
            continue;
          }
          int faces = 0;
          for (int at = c; at >= 0 && ofCorner[at] < 0; at = next(v, at)) {
            ofCorner[at] = count;
            fan = faces == fan.length ? Arrays.copyOf(fan, 2 * faces) : fan;
            fan[faces++] = at;
          }
          normal(v, fan, faces, points, xyz, 3 * count++);
        }
      }
    }
    return new Normals(ofCorner, Arrays.copyOf(xyz, 3 * count));
  }

  /** Whether the surface may bend sharply at an edge of a vertex. */
  private boolean isBorder(int v, int edge) {
    return level.facesOf[edge] != 2
        || (kinds[v] != Topology.Kind.SMOOTH && level.sharpness(edge, v) > 0);
  }

  /** The next corner about a vertex, counter-clockwise; -1 where a fan ends. */
  private int next(int v, int corner) {
    int edge = level.edges[before(corner)];
    if (isBorder(v, edge)) {
      return -1;
    }
    for (int i = first[v]; i < first[v + 1]; i++) {
      if (level.edges[cornersOf[i]] == edge && cornersOf[i] != corner) {
        return cornersOf[i];
      }
    }
    return -1;
  }

  private void normal(int v, int[] fan, int faces, double[] points, double[] out, int at) {
    double[] flat = new double[3];
    for (int i = 0; i < faces; i++) {
      int a = level.corners[after(fan[i])];
      int b = level.corners[before(fan[i])];
      addCross(points, v, a, b, flat);
    }
    double[] n = flat;
    int last = level.edges[before(fan[faces - 1])];
    boolean closed = last == level.edges[fan[0]] && !isBorder(v, last);
    if (closed && kinds[v] == Topology.Kind.SMOOTH) {
      n = cross(ringTangent(fan, faces, points, 0), ringTangent(fan, faces, points, 1));
    } else if (!closed && kinds[v] == Topology.Kind.CREASE && faces > 1) {
      double[] along = new double[3];
      for (int k = 0; k < 3; k++) {
        along[k] =
            points[3 * level.corners[after(fan[0])] + k]
                - points[3 * level.corners[before(fan[faces - 1])] + k];
      }
      n = cross(along, inwards(v, fan, faces, points));
    }
    double length = Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]);
    if (!(length > 0)) {
      n = flat;
      length = Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]);
    }
    double scale = length > 0 ? 1 / length : 0;
    for (int k = 0; k < 3; k++) {
      out[at + k] = n[k] * scale;
    }
  }

  /** A tangent of a smooth vertex; the second is the first, turned by one edge. */
  private double[] ringTangent(int[] fan, int n, double[] points, int turn) {
    double[] out = new double[3];
    double c1 = Math.cos(2 * Math.PI / n);
    double half = Math.cos(Math.PI / n);
    double weight = 1 + c1 + half * Math.sqrt(2 * (9 + c1));
    for (int i = 0; i < n; i++) {
      double a = Math.cos(2 * Math.PI * (i - turn) / n);
      double b = Math.cos(2 * Math.PI * (i + 1 - turn) / n);
      int edge = level.corners[after(fan[i])];
      int across = level.corners[after(after(fan[i]))];
      for (int k = 0; k < 3; k++) {
        out[k] += weight * a * points[3 * edge + k] + (a + b) * points[3 * across + k];
      }
    }
    return out;
  }

  /** The tangent of a vertex on a crease that leads into a fan of faces. */
  private double[] inwards(int v, int[] fan, int faces, double[] points) {
    double theta = Math.PI / faces;
    double cos = Math.cos(theta);
    double sin = Math.sin(theta);
    double r = (cos + 1) / sin;
    double[] out = new double[3];
    for (int k = 0; k < 3; k++) {
      double sum = 4 * r * (cos - 1) * points[3 * v + k];
      double ends =
          points[3 * level.corners[after(fan[0])] + k]
              + points[3 * level.corners[before(fan[faces - 1])] + k];
      sum -= r * (1 + 2 * cos) * ends;
      for (int i = 0; i < faces; i++) {
        double low = Math.sin(i * theta);
        double high = Math.sin((i + 1) * theta);
        sum += (low + high) * points[3 * level.corners[after(after(fan[i]))] + k];
        if (i > 0) {
          sum += 4 * low * points[3 * level.corners[after(fan[i])] + k];
        }
      }
      out[k] = sum;
    }
    return out;
  }

  private static double[] cross(double[] a, double[] b) {
    return new double[] {
      a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]
    };
  }

  private static void addCross(double[] p, int v, int a, int b, double[] sum) {
    double[] to = new double[3];
    double[] from = new double[3];
    for (int k = 0; k < 3; k++) {
      to[k] = p[3 * a + k] - p[3 * v + k];
      from[k] = p[3 * b + k] - p[3 * v + k];
    }
    double[] n = cross(to, from);
    for (int k = 0; k < 3; k++) {
      sum[k] += n[k];
    }
  }
}
