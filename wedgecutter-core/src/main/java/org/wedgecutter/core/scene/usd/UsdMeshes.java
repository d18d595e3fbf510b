package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Cage;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.subdivision.Subdivision;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/**
 * Meshes of a stage: triangles where they are not subdivided, else the smooth surface of a cage.
 * Prims that take their shape from the same place share one mesh.
 */
final class UsdMeshes {
  private static final int MAX_CORNERS = 100_000_000;
  private static final long MAX_SAMPLED = 50_000_000;

  private final Path file;
  private final UsdMaterials materials;
  private final UsdTime time;
  private final UsdCages cages;
  private final List<String> unsupported;
  private final Map<List<Object>, Shape> known = new HashMap<>();
  private final Map<List<Object>, Mesh> solids = new HashMap<>();

  UsdMeshes(Path file, UsdMaterials materials, UsdTime time, List<String> unsupported) {
    this.file = file;
    this.materials = materials;
    this.time = time;
    this.unsupported = unsupported;
    cages = new UsdCages(file, unsupported);
  }

  /**
   * What a prim is made of.
   *
   * @param mesh at its first sample
   * @param moved how its points move by themselves, or null
   * @param count how many points the prim has
   * @param points which of them each vertex is of; null if what deforms are the points
   */
  record Shape(Mesh mesh, Deformation.@Nullable Morph moved, int count, int @Nullable [] points) {
    /** Spreads numbers of points over what deforms. */
    float[] spread(float[] ofPoints, int size) {
      if (points == null || ofPoints.length == 0) {
        return ofPoints;
      }
      float[] out = new float[size * points.length];
      for (int v = 0; v < points.length; v++) {
        System.arraycopy(ofPoints, size * points[v], out, size * v, size);
      }
      return out;
    }
  }

  /** Where a value comes from: values are the same if one prim's are another's. */
  private record Same(@Nullable Object value) {
    @Override
    @SuppressWarnings("ReferenceEquality")
    public boolean equals(@Nullable Object other) {
      return other instanceof Same s && s.value == value;
    }

    @Override
    public int hashCode() {
      return System.identityHashCode(value);
    }
  }

  /**
   * Makes a mesh, or takes one that was made.
   *
   * @param bound path of the material that is bound to all of it, or empty
   * @param inherited finds primvars of the prim and of those above it
   */
  Shape shape(
      StagePrim prim, String bound, Function<String, StagePrim.@Nullable Property> inherited)
      throws InputException {
    int[] counts = whole(need(prim, "faceVertexCounts", 1));
    StagePrim.Property color = inherited.apply("primvars:displayColor");
    boolean coloured = isColoured(bound, inherited);
    int material = material(bound, inherited);
    int[] ofFace = faceMaterials(prim, material, counts.length);
    List<Object> key = new ArrayList<>();
    prim.properties()
        .forEach((name, p) -> {
          if (!name.startsWith("xformOp") && !name.equals("visibility") && p.targets().isEmpty()) {
            key.add(name);
            key.add(p.value() instanceof String s ? s : new Same(p.value()));
            p.samples()
                .forEach((code, v) -> {
                  key.add(code);
                  key.add(new Same(v));
                });
            key.add(p.fields().getOrDefault("interpolation", ""));
          }
        });
    key.add(new Same(color));
    key.add(coordinates(prim, bound));
    key.add(Arrays.stream(ofFace).boxed().toList());
    Shape shape = known.get(key);
    if (shape == null) {
      shape = made(prim, bound, counts, ofFace, coloured ? inherited : n -> null);
      known.put(key, shape);
    }
    return shape;
  }

  /** Whether display colours stand for a material. */
  private static boolean isColoured(
      String bound, Function<String, StagePrim.@Nullable Property> inherited) {
    return bound.isEmpty() && inherited.apply("primvars:displayColor") != null;
  }

  /** The material of what has none of its own: its colours for display, or grey. */
  private int material(String bound, Function<String, StagePrim.@Nullable Property> inherited)
      throws InputException {
    return isColoured(bound, inherited)
        ? materials.ofColors(inherited.apply("primvars:displayOpacity") != null)
        : materials.number(bound);
  }

