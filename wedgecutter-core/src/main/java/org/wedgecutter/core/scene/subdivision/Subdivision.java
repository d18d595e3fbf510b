package org.wedgecutter.core.scene.subdivision;

import org.wedgecutter.core.scene.Cage;
import org.wedgecutter.core.scene.Mesh;

/** Divides the faces of meshes into smaller ones that come close to a smooth surface. */
public final class Subdivision {
  private Subdivision() {}

  /**
   * Returns a mesh with so many levels of subdivision: of its cage if it has one, else of its
   * triangles.
   */
  public static Mesh of(Mesh mesh, int levels) {
    Cage cage = mesh.cage();
    if (cage == null) {
      return Loop.divided(mesh, levels);
    }
    return levels == cage.levels() ? mesh : of(mesh.name(), cage, cage.points(), levels);
  }

  /**
   * Makes the mesh of a cage.
   *
   * @param points x, y, z of each point, where a deformation has moved them; kept as they are in
   *     the mesh's cage
   * @param levels how many times faces are divided; with 0 they are flat
   */
  public static Mesh of(String name, Cage cage, float[] points, int levels) {
    return CatmullClark.mesh(name, cage, points, levels);
  }
}
