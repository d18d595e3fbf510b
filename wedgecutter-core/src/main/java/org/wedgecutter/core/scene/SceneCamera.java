package org.wedgecutter.core.scene;

/**
 * A perspective camera looking along its node's -z axis, y up.
 *
 * @param name for users
 * @param node index of its node
 * @param verticalView the whole vertical angle of view, radians
 * @param lens depth of field
 */
public record SceneCamera(String name, int node, float verticalView, Lens lens) {
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

  /** Returns the focal length in metres. */
  public float focalLength() {
    return (float) (lens.sensor / (2 * Math.tan(verticalView / 2)));
  }

  /** Returns the radius of the aperture in metres; 0 for a pinhole. */
  public float apertureRadius() {
    return lens.fStop > 0 ? focalLength() / (2 * lens.fStop) : 0;
  }
}
