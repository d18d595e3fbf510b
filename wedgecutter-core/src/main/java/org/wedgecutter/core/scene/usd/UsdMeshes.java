package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/** Meshes of a stage as triangles, and the shapes of its lights. */
final class UsdMeshes {
  private static final int MAX_CORNERS = 100_000_000;
  private static final int AROUND = 48;
  private final Path file;
  private final UsdMaterials materials;
  private final List<String> unsupported;

  UsdMeshes(Path file, UsdMaterials materials, List<String> unsupported) {
    this.file = file;
    this.materials = materials;
    this.unsupported = unsupported;
  }

  /**
   * Makes a mesh; every corner of a face is a vertex of its own, so that anything may change there.
   *
   * @param bound path of the material that is bound to all of it, or empty
   */
  Mesh mesh(StagePrim prim, String bound) throws InputException {
    double[] points = need(prim, "points", 3);
    int[] counts = whole(need(prim, "faceVertexCounts", 1));
    int[] indices = whole(need(prim, "faceVertexIndices", 1));
    long corners = 0;
    for (int c : counts) {
      if (c < 3) {
        throw wrong(prim, "faceVertexCounts", "a face of %d corners".formatted(c));
      }
      corners += c;
    }
    if (corners != indices.length || corners > MAX_CORNERS) {
      throw wrong(prim, "faceVertexIndices", "%d, expected %d".formatted(indices.length, corners));
    }
    for (int i : indices) {
      if (i < 0 || i >= points.length / 3) {
        throw wrong(
            prim,
            "faceVertexIndices",
            "%d, but there are %d points".formatted(i, points.length / 3));
      }
    }
    if (prim.text("subdivisionScheme", "catmullClark").equals("catmullClark")
        && prim.numbers("normals") == null) {
      unsupported.add(prim.path() + ": subdivisionScheme; the cage is shown");
    }
    float[] normals = corners(prim, "normals", 3, indices, counts, points.length / 3);
    float[] uvs = corners(prim, "primvars:st", 2, indices, counts, points.length / 3);
    float[] positions = new float[3 * indices.length];
    for (int k = 0; k < indices.length; k++) {
      for (int c = 0; c < 3; c++) {
        positions[3 * k + c] = (float) points[3 * indices[k] + c];
      }
    }
    for (int k = 0; uvs != null && k < indices.length; k++) {
      // here v runs upwards
      uvs[2 * k + 1] = 1 - uvs[2 * k + 1];
    }
    return triangles(
        prim, positions, normals, uvs, counts, faceMaterials(prim, bound, counts.length));
  }

  private Mesh triangles(
      StagePrim prim,
      float[] positions,
      float @Nullable [] normals,
      float @Nullable [] uvs,
      int[] counts,
      int[] faceMaterials) {
    boolean left = prim.text("orientation", "rightHanded").equals("leftHanded");
    int total = 0;
    for (int c : counts) {
      total += c - 2;
    }
    int[] out = new int[3 * total];
    int[] of = new int[total];
    int corner = 0;
    int t = 0;
    for (int f = 0; f < counts.length; f++) {
      for (int k = 2; k < counts[f]; k++) {
        out[3 * t] = corner;
        out[3 * t + 1] = corner + (left ? k : k - 1);
        out[3 * t + 2] = corner + (left ? k - 1 : k);
        of[t++] = faceMaterials[f];
      }
      corner += counts[f];
    }
    return new Mesh(prim.name(), positions, normals, uvs, out, of);
  }

  private int[] faceMaterials(StagePrim prim, String bound, int faces) throws InputException {
    int[] out = new int[faces];
    Arrays.fill(out, materials.number(bound));
    for (StagePrim subset : prim.children()) {
      List<String> own = subset.targets("material:binding");
      double[] chosen = subset.numbers("indices");
      if (subset.type().equals("GeomSubset") && !own.isEmpty() && chosen != null) {
        int number = materials.number(own.getFirst());
        for (int f : whole(chosen)) {
          if (f < 0 || f >= faces) {
            throw wrong(subset, "indices", "%d, but there are %d faces".formatted(f, faces));
          }
          out[f] = number;
        }
      }
    }
    return out;
  }

  /** Expands a primvar to one value per corner; null if there is none. */
  private float @Nullable [] corners(
      StagePrim prim, String name, int each, int[] indices, int[] counts, int points)
      throws InputException {
    double[] v = prim.numbers(name);
    if (v == null || v.length == 0) {
      return null;
    }
    double[] pick = prim.numbers(name + ":indices");
    int[] own = pick == null ? null : whole(pick);
    String how = prim.interpolation(name, "vertex");
    float[] out = new float[each * indices.length];
    int corner = 0;
    for (int f = 0; f < counts.length; f++) {
      for (int k = 0; k < counts[f]; k++, corner++) {
        int at =
            switch (how) {
              case "faceVarying" -> corner;
              case "uniform" -> f;
              case "constant" -> 0;
              default -> indices[corner];
            };
        if (own != null) {
          at = at < own.length ? own[at] : -1;
        }
        if (at < 0 || each * (at + 1) > v.length) {
          throw wrong(
              prim,
              name,
              "%d values, too few for %s over %d points".formatted(v.length / each, how, points));
        }
        for (int c = 0; c < each; c++) {
          out[each * corner + c] = (float) v[each * at + c];
        }
      }
    }
    return out;
  }

  private double[] need(StagePrim prim, String name, int each) throws InputException {
    double[] v = prim.numbers(name);
    if (v == null || v.length % each != 0) {
      throw wrong(prim, name, "missing, or not of %d numbers each".formatted(each));
    }
    for (double x : v) {
      if (!Double.isFinite(x)) {
        throw wrong(prim, name, "not of finite numbers");
      }
    }
    return v;
  }

  private static int[] whole(double[] v) {
    return Arrays.stream(v).mapToInt(x -> (int) x).toArray();
  }

  private InputException wrong(StagePrim prim, String property, String problem) {
    return new InputException(file, prim.path() + "." + property, problem);
  }

  // ---- shapes of lights

  static Mesh rectangle(String name, float width, float height, int material) {
    float x = width / 2;
    float y = height / 2;
    return new Mesh(
        name,
        new float[] {-x, -y, 0, x, -y, 0, x, y, 0, -x, y, 0},
        null,
        null,
        new int[] {0, 2, 1, 0, 3, 2},
        new int[] {material, material});
  }

  static Mesh disc(String name, float radius, int material) {
    float[] p = new float[3 * (AROUND + 1)];
    int[] indices = new int[3 * AROUND];
    for (int k = 0; k < AROUND; k++) {
      double a = 2 * Math.PI * k / AROUND;
      p[3 * k + 3] = (float) (radius * Math.cos(a));
      p[3 * k + 4] = (float) (radius * Math.sin(a));
      indices[3 * k + 1] = 1 + (k + 1) % AROUND;
      indices[3 * k + 2] = 1 + k;
    }
    int[] of = new int[AROUND];
    Arrays.fill(of, material);
    return new Mesh(name, p, null, null, indices, of);
  }
}
