package org.wedgecutter.core.scene;

import org.jspecify.annotations.Nullable;

/**
 * A participating medium: haze, smoke.
 *
 * @param name for users
 * @param everywhere whether it fills the world; else it fills a cube of side 1 about its node, as
 *     the node's transform places it
 * @param density extinction, per metre, where it is densest: light goes down to 1/e in 1/density
 *     metres
 * @param color share of the extinction that is scattering, by channel, 0 to 1
 * @param anisotropy mean cosine of scattering (Henyey and Greenstein), above -1 (back), 0 (even),
 *     below 1 (forward)
 * @param emission radiance that an opaque body of it emits, in the scene's unit of light
 * @param falloff height in which density goes down to 1/e, metres, upwards from {@code base}; 0
 *     means evenly dense
 * @param base height in the world at which the density is as given; below it stays so
 * @param puff how density varies in a box, or null for evenly
 * @param factors on the density over the scene's time, one number each; null for none. While the
 *     shutter is open the density is that of its middle
 */
public record Medium(
    String name,
    boolean everywhere,
    float density,
    Rgb color,
    float anisotropy,
    Rgb emission,
    float falloff,
    float base,
    @Nullable Puff puff,
    @Nullable Track factors) {

  /** A medium whose density stays. */
  public Medium(
      String name,
      boolean everywhere,
      float density,
      Rgb color,
      float anisotropy,
      Rgb emission,
      float falloff,
      float base,
      @Nullable Puff puff) {
    this(name, everywhere, density, color, anisotropy, emission, falloff, base, puff, null);
  }

  /**
   * Density that varies: fractal noise within an envelope. The noise is value noise on a lattice,
   * smoothly interpolated, in octaves of half the size and half the strength each; what exceeds
   * {@code threshold} counts, scaled to 1 at the top. The envelope narrows the box to a column
   * whose radius grows upwards from {@code foot} to {@code head} (of half the box's width) and
   * whose ends fade.
   *
   * @param cells cells of the noise along the box's height
   * @param octaves how many sizes, 1 to 8
   * @param threshold of the noise, 0 to below 1
   * @param foot radius of the column at the bottom, 0 to 1
   * @param head radius of the column at the top, 0 to 1
   * @param sway by how much the column's axis wanders, of half the box's width, 0 to 1
   * @param rise cells that the noise rises in a second
   * @param seed which noise
   */
  public record Puff(
      float cells,
      int octaves,
      float threshold,
      float foot,
      float head,
      float sway,
      float rise,
      int seed) {}

  /** Returns it as it is at a time, in seconds. */
  public Medium at(double time) {
    if (factors == null) {
      return this;
    }
    float[] factor = new float[1];
    factors.sample(time, factor);
    return new Medium(
        name,
        everywhere,
        density * factor[0],
        color,
        anisotropy,
        emission,
        falloff,
        base,
        puff,
        null);
  }

  /** Returns it with another density. */
  public Medium withDensity(float next) {
    return new Medium(
        name, everywhere, next, color, anisotropy, emission, falloff, base, puff, factors);
  }

  /** Returns it with another colour. */
  public Medium withColor(Rgb next) {
    return new Medium(
        name, everywhere, density, next, anisotropy, emission, falloff, base, puff, factors);
  }

  /** Returns it with another emission. */
  public Medium withEmission(Rgb next) {
    return new Medium(
        name, everywhere, density, color, anisotropy, next, falloff, base, puff, factors);
  }
}
