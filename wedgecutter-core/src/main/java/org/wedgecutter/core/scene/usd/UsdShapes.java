package org.wedgecutter.core.scene.usd;

import java.util.Arrays;
import java.util.List;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/**
 * Shapes that a stage holds by their measures, as triangles: cubes, and bodies of revolution about
 * an axis. Measures that are left out are those of UsdGeom: a cube of size 2, a sphere of radius 1,
 * cylinders and cones of radius 1 and height 2, a capsule of radius 0.5 and height 1 between its
 * halves of a sphere, a plane of 2 by 2; the axis is z.
 */
final class UsdShapes {
  private static final int AROUND = 64;
  private static final int ALONG = 16;

  private UsdShapes() {}

  /** A ring of a body of revolution: its radius and height, and its normal outwards and upwards. */
  private record Ring(double radius, double height, double outwards, double upwards) {}

  /** Makes the mesh of a prim, with one material. */
  static Mesh mesh(StagePrim prim, int material) {
    String name = prim.name();
    double half = prim.type().equals("Capsule") ? 0.5 : 1;
    double radius = Math.abs(prim.number("radius", half));
    double height = Math.abs(prim.number("height", 2 * half));
    if (prim.type().equals("Sphere")) {
      return sphere(name, radius, material);
    }
    if (prim.type().equals("Cube")) {
      return cube(name, (float) Math.abs(prim.number("size", 2)) / 2, material);
    }
    if (prim.type().equals("Plane")) {
      double width = Math.abs(prim.number("width", 2));
      double length = Math.abs(prim.number("length", 2));
      return plane(name, width / 2, length / 2, prim.text("axis", "Z"), material);
    }
    // pairs of rings are joined; where an edge is sharp its ring stands twice
    Ring[] rings =
        switch (prim.type()) {
          case "Cylinder" ->
              new Ring[] {
                new Ring(0, -height / 2, 0, -1),
                new Ring(radius, -height / 2, 0, -1),
                new Ring(radius, -height / 2, 1, 0),
                new Ring(radius, height / 2, 1, 0),
                new Ring(radius, height / 2, 0, 1),
                new Ring(0, height / 2, 0, 1)
              };
          case "Cone" -> {
            double slope = Math.hypot(radius, height);
            double out = slope == 0 ? 1 : height / slope;
            double up = slope == 0 ? 0 : radius / slope;
            yield new Ring[] {
              new Ring(0, -height / 2, 0, -1),
              new Ring(radius, -height / 2, 0, -1),
              new Ring(radius, -height / 2, out, up),
              new Ring(0, height / 2, out, up)
            };
          }
          default -> round(radius, height / 2);
        };
    int step = prim.type().equals("Capsule") ? 1 : 2;
    return turned(name, rings, step, prim.text("axis", "Z"), material);
  }

  /** The side of a cylinder of light, which lies along x. */
  static Mesh tube(String name, double radius, double length, int material) {
    Ring[] rings = {new Ring(radius, -length / 2, 1, 0), new Ring(radius, length / 2, 1, 0)};
    return turned(name, rings, 2, "X", material);
  }

  /** A sphere about the origin. */
  static Mesh sphere(String name, double radius, int material) {
    return turned(name, round(radius, 0), 1, "Y", material);
  }

  /** Rings of a sphere, the halves of which are drawn apart. */
  private static Ring[] round(double radius, double apart) {
    Ring[] out = new Ring[2 * (ALONG + 1)];
    for (int k = 0; k <= ALONG; k++) {
      double a = Math.PI / 2 * k / ALONG;
      double s = Math.sin(a);
      double c = Math.cos(a);
      out[k] = new Ring(radius * s, -apart - radius * c, s, -c);
      out[2 * ALONG + 1 - k] = new Ring(radius * s, apart + radius * c, s, c);
    }
    return out;
  }

