package org.wedgecutter.core.trace.sample;

/** How the random numbers of samples and pixels relate. */
public enum SamplePattern {
  /** All numbers independent: the baseline of the others. */
  RANDOM,

  /**
   * The samples of a pixel are spread evenly over each pair of dimensions; pixels are unrelated.
   */
  OWEN_SOBOL,

  /**
   * As {@link #OWEN_SOBOL}, and the first samples of pixels that are near one another are spread
   * evenly too: the error of few samples changes from pixel to pixel, and averages out from a
   * distance.
   */
  BLUE_NOISE
}
