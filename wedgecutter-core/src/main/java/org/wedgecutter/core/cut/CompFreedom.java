package org.wedgecutter.core.cut;

import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;

/**
 * What compositing may do to a layer without a hole in the picture. Only holes count: its shadow
 * and reflection in other layers stay as they were rendered.
 *
 * @param layer name of the layer
 * @param joined whether the recipe joins it
 * @param cuts joined layers in which things that it shows are Holdout, and those things
 * @param cutBy joined layers that show things that are Holdout in this one
 */
public record CompFreedom(
    String layer, boolean joined, Map<String, EntitySet> cuts, List<String> cutBy) {
  public CompFreedom {
    // in the order of the joins
    cuts = Collections.unmodifiableMap(new LinkedHashMap<>(cuts));
    cutBy = List.copyOf(cutBy);
  }

  /** A change of a layer's picture, without a new render. */
  public enum Change {
    /** Corrections of colour. */
    GRADE,
    /** Opacity, up to taking the layer out. */
    FADE,
    /** Moving or distorting it. */
    MOVE,
    /** Blur and defocus: its edges spread. */
    BLUR;

    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** Returns what may be done to each layer of a plan. */
  public static List<CompFreedom> of(Plan plan, ResolvedShot resolved) {
    Map<String, Sets> joined = new LinkedHashMap<>();
    for (Recipe.Step step : plan.recipe().joins()) {
      resolved.layers().stream()
          .filter(l -> l.name().equals(step.layer()))
          .forEach(l -> joined.put(l.name(), Sets.of(l)));
    }
    return resolved.layers().stream().map(layer -> of(layer.name(), joined)).toList();
  }

  private static CompFreedom of(String layer, Map<String, Sets> joined) {
    Sets own = joined.get(layer);
    if (own == null) {
      return new CompFreedom(layer, false, Map.of(), List.of());
    }
    Map<String, EntitySet> cuts = new LinkedHashMap<>();
    List<String> cutBy = new ArrayList<>();
    joined.forEach((name, other) -> {
      if (!name.equals(layer)) {
        if (own.shown.meets(other.heldOut)) {
          cuts.put(name, own.shown.and(other.heldOut));
        }
        if (other.shown.meets(own.heldOut)) {
          cutBy.add(name);
        }
      }
    });
    return new CompFreedom(layer, true, cuts, cutBy);
  }

  /** What a layer shows, and what is cut out of it. */
  private record Sets(EntitySet shown, EntitySet heldOut) {
    static Sets of(ResolvedLayer layer) {
      // nothing is cut out of a layer that has no picture
      return new Sets(
          layer.shown(),
          layer.subject().isEmpty() ? EntitySet.NONE : layer.decisions().of(Role.HOLDOUT));
    }
  }

  /** Returns the changes that open no hole. */
  public Set<Change> free() {
    if (!joined) {
      return Set.of();
    }
    EnumSet<Change> out = EnumSet.of(Change.GRADE);
    if (cuts.isEmpty()) {
      out.add(Change.FADE);
      if (cutBy.isEmpty()) {
        out.add(Change.MOVE);
        out.add(Change.BLUR);
      }
    }
    return Collections.unmodifiableSet(out);
  }

  /** Returns the changes that open no hole, in a few words. */
  public String text() {
    Set<Change> free = free();
    return free.size() == Change.values().length
        ? "anything"
        : free.isEmpty()
            ? "not joined"
            : free.stream().map(Change::word).collect(Collectors.joining(", "));
  }

  /** Returns why changes open a hole, in a sentence; empty if none does. */
  public String holes() {
    if (!cuts.isEmpty()) {
      return "%s is cut out of %s: fading, moving or blurring it opens a hole"
          .formatted(layer, String.join(", ", cuts.keySet()));
    }
    return cutBy.isEmpty()
        ? ""
        : "%s cut out of %s: moving or blurring it shows the hole"
            .formatted(String.join(", ", cutBy) + (cutBy.size() == 1 ? " is" : " are"), layer);
  }
}
