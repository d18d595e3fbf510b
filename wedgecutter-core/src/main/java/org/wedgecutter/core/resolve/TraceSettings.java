package org.wedgecutter.core.resolve;

import org.wedgecutter.core.plan.Bounces;

/**
 * How light is traced. Layers with different settings are of different transport classes.
 *
 * @param bounces how far
 * @param seed changes every random number
 * @param clamp upper bound of what one indirect path may bring to a pixel's sample, in the scene's
 *     unit of light; 0 means none. It takes light away, the same in all layers
 * @param soften least microfacet width of surfaces met after a diffuse bounce, 0 to 1; blurs
 *     caustics that would be noise
 * @param samples samples per pixel by those of the shot: a frame that is rendered with other
 *     samples than the shot's keeps the proportion
 * @param across width of the picture by that of the shot's
 * @param down height of the picture by that of the shot's
 * @param turn degrees by which the environment is turned; NaN leaves it as it is
 * @param level factor on the environment's light; NaN leaves it as it is
 * @param seeThrough whether the camera segment goes straight on through thin clear glass, so that
 *     its alpha tells what is behind
 * @param blur whether the shutter is open for as long as the shot's; else everything is seen at the
 *     middle of its time
 */
public record TraceSettings(
    Bounces bounces,
    long seed,
    float clamp,
    float soften,
    double samples,
    double across,
    double down,
    double turn,
    double level,
    boolean seeThrough,
    boolean blur) {
  /** Settings that change no light. */
  public static TraceSettings unbiased(int bounces, long seed) {
    return unbiased(Bounces.of(bounces), seed);
  }

  /** Settings that change no light. */
  public static TraceSettings unbiased(Bounces bounces, long seed) {
    return new TraceSettings(bounces, seed, 0, 0, 1, 1, 1, Double.NaN, Double.NaN, false, true);
  }

  /** Returns settings that reduce noise at the cost of light. */
  public TraceSettings withClamp(float nextClamp, float nextSoften) {
    return new TraceSettings(
        bounces, seed, nextClamp, nextSoften, samples, across, down, turn, level, seeThrough, blur);
  }

  /** Returns settings in which clear glass shows in alpha, or not. */
  public TraceSettings withSeeThrough(boolean next) {
    return new TraceSettings(
        bounces, seed, clamp, soften, samples, across, down, turn, level, next, blur);
  }

  /** Returns settings with the shutter open, or for no time at all. */
  public TraceSettings withBlur(boolean next) {
    return new TraceSettings(
        bounces, seed, clamp, soften, samples, across, down, turn, level, seeThrough, next);
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
  public int samples(int frameSamples) {
    return Math.max(1, (int) Math.round(frameSamples * samples));
  }
}
