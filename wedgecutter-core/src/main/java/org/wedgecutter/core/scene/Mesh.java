package org.wedgecutter.core.scene;

import org.jspecify.annotations.Nullable;

/**
 * Triangles in object space. Arrays are not copied and must not be changed.
 *
 * @param name for users
 * @param positions x, y, z of each vertex, in metres
 * @param normals x, y, z of each vertex, unit length; null means flat triangles
 * @param uvs u, v of each vertex, v downwards; null means none
 * @param colors linear red, green, blue and alpha of each vertex, factors on the material's base
 *     colour and opacity; null means none
 * @param indices three vertices of each triangle
 * @param triangleMaterials index into {@link Scene#materials()} of each triangle
 */
public record Mesh(
    String name,
    float[] positions,
    float @Nullable [] normals,
    float @Nullable [] uvs,
    float @Nullable [] colors,
    int[] indices,
    int[] triangleMaterials) {

  /** A mesh without colours of its own. */
  public Mesh(
      String name,
      float[] positions,
      float @Nullable [] normals,
      float @Nullable [] uvs,
      int[] indices,
      int[] triangleMaterials) {
    this(name, positions, normals, uvs, null, indices, triangleMaterials);
  }

  /** Returns the number of triangles. */
  public int triangles() {
    return triangleMaterials.length;
  }
}
