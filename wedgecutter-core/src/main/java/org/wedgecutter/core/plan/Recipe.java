package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * How the layers rejoin.
 *
 * @param joins from the back to the front
 * @param corrections of layers, passes and the rejoined picture, in order
 * @param mattes what corrections and joins name, in order
 * @param background what stands behind all that is rejoined
 * @param extra unknown keys
 */
public record Recipe(
    List<Step> joins,
    List<Correction> corrections,
    List<MatteDef> mattes,
    Background background,
    Extra extra) {
  public Recipe {
    joins = List.copyOf(joins);
    corrections = List.copyOf(corrections);
    mattes = List.copyOf(mattes);
  }

  /** A recipe without corrections. */
  public Recipe(List<Step> joins, Extra extra) {
    this(joins, List.of(), List.of(), Background.NONE, extra);
  }

  /** Which light of what is behind a ratio scales. */
  public enum Light {
    /** All of it. */
    ALL,
    /** Diffuse light straight from lights: what a shadow ratio is of. */
    DIRECT,
    /** Diffuse light of the environment and bounced light: what an occlusion ratio is of. */
    INDIRECT;

    /** Returns the word in plans and on screens. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Finds it by its word. */
    public static Optional<Light> of(String word) {
      return Arrays.stream(values()).filter(l -> l.word().equals(word)).findFirst();
    }
  }

  /**
   * One layer and how it is joined onto what is behind it.
   *
   * @param opacity strength of the join, 0 (none) to 1 (all): a mix of what is behind with what the
   *     join makes of it. Of a catcher's layer it is the density of the shadow
   * @param matte name of the matte that {@link Join#MATTE} cuts by; empty for the layer's alpha
   * @param light which light of what is behind {@link Join#TIMES} scales
   * @param extra unknown keys
   */
  public record Step(
      String layer, Join join, double opacity, String matte, Light light, Extra extra) {
    /** A step that takes all of the join. */
    public Step(String layer, Join join, Extra extra) {
      this(layer, join, 1, "", Light.ALL, extra);
    }

    /** Returns the step whose ratio scales other light. */
    public Step withLight(Light next) {
      return new Step(layer, join, opacity, matte, next, extra);
    }

    /** Returns the step with another matte. */
    public Step withMatte(String next) {
      return new Step(layer, join, opacity, next, light, extra);
    }

    /** Returns the step with another join. */
    public Step withJoin(Join next) {
      return new Step(layer, next, opacity, matte, light, extra);
    }

    /** Returns the step for a layer of another name. */
    public Step withLayer(String next) {
      return new Step(next, join, opacity, matte, light, extra);
    }

    /** Returns the step with another opacity, 0 to 1. */
    public Step withOpacity(double next) {
      return new Step(layer, join, next, matte, light, extra);
    }
  }

  /** Returns the recipe with other steps. */
  public Recipe withJoins(List<Step> next) {
    return new Recipe(next, corrections, mattes, background, extra);
  }

  /** Returns the recipe with other corrections. */
  public Recipe withCorrections(List<Correction> next) {
    return new Recipe(joins, next, mattes, background, extra);
  }

  /** Returns the recipe with another correction at a place. */
  public Recipe withCorrection(int at, Correction next) {
    List<Correction> all = new ArrayList<>(corrections);
    all.set(at, next);
    return withCorrections(all);
  }

  /** Returns the recipe with other mattes. */
  public Recipe withMattes(List<MatteDef> next) {
    return new Recipe(joins, corrections, next, background, extra);
  }

  /** Returns the recipe with another background. */
  public Recipe withBackground(Background next) {
    return new Recipe(joins, corrections, mattes, next, extra);
  }

  /** Returns the paths of the pictures that it shows, each once. */
  public List<String> pictures() {
    return Stream.concat(
            Stream.of(background.picture()),
            corrections.stream().filter(Correction::on).map(Correction::picture))
        .filter(p -> !p.isEmpty())
        .distinct()
        .toList();
  }

  /** Returns it as it is at a frame: with corrections whose values stay. */
  public Recipe at(int frame) {
    return corrections.stream().anyMatch(Correction::isKeyed)
        ? withCorrections(corrections.stream().map(c -> c.at(frame)).toList())
        : this;
  }

  /** Whether it does more than to join layers: corrections that are on, or a background. */
  public boolean changesJoined() {
    return background.exists() || corrections.stream().anyMatch(Correction::on);
  }

  /** Returns the matte of a name. */
  public Optional<MatteDef> matte(String name) {
    return mattes.stream().filter(m -> m.name().equals(name)).findFirst();
  }

  /**
   * Returns the mattes that a matte is made of, itself first, each once; empty for a name that none
   * has.
   */
  public Set<MatteDef> madeOf(String name) {
    Set<MatteDef> out = new LinkedHashSet<>();
    gather(name, out);
    return out;
  }

  private void gather(String name, Set<MatteDef> into) {
    matte(name)
        .filter(into::add)
        .filter(m -> m.source().combines())
        .ifPresent(m -> m.picks().forEach(p -> gather(p, into)));
  }

  /** Most mattes of which one may be made, those that occur twice counted twice. */
  public static final int MOST_PARTS = 1000;

  /**
   * Returns by name of how many mattes each is made, itself included and those that occur twice
   * counted twice; {@link #MOST_PARTS} and one for more, and 0 where a matte would be a part of its
   * own.
   */
  public Map<String, Integer> matteParts() {
    Map<String, MatteDef> byName = new HashMap<>();
    mattes.forEach(m -> byName.putIfAbsent(m.name(), m));
    Map<String, Integer> known = new HashMap<>();
    mattes.forEach(m -> parts(m.name(), byName, known));
    return known;
  }

  private static int parts(String name, Map<String, MatteDef> byName, Map<String, Integer> known) {
    // while its parts are counted, a matte counts as 0: who meets it then has met a circle
    Integer before = known.putIfAbsent(name, 0);
    if (before != null) {
      return before;
    }
    MatteDef matte = byName.get(name);
    int count = 1;
    for (String part :
        matte != null && matte.source().combines() ? matte.picks() : List.<String>of()) {
      int own = parts(part, byName, known);
      if (own == 0) {
        return 0;
      }
      count = Math.min(MOST_PARTS + 1, count + own);
    }
    known.put(name, count);
    return count;
  }

  /** Returns the recipe for a layer that has another name. */
  public Recipe renamed(String layer, String next) {
    return new Recipe(
        joins.stream().map(s -> s.layer().equals(layer) ? s.withLayer(next) : s).toList(),
        corrections.stream().map(c -> c.layer().equals(layer) ? c.withLayer(next) : c).toList(),
        mattes.stream()
            .map(m ->
                m.source() == MatteDef.Source.LUMA && m.by().equals(layer) ? m.withBy(next) : m)
            .toList(),
        background,
        extra);
  }
}
