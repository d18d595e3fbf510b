package org.wedgecutter.core.scene;

import org.joml.Matrix4f;
import org.jspecify.annotations.Nullable;

/**
 * A perspective camera looking along its node's -z axis, y up; or one that stands still at a place
 * of its own, which belongs to no scene file.
 *
 * @param name for users
 * @param node index of its node; -1 for a camera with a place of its own
 * @param placed from the camera to the world, for a camera with a place of its own; else null
 * @param verticalView the whole vertical angle of view, radians
 * @param lens depth of field
 * @param projection where its picture departs from a pinhole's
 */
public record SceneCamera(
    String name,
    int node,
    @Nullable Matrix4f placed,
    float verticalView,
    Lens lens,
    Projection projection) {
  public SceneCamera {
    if ((node < 0) != (placed != null)) {
      throw new IllegalArgumentException("a camera has either a node or a place of its own");
    }
  }

  /** A camera of a scene. */
  public SceneCamera(String name, int node, float verticalView, Lens lens) {
    this(name, node, null, verticalView, lens, Projection.NONE);
  }

  /** A camera without depth of field. */
  public SceneCamera(String name, int node, float verticalView) {
    this(name, node, verticalView, Lens.PINHOLE);
  }

  /**
   * A thin lens.
   *
   * @param sensor height of the sensor, metres; with the angle of view it gives the focal length
   * @param fStop focal length by the diameter of the aperture; 0 means a pinhole
   * @param focus distance along the axis of depth of field, metres
   */
  public record Lens(float sensor, float fStop, float focus) {
    /** A pinhole: everything is in focus. */
    public static final Lens PINHOLE = new Lens(0.024f, 0, 1);
  }

  /** Returns its transform to the world, given those of the scene's nodes at the same time. */
  public Matrix4f in(Matrix4f[] pose) {
    return placed == null ? pose[node] : placed;
  }

  /** Returns the focal length in metres. */
  public float focalLength() {
    return (float) (lens.sensor / (2 * Math.tan(verticalView / 2)));
  }

  /** Returns the radius of the aperture in metres; 0 for a pinhole. */
  public float apertureRadius() {
    return lens.fStop > 0 ? focalLength() / (2 * lens.fStop) : 0;
  }
}
