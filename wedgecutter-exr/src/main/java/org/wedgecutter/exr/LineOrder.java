package org.wedgecutter.exr;

/** In which order the chunks of a part stand in the file. The order is the code in the file. */
public enum LineOrder {
  /** The top first. */
  INCREASING,
  /** The bottom first. */
  DECREASING,
  /** Any; for tiles. */
  RANDOM
}