  /**
   * Turns rings about an axis.
   *
   * @param step 1 joins each ring with the next, 2 joins pairs of them
   */
  private static Mesh turned(String name, Ring[] rings, int step, String axis, int material) {
    int columns = AROUND + 1;
    float[] positions = new float[3 * columns * rings.length];
    float[] normals = new float[positions.length];
    for (int r = 0; r < rings.length; r++) {
      Ring ring = rings[r];
      for (int k = 0; k < columns; k++) {
        double a = 2 * Math.PI * (k % AROUND) / AROUND;
        int at = 3 * (r * columns + k);
        double c = Math.cos(a);
        double s = Math.sin(a);
        put(positions, at, axis, ring.radius * s, ring.height, ring.radius * c);
        put(normals, at, axis, ring.outwards * s, ring.upwards, ring.outwards * c);
      }
    }
    int[] triangles = new int[6 * AROUND * rings.length];
    int n = 0;
    for (int r = 0; r + 1 < rings.length; r += step) {
      for (int k = 0; k < AROUND; k++) {
        int low = r * columns + k;
        int high = low + columns;
        if (rings[r].radius > 0) {
          n = add(triangles, n, low, low + 1, high + 1);
        }
        if (rings[r + 1].radius > 0) {
          n = add(triangles, n, low, high + 1, high);
        }
      }
    }
    int[] used = Arrays.copyOf(triangles, n);
    int[] materials = new int[n / 3];
    Arrays.fill(materials, material);
    return new Mesh(name, positions, normals, null, used, materials);
  }

  private static int add(int[] into, int at, int a, int b, int c) {
    into[at] = a;
    into[at + 1] = b;
    into[at + 2] = c;
    return at + 3;
  }

  /** Puts a place about the y axis where it is about another one; the three are turned round. */
  private static void put(float[] into, int at, String axis, double x, double y, double z) {
    int first = List.of("Y", "Z", "X").indexOf(axis);
    int shift = Math.max(0, first);
    into[at + shift % 3] = (float) x;
    into[at + (1 + shift) % 3] = (float) y;
    into[at + (2 + shift) % 3] = (float) z;
  }

  /** A rectangle; about z it is as wide as x and as long as y. */
  private static Mesh plane(String name, double x, double y, String axis, int material) {
    float[] positions = new float[12];
    for (int k = 0; k < 4; k++) {
      double u = k == 1 || k == 2 ? x : -x;
      double v = k >= 2 ? y : -y;
      switch (axis) {
        // width along z, length along y; width along x, length along z
        case "X" -> set(positions, 3 * k, 0, v, -u);
        case "Y" -> set(positions, 3 * k, u, 0, -v);
        default -> set(positions, 3 * k, u, v, 0);
      }
    }
    return new Mesh(
        name, positions, null, null, new int[] {0, 1, 2, 0, 2, 3}, new int[] {material, material});
  }

  private static void set(float[] into, int at, double x, double y, double z) {
    into[at] = (float) x;
    into[at + 1] = (float) y;
    into[at + 2] = (float) z;
  }

  private static Mesh cube(String name, float half, int material) {
    float[] positions = new float[3 * 24];
    float[] normals = new float[3 * 24];
    int[] triangles = new int[36];
    int n = 0;
    for (int side = 0; side < 6; side++) {
      int axis = side / 2;
      int sign = side % 2 == 0 ? 1 : -1;
      for (int k = 0; k < 4; k++) {
        int at = 3 * (4 * side + k);
        // round about the axis, the other way on the far side
        double u = k == 1 || k == 2 ? 1 : -1;
        double v = k >= 2 ? 1 : -1;
        positions[at + axis] = sign * half;
        positions[at + (axis + 1) % 3] = (float) (sign * u) * half;
        positions[at + (axis + 2) % 3] = (float) v * half;
        normals[at + axis] = sign;
      }
      n = add(triangles, n, 4 * side, 4 * side + 1, 4 * side + 2);
      n = add(triangles, n, 4 * side, 4 * side + 2, 4 * side + 3);
    }
    int[] materials = new int[12];
    Arrays.fill(materials, material);
    return new Mesh(name, positions, normals, null, triangles, materials);
  }
}
