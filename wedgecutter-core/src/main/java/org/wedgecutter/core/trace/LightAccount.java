package org.wedgecutter.core.trace;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Where the light of some samples comes from: for each entity that the camera sees, light by the
 * emitter that it came from and the entity via which it came, and light that was blocked.
 *
 * <p>Sums over samples, as seen: times what is let through in front. What the recorder adds up to
 * is the light of the samples, up to rounding. One object serves one thread; it allocates, and is
 * for a few thousand samples.
 */
public final class LightAccount {
  /** Stands for light that came straight from its emitter, or for no blocker. */
  public static final int DIRECT = -1;

  /**
   * A way of light.
   *
   * @param seen the entity that the camera sees
   * @param emitter the entity that the light came from
   * @param by the entity via which it came, or that blocked it; {@link #DIRECT} for neither
   * @param blocked whether it was blocked
   */
  public record Way(int seen, int emitter, int by, boolean blocked) {}

  private final Map<Way, double[]> sums = new HashMap<>();
  private final Map<Integer, Double> coverage = new HashMap<>();
  private final List<Way> ways = new ArrayList<>();
  private final List<float[]> lights = new ArrayList<>();
  private int seen;
  private int via = DIRECT;

  /** Begins what leaves one entity in one sample. */
  void begin(int entity) {
    seen = entity;
    via = DIRECT;
    ways.clear();
    lights.clear();
  }

  /** Says which entity the path met after the visible one. */
  void via(int entity) {
    via = entity;
  }

  /** Adds light that reaches the visible entity. */
  void light(int emitter, boolean indirect, float r, float g, float b) {
    ways.add(new Way(seen, emitter, indirect ? via : DIRECT, false));
    lights.add(new float[] {r, g, b});
  }

  /** Adds light that something blocked. */
  void blocked(int emitter, int by, float r, float g, float b) {
    ways.add(new Way(seen, emitter, by, true));
    lights.add(new float[] {r, g, b});
  }

  /**
   * Ends what leaves the entity.
   *
   * @param throughput of what is in front, three channels
   * @param opacity by which its light was scaled
   * @param covers its share of the sample's alpha
   */
  void end(float[] throughput, int at, float opacity, double covers) {
    coverage.merge(seen, covers, Double::sum);
    for (int k = 0; k < ways.size(); k++) {
      double[] sum = sums.computeIfAbsent(ways.get(k), w -> new double[3]);
      for (int c = 0; c < 3; c++) {
        sum[c] += (double) lights.get(k)[c] * throughput[at + c] * opacity;
      }
    }
    ways.clear();
    lights.clear();
  }

  /** Receives ways of light. */
  @FunctionalInterface
  public interface Ways {
    /** Receives one way: its light in red, green and blue, summed over samples. */
    void way(Way way, double r, double g, double b);
  }

  /** Reports every way. */
  public void each(Ways to) {
    sums.forEach((way, light) -> to.way(way, light[0], light[1], light[2]));
  }

  /** Returns the alpha of each entity that was seen, summed over samples. */
  public Map<Integer, Double> coverage() {
    return Map.copyOf(coverage);
  }
}
