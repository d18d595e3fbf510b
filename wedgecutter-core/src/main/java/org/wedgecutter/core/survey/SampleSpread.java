package org.wedgecutter.core.survey;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.DoubleUnaryOperator;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Value;

/**
 * Samples spread over the layers so that the rejoined frame has the least noise for its time.
 *
 * <p>A trace {@code g} with {@code n} samples per pixel adds {@code V/n} to the variance of the
 * rejoined frame and takes {@code t n} seconds over the shot. The sum of all {@code V/n} at a given
 * sum of all {@code t n} is least where every {@code n} is in proportion to the root of {@code V/t}
 * (Lagrange's condition). {@code V} is the sum over the trace's layers of their relative noise,
 * squared, times the samples it was measured at, as a mean over the traced frames. That layers add
 * up in the rejoined frame with other weights is taken from the rejoined frame's own noise: all
 * {@code V} are scaled so that they give it at the samples it was measured at.
 *
 * <p>Layers of one trace have its samples together, and so have traces of one layer: a catcher
 * needs one with its casters and one without. The uncut frame keeps the shot's samples.
 */
public final class SampleSpread {
  /** Fewer samples leave the edges of a layer rough, whatever its light. */
  public static final int LEAST = 4;

  private static final double MOST = 1_000_000;
  private static final int HALVINGS = 200;

  private final List<Group> groups = new ArrayList<>();
  private final double fixed;
  private final SortedMap<Integer, FrameSurvey> traced;

  private record Group(List<Integer> layers, double variance, double secondsPerSample) {
    double best() {
      return secondsPerSample > 0 ? Math.sqrt(variance / secondsPerSample) : 0;
    }
  }

  /**
   * One trace.
   *
   * @param layers the layers that share it, by index
   * @param samples per pixel
   */
  public record Trace(List<Integer> layers, int samples) {
    public Trace {
      layers = List.copyOf(layers);
    }
  }

  /**
   * Samples for each trace.
   *
   * @param traces every trace that layers need
   * @param seconds time of all layers over the shot, with what does not grow with samples
   * @param noise of the rejoined frame, as a share of its light
   */
  public record Spread(List<Trace> traces, double seconds, double noise) {
    public Spread {
      traces = List.copyOf(traces);
    }

    /** Returns the samples of a layer, or 0 if it is not rendered. */
    public int samples(int layer) {
      return traces.stream()
          .filter(t -> t.layers().contains(layer))
          .mapToInt(Trace::samples)
          .findFirst()
          .orElse(0);
    }

    /** Returns the plan whose layers have these samples; where they are the shot's, it has none. */
    public Plan apply(Plan plan) {
      Plan next = plan;
      for (Trace t : traces) {
        for (int l : t.layers()) {
          String name = plan.layers().get(l).name();
          next =
              t.samples() == plan.requireShot().samples()
                  ? LayerEdits.removeSetting(next, name, Property.SAMPLES)
                  : LayerEdits.setting(
                      next,
                      name,
                      CellOverride.of(
                          Property.SAMPLES, Property.Verb.SET, new Value.Num(t.samples())));
        }
      }
      return next;
    }
  }

  /**
   * @param traced quick traces of the plan, by frame; at least one
   * @param time estimated from them
   */
  public SampleSpread(SortedMap<Integer, FrameSurvey> traced, TimeEstimate time) {
    this.traced = new TreeMap<>(traced);
    FrameSurvey last = Objects.requireNonNull(traced.get(traced.lastKey()));
    double tracing = 0;
    double now = 0;
    for (Map.Entry<Set<Integer>, Double> e : together(last).entrySet()) {
      double variance = 0;
      double seconds = 0;
      for (int l : e.getKey()) {
        double own = time.tracing(l);
        tracing += own;
        seconds += own / time.samples(e.getValue());
        variance += variance(l);
      }
      if (seconds > 0) {
        groups.add(new Group(List.copyOf(e.getKey()), variance, seconds));
        now += variance / (last.samples() * e.getValue());
      }
    }
    fixed = time.shot().middle() - tracing;
    double rejoined = Math.pow(last.rejoined().relative(), 2);
    if (now > 0 && rejoined > 0) {
      double scale = rejoined / now;
      groups.replaceAll(g -> new Group(g.layers, g.variance * scale, g.secondsPerSample));
    }
  }

  /**
   * Layers that have their samples together, through one trace or several, and these samples as a
   * share of the frame's.
   */
  private static Map<Set<Integer>, Double> together(FrameSurvey f) {
    Map<Set<Integer>, Double> out = new LinkedHashMap<>();
    for (FrameSurvey.Cost c : f.costs()) {
      Set<Integer> all = new TreeSet<>(c.layers());
      for (Set<Integer> other : List.copyOf(out.keySet())) {
        if (other.stream().anyMatch(all::contains)) {
          all.addAll(other);
          out.remove(other);
        }
      }
      if (!all.isEmpty()) {
        out.put(all, c.samples());
      }
    }
    return out;
  }

  /** The variance of one sample of a layer, as a mean over the traced frames. */
  private double variance(int layer) {
    return traced.values().stream()
        .map(f -> f.layers().get(layer))
        .filter(n -> !Double.isNaN(n.relative()))
        .mapToDouble(n -> n.relative() * n.relative() * n.samples())
        .average()
        .orElse(0);
  }

  /** Whether the noise of any layer is known. */
  public boolean isKnown() {
    return groups.stream().anyMatch(g -> g.variance > 0);
  }

  /**
   * Returns the samples that bring the rejoined frame to a noise in the least time.
   *
   * @param noise as a share of the light, above 0
   */
  public Spread forNoise(double noise) {
    return rounded(where(factor -> noise - noise(factor)), true);
  }

  /**
   * Returns the samples that give the rejoined frame the least noise in a time. In less time than
   * {@link #LEAST} samples everywhere take, it is these.
   *
   * @param seconds for all layers over the shot
   */
  public Spread forSeconds(double seconds) {
    return rounded(where(factor -> seconds(factor) - seconds), false);
  }

  private static double samples(Group g, double factor) {
    return Math.clamp(factor * g.best(), LEAST, MOST);
  }

  private double noise(double factor) {
    return Math.sqrt(groups.stream().mapToDouble(g -> g.variance / samples(g, factor)).sum());
  }

  private double seconds(double factor) {
    return fixed + groups.stream().mapToDouble(g -> g.secondsPerSample * samples(g, factor)).sum();
  }

  /** Returns the factor at which something that grows with it passes 0. */
  private static double where(DoubleUnaryOperator growing) {
    double low = -60;
    double high = 60;
    for (int k = 0; k < HALVINGS; k++) {
      double middle = (low + high) / 2;
      if (growing.applyAsDouble(Math.exp(middle)) < 0) {
        low = middle;
      } else {
        high = middle;
      }
    }
    return Math.exp(high);
  }

  private Spread rounded(double factor, boolean up) {
    List<Trace> traces = new ArrayList<>();
    double seconds = fixed;
    double variance = 0;
    for (Group g : groups) {
      double exact = samples(g, factor);
      // what halving leaves over is not a sample
      int samples = (int) (up ? Math.ceil(exact * (1 - 1e-9)) : Math.floor(exact * (1 + 1e-9)));
      traces.add(new Trace(g.layers, samples));
      seconds += g.secondsPerSample * samples;
      variance += g.variance / samples;
    }
    return new Spread(traces, seconds, Math.sqrt(variance));
  }
}