  /**
   * Returns the mesh of a cube, sphere, cylinder, cone, capsule or plane; equal ones are shared.
   */
  Mesh solid(StagePrim prim, String bound, Function<String, StagePrim.@Nullable Property> inherited)
      throws InputException {
    int material = material(bound, inherited);
    float[] color = {1, 1, 1, 1};
    if (bound.isEmpty()) {
      first(inherited.apply("primvars:displayColor"), color, 0, 3);
      first(inherited.apply("primvars:displayOpacity"), color, 3, 1);
    }
    boolean white = Arrays.equals(color, new float[] {1, 1, 1, 1});
    List<Object> key = new ArrayList<>(List.of(prim.type(), material));
    for (float c : color) {
      key.add(c);
    }
    for (String measure : List.of("radius", "height", "size", "width", "length", "axis")) {
      key.add(String.valueOf(prim.value(measure)));
    }
    Mesh mesh = solids.get(key);
    if (mesh == null) {
      Mesh plain = UsdShapes.mesh(prim, material);
      mesh = white ? plain : coloured(plain, color);
      solids.put(key, mesh);
    }
    return mesh;
  }

  private static void first(StagePrim.@Nullable Property of, float[] to, int at, int size) {
    double[] v = of == null ? null : UsdTime.first(of);
    for (int k = 0; v != null && v.length >= size && k < size; k++) {
      to[at + k] = (float) Math.max(0, v[k]);
    }
  }

  private static Mesh coloured(Mesh plain, float[] color) {
    float[] colors = new float[plain.positions().length / 3 * 4];
    for (int i = 0; i < colors.length; i++) {
      colors[i] = color[i % 4];
    }
    return new Mesh(
        plain.name(),
        plain.positions(),
        plain.normals(),
        plain.uvs(),
        colors,
        plain.indices(),
        plain.triangleMaterials());
  }

  /** The name of the coordinates that its material reads, or the first of its parts' materials. */
  private String coordinates(StagePrim prim, String bound) {
    String of = bound;
    for (StagePrim part : prim.children()) {
      List<String> own = part.targets("material:binding");
      of = of.isEmpty() && !own.isEmpty() ? own.getFirst() : of;
    }
    return materials.coordinates(of);
  }

  private Shape made(
      StagePrim prim,
      String bound,
      int[] counts,
      int[] ofFace,
      Function<String, StagePrim.@Nullable Property> inherited)
      throws InputException {
    double[] points = need(prim, "points", 3);
    int[] indices = whole(need(prim, "faceVertexIndices", 1));
    check(prim, points, counts, indices);
    boolean left = prim.text("orientation", "rightHanded").equals("leftHanded");
    UsdCorners corners = new UsdCorners(file, prim, counts, indices, points.length / 3);
    String st = "primvars:" + coordinates(prim, bound);
    Cage.Values uvs = corners.values(prim.properties().get(st), 2, corners.seams());
    for (int k = 1; uvs != null && k < uvs.values().length; k += 2) {
      // here v runs downwards
      uvs.values()[k] = 1 - uvs.values()[k];
    }
    Cage.Values colors = corners.colors(inherited);
    boolean smooth = prim.text("subdivisionScheme", "catmullClark").equals("catmullClark");
    float[] places = narrow(points);
    if (smooth) {
      Cage cage = cages.cage(prim, places, counts, indices, ofFace, uvs, colors, left);
      Mesh mesh = Subdivision.of(prim.name(), cage, places, cage.levels());
      return new Shape(mesh, moved(prim, places, null), points.length / 3, null);
    }
    if (prim.text("subdivisionScheme", "none").equals("loop")) {
      unsupported.add(prim.path() + ": subdivision by Loop; the cage is shown");
    }
    String normals = prim.numbers("primvars:normals") != null ? "primvars:normals" : "normals";
    Cage.Values n = corners.values(prim.properties().get(normals), 3, Cage.Seams.STRAIGHT);
    int[] faces = left ? turned(counts) : null;
    int[] of = faces == null ? indices : pick(indices, faces);
    Mesh mesh =
        triangles(
            prim.name(),
            spread(places, of, 3),
            spread(n, faces),
            spread(uvs, faces),
            spread(colors, faces),
            counts,
            ofFace);
    return new Shape(mesh, moved(prim, places, of), points.length / 3, of);
  }

