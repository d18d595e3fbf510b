package org.wedgecutter.core.scene.subdivision;

import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Cage;

/**
 * Faces, edges and vertices of a level of a Catmull-Clark surface, with what is sharp, and the
 * rules by which the next level comes of it.
 *
 * <p>Source of the rules: E. Catmull and J. Clark, "Recursively generated B-spline surfaces on
 * arbitrary topological meshes", 1978; of creases: T. DeRose, M. Kass and T. Truong, "Subdivision
 * surfaces in character animation", 1998. Where a vertex is of another kind one level on, its rule
 * is a mixture of both, by the mean sharpness of what ceases to be sharp.
 *
 * <p>Vertices of the next level: those of this one, a point for each edge, a point for each face.
 * Its faces are quads, one for each corner, in the order of the corners; each begins at its corner
 * and keeps the winding.
 */
final class Topology {
  /** First corner of each face, and behind them the number of corners. */
  final int[] starts;

  /** Vertex of each corner. */
  final int[] corners;

  /** Edge from each corner to the next of its face. */
  final int[] edges;

  final int vertices;

  /** Both vertices of each edge. */
  final int[] ends;

  /** How many faces an edge has. */
  final int[] facesOf;

  /** Both faces of each edge, if it has two; one, if it has more. */
  final int[] sides;

  final float[] sharpness;
  final float[] peaks;

  /** Vertices at which edges with two faces do not count as sharp; null means none. */
  boolean @Nullable [] borders;

  private Topology(
      int[] starts, int[] corners, int[] edges, int[] ends, float[] sharp, float[] peaks) {
    this.starts = starts;
    this.corners = corners;
    this.edges = edges;
    this.ends = ends;
    this.sharpness = sharp;
    this.peaks = peaks;
    vertices = peaks.length;
    facesOf = new int[ends.length / 2];
    sides = new int[ends.length];
    for (int f = 0; f + 1 < starts.length; f++) {
      for (int c = starts[f]; c < starts[f + 1]; c++) {
        int e = edges[c];
        sides[2 * e + Math.min(1, facesOf[e]++)] = f;
      }
    }
    for (int e = 0; e < facesOf.length; e++) {
      if (facesOf[e] != 2) {
        sharp[e] = Cage.INFINITE;
      }
    }
  }

  /**
   * Makes the first level.
   *
   * @param counts corners of each face
   * @param corners vertex of each corner
   * @param vertices how many vertices there are
   */
  static Topology of(int[] counts, int[] corners, int vertices) {
    int[] starts = new int[counts.length + 1];
    for (int f = 0; f < counts.length; f++) {
      starts[f + 1] = starts[f] + counts[f];
    }
    int[] edges = new int[corners.length];
    int[] ends = new int[2 * corners.length];
    // edges by their lower vertex, in lists
    int[] first = new int[vertices];
    int[] next = new int[corners.length];
    Arrays.fill(first, -1);
    int count = 0;
    for (int f = 0; f < counts.length; f++) {
      for (int c = starts[f]; c < starts[f + 1]; c++) {
        int a = corners[c];
        int b = corners[c + 1 < starts[f + 1] ? c + 1 : starts[f]];
        int low = Math.min(a, b);
        int high = Math.max(a, b);
        int e = first[low];
        while (e >= 0 && ends[2 * e + 1] != high) {
          e = next[e];
        }
        if (e < 0) {
          e = count++;
          ends[2 * e] = low;
          ends[2 * e + 1] = high;
          next[e] = first[low];
          first[low] = e;
        }
        edges[c] = e;
      }
    }
    Topology out =
        new Topology(
            starts,
            corners,
            edges,
            Arrays.copyOf(ends, 2 * count),
            new float[count],
            new float[vertices]);
    out.fixTangles();
    return out;
  }

  /** Where more than one fan of faces meets in a vertex, nothing smooth can be said of it. */
  private void fixTangles() {
    int[] around = new int[vertices];
    int[] borders = new int[vertices];
    for (int e = 0; e < facesOf.length; e++) {
      for (int k = 0; k < 2; k++) {
        around[ends[2 * e + k]]++;
        borders[ends[2 * e + k]] += facesOf[e] == 1 ? 1 : 0;
      }
    }
    int[] faces = new int[vertices];
    for (int v : corners) {
      faces[v]++;
    }
    for (int v = 0; v < vertices; v++) {
      boolean fan = faces[v] == around[v] || (borders[v] == 2 && faces[v] + 1 == around[v]);
      if (!fan) {
        peaks[v] = Cage.INFINITE;
      }
    }
  }

  int faces() {
    return starts.length - 1;
  }

