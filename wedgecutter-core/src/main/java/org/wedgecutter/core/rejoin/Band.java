package org.wedgecutter.core.rejoin;

import org.jspecify.annotations.Nullable;

/**
 * Some lines of a picture: red, green, blue, alpha of each pixel.
 *
 * @param light holds them from {@code at} on
 * @param at where they begin
 * @param count how many numbers they are
 * @param scale the scale of each number's error from 0 on, if that is asked for
 * @param owned whether whoever asked may change the numbers, which then begin at 0
 */
record Band(float[] light, int at, int count, float @Nullable [] scale, boolean owned) {
  /** Returns lines whose numbers may be changed: these, or a copy. */
  Band own(Scratch scratch) {
    if (owned) {
      return this;
    }
    float[] copy = scratch.take(count);
    System.arraycopy(light, at, copy, 0, count);
    return new Band(copy, 0, count, scale == null ? null : scale.clone(), true);
  }

  /** Returns the same lines for others, too: they may not be changed any more. */
  Band shared() {
    return new Band(light, at, count, scale, false);
  }
}
