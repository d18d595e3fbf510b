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
  private final Set<String> notUnderstood;

  GltfMeshes(GltfSource source, Set<String> notUnderstood) {
    this.source = source;
    this.notUnderstood = notUnderstood;
  }

  /** One primitive: its own vertices, numbered from 0. */
  private record Piece(
      float[] positions, float[] normals, float[] uvs, int[] indices, int material) {}

  List<Mesh> read(int plainMaterial) throws InputException {
    List<Mesh> out = new ArrayList<>();
    var meshes = list(source.gltf.getMeshes());
    for (int i = 0; i < meshes.size(); i++) {
      List<Piece> pieces = new ArrayList<>();
      var primitives = list(meshes.get(i).getPrimitives());
      for (int p = 0; p < primitives.size(); p++) {
        String place = "meshes[%d].primitives[%d]".formatted(i, p);
        MeshPrimitive primitive = primitives.get(p);
        int mode = primitive.getMode() == null ? TRIANGLES : primitive.getMode();
        if (mode < TRIANGLES || mode > TRIANGLE_FAN) {
          notUnderstood.add(place + ": points and lines are not seen");
        } else {
          pieces.add(piece(primitive, mode, place, plainMaterial));
        }
      }
      String name = meshes.get(i).getName();
      out.add(join(name == null ? "mesh" + i : name, pieces));
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
      if (!Set.of("POSITION", "NORMAL", "TEXCOORD_0", "TANGENT").contains(attribute)) {
        notUnderstood.add(place + ".attributes." + attribute);
      }
    }
    if (primitive.getTargets() != null) {
      notUnderstood.add(place + ".targets: morph targets are not applied");
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
    return new Piece(positions, normals, uvs, triangles(list, mode), material);
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

  private static Mesh join(String name, List<Piece> pieces) {
    int vertices = pieces.stream().mapToInt(p -> p.positions.length / 3).sum();
    int corners = pieces.stream().mapToInt(p -> p.indices.length).sum();
    boolean smooth = !pieces.isEmpty() && pieces.stream().allMatch(p -> p.normals.length > 0);
    boolean painted = pieces.stream().anyMatch(p -> p.uvs.length > 0);
    float[] positions = new float[3 * vertices];
    float[] normals = new float[smooth ? 3 * vertices : 0];
    float[] uvs = new float[painted ? 2 * vertices : 0];
    int[] indices = new int[corners];
    int[] materials = new int[corners / 3];
    int vertex = 0;
    int corner = 0;
    for (Piece piece : pieces) {
      System.arraycopy(piece.positions, 0, positions, 3 * vertex, piece.positions.length);
      if (smooth) {
        System.arraycopy(piece.normals, 0, normals, 3 * vertex, piece.normals.length);
      }
      System.arraycopy(piece.uvs, 0, uvs, Math.min(uvs.length, 2 * vertex), piece.uvs.length);
      Arrays.fill(materials, corner / 3, (corner + piece.indices.length) / 3, piece.material);
      for (int index : piece.indices) {
        indices[corner++] = index + vertex;
      }
      vertex += piece.positions.length / 3;
    }
    return new Mesh(
        name, positions, smooth ? normals : null, painted ? uvs : null, indices, materials);
  }
}