  /** Returns the edges between pairs of vertices, or -1. */
  int[] edgesAt(int[] pairs) {
    Map<Long, Integer> all = new HashMap<>();
    for (int e = 0; e < facesOf.length; e++) {
      all.put((long) ends[2 * e] << 32 | ends[2 * e + 1], e);
    }
    int[] out = new int[pairs.length / 2];
    for (int k = 0; k < out.length; k++) {
      long low = Math.min(pairs[2 * k], pairs[2 * k + 1]);
      long high = Math.max(pairs[2 * k], pairs[2 * k + 1]);
      out[k] = all.getOrDefault(low << 32 | high, -1);
    }
    return out;
  }

  /** How sharp an edge is for one of its vertices. */
  float sharpness(int edge, int vertex) {
    return borders != null && borders[vertex] && facesOf[edge] == 2 ? 0 : sharpness[edge];
  }

  private static float less(float sharpness) {
    return sharpness >= Cage.INFINITE ? sharpness : Math.max(0, sharpness - 1);
  }

  /** Returns the next level. */
  Topology next() {
    int edgeCount = facesOf.length;
    int quads = corners.length;
    int[] nextStarts = new int[quads + 1];
    int[] nextCorners = new int[4 * quads];
    int[] nextEdges = new int[4 * quads];
    int[] nextEnds = new int[2 * (2 * edgeCount + quads)];
    float[] nextSharp = new float[2 * edgeCount + quads];
    for (int e = 0; e < edgeCount; e++) {
      for (int k = 0; k < 2; k++) {
        nextEnds[4 * e + 2 * k] = ends[2 * e + k];
        nextEnds[4 * e + 2 * k + 1] = vertices + e;
        nextSharp[2 * e + k] = less(sharpness[e]);
      }
    }
    for (int f = 0; f < faces(); f++) {
      int middle = vertices + edgeCount + f;
      for (int c = starts[f]; c < starts[f + 1]; c++) {
        int before = c > starts[f] ? c - 1 : starts[f + 1] - 1;
        int out = edges[c];
        int in = edges[before];
        nextStarts[c + 1] = 4 * (c + 1);
        nextCorners[4 * c] = corners[c];
        nextCorners[4 * c + 1] = vertices + out;
        nextCorners[4 * c + 2] = middle;
        nextCorners[4 * c + 3] = vertices + in;
        nextEdges[4 * c] = 2 * out + half(out, corners[c], true);
        nextEdges[4 * c + 1] = 2 * edgeCount + c;
        nextEdges[4 * c + 2] = 2 * edgeCount + before;
        nextEdges[4 * c + 3] = 2 * in + half(in, corners[c], false);
        nextEnds[2 * (2 * edgeCount + c)] = vertices + out;
        nextEnds[2 * (2 * edgeCount + c) + 1] = middle;
      }
    }
    float[] nextPeaks = new float[vertices + edgeCount + faces()];
    for (int v = 0; v < vertices; v++) {
      nextPeaks[v] = less(peaks[v]);
    }
    Topology out = new Topology(nextStarts, nextCorners, nextEdges, nextEnds, nextSharp, nextPeaks);
    out.borders = borders == null ? null : Arrays.copyOf(borders, nextPeaks.length);
    return out;
  }

  /** Which half of an edge is at a vertex; of an edge from a vertex to itself, each once. */
  private int half(int edge, int vertex, boolean outwards) {
    if (ends[2 * edge] == ends[2 * edge + 1]) {
      return outwards ? 0 : 1;
    }
    return ends[2 * edge] == vertex ? 0 : 1;
  }

  /** Returns the middle of each face. */
  private double[] middles(double[] values, int size) {
    double[] out = new double[size * faces()];
    for (int f = 0; f < faces(); f++) {
      int count = starts[f + 1] - starts[f];
      for (int c = starts[f]; c < starts[f + 1]; c++) {
        for (int k = 0; k < size; k++) {
          out[size * f + k] += values[size * corners[c] + k] / count;
        }
      }
    }
    return out;
  }

