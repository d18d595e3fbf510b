package org.wedgecutter.core.plan;

import java.util.List;
import java.util.function.ToIntFunction;

/**
 * Where a frame stands among keys: values move in a line from key to key, and stand before the
 * first and after the last.
 *
 * @param from the key before
 * @param to the key after; the same where nothing moves
 * @param share of the way between them, 0 to below 1
 */
record Between<K>(K from, K to, double share) {
  /**
   * @param keys at least one
   * @param frameOf tells the frame of a key; ascending
   */
  static <K> Between<K> of(List<K> keys, ToIntFunction<K> frameOf, int frame) {
    int after = 0;
    while (after < keys.size() && frameOf.applyAsInt(keys.get(after)) <= frame) {
      after++;
    }
    K from = keys.get(Math.max(0, after - 1));
    K to = keys.get(Math.min(keys.size() - 1, after));
    int way = frameOf.applyAsInt(to) - frameOf.applyAsInt(from);
    return new Between<>(
        from, to, way == 0 ? 0 : (frame - frameOf.applyAsInt(from)) / (double) way);
  }

  /** Returns a number between that of the key before and that of the key after. */
  double between(double before, double after) {
    return before + share * (after - before);
  }
}
