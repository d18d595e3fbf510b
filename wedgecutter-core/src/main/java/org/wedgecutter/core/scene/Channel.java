package org.wedgecutter.core.scene;

import java.util.Arrays;
import org.joml.Quaternionf;

/**
 * One animated property of a node.
 *
 * @param target what it changes
 * @param between how values follow one another
 * @param times seconds, ascending, at least one
 * @param values 3 numbers a key (translation, scale) or 4 (rotation: x, y, z, w); with {@link
 *     Between#CUBIC} three times as many: in-tangent, value, out-tangent
 */
public record Channel(Target target, Between between, float[] times, float[] values) {
  /** The property of a node that changes. */
  public enum Target {
    TRANSLATION,
    ROTATION,
    SCALE
  }

  /** How values between keys are made. */
  public enum Between {
    STEP,
    LINEAR,
    CUBIC
  }

  /** Numbers in a value. */
  int size() {
    return target == Target.ROTATION ? 4 : 3;
  }

  /** Says whether any two keys differ. */
  public boolean changes() {
    int stride = values.length / times.length;
    for (int i = stride; i < values.length; i++) {
      if (values[i] != values[i % stride]) {
        return true;
      }
    }
    return false;
  }

  /** Writes the value at a time; before the first and after the last key the value stands still. */
  void sample(double time, float[] out) {
    int size = size();
    int at = Arrays.binarySearch(times, (float) time);
    int key = at >= 0 ? at : Math.max(0, -at - 2);
    boolean outside = time <= times[0] || key >= times.length - 1;
    int stride = between == Between.CUBIC ? 3 * size : size;
    int offset = between == Between.CUBIC ? size : 0;
    if (outside || between == Between.STEP) {
      System.arraycopy(values, key * stride + offset, out, 0, size);
      return;
    }
    float span = times[key + 1] - times[key];
    float t = (float) ((time - times[key]) / span);
    if (between == Between.CUBIC) {
      cubic(key, span, t, out);
    } else if (target == Target.ROTATION) {
      int a = key * 4;
      Quaternionf q = new Quaternionf(values[a], values[a + 1], values[a + 2], values[a + 3]);
      q.slerp(new Quaternionf(values[a + 4], values[a + 5], values[a + 6], values[a + 7]), t);
      out[0] = q.x;
      out[1] = q.y;
      out[2] = q.z;
      out[3] = q.w;
    } else {
      for (int c = 0; c < size; c++) {
        float from = values[key * size + c];
        out[c] = from + t * (values[(key + 1) * size + c] - from);
      }
    }
  }

  /** The cubic Hermite spline of glTF 2.0, appendix C. */
  private void cubic(int key, float span, float t, float[] out) {
    int size = size();
    float t2 = t * t;
    float t3 = t2 * t;
    for (int c = 0; c < size; c++) {
      int a = key * 3 * size + c;
      int b = a + 3 * size;
      out[c] =
          (2 * t3 - 3 * t2 + 1) * values[a + size]
              + span * (t3 - 2 * t2 + t) * values[a + 2 * size]
              + (3 * t2 - 2 * t3) * values[b + size]
              + span * (t3 - t2) * values[b];
    }
  }
}
