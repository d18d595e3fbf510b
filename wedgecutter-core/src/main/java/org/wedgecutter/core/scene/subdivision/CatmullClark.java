package org.wedgecutter.core.scene.subdivision;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Cage;
import org.wedgecutter.core.scene.Mesh;

/**
 * Triangles of the smooth surface of a {@link Cage}: its faces are divided, and the vertices are
 * moved to where all further levels would take them.
 */
final class CatmullClark {
  private CatmullClark() {}

  static Mesh mesh(String name, Cage cage, float[] points, int levels) {
    Topology level = Topology.of(cage.counts(), cage.corners(), points.length / 3);
    int[] materials = materials(cage, level);
    if (levels > 0) {
      sharpen(cage, level);
    }
    double[] p = wide(points);
    Corners uvs = cage.uvs() == null ? null : new Corners(cage.uvs(), cage, level);
    Corners colors = cage.colors() == null ? null : new Corners(cage.colors(), cage, level);
    for (int l = 0; l < levels; l++) {
      p = level.refine(p, 3, false);
      int[] own = new int[level.corners.length];
      for (int f = 0; f < level.faces(); f++) {
        Arrays.fill(own, level.starts[f], level.starts[f + 1], materials[f]);
      }
      materials = own;
      level = level.next();
      refine(uvs);
      refine(colors);
    }
    if (levels == 0) {
      return new Out(level, materials, null, uvs, colors).mesh(name, p, cage);
    }
    LimitSurface limit = new LimitSurface(level);
    LimitSurface.Normals normals = limit.normals(p);
    return new Out(level, materials, normals, uvs, colors).mesh(name, limit.values(p, 3), cage);
  }

  private static void refine(@Nullable Corners values) {
    if (values != null) {
      values.refine();
    }
  }

  private static double[] wide(float[] values) {
    double[] out = new double[values.length];
    for (int i = 0; i < out.length; i++) {
      out[i] = values[i];
    }
    return out;
  }

  /** Materials of faces; those at an edge that is left out are holes. */
  private static int[] materials(Cage cage, Topology level) {
    int[] out = cage.materials().clone();
    if (cage.boundary() == Cage.Boundary.LEFT_OUT) {
      boolean[] edge = new boolean[level.vertices];
      for (int e = 0; e < level.facesOf.length; e++) {
        if (level.facesOf[e] == 1) {
          edge[level.ends[2 * e]] = true;
          edge[level.ends[2 * e + 1]] = true;
        }
      }
      for (int f = 0; f < out.length; f++) {
        for (int c = level.starts[f]; c < level.starts[f + 1]; c++) {
          out[f] = edge[level.corners[c]] ? Cage.HOLE : out[f];
        }
      }
    }
    return out;
  }

  private static void sharpen(Cage cage, Topology level) {
    int[] at = level.edgesAt(cage.creases().ends());
    for (int k = 0; k < at.length; k++) {
      if (at[k] >= 0) {
        level.sharpness[at[k]] =
            Math.max(
                level.sharpness[at[k]], Math.min(Cage.INFINITE, cage.creases().sharpness()[k]));
      }
    }
    for (int k = 0; k < cage.peaks().points().length; k++) {
      int v = cage.peaks().points()[k];
      level.peaks[v] =
          Math.max(level.peaks[v], Math.min(Cage.INFINITE, cage.peaks().sharpness()[k]));
    }
    if (cage.boundary() == Cage.Boundary.SHARP_CORNERS) {
      int[] faces = new int[level.vertices];
      for (int v : level.corners) {
        faces[v]++;
      }
      for (int e = 0; e < level.facesOf.length; e++) {
        for (int k = 0; k < 2; k++) {
          int v = level.ends[2 * e + k];
          if (level.facesOf[e] == 1 && faces[v] == 1) {
            level.peaks[v] = Cage.INFINITE;
          }
        }
      }
    }
  }

  /** Values at the corners of faces: a surface of its own, whose edges are the seams. */
  private static final class Corners {
    private final int size;
    private final boolean straight;
    private Topology level;
    private double[] values;

    Corners(Cage.Values of, Cage cage, Topology points) {
      size = of.size();
      straight = of.seams() == Cage.Seams.STRAIGHT;
      values = wide(of.values());
      level = Topology.of(cage.counts(), of.corners(), of.values().length / size);
      int[] ofPoint = new int[level.vertices];
      int[] edgeOf = new int[level.facesOf.length];
      for (int c = 0; c < level.corners.length; c++) {
        ofPoint[level.corners[c]] = points.corners[c];
        edgeOf[level.edges[c]] = points.edges[c];
      }
      for (int e = 0; e < edgeOf.length; e++) {
        if (level.facesOf[e] == 2) {
          level.sharpness[e] = points.sharpness[edgeOf[e]];
        }
      }
      boolean[] seam = seams();
      for (int v = 0; v < ofPoint.length; v++) {
        if (!seam[v] || of.seams() == Cage.Seams.AS_POINTS) {
          level.peaks[v] = points.peaks[ofPoint[v]];
        }
      }
      if (of.seams() != Cage.Seams.AS_POINTS) {
        corners(of.seams(), ofPoint, seam, points.vertices);
      }
    }

    /** Whether a value is at a seam, or at the edge of the mesh. */
    private boolean[] seams() {
      boolean[] out = new boolean[level.vertices];
      for (int e = 0; e < level.facesOf.length; e++) {
        if (level.facesOf[e] != 2) {
          out[level.ends[2 * e]] = true;
          out[level.ends[2 * e + 1]] = true;
        }
      }
      return out;
    }

