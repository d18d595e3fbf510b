package org.wedgecutter.core.trace.bsdf;

import java.util.concurrent.atomic.AtomicReferenceArray;
import java.util.function.IntFunction;

/**
 * A table that is made slice by slice when one is first read: scenes use few materials, so few
 * slices are needed. Safe for several threads; two that read the same slice first both make it,
 * alike.
 */
final class LazyTable {
  private final AtomicReferenceArray<float[]> made;
  private final IntFunction<float[]> maker;

  /**
   * @param count of slices
   * @param maker makes one; always the same for a number
   */
  LazyTable(int count, IntFunction<float[]> maker) {
    made = new AtomicReferenceArray<>(count);
    this.maker = maker;
  }

  /** Returns a slice. */
  float[] get(int number) {
    float[] slice = made.getAcquire(number);
    if (slice == null) {
      slice = maker.apply(number);
      made.setRelease(number, slice);
    }
    return slice;
  }
}
