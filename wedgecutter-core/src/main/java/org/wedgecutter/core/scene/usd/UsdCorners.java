package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Cage;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/** Reads values of a mesh as values of the corners of its faces. */
final class UsdCorners {
  private final Path file;
  private final StagePrim prim;
  private final int[] counts;
  private final int[] indices;
  private final int points;

  UsdCorners(Path file, StagePrim prim, int[] counts, int[] indices, int points) {
    this.file = file;
    this.prim = prim;
    this.counts = counts;
    this.indices = indices;
    this.points = points;
  }

  Cage.Seams seams() {
    return switch (prim.text("faceVaryingLinearInterpolation", "cornersPlus1")) {
      case "none" -> Cage.Seams.SMOOTH;
      case "cornersOnly" -> Cage.Seams.CORNERS;
      case "cornersPlus2" -> Cage.Seams.ENDS;
      case "boundaries" -> Cage.Seams.EDGES;
      case "all" -> Cage.Seams.STRAIGHT;
      default -> Cage.Seams.JUNCTIONS;
    };
  }

  /**
   * @param property a primvar, or null
   * @param seams of values with face-varying interpolation
   */
  Cage.@Nullable Values values(StagePrim.@Nullable Property property, int size, Cage.Seams seams)
      throws InputException {
    if (property == null) {
      return null;
    }
    double[] v = UsdTime.first(property);
    if (v == null && (property.value() != null || !property.samples().isEmpty())) {
      throw new InputException(
          file, prim.path() + "." + property.name(), "expected a list of finite numbers");
    }
    if (v == null || v.length == 0) {
      return null;
    }
    StagePrim.Property picked = prim.properties().get(property.name() + ":indices");
    double[] pick = picked == null ? null : UsdTime.first(picked);
    int[] own = pick == null ? null : UsdMeshes.whole(pick);
    String otherwise = v.length == size ? "constant" : "vertex";
    String how = property.fields().get("interpolation") instanceof String s ? s : otherwise;
    int[] of = new int[indices.length];
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
        if (at < 0 || size * (at + 1) > v.length) {
          throw new InputException(
              file,
              prim.path() + "." + property.name(),
              "%d values, too few for %s over %d points".formatted(v.length / size, how, points));
        }
        of[corner] = at;
      }
    }
    return new Cage.Values(
        size,
        UsdMeshes.narrow(v),
        of,
        switch (how) {
          case "faceVarying" -> seams;
          case "vertex" -> Cage.Seams.AS_POINTS;
          default -> Cage.Seams.STRAIGHT;
        });
  }

  /** Display colours with their opacity; null if there are none. */
  Cage.@Nullable Values colors(Function<String, StagePrim.@Nullable Property> inherited)
      throws InputException {
    Cage.Values rgb = values(inherited.apply("primvars:displayColor"), 3, Cage.Seams.STRAIGHT);
    if (rgb == null) {
      return null;
    }
    Cage.Values a = values(inherited.apply("primvars:displayOpacity"), 1, Cage.Seams.STRAIGHT);
    Map<List<Integer>, Integer> known = new HashMap<>();
    int[] of = new int[rgb.corners().length];
    float[] values = new float[4 * of.length];
    for (int c = 0; c < of.length; c++) {
      int color = rgb.corners()[c];
      int alpha = a == null ? -1 : a.corners()[c];
      int at = known.computeIfAbsent(List.of(color, alpha), k -> known.size());
      of[c] = at;
      for (int k = 0; k < 3; k++) {
        values[4 * at + k] = Math.max(0, rgb.values()[3 * color + k]);
      }
      values[4 * at + 3] = alpha < 0 || a == null ? 1 : a.values()[alpha];
    }
    return new Cage.Values(4, Arrays.copyOf(values, 4 * known.size()), of, Cage.Seams.STRAIGHT);
  }
}
