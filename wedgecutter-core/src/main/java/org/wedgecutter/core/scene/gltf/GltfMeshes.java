package org.wedgecutter.core.scene.gltf;

import static org.wedgecutter.core.scene.gltf.GltfSource.list;

import de.javagl.jgltf.impl.v2.MeshPrimitive;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Mesh;

/**
 * The meshes of a file; the primitives of one mesh become one mesh with a material per triangle.
 */
final class GltfMeshes {
  private static final int TRIANGLES = 4;
  private static final int TRIANGLE_FAN = 6;

  private final GltfSource source;
  private final Set<String> unsupported;

  GltfMeshes(GltfSource source, Set<String> unsupported) {
    this.source = source;
    this.unsupported = unsupported;
  }

  /** One primitive: its own vertices, numbered from 0. */
  private record Piece(
      float[] positions,
      float[] normals,
      float[] uvs,
      float[] colors,
      int[] indices,
      int material,
      float[][] morphs,
      float[][] morphNormals,
      int[] joints,
      float[] weights) {
    int vertices() {
      return positions.length / 3;
    }
  }

  /**
   * A mesh of the file.
   *
   * @param mesh its shape at rest
   * @param morphs by target, by how much positions change; empty without targets
   * @param morphNormals by target, by how much normals change
   * @param rest weights of the targets
   * @param joints four of each vertex; empty without a skin
   * @param weights four of each vertex
   */
  record Read(
      Mesh mesh,
      float[][] morphs,
      float[][] morphNormals,
      float[] rest,
      int[] joints,
      float[] weights) {}

  List<Read> read(int plainMaterial, String variant) throws InputException {
    this.variant = variantIndex(variant);
    List<Read> out = new ArrayList<>();
    var meshes = list(source.gltf.getMeshes());
    for (int i = 0; i < meshes.size(); i++) {
      List<Piece> pieces = new ArrayList<>();
      var primitives = list(meshes.get(i).getPrimitives());
      for (int p = 0; p < primitives.size(); p++) {
        String place = "meshes[%d].primitives[%d]".formatted(i, p);
        MeshPrimitive primitive = primitives.get(p);
        int mode = primitive.getMode() == null ? TRIANGLES : primitive.getMode();
        if (mode < TRIANGLES || mode > TRIANGLE_FAN) {
          unsupported.add(place + ": points and lines are unsupported");
        } else {
          pieces.add(piece(primitive, mode, place, plainMaterial));
        }
      }
      String name = meshes.get(i).getName();
      out.add(
          join(
              name == null ? "mesh" + i : name, pieces, weights(list(meshes.get(i).getWeights()))));
    }
    return out;
  }

  private Piece piece(MeshPrimitive primitive, int mode, String place, int plainMaterial)
      throws InputException {
    Map<String, Integer> attributes = primitive.getAttributes();
    float[] positions =
        source.floats(attributes.get("POSITION"), place + ".attributes.POSITION", "VEC3");
    int vertices = positions.length / 3;
    float[] normals = optional(attributes, "NORMAL", place, "VEC3", vertices * 3);
    float[] uvs = optional(attributes, "TEXCOORD_0", place, "VEC2", vertices * 2);
    for (String attribute : attributes.keySet()) {
      if (!UNDERSTOOD.contains(attribute)) {
        unsupported.add(place + ".attributes." + attribute);
      }
    }
    int[] joints = new int[0];
    float[] weights = new float[0];
    if (attributes.containsKey("JOINTS_0")) {
      joints = source.wholes(attributes.get("JOINTS_0"), place + ".attributes.JOINTS_0", "VEC4");
      weights = optional(attributes, "WEIGHTS_0", place, "VEC4", vertices * 4);
      if (joints.length != vertices * 4 || weights.length != vertices * 4) {
        throw new InputException(
            source.file, place + ".attributes.JOINTS_0", "expected four joints per vertex");
      }
    }
    List<Map<String, Integer>> targets = list(primitive.getTargets());
    float[][] morphs = new float[targets.size()][];
    float[][] morphNormals = new float[targets.size()][];
    for (int t = 0; t < morphs.length; t++) {
      String own = place + ".targets[" + t + "]";
      morphs[t] = optional(targets.get(t), "POSITION", own, "VEC3", vertices * 3);
      morphNormals[t] = optional(targets.get(t), "NORMAL", own, "VEC3", vertices * 3);
    }
    int[] list;
    if (primitive.getIndices() == null) {
      list = new int[vertices];
      Arrays.setAll(list, k -> k);
    } else {
      list = source.indices(primitive.getIndices(), place + ".indices", vertices);
    }
    int material = plainMaterial;
    if (primitive.getMaterial() != null) {
      material = primitive.getMaterial();
      source.element(source.gltf.getMaterials(), material, place + ".material", "materials");
    }
    int chosen = variantMaterial(primitive, place);
    return new Piece(
        positions,
        normals,
        uvs,
        colors(attributes, place, vertices),
        triangles(list, mode),
        chosen >= 0 ? chosen : material,
        morphs,
        morphNormals,
        joints,
        weights);
  }

  private static final Set<String> UNDERSTOOD =
      Set.of("POSITION", "NORMAL", "TEXCOORD_0", "TANGENT", "COLOR_0", "JOINTS_0", "WEIGHTS_0");

  private int variant = -1;

  /** Names of the file's sets of materials (KHR_materials_variants). */
  static List<String> variants(GltfSource source) {
    return new Json(source.gltf.getExtensions())
        .get("KHR_materials_variants").get("variants").items().stream()
            .map(v -> v.get("name").text(""))
            .toList();
  }

