package org.wedgecutter.core.render;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.IntPredicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.resolve.ResolvedShot;

/**
 * A frame after the first half of its samples, and what the second half cost: what noise and time
 * are estimated from. The two halves are different samples of the same frame.
 */
public final class HalfFrame {
  private final @Nullable Picture[] layers;
  private final Picture uncut;
  private final double placedSeconds;
  private final List<Cost> costs;
  private final int[] samples;

  /**
   * What a trace costs once it is running.
   *
   * @param layers names of the layers that it serves; "uncut" stands for the uncut frame
   * @param pixels pixels that were traced
   * @param samples samples per pixel that were measured
   * @param seconds wall time for these
   * @param cpuSeconds processor time of all threads for these
   */
  public record Cost(
      List<String> layers, long pixels, int samples, double seconds, double cpuSeconds) {}

  private HalfFrame(
      @Nullable Picture[] layers,
      Picture uncut,
      double placedSeconds,
      List<Cost> costs,
      int[] samples) {
    this.layers = layers;
    this.uncut = uncut;
    this.placedSeconds = placedSeconds;
    this.costs = List.copyOf(costs);
    this.samples = samples;
  }

  static HalfFrame of(
      LayerPictures pictures,
      ResolvedShot shot,
      IntPredicate chosen,
      List<FragmentSums> sums,
      double placedSeconds) {
    @Nullable Picture[] layers = new Picture[shot.layers().size()];
    for (int l = 0; l < layers.length; l++) {
      layers[l] = chosen.test(l) ? pictures.layer(l) : null;
    }
    int[] samples = sums.stream().mapToInt(FragmentSums::samples).toArray();
    return new HalfFrame(layers, pictures.uncut(), placedSeconds, List.of(), samples);
  }

  HalfFrame measured(
      List<RenderedFrame.ClassTime> first,
      List<RenderedFrame.ClassTime> second,
      List<FragmentSums> sums) {
    List<Cost> out = new ArrayList<>();
    for (int j = 0; j < second.size(); j++) {
      FragmentSums s = sums.get(j);
      // a class with few samples of its own may have none in the second half
      boolean any = s.samples() > samples[j];
      RenderedFrame.ClassTime t = any ? second.get(j) : first.get(j);
      out.add(
          new Cost(
              t.layers(),
              (long) s.width() * s.height(),
              any ? s.samples() - samples[j] : s.samples(),
              t.seconds(),
              t.cpuSeconds()));
    }
    return new HalfFrame(layers, uncut, placedSeconds, out, samples);
  }

  /** Returns a layer's picture of the first half. */
  public Picture layer(int index) {
    return Objects.requireNonNull(layers[index], "this layer was not rendered");
  }

  /** Returns the uncut frame of the first half. */
  public Picture uncut() {
    return uncut;
  }

  /** Returns how long it took to place the scene, seconds. */
  public double placedSeconds() {
    return placedSeconds;
  }

  /** Returns what each trace costs. */
  public List<Cost> costs() {
    return costs;
  }
}
