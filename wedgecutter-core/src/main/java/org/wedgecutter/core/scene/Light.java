package org.wedgecutter.core.scene;

/**
 * A light without a surface, as of the open extension KHR_lights_punctual.
 *
 * @param type where its light goes
 * @param intensity linear light: watts per steradian for point and spot, watts per square metre
 *     facing it for directional, in the scene's unit of light
 * @param innerCone radians from the axis within which a spot is at full strength
 * @param outerCone radians from the axis beyond which a spot is dark
 */
public record Light(Type type, Rgb intensity, float innerCone, float outerCone) {
  /** Where a light's light goes. */
  public enum Type {
    /** From a point, everywhere. */
    POINT,
    /** From a point, within a cone about the node's -z axis. */
    SPOT,
    /** From infinitely far, along the node's -z axis. */
    DIRECTIONAL
  }
}