  private int variantIndex(String name) throws InputException {
    if (name.isEmpty()) {
      return -1;
    }
    int at = variants(source).indexOf(name);
    if (at < 0) {
      throw new InputException(
          source.file,
          "extensions.KHR_materials_variants",
          "there is no variant '%s'; the variants are %s"
              .formatted(name, String.join(", ", variants(source))));
    }
    return at;
  }

  private int variantMaterial(MeshPrimitive primitive, String place) throws InputException {
    for (Json mapping :
        new Json(primitive.getExtensions()).get("KHR_materials_variants").get("mappings").items()) {
      for (Json v : mapping.get("variants").items()) {
        if (variant >= 0 && v.number(-1) == variant) {
          int material = (int) mapping.get("material").number(-1);
          source.element(source.gltf.getMaterials(), material, place + ".extensions", "materials");
          return material;
        }
      }
    }
    return -1;
  }

  private static float[] weights(List<Float> list) {
    float[] out = new float[list.size()];
    for (int i = 0; i < out.length; i++) {
      out[i] = list.get(i);
    }
    return out;
  }

  /** Colours of vertices with alpha, or none. */
  private float[] colors(Map<String, Integer> attributes, String place, int vertices)
      throws InputException {
    if (!attributes.containsKey("COLOR_0")) {
      return new float[0];
    }
    String own = place + ".attributes.COLOR_0";
    float[] values = source.floats(attributes.get("COLOR_0"), own, "VEC3", "VEC4");
    int parts = vertices == 0 ? 4 : values.length / vertices;
    if (values.length != parts * vertices || parts < 3) {
      throw new InputException(
          source.file, own, "%d numbers for %d vertices".formatted(values.length, vertices));
    }
    float[] out = new float[4 * vertices];
    for (int v = 0; v < vertices; v++) {
      for (int c = 0; c < 4; c++) {
        out[4 * v + c] = c < parts ? Math.max(0, Math.min(1, values[v * parts + c])) : 1;
      }
    }
    return out;
  }

  private float[] optional(
      Map<String, Integer> attributes, String name, String place, String type, int size)
      throws InputException {
    if (!attributes.containsKey(name)) {
      return new float[0];
    }
    String own = place + ".attributes." + name;
    float[] values = source.floats(attributes.get(name), own, type);
    if (values.length != size) {
      throw new InputException(
          source.file, own, "%d numbers, expected %d".formatted(values.length, size));
    }
    return values;
  }

  private static int[] triangles(int[] list, int mode) {
    if (mode == TRIANGLES) {
      return Arrays.copyOf(list, list.length / 3 * 3);
    }
    int count = Math.max(0, list.length - 2);
    int[] out = new int[3 * count];
    for (int t = 0; t < count; t++) {
      out[3 * t] = mode == TRIANGLE_FAN ? list[0] : list[t + (t & 1)];
      out[3 * t + 1] = mode == TRIANGLE_FAN ? list[t + 1] : list[t + 1 - (t & 1)];
      out[3 * t + 2] = list[t + 2];
    }
    return out;
  }

  private static Read join(String name, List<Piece> pieces, float[] rest) {
    int vertices = pieces.stream().mapToInt(Piece::vertices).sum();
    int corners = pieces.stream().mapToInt(p -> p.indices.length).sum();
    int targets = pieces.stream().mapToInt(p -> p.morphs.length).max().orElse(0);
    boolean smooth = !pieces.isEmpty() && pieces.stream().allMatch(p -> p.normals.length > 0);
    boolean painted = pieces.stream().anyMatch(p -> p.uvs.length > 0);
    boolean coloured = pieces.stream().anyMatch(p -> p.colors.length > 0);
    boolean skinned = pieces.stream().anyMatch(p -> p.joints.length > 0);
    float[] positions = new float[3 * vertices];
    float[] normals = new float[smooth ? 3 * vertices : 0];
    float[] uvs = new float[painted ? 2 * vertices : 0];
    float[] colors = new float[coloured ? 4 * vertices : 0];
    Arrays.fill(colors, 1);
    int[] joints = new int[skinned ? 4 * vertices : 0];
    float[] weights = new float[joints.length];
    float[][] morphs = new float[targets][3 * vertices];
    float[][] morphNormals = new float[targets][smooth ? 3 * vertices : 0];
    int[] indices = new int[corners];
    int[] materials = new int[corners / 3];
    int vertex = 0;
    int corner = 0;
    for (Piece piece : pieces) {
      put(piece.positions, positions, 3 * vertex);
      put(smooth ? piece.normals : new float[0], normals, 3 * vertex);
      put(piece.uvs, uvs, 2 * vertex);
      put(piece.colors, colors, 4 * vertex);
      put(piece.weights, weights, 4 * vertex);
      if (piece.joints.length > 0) {
        System.arraycopy(piece.joints, 0, joints, 4 * vertex, piece.joints.length);
      }
      for (int t = 0; t < piece.morphs.length; t++) {
        put(piece.morphs[t], morphs[t], 3 * vertex);
        put(smooth ? piece.morphNormals[t] : new float[0], morphNormals[t], 3 * vertex);
      }
      Arrays.fill(materials, corner / 3, (corner + piece.indices.length) / 3, piece.material);
      for (int index : piece.indices) {
        indices[corner++] = index + vertex;
      }
      vertex += piece.vertices();
    }
    Mesh mesh =
        new Mesh(
            name,
            positions,
            smooth ? normals : null,
            painted ? uvs : null,
            coloured ? colors : null,
            indices,
            materials);
    return new Read(mesh, morphs, morphNormals, Arrays.copyOf(rest, targets), joints, weights);
  }

  private static void put(float[] from, float[] to, int at) {
    if (from.length > 0) {
      System.arraycopy(from, 0, to, at, from.length);
    }
  }
}
