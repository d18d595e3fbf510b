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
 * @param frame the frame whose time it is
 * @param samples samples per pixel at most; 0 means as many as the frame is rendered with
 * @param across width of the picture by that of the shot's
 * @param down height of the picture by that of the shot's
 * @param turn degrees by which the environment is turned; NaN leaves it as it is
 * @param level factor on the environment's light; NaN leaves it as it is
 */
public record TraceSettings(
    int bounces,
    long seed,
    float clamp,
    float soften,
    int frame,
    int samples,
    double across,
    double down,
    double turn,
    double level) {
  /** Settings that change no light. */
  public static TraceSettings unbiased(int bounces, long seed) {
    return new TraceSettings(bounces, seed, 0, 0, 1, 0, 1, 1, Double.NaN, Double.NaN);
  }

  /** Returns settings that take noise away at the cost of light. */
  public TraceSettings withClamp(float nextClamp, float nextSoften) {
    return new TraceSettings(
        bounces, seed, nextClamp, nextSoften, frame, samples, across, down, turn, level);
  }

  /** Returns pixels across for a frame of so many. */
  public int width(int frameWidth) {
    return Math.max(1, (int) Math.round(frameWidth * across));
  }

  /** Returns lines for a frame of so many. */
  public int height(int frameHeight) {
    return Math.max(1, (int) Math.round(frameHeight * down));
  }

  /** Returns how many samples are taken if a frame is rendered with so many. */
  public int capped(int asked) {
    return samples > 0 ? Math.min(samples, asked) : asked;
  }
}
