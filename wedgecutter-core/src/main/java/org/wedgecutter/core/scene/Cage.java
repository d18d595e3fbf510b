package org.wedgecutter.core.scene;

import org.jspecify.annotations.Nullable;

/**
 * The control cage of a smooth surface, as of the scheme of E. Catmull and J. Clark: faces of three
 * or more corners, wound counter-clockwise as seen from outside. Arrays are not copied and must not
 * be changed.
 *
 * <p>A {@link Mesh} that has one holds the triangles of the surface that comes of it; what deforms
 * such a mesh moves the points of its cage.
 *
 * @param levels how many times faces are divided unless a plan asks for another number
 * @param points x, y, z of each point, in the mesh's space
 * @param counts how many corners each face has
 * @param corners point of each corner, face after face
 * @param materials index into {@link Scene#materials()} of each face, or {@link #HOLE}
 * @param creases edges that are sharp
 * @param peaks points that are sharp
 * @param boundary what becomes of the surface's edge
 * @param uvs texture coordinates, v downwards; null means none
 * @param colors linear red, green, blue and alpha; null means none
 */
public record Cage(
    int levels,
    float[] points,
    int[] counts,
    int[] corners,
    int[] materials,
    Creases creases,
    Peaks peaks,
    Boundary boundary,
    @Nullable Values uvs,
    @Nullable Values colors) {
  /** The material of a face that is left out, though it shapes its neighbours. */
  public static final int HOLE = -1;

  /** A sharpness from which on an edge or a point stays sharp at all levels. */
  public static final float INFINITE = 10;

  /**
   * Sharp edges: with sharpness s they are sharp for s levels, and smooth from there on.
   *
   * @param ends two points of each edge
   * @param sharpness of each edge
   */
  public record Creases(int[] ends, float[] sharpness) {
    /** No edge is sharp. */
    public static final Creases NONE = new Creases(new int[0], new float[0]);
  }

  /**
   * Sharp points.
   *
   * @param points their numbers
   * @param sharpness of each
   */
  public record Peaks(int[] points, float[] sharpness) {
    /** No point is sharp. */
    public static final Peaks NONE = new Peaks(new int[0], new float[0]);
  }

  /** What becomes of edges with one face. */
  public enum Boundary {
    /** Faces at the edge shape their neighbours and are left out themselves. */
    LEFT_OUT,
    /** The edge is a smooth curve. */
    SMOOTH,
    /** The edge is a smooth curve with sharp corners at points with one face. */
    SHARP_CORNERS
  }

  /** Where values that differ from face to face keep straight. */
  public enum Seams {
    /** Values are shaped as points are. */
    AS_POINTS,
    /** Nowhere: seams are smooth curves. */
    SMOOTH,
    /** Where one face alone meets a point. */
    CORNERS,
    /** At corners, and where three or more values meet at a point. */
    JUNCTIONS,
    /** At junctions, at the ends of seams, and across from corners. */
    ENDS,
    /** All along seams. */
    EDGES,
    /** Everywhere. */
    STRAIGHT
  }

  /**
   * Values at the corners of faces.
   *
   * @param size numbers of a value
   * @param values all of them
   * @param corners number of each corner's value, face after face
   * @param seams where they keep straight
   */
  public record Values(int size, float[] values, int[] corners, Seams seams) {}

  /** Returns the number of faces, holes among them. */
  public int faces() {
    return counts.length;
  }
}
