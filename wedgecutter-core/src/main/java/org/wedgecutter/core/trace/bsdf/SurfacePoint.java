package org.wedgecutter.core.trace.bsdf;

/**
 * Where a ray met a surface, and what is known there besides how it scatters light: place, normals,
 * direction to the viewer, entity, emission and coverage.
 */
public abstract sealed class SurfacePoint permits Surface {
  /** Place in the world. */
  public float px;

  public float py;
  public float pz;

  /** Geometric normal on the side of the viewer, unit. */
  public float gx;

  public float gy;
  public float gz;

  /** Whether the viewer is behind the surface. */
  public boolean inside;

  /** Shading normal, unit, and two tangents that make it a frame. */
  public float nx;

  public float ny;
  public float nz;
  public final ShadingFrame frame = new ShadingFrame();

  /** Direction to the viewer in the world. */
  float wx;

  float wy;
  float wz;

  /** Entity and material that were hit. */
  public int entity;

  public int material;

  /** Base colour, for users and filters. */
  public final float[] albedo = new float[3];

  /** Emitted radiance. */
  public final float[] emission = new float[3];

  /** Coverage: what is not covered is not there. */
  public float opacity;
}
