package org.wedgecutter.core.trace.sample;

/** How the random numbers of samples and pixels lie to one another. */
public enum SamplePattern {
  /** All numbers independent: what the others are measured against. */
  RANDOM,

  /**
   * The samples of a pixel are spread evenly over each pair of dimensions; pixels are unrelated.
   */
  OWEN_SOBOL,

  /**
   * As {@link #OWEN_SOBOL}, and the first samples of pixels that are near one another are spread
   * evenly too: what few samples are off by changes from pixel to pixel, and is gone when seen from
   * afar.
   */
  BLUE_NOISE
}
