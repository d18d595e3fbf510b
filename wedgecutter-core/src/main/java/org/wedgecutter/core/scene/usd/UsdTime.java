package org.wedgecutter.core.scene.usd;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Track;
import org.wedgecutter.core.scene.usd.stage.Numbers;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/** Values of a stage over the scene's seconds: frame 1 is at second 0. */
final class UsdTime {
  private final double codesPerSecond;

  UsdTime(double codesPerSecond) {
    this.codesPerSecond = codesPerSecond;
  }

  float seconds(double code) {
    return (float) ((code - 1) / codesPerSecond);
  }

  /** An attribute's samples: of each the second and the numbers. */
  record Samples(float[] seconds, List<double[]> values) {
    int count() {
      return seconds.length;
    }
  }

  /**
   * Returns the samples of an attribute, or its value as the only one; null if there is none, or if
   * one has another number of numbers, or one that is not finite.
   *
   * @param length of each, or -1 if all are as long as the first
   */
  @Nullable Samples samples(StagePrim prim, String name, int length) {
    StagePrim.Property p = prim.properties().get(name);
    if (p == null) {
      return null;
    }
    List<double[]> values = new ArrayList<>();
    float[] seconds = new float[Math.max(1, p.samples().size())];
    if (p.samples().isEmpty()) {
      values.add(numbers(p.value()));
    }
    for (Map.Entry<Double, Object> e : p.samples().entrySet()) {
      seconds[values.size()] = seconds(e.getKey());
      values.add(numbers(e.getValue()));
    }
    int wanted = length < 0 ? values.getFirst().length : length;
    return values.stream().allMatch(v -> v.length == wanted && isFinite(v)) && wanted > 0
        ? new Samples(seconds, values)
        : null;
  }

  /** Returns an attribute's first sample, or its value; null if these are no finite numbers. */
  static double @Nullable [] first(StagePrim.Property p) {
    Object value = p.samples().isEmpty() ? p.value() : p.samples().firstEntry().getValue();
    double[] out = value instanceof Numbers n ? n.doubles() : null;
    return out != null && isFinite(out) ? out : null;
  }

  private static boolean isFinite(double[] v) {
    for (double x : v) {
      // beyond the range of floats it would be infinite here
      if (!(Math.abs(x) <= Float.MAX_VALUE)) {
        return false;
      }
    }
    return true;
  }

  private static double[] numbers(@Nullable Object value) {
    return value instanceof Numbers n
        ? n.doubles()
        : value instanceof Double d ? new double[] {d} : new double[0];
  }

  /** Returns how a prim's own visibility changes; null if it does not. */
  @Nullable Channel visible(StagePrim prim) {
    StagePrim.Property p = prim.properties().get("visibility");
    if (p == null || p.samples().size() < 2) {
      return null;
    }
    float[] seconds = new float[p.samples().size()];
    float[] values = new float[seconds.length];
    int k = 0;
    for (Map.Entry<Double, Object> e : p.samples().entrySet()) {
      seconds[k] = seconds(e.getKey());
      values[k++] = "invisible".equals(e.getValue()) ? 0 : 1;
    }
    Channel out = new Channel(Channel.Target.VISIBLE, Channel.Between.STEP, seconds, values);
    return out.changes() ? out : null;
  }

  /**
   * Returns a channel of a part of each sample's numbers; null if it does not change.
   *
   * @param at the first of them; quaternions have their real part first
   */
  static @Nullable Channel channel(Channel.Target target, Samples samples, int at) {
    int size = target == Channel.Target.ROTATION ? 4 : 3;
    float[] values = new float[size * samples.count()];
    for (int k = 0; k < samples.count(); k++) {
      float[] one = part(target, samples.values().get(k), at);
      System.arraycopy(one, 0, values, size * k, size);
      if (target == Channel.Target.ROTATION && k > 0) {
        nearest(values, k);
      }
    }
    Channel out = new Channel(target, Channel.Between.LINEAR, samples.seconds(), values);
    return out.changes() ? out : null;
  }

  /** Returns a shift, a turn or a scale among numbers. */
  static float[] part(Channel.Target target, double[] v, int at) {
    if (target != Channel.Target.ROTATION) {
      return new float[] {(float) v[at], (float) v[at + 1], (float) v[at + 2]};
    }
    double n =
        Math.sqrt(
            v[at] * v[at] + v[at + 1] * v[at + 1] + v[at + 2] * v[at + 2] + v[at + 3] * v[at + 3]);
    return n > 0
        ? new float[] {
          (float) (v[at + 1] / n),
          (float) (v[at + 2] / n),
          (float) (v[at + 3] / n),
          (float) (v[at] / n)
        }
        : new float[] {0, 0, 0, 1};
  }

  /** Of the two quaternions of a turn, takes the one that is nearer to the one before. */
  static void nearest(float[] turns, int k) {
    float dot = 0;
    for (int c = 0; c < 4; c++) {
      dot += turns[4 * k + c] * turns[4 * (k - 1) + c];
    }
    for (int c = 0; dot < 0 && c < 4; c++) {
      turns[4 * k + c] = -turns[4 * k + c];
    }
  }

  /**
   * Returns weights by which each of some shapes is there alone at its samples and fades into the
   * next between them.
   *
   * @param shape number of the shape at each sample
   * @param shapes how many there are; shape 0 is what is there without weights
   */
  static Track fades(float[] seconds, int[] shape, int shapes) {
    int size = shapes - 1;
    float[] weights = new float[size * seconds.length];
    for (int k = 0; k < seconds.length; k++) {
      if (shape[k] > 0) {
        weights[size * k + shape[k] - 1] = 1;
      }
    }
    return new Track(Channel.Between.LINEAR, seconds, weights, size);
  }
}
