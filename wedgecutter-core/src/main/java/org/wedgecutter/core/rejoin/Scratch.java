package org.wedgecutter.core.rejoin;

import java.util.ArrayList;
import java.util.List;

/** Arrays that a thread uses for one band after another. */
final class Scratch {
  private static final ThreadLocal<Scratch> OF_THREAD = ThreadLocal.withInitial(Scratch::new);

  /** More than a deep expression needs for a band. */
  private static final int MOST = 16;

  private final List<float[]> arrays = new ArrayList<>();
  private int taken;

  static Scratch ofThread() {
    return OF_THREAD.get();
  }

  /** Returns an array of a length with any numbers in it; it is the caller's for this band. */
  float[] take(int length) {
    if (taken == arrays.size()) {
      arrays.add(new float[length]);
    } else if (arrays.get(taken).length != length) {
      arrays.set(taken, new float[length]);
    }
    return arrays.get(taken++);
  }

  /** Takes back all that was handed out. */
  void giveBack() {
    taken = 0;
    if (arrays.size() > MOST) {
      arrays.subList(MOST, arrays.size()).clear();
    }
  }
}
