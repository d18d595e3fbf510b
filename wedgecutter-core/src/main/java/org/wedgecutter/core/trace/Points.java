package org.wedgecutter.core.trace;

/** How the random numbers of samples and pixels lie to one another. */
public enum Points {
  /** All numbers independent: what the others are measured against. */
  INDEPENDENT,

  /**
   * The samples of a pixel are spread evenly over each pair of dimensions; pixels are unrelated.
   */
  SPREAD,

  /**
   * As {@link #SPREAD}, and the first samples of pixels that are near one another are spread evenly
   * too: what few samples are off by changes from pixel to pixel, and is gone when seen from afar.
   */
  ARRANGED
}
