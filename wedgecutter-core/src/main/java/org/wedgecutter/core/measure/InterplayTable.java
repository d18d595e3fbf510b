package org.wedgecutter.core.measure;

import com.google.common.collect.Iterables;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.resolve.EntitySet;

/**
 * How entities change one another's light in a frame, found while tracing: of each entity that the
 * camera sees, the light that came via another, and that another blocked.
 *
 * @param pairs every pair that has any, the largest first
 * @param light luminance of each entity, by index, in the same unit
 */
public record InterplayTable(List<Pair> pairs, double[] light) {
  /** An empty table. */
  public static final InterplayTable NONE = new InterplayTable(List.of(), new double[0]);

  /**
   * A pair.
   *
   * @param of the entity that the camera sees, by index
   * @param by the entity that affects its light, by index
   * @param way luminance that came via it
   * @param blocked luminance straight from emitters that it stopped
   */
  public record Pair(int of, int by, double way, double blocked) {}

  public InterplayTable {
    pairs = List.copyOf(pairs);
  }

  /** Returns what a trace found. */
  public static InterplayTable of(FragmentSums sums) {
    List<Pair> pairs = new ArrayList<>();
    double samples = Math.max(1, sums.samples());
    sums.interplay((of, by, way, blocked) -> {
      if (way > 0 || blocked > 0) {
        pairs.add(new Pair(of, by, way / samples, blocked / samples));
      }
    });
    return new InterplayTable(largestFirst(pairs), sums.luminance(0));
  }

  /** Returns the table of a frame of which this and another one are parts. */
  public InterplayTable plus(InterplayTable other) {
    Map<List<Integer>, Pair> sums = new LinkedHashMap<>();
    for (Pair p : Iterables.concat(pairs, other.pairs)) {
      sums.merge(
          List.of(p.of, p.by),
          p,
          (a, b) -> new Pair(a.of, a.by, a.way + b.way, a.blocked + b.blocked));
    }
    double[] all = Arrays.copyOf(light, Math.max(light.length, other.light.length));
    for (int e = 0; e < other.light.length; e++) {
      all[e] += other.light[e];
    }
    return new InterplayTable(largestFirst(sums.values()), all);
  }

  private static List<Pair> largestFirst(Collection<Pair> pairs) {
    List<Pair> out = new ArrayList<>(pairs);
    out.sort(Comparator.comparingDouble(p -> -p.way - p.blocked));
    return out;
  }

  /** Returns the luminance of some entities. */
  public double light(EntitySet entities) {
    double sum = 0;
    for (int e : entities.indices()) {
      sum += e < light.length ? light[e] : 0;
    }
    return sum;
  }

  /**
   * Returns the effect of some entities on the light of others, as a share of these others' light:
   * light via them, and light that they block. It is what would change without them.
   */
  public double share(EntitySet of, EntitySet by) {
    double sum = 0;
    for (Pair p : pairs) {
      if (of.contains(p.of) && by.contains(p.by) && !of.contains(p.by)) {
        sum += p.way + p.blocked;
      }
    }
    double own = light(of);
    return own > 0 ? sum / own : 0;
  }

  /** Returns by what share each entity changes the light of some others, by index. */
  public Map<Integer, Double> shares(EntitySet of) {
    Map<Integer, Double> out = new HashMap<>();
    double own = light(of);
    for (Pair p : pairs) {
      if (of.contains(p.of) && !of.contains(p.by) && own > 0) {
        out.merge(p.by, (p.way + p.blocked) / own, Double::sum);
      }
    }
    return out;
  }
}
