package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Cage;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/** Cages of meshes that are subdivided: creases, sharp points, holes, boundaries. */
final class UsdCages {
  /** Cages are divided until they would have more faces than this, but no more than four times. */
  private static final int FINE = 65_536;

  private static final int MOST_LEVELS = 4;

  /** Cages of more faces are not divided. */
  private static final int MANY = 250_000;

  private final Path file;
  private final List<String> unsupported;

  UsdCages(Path file, List<String> unsupported) {
    this.file = file;
    this.unsupported = unsupported;
  }

  Cage cage(
      StagePrim prim,
      float[] points,
      int[] counts,
      int[] indices,
      int[] ofFace,
      Cage.@Nullable Values uvs,
      Cage.@Nullable Values colors,
      boolean left)
      throws InputException {
    int[] materials = ofFace.clone();
    double[] holes = prim.numbers("holeIndices");
    for (int f : holes == null ? new int[0] : UsdMeshes.whole(holes)) {
      if (f < 0 || f >= materials.length) {
        throw wrong(prim, "holeIndices", "%d, but there are %d faces".formatted(f, counts.length));
      }
      materials[f] = Cage.HOLE;
    }
    if (prim.text("triangleSubdivisionRule", "catmullClark").equals("smooth")) {
      unsupported.add(prim.path() + ".triangleSubdivisionRule");
    }
    int[] turned = left ? UsdMeshes.turned(counts) : null;
    return new Cage(
        levels(prim, indices.length),
        points,
        counts,
        turned == null ? indices : UsdMeshes.pick(indices, turned),
        materials,
        creases(prim, points.length / 3),
        peaks(prim, points.length / 3),
        switch (prim.text("interpolateBoundary", "edgeAndCorner")) {
          case "none" -> Cage.Boundary.LEFT_OUT;
          case "edgeOnly" -> Cage.Boundary.SMOOTH;
          default -> Cage.Boundary.SHARP_CORNERS;
        },
        turned(uvs, turned),
        turned(colors, turned));
  }

  private static Cage.@Nullable Values turned(
      Cage.@Nullable Values values, int @Nullable [] turned) {
    return values == null || turned == null
        ? values
        : new Cage.Values(
            values.size(),
            values.values(),
            UsdMeshes.pick(values.corners(), turned),
            values.seams());
  }

  /** Levels by the number of quads: one for each corner, and four of each from there on. */
  private int levels(StagePrim prim, int corners) {
    if (corners > MANY) {
      unsupported.add(
          "%s: %d quads are not divided; subdivision in the plan does it"
              .formatted(prim.path(), corners));
      return 0;
    }
    int levels = 1;
    while (levels < MOST_LEVELS && (long) corners << 2 * levels <= FINE) {
      levels++;
    }
    return levels;
  }

  private Cage.Creases creases(StagePrim prim, int points) throws InputException {
    double[] lengths = prim.numbers("creaseLengths");
    double[] along = prim.numbers("creaseIndices");
    double[] sharp = prim.numbers("creaseSharpnesses");
    if (lengths == null || along == null || sharp == null) {
      return Cage.Creases.NONE;
    }
    int edges = 0;
    for (double l : lengths) {
      if (!(l >= 2) || l > along.length) {
        throw wrong(prim, "creaseLengths", "%.0f, expected 2 or more".formatted(l));
      }
      edges += (int) l - 1;
      if (edges > along.length) {
        throw wrong(prim, "creaseLengths", "more than there are creaseIndices");
      }
    }
    boolean each = sharp.length == edges && edges != lengths.length;
    int[] ends = new int[2 * edges];
    float[] out = new float[edges];
    int at = 0;
    int e = 0;
    for (int c = 0; c < lengths.length; c++) {
      for (int k = 1; k < lengths[c]; k++, e++) {
        if (at + k >= along.length || (each ? e : c) >= sharp.length) {
          throw wrong(prim, "creaseIndices", "fewer than creaseLengths and sharpnesses ask for");
        }
        ends[2 * e] = point(prim, "creaseIndices", along[at + k - 1], points);
        ends[2 * e + 1] = point(prim, "creaseIndices", along[at + k], points);
        out[e] = sharpness(prim, "creaseSharpnesses", sharp[each ? e : c]);
      }
      at += (int) lengths[c];
    }
    return new Cage.Creases(ends, out);
  }

  private Cage.Peaks peaks(StagePrim prim, int points) throws InputException {
    double[] at = prim.numbers("cornerIndices");
    double[] sharp = prim.numbers("cornerSharpnesses");
    if (at == null || sharp == null) {
      return Cage.Peaks.NONE;
    }
    if (at.length != sharp.length) {
      throw wrong(prim, "cornerSharpnesses", "%d, expected %d".formatted(sharp.length, at.length));
    }
    int[] out = new int[at.length];
    for (int k = 0; k < out.length; k++) {
      out[k] = point(prim, "cornerIndices", at[k], points);
    }
    float[] sharpness = new float[sharp.length];
    for (int k = 0; k < sharpness.length; k++) {
      sharpness[k] = sharpness(prim, "cornerSharpnesses", sharp[k]);
    }
    return new Cage.Peaks(out, sharpness);
  }

  private float sharpness(StagePrim prim, String name, double value) throws InputException {
    if (!(value >= 0)) {
      throw wrong(prim, name, "%s, expected 0 or more".formatted(value));
    }
    return (float) Math.min(Cage.INFINITE, value);
  }

  private int point(StagePrim prim, String name, double at, int points) throws InputException {
    if (!(at >= 0) || at >= points) {
      throw wrong(prim, name, "%.0f, but there are %d points".formatted(at, points));
    }
    return (int) at;
  }

  private InputException wrong(StagePrim prim, String property, String problem) {
    return new InputException(file, prim.path() + "." + property, problem);
  }
}
