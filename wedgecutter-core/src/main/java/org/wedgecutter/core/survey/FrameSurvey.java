package org.wedgecutter.core.survey;

import java.util.List;
import org.wedgecutter.core.measure.InterplayTable;

/**
 * What a quick trace of one frame tells.
 *
 * @param frame the frame
 * @param width pixels in a line of the trace
 * @param height its lines
 * @param samples its samples per pixel
 * @param threads threads that traced
 * @param placedSeconds time to place the scene
 * @param coverage of each entity, by index, the share of the uncut frame that it covers
 * @param interplay how entities affect one another's light
 * @param costs what each trace costs
 * @param layers the noise of each layer, by index
 * @param uncut the noise of the uncut frame
 * @param rejoined the noise of the rejoined frame
 * @param written time to make and write the files, of each layer, by index; seconds for a pixel
 * @param uncutWritten the same for the uncut frame
 * @param file time to put a small file on the disk, seconds
 */
public record FrameSurvey(
    int frame,
    int width,
    int height,
    int samples,
    int threads,
    double placedSeconds,
    double[] coverage,
    InterplayTable interplay,
    List<Cost> costs,
    List<Noise> layers,
    Noise uncut,
    Noise rejoined,
    double[] written,
    double uncutWritten,
    double file) {
  /**
   * What one trace costs: a transport class.
   *
   * @param layers the layers that it serves, by index
   * @param uncut whether it serves the uncut frame
   * @param size its pixels, as a share of the frame's
   * @param samples its samples, as a share of the frame's
   * @param cpu processor time for a sample of a pixel, seconds
   * @param wall wall time for the same, as the machine was while it was measured
   */
  public record Cost(
      List<Integer> layers, boolean uncut, double size, double samples, double cpu, double wall) {
    public Cost {
      layers = List.copyOf(layers);
    }

    /** Returns how many pictures share the trace. */
    public int shared() {
      return layers.size() + (uncut ? 1 : 0);
    }
  }

  /** Returns the layers that share a trace, and so its samples, with a layer, by index. */
  public List<Integer> sharing(int layer) {
    return costs.stream()
        .filter(c -> c.layers().contains(layer))
        .flatMap(c -> c.layers().stream())
        .filter(k -> k != layer)
        .distinct()
        .toList();
  }

  /**
   * Returns the noise that is expected of a layer in a frame that is rendered with so many samples;
   * a layer with samples of its own keeps its proportion.
   */
  public Noise layer(int layer, int frameSamples) {
    Noise own = layers.get(layer);
    return own.at((double) frameSamples * own.samples() / samples);
  }

  public FrameSurvey {
    costs = List.copyOf(costs);
    layers = List.copyOf(layers);
  }
}
