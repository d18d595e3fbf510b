package org.wedgecutter.core.scene;

import java.util.Arrays;
import org.joml.Quaternionf;

/**
 * An animated property of a node.
 *
 * @param target what it changes
 * @param between interpolation between keys
 * @param times seconds, ascending, at least one
 * @param values 3 numbers a key (translation, scale), 4 (rotation: x, y, z, w) or 1 (visible); with
 *     {@link Between#CUBIC} three times as many: in-tangent, value, out-tangent
 */
public record Channel(Target target, Between between, float[] times, float[] values) {
  /** The property of a node that changes. */
  public enum Target {
    TRANSLATION,
    ROTATION,
    SCALE,
    /** Whether the node, and all below it, is there: 1 or 0. */
    VISIBLE
  }

  /** Interpolation between keys. */
  public enum Between {
    STEP,
    LINEAR,
    CUBIC
  }

  /** Numbers in a value. */
  int size() {
    return switch (target) {
      case TRANSLATION, SCALE -> 3;
      case ROTATION -> 4;
      case VISIBLE -> 1;
    };
  }

  /** Returns its numbers over time. */
  public Track track() {
    return new Track(between, times, values, size());
  }

  /** Whether the value changes at any time. */
  public boolean changes() {
    return track().changes();
  }

  /** Writes the value at a time; before the first and after the last key the value is still. */
  void sample(double time, float[] out) {
    int at = Arrays.binarySearch(times, (float) time);
    int key = at >= 0 ? at : Math.max(0, -at - 2);
    boolean outside = time <= times[0] || key >= times.length - 1;
    if (target != Target.ROTATION || between != Between.LINEAR || outside) {
      track().sample(time, out);
      return;
    }
    float t = (float) ((time - times[key]) / (times[key + 1] - times[key]));
    int a = key * 4;
    Quaternionf q = new Quaternionf(values[a], values[a + 1], values[a + 2], values[a + 3]);
    q.slerp(new Quaternionf(values[a + 4], values[a + 5], values[a + 6], values[a + 7]), t);
    out[0] = q.x;
    out[1] = q.y;
    out[2] = q.z;
    out[3] = q.w;
  }
}
