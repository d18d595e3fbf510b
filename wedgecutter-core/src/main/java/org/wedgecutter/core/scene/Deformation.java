package org.wedgecutter.core.scene;

import org.jspecify.annotations.Nullable;

/**
 * What changes the shape of one entity's mesh over time: morph targets first, then a skin. It moves
 * the points of the mesh's cage, or its vertices if it has none.
 *
 * @param morph shapes to blend, or null
 * @param skin joints that move vertices, or null
 */
public record Deformation(@Nullable Morph morph, @Nullable Skin skin) {
  /**
   * Shapes to blend.
   *
   * @param positions of each target, x, y, z by which each vertex moves at weight 1
   * @param normals of each target, by which each normal changes; a target without them is empty
   * @param rest weight of each target without animation
   * @param weights how weights change, or null
   */
  public record Morph(
      float[][] positions, float[][] normals, float[] rest, @Nullable Track weights) {}

  /**
   * Joints.
   *
   * @param nodes index of each joint's node
   * @param inverseBind of each joint 16 numbers, column by column: from the mesh's space at rest to
   *     the joint's
   * @param influences how many joints each vertex has
   * @param joints of each vertex, by their place in {@code nodes}
   * @param weights of each vertex, as many as joints; they count by their share of their sum, and a
   *     vertex without any stays
   */
  public record Skin(
      int[] nodes, float[] inverseBind, int influences, int[] joints, float[] weights) {
    /** Four joints each, as glTF has them. */
    public Skin(int[] nodes, float[] inverseBind, int[] joints, float[] weights) {
      this(nodes, inverseBind, 4, joints, weights);
    }
  }
}
