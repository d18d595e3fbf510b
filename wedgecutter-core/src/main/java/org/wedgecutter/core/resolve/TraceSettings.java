package org.wedgecutter.core.resolve;

/**
 * How light is followed. Layers with different settings are of different transport classes.
 *
 * @param bounces most surfaces that light meets after the first, 0 or more
 * @param seed changes every random number
 * @param clamp upper bound of what one indirect path may bring to a pixel's sample, in the scene's
 *     unit of light; 0 means none. It takes light away, the same in all layers
 * @param soften least microfacet width of surfaces met after a diffuse bounce, 0 to 1; blurs
 *     caustics that would be noise
 */
public record TraceSettings(int bounces, long seed, float clamp, float soften) {
  /** Settings that change no light. */
  public static TraceSettings unbiased(int bounces, long seed) {
    return new TraceSettings(bounces, seed, 0, 0);
  }
}