  /**
   * Returns values of the next level's vertices.
   *
   * @param values of this level's, {@code size} numbers each
   * @param straight whether they are cut in halves instead of smoothed
   */
  double[] refine(double[] values, int size, boolean straight) {
    double[] middles = middles(values, size);
    int edgeCount = facesOf.length;
    double[] out = Arrays.copyOf(values, size * (vertices + edgeCount + faces()));
    System.arraycopy(middles, 0, out, size * (vertices + edgeCount), middles.length);
    for (int e = 0; e < edgeCount; e++) {
      double sharp = straight ? 1 : Math.min(1, sharpness[e]);
      for (int k = 0; k < size; k++) {
        double half = (values[size * ends[2 * e] + k] + values[size * ends[2 * e + 1] + k]) / 2;
        double smooth =
            sharp == 1
                ? half
                : half / 2
                    + (middles[size * sides[2 * e] + k] + middles[size * sides[2 * e + 1] + k]) / 4;
        out[size * (vertices + e) + k] = sharp * half + (1 - sharp) * smooth;
      }
    }
    if (!straight) {
      vertices(values, middles, size, out);
    }
    return out;
  }

  /** What meets in a vertex. */
  private static final class Around {
    int edges;
    int sharp;
    int sharpNext;
    int ceasing;
    double ceasingSum;
    final double[] ring;
    final double[] middles;
    final double[] along;
    final double[] alongNext;

    Around(int size) {
      ring = new double[size];
      middles = new double[size];
      along = new double[size];
      alongNext = new double[size];
    }
  }

  private void vertices(double[] values, double[] middles, int size, double[] out) {
    Around[] all = new Around[vertices];
    for (int e = 0; e < facesOf.length; e++) {
      for (int side = 0; side < 2; side++) {
        int v = ends[2 * e + side];
        int other = ends[2 * e + 1 - side];
        Around a = all[v] == null ? all[v] = new Around(size) : all[v];
        a.edges++;
        float sharp = sharpness(e, v);
        boolean stays = less(sharp) > 0;
        a.sharp += sharp > 0 ? 1 : 0;
        a.sharpNext += stays ? 1 : 0;
        if (sharp > 0 && !stays) {
          a.ceasing++;
          a.ceasingSum += sharp;
        }
        for (int k = 0; k < size; k++) {
          double x = values[size * other + k];
          a.ring[k] += x;
          a.along[k] += sharp > 0 ? x : 0;
          a.alongNext[k] += stays ? x : 0;
        }
      }
    }
    for (int f = 0; f < faces(); f++) {
      for (int c = starts[f]; c < starts[f + 1]; c++) {
        Around a = all[corners[c]];
        for (int k = 0; k < size; k++) {
          a.middles[k] += middles[size * f + k];
        }
      }
    }
    for (int v = 0; v < vertices; v++) {
      Around a = all[v];
      if (a == null) {
        continue;
      }
      Kind now = Kind.of(peaks[v], a.sharp);
      Kind next = Kind.of(less(peaks[v]), a.sharpNext);
      double share = now == next || now == Kind.SMOOTH ? 1 : share(v, a);
      for (int k = 0; k < size; k++) {
        double x = values[size * v + k];
        double whole = moved(now, x, a, k, a.along);
        double then = share == 1 ? 0 : moved(next, x, a, k, a.alongNext);
        out[size * v + k] = share * whole + (1 - share) * then;
      }
    }
  }

  /** How much of the present rule there is where the next level has another one. */
  private double share(int v, Around a) {
    boolean ceases = peaks[v] > 0 && less(peaks[v]) == 0;
    int count = a.ceasing + (ceases ? 1 : 0);
    double sum = a.ceasingSum + (ceases ? peaks[v] : 0);
    return count == 0 ? 0 : Math.min(1, sum / count);
  }

  private static double moved(Kind kind, double x, Around a, int k, double[] along) {
    int n = a.edges;
    return switch (kind) {
      case PEAK -> x;
      case CREASE -> 0.75 * x + 0.125 * along[k];
      case SMOOTH -> ((n - 2) * x) / n + (a.ring[k] + a.middles[k]) / ((double) n * n);
    };
  }

  /** The rule of a vertex. */
  enum Kind {
    /** Its edges are smooth, or all but one. */
    SMOOTH,
    /** Two edges are sharp. */
    CREASE,
    /** It is sharp itself, or three or more edges are. */
    PEAK;

    static Kind of(float peak, int sharpEdges) {
      return peak > 0 || sharpEdges > 2 ? PEAK : sharpEdges == 2 ? CREASE : SMOOTH;
    }
  }

  /** Returns the rule of each vertex. */
  Kind[] kinds() {
    int[] sharp = new int[vertices];
    for (int e = 0; e < facesOf.length; e++) {
      for (int side = 0; side < 2; side++) {
        sharp[ends[2 * e + side]] += sharpness(e, ends[2 * e + side]) > 0 ? 1 : 0;
      }
    }
    Kind[] out = new Kind[vertices];
    for (int v = 0; v < vertices; v++) {
      out[v] = Kind.of(peaks[v], sharp[v]);
    }
    return out;
  }
}