    /** Fixes values that keep where they are. */
    private void corners(Cage.Seams rule, int[] ofPoint, boolean[] seam, int points) {
      int[] faces = new int[level.vertices];
      for (int v : level.corners) {
        faces[v]++;
      }
      int[] valuesAt = new int[points];
      boolean[] cornerAt = new boolean[points];
      for (int v = 0; v < level.vertices; v++) {
        if (faces[v] > 0) {
          valuesAt[ofPoint[v]]++;
          cornerAt[ofPoint[v]] |= faces[v] == 1;
        }
      }
      level.borders = new boolean[level.vertices];
      for (int v = 0; v < level.vertices; v++) {
        level.borders[v] = seam[v] && valuesAt[ofPoint[v]] > 1;
      }
      int[] ends = new int[level.vertices];
      for (int e = 0; e < level.facesOf.length; e++) {
        if (level.facesOf[e] != 2) {
          ends[level.ends[2 * e]]++;
          ends[level.ends[2 * e + 1]]++;
        }
      }
      for (int v = 0; v < level.vertices; v++) {
        boolean corner = faces[v] == 1;
        boolean junction = valuesAt[ofPoint[v]] > 2;
        boolean end = cornerAt[ofPoint[v]] && valuesAt[ofPoint[v]] == 2;
        boolean fixed =
            switch (rule) {
              case CORNERS -> corner;
              case JUNCTIONS -> corner || junction;
              case ENDS -> corner || junction || end || ends[v] == 1;
              case EDGES -> true;
              default -> false;
            };
        if (seam[v] && fixed) {
          level.peaks[v] = Cage.INFINITE;
        }
      }
    }

    void refine() {
      values = level.refine(values, size, straight);
      level = level.next();
    }

    /** Returns the values where they tend to; as they are where nothing was divided. */
    float[] last(boolean divided) {
      double[] v = straight || !divided ? values : new LimitSurface(level).values(values, size);
      float[] out = new float[v.length];
      for (int i = 0; i < out.length; i++) {
        out[i] = (float) v[i];
      }
      return out;
    }
  }

  /** Makes triangles of faces; corners that agree in everything are one vertex. */
  private static final class Out {
    private final Topology level;
    private final int[] materials;
    private final LimitSurface.@Nullable Normals normals;
    private final @Nullable Corners uvs;
    private final @Nullable Corners colors;
    private final int[] first;
    private int[] next = new int[64];
    private int[] cornerOf = new int[64];
    private int count;

    Out(
        Topology level,
        int[] materials,
        LimitSurface.@Nullable Normals normals,
        @Nullable Corners uvs,
        @Nullable Corners colors) {
      this.level = level;
      this.materials = materials;
      this.normals = normals;
      this.uvs = uvs;
      this.colors = colors;
      first = new int[level.vertices];
      Arrays.fill(first, -1);
    }

    private boolean alike(int a, int b) {
      return (normals == null || normals.ofCorner()[a] == normals.ofCorner()[b])
          && (uvs == null || uvs.level.corners[a] == uvs.level.corners[b])
          && (colors == null || colors.level.corners[a] == colors.level.corners[b]);
    }

    private int vertex(int corner) {
      int v = level.corners[corner];
      for (int o = first[v]; o >= 0; o = next[o]) {
        if (alike(cornerOf[o], corner)) {
          return o;
        }
      }
      if (count == next.length) {
        next = Arrays.copyOf(next, 2 * count);
        cornerOf = Arrays.copyOf(cornerOf, 2 * count);
      }
      next[count] = first[v];
      cornerOf[count] = corner;
      first[v] = count;
      return count++;
    }

    Mesh mesh(String name, double[] points, Cage cage) {
      int triangles = 0;
      for (int f = 0; f < level.faces(); f++) {
        triangles += materials[f] == Cage.HOLE ? 0 : level.starts[f + 1] - level.starts[f] - 2;
      }
      int[] indices = new int[3 * triangles];
      int[] of = new int[triangles];
      int t = 0;
      for (int f = 0; f < level.faces(); f++) {
        int from = level.starts[f];
        for (int c = from + 2; c < level.starts[f + 1] && materials[f] != Cage.HOLE; c++) {
          indices[3 * t] = vertex(from);
          indices[3 * t + 1] = vertex(c - 1);
          indices[3 * t + 2] = vertex(c);
          of[t++] = materials[f];
        }
      }
      boolean divided = normals != null;
      return new Mesh(
          name,
          gather(points, level.corners, 3),
          normals == null ? null : gather(normals.xyz(), normals.ofCorner(), 3),
          gather(uvs, divided),
          gather(colors, divided),
          indices,
          of,
          cage);
    }

    private float[] gather(double[] values, int[] ofCorner, int size) {
      float[] out = new float[size * count];
      for (int o = 0; o < count; o++) {
        for (int k = 0; k < size; k++) {
          out[size * o + k] = (float) values[size * ofCorner[cornerOf[o]] + k];
        }
      }
      return out;
    }

    private float @Nullable [] gather(@Nullable Corners of, boolean divided) {
      if (of == null) {
        return null;
      }
      float[] last = of.last(divided);
      float[] out = new float[of.size * count];
      for (int o = 0; o < count; o++) {
        System.arraycopy(last, of.size * of.level.corners[cornerOf[o]], out, of.size * o, of.size);
      }
      return out;
    }
  }
}
