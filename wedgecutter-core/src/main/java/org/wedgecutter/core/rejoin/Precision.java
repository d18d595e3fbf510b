package org.wedgecutter.core.rejoin;

/** How finely the numbers of a picture are kept: by the type of its channels. */
public enum Precision {
  /** 32-bit floats. */
  FLOAT(1, 0),
  /** 16-bit floats: 11 significant bits, and steps of 2^-24 below 2^-14. */
  HALF(4, 0x1p-24f);

  private final float weight;
  private final float step;

  Precision(float weight, float step) {
    this.weight = weight;
    this.step = step;
  }

  /** Returns how many times the tolerance of 32-bit floats is allowed for light that is kept so. */
  public float weight() {
    return weight;
  }

  /** Returns the step between the least numbers; 0 where it is too small to count. */
  public float step() {
    return step;
  }

  /** Returns the coarser of two. */
  public Precision or(Precision other) {
    return this == HALF || other == HALF ? HALF : FLOAT;
  }
}
