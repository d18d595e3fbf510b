package org.wedgecutter.core.scene;

/**
 * Numbers that change over time.
 *
 * @param between interpolation between keys
 * @param times seconds, ascending, at least one
 * @param values {@code size} numbers a key; with {@link Channel.Between#CUBIC} three times as many:
 *     in-tangents, values, out-tangents
 * @param size numbers of a value
 */
public record Track(Channel.Between between, float[] times, float[] values, int size) {
  /** Whether the value changes at any time. */
  public boolean changes() {
    return changes(0, times.length - 1);
  }

  /** Returns the last key not after a time, or the first. */
  int keyBefore(double time) {
    int low = 0;
    int high = times.length - 1;
    while (low < high) {
      int middle = (low + high + 1) >>> 1;
      if (times[middle] <= time) {
        low = middle;
      } else {
        high = middle - 1;
      }
    }
    return low;
  }

  /** Returns the last key that has a part in values up to a time. */
  int keyAfter(double time) {
    if (between == Channel.Between.STEP) {
      // a value stays until its next key is reached
      return keyBefore(time);
    }
    int low = 0;
    int high = times.length - 1;
    while (low < high) {
      int middle = (low + high) >>> 1;
      if (times[middle] >= time) {
        high = middle;
      } else {
        low = middle + 1;
      }
    }
    return low;
  }

  /**
   * Whether the value changes between two keys. Tangents count only where a cubic is between keys.
   */
  boolean changes(int first, int last) {
    boolean cubic = between == Channel.Between.CUBIC;
    int stride = values.length / times.length;
    int offset = cubic ? size : 0;
    for (int k = first + 1; k <= last; k++) {
      for (int i = 0; i < size; i++) {
        float a = values[(k - 1) * stride + offset + i];
        boolean bends =
            cubic && (values[(k - 1) * stride + 2 * size + i] != 0 || values[k * stride + i] != 0);
        if (bends || values[k * stride + offset + i] != a) {
          return true;
        }
      }
    }
    return false;
  }

  /** Writes the value at a time; before the first and after the last key it is still. */
  public void sample(double time, float[] out) {
    int at = java.util.Arrays.binarySearch(times, (float) time);
    int key = at >= 0 ? at : Math.max(0, -at - 2);
    boolean cubic = between == Channel.Between.CUBIC;
    int stride = cubic ? 3 * size : size;
    int offset = cubic ? size : 0;
    if (time <= times[0] || key >= times.length - 1 || between == Channel.Between.STEP) {
      System.arraycopy(values, key * stride + offset, out, 0, size);
      return;
    }
    float span = times[key + 1] - times[key];
    float t = (float) ((time - times[key]) / span);
    for (int i = 0; i < size; i++) {
      float a = values[key * stride + offset + i];
      float b = values[(key + 1) * stride + offset + i];
      out[i] =
          cubic
              ? hermite(
                  a,
                  values[key * stride + 2 * size + i] * span,
                  b,
                  values[(key + 1) * stride + i] * span,
                  t)
              : a + (b - a) * t;
    }
  }

  /** The cubic with given ends and tangents (glTF 2.0, appendix C). */
  static float hermite(float a, float outA, float b, float inB, float t) {
    float t2 = t * t;
    float t3 = t2 * t;
    return (2 * t3 - 3 * t2 + 1) * a
        + (t3 - 2 * t2 + t) * outA
        + (-2 * t3 + 3 * t2) * b
        + (t3 - t2) * inB;
  }
}
