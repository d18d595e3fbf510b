package org.wedgecutter.core.scene;

/**
 * An analytic light, which the camera does not see: one without a surface, as of the open extension
 * KHR_lights_punctual, or one with an area that rays pass through.
 *
 * @param type its type
 * @param intensity linear light in the scene's unit: watts per steradian for point and spot, watts
 *     per square metre facing it for directional, radiance (watts per steradian and square metre)
 *     for areas
 * @param innerCone radians from the axis within which a spot is at full strength
 * @param outerCone radians from the axis beyond which a spot is dark
 * @param width of a rectangle, along its node's x axis, or the diameter of a disc or sphere, metres
 *     before the node's scale; of a directional light its angular diameter in radians
 * @param height of a rectangle, along its node's y axis, metres
 */
public record Light(
    Type type, Rgb intensity, float innerCone, float outerCone, float width, float height) {
  /** The type of a light. */
  public enum Type {
    /** From a point, everywhere. */
    POINT,
    /** From a point, within a cone about the node's -z axis. */
    SPOT,
    /** From infinitely far, along the node's -z axis. */
    DIRECTIONAL,
    /** From a rectangle in the node's x and y, to the side of its -z axis. */
    RECTANGLE,
    /** From a disc in the node's x and y, to the side of its -z axis. */
    DISC,
    /** From a sphere about the node, everywhere outwards. */
    SPHERE;

    /** Whether it has an area that can be met by rays. */
    public boolean isArea() {
      return this == RECTANGLE || this == DISC || this == SPHERE;
    }
  }

  /** A light without extent. */
  public Light(Type type, Rgb intensity, float innerCone, float outerCone) {
    this(type, intensity, innerCone, outerCone, 0, 0);
  }

  /** Returns it with another strength. */
  public Light withIntensity(Rgb next) {
    return new Light(type, next, innerCone, outerCone, width, height);
  }
}
