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
 * @param cage the cage of the smooth surface that the triangles are of; null if they are all there
 *     is
 */
public record Mesh(
    String name,
    float[] positions,
    float @Nullable [] normals,
    float @Nullable [] uvs,
    float @Nullable [] colors,
    int[] indices,
    int[] triangleMaterials,
    @Nullable Cage cage) {

  /** A mesh that is its triangles. */
  public Mesh(
      String name,
      float[] positions,
      float @Nullable [] normals,
      float @Nullable [] uvs,
      float @Nullable [] colors,
      int[] indices,
      int[] triangleMaterials) {
    this(name, positions, normals, uvs, colors, indices, triangleMaterials, null);
  }

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

  /** Returns how many times its faces are divided unless a plan asks for another number. */
  public int levels() {
    return cage == null ? 0 : cage.levels();
  }
}