  private void check(StagePrim prim, double[] points, int[] counts, int[] indices)
      throws InputException {
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
  }

  // ---- points over time

  /** How points move where their samples differ; null if they do not. */
  private Deformation.@Nullable Morph moved(StagePrim prim, float[] first, int @Nullable [] of) {
    StagePrim.Property p = prim.properties().get("points");
    if (p == null || p.samples().size() < 2) {
      return null;
    }
    UsdTime.Samples samples =
        (long) p.samples().size() * first.length > MAX_SAMPLED
            ? null
            : time.samples(prim, "points", first.length);
    if (samples == null) {
      unsupported.add(
          prim.path()
              + ".points: too many samples, or of different length; the first one is shown");
      return null;
    }
    // a shape that comes again is the same shape
    Map<List<Double>, Integer> known = new HashMap<>();
    List<float[]> shapes = new ArrayList<>();
    int[] at = new int[samples.count()];
    for (int k = 0; k < at.length; k++) {
      double[] xyz = samples.values().get(k);
      Integer number = known.putIfAbsent(Arrays.stream(xyz).boxed().toList(), known.size());
      at[k] = number == null ? known.size() - 1 : number;
      if (number == null && k > 0) {
        float[] change = new float[xyz.length];
        for (int i = 0; i < change.length; i++) {
          change[i] = (float) (xyz[i] - first[i]);
        }
        shapes.add(of == null ? change : spread(change, of, 3));
      }
    }
    if (shapes.isEmpty()) {
      return null;
    }
    if (of != null
        && (prim.numbers("normals") != null || prim.numbers("primvars:normals") != null)) {
      unsupported.add(prim.path() + ".normals: stay while its points move");
    }
    return new Deformation.Morph(
        shapes.toArray(float[][]::new),
        new float[shapes.size()][0],
        new float[shapes.size()],
        UsdTime.fades(samples.seconds(), at, shapes.size() + 1));
  }

  // ---- triangles

  private static Mesh triangles(
      String name,
      float[] positions,
      float @Nullable [] normals,
      float @Nullable [] uvs,
      float @Nullable [] colors,
      int[] counts,
      int[] ofFace) {
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
        out[3 * t + 1] = corner + k - 1;
        out[3 * t + 2] = corner + k;
        of[t++] = ofFace[f];
      }
      corner += counts[f];
    }
    return new Mesh(name, positions, normals, uvs, colors, out, of);
  }

  /** Corners of faces the other way round; each face begins where it did. */
  static int[] turned(int[] counts) {
    int total = Arrays.stream(counts).sum();
    int[] out = new int[total];
    int from = 0;
    for (int count : counts) {
      out[from] = from;
      for (int k = 1; k < count; k++) {
        out[from + k] = from + count - k;
      }
      from += count;
    }
    return out;
  }

  static int[] pick(int[] of, int[] at) {
    return Arrays.stream(at).map(i -> of[i]).toArray();
  }

  private static float @Nullable [] spread(Cage.@Nullable Values v, int @Nullable [] turned) {
    return v == null
        ? null
        : spread(v.values(), turned == null ? v.corners() : pick(v.corners(), turned), v.size());
  }

  private static float[] spread(float[] values, int[] of, int size) {
    float[] out = new float[size * of.length];
    for (int k = 0; k < of.length; k++) {
      System.arraycopy(values, size * of[k], out, size * k, size);
    }
    return out;
  }

  private int[] faceMaterials(StagePrim prim, int material, int faces) throws InputException {
    int[] out = new int[faces];
    Arrays.fill(out, material);
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

  static float[] narrow(double[] v) {
    float[] out = new float[v.length];
    for (int i = 0; i < out.length; i++) {
      out[i] = (float) v[i];
    }
    return out;
  }

  static int[] whole(double[] v) {
    return Arrays.stream(v).mapToInt(x -> (int) x).toArray();
  }

  private InputException wrong(StagePrim prim, String property, String problem) {
    return new InputException(file, prim.path() + "." + property, problem);
  }
}
