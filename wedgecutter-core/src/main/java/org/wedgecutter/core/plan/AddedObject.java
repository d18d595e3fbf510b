package org.wedgecutter.core.plan;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * An object that the plan adds to the scene, such as ground for a shadow to fall on. It has a path,
 * so that collections take it, and every role and override is open to it; it is part of the uncut
 * frame. It stands still.
 */
public sealed interface AddedObject {
  /** The node below which all of them are: {@code /added/floor}. */
  String ROOT = "/added";

  /** Longest name. */
  int LONGEST = 80;

  /** Returns the last part of its path. */
  String name();

  /** Returns unknown keys. */
  Extra extra();

  /** Returns its path in the scene. */
  default String path() {
    return ROOT + "/" + name();
  }

  /**
   * Even, square ground, seen and lit from both sides.
   *
   * @param name the last part of its path
   * @param at its middle: x, y, z, metres
   * @param size length of an edge, metres, above 0
   * @param turn degrees about the vertical
   * @param material name of a material of the scene; empty for a plain one of {@code colour} and
   *     {@code roughness}
   * @param colour linear red, green, blue of the plain material, 0 to 1
   * @param roughness of the plain material, 0 to 1
   * @param extra unknown keys
   */
  record Ground(
      String name,
      List<Double> at,
      double size,
      double turn,
      String material,
      List<Double> colour,
      double roughness,
      Extra extra)
      implements AddedObject {
    /** Middle grey, as film has it. */
    private static final List<Double> GREY = List.of(0.18, 0.18, 0.18);

    public Ground {
      named(name);
      at = places("at", at);
      within("size", size, 1e-6, 1e6);
      within("turn", turn, -3600, 3600);
      colour = shares("colour", colour);
      within("roughness", roughness, 0, 1);
    }

    /** Grey, rough ground. */
    public static Ground of(String name, List<Double> at, double size) {
      return new Ground(name, at, size, 0, "", GREY, 0.7, Extra.NONE);
    }

    /** Returns it with another place. */
    public Ground withAt(List<Double> next) {
      return new Ground(name, next, size, turn, material, colour, roughness, extra);
    }

    /** Returns it with another size. */
    public Ground withSize(double next) {
      return new Ground(name, at, next, turn, material, colour, roughness, extra);
    }

    /** Returns it with another turn. */
    public Ground withTurn(double next) {
      return new Ground(name, at, size, next, material, colour, roughness, extra);
    }

    /** Returns it with another material; empty for a plain one. */
    public Ground withMaterial(String next) {
      return new Ground(name, at, size, turn, next, colour, roughness, extra);
    }

    /** Returns it with another colour. */
    public Ground withColour(List<Double> next) {
      return new Ground(name, at, size, turn, material, next, roughness, extra);
    }

    /** Returns it with another roughness. */
    public Ground withRoughness(double next) {
      return new Ground(name, at, size, turn, material, colour, next, extra);
    }
  }

  /**
   * Haze, fog or a box of it.
   *
   * @param name the last part of its path
   * @param density extinction where it is densest, per metre: light goes down to 1/e in 1/density
   *     metres. By frames, ascending; one key at frame 0 is a density that stays
   * @param colour share of the extinction that is scattering, by channel, 0 to 1
   * @param anisotropy mean cosine of scattering, above -1 (back), 0 (even), below 1 (forward)
   * @param emission radiance that an opaque body of it emits
   * @param falloff height in which density goes down to 1/e, metres, upwards from {@code base}; 0
   *     for evenly dense
   * @param base height at which the density is as given; below it stays so
   * @param box what it fills; null for the whole world
   * @param extra unknown keys
   */
  record Fog(
      String name,
      List<Density> density,
      List<Double> colour,
      double anisotropy,
      List<Double> emission,
      double falloff,
      double base,
      @Nullable Box box,
      Extra extra)
      implements AddedObject {
    public Fog {
      named(name);
      density = List.copyOf(density);
      if (density.isEmpty()) {
        throw new IllegalArgumentException("density: expected a number, or keys");
      }
      for (int k = 0; k < density.size(); k++) {
        within("density", density.get(k).perMetre, 0, 1e9);
        if (k > 0 && density.get(k).frame <= density.get(k - 1).frame) {
          throw new IllegalArgumentException("density: frames of keys must increase");
        }
      }
      colour = shares("colour", colour);
      within("anisotropy", anisotropy, -0.99, 0.99);
      emission = three("emission", emission, 0, 1e9);
      within("falloff", falloff, 0, 1e6);
      within("base", base, -1e9, 1e9);
    }

    /** Even, white haze everywhere. */
    public static Fog haze(String name, double perMetre) {
      List<Double> white = List.of(1.0, 1.0, 1.0);
      List<Double> none = List.of(0.0, 0.0, 0.0);
      return new Fog(
          name, List.of(new Density(0, perMetre)), white, 0, none, 0, 0, null, Extra.NONE);
    }

    /** Returns it denser below: {@code base} and {@code falloff} as above. */
    public Fog lying(double nextBase, double nextFalloff) {
      return new Fog(
          name, density, colour, anisotropy, emission, nextFalloff, nextBase, box, extra);
    }

    /** Returns it in a box; null for everywhere. */
    public Fog in(@Nullable Box next) {
      return new Fog(name, density, colour, anisotropy, emission, falloff, base, next, extra);
    }

    /** Returns it with another density. */
    public Fog withDensity(List<Density> next) {
      return new Fog(name, next, colour, anisotropy, emission, falloff, base, box, extra);
    }

    /** Returns it with another colour. */
    public Fog withColour(List<Double> next) {
      return new Fog(name, density, next, anisotropy, emission, falloff, base, box, extra);
    }

    /** Returns it with another anisotropy. */
    public Fog withAnisotropy(double next) {
      return new Fog(name, density, colour, next, emission, falloff, base, box, extra);
    }

    /** Returns it with another emission. */
    public Fog withEmission(List<Double> next) {
      return new Fog(name, density, colour, anisotropy, next, falloff, base, box, extra);
    }

    /** Whether its density changes over frames. */
    public boolean isKeyed() {
      return density.size() > 1 || density.getFirst().frame != 0;
    }

    /** Returns its density at a frame: in a line from key to key, still before and after them. */
    public double densityAt(int frame) {
      Between<Density> at = Between.of(density, Density::frame, frame);
      return at.between(at.from().perMetre, at.to().perMetre);
    }

    /** Returns the highest density of all keys. */
    public double densest() {
      return density.stream().mapToDouble(Density::perMetre).max().orElseThrow();
    }

    /**
     * A density at a frame.
     *
     * @param perMetre extinction, 0 or more
     */
    public record Density(int frame, double perMetre) {}

    /**
     * What a fog fills, along the axes of the world.
     *
     * @param at the middle: x, y, z, metres
     * @param size the edges: x, y, z, metres, each above 0
     */
    public record Box(List<Double> at, List<Double> size) {
      public Box {
        at = places("box at", at);
        size = three("box size", size, 1e-6, 1e6);
      }
    }
  }

  private static void named(String name) {
    if (name.isBlank()
        || name.length() > LONGEST
        || name.chars().anyMatch(c -> c == '/' || Character.isISOControl(c))) {
      throw new IllegalArgumentException(
          "name: expected 1 to %d characters, without slashes and control characters"
              .formatted(LONGEST));
    }
  }

  private static void within(String what, double value, double least, double most) {
    if (!(value >= least && value <= most)) {
      throw new IllegalArgumentException(
          "%s: %s, expected %s to %s".formatted(what, value, least, most));
    }
  }

  private static List<Double> places(String what, List<Double> values) {
    return three(what, values, -1e9, 1e9);
  }

  private static List<Double> shares(String what, List<Double> values) {
    return three(what, values, 0, 1);
  }

  private static List<Double> three(String what, List<Double> values, double least, double most) {
    if (values.size() != 3) {
      throw new IllegalArgumentException(
          "%s: %d numbers, expected 3".formatted(what, values.size()));
    }
    values.forEach(v -> within(what, v, least, most));
    return List.copyOf(values);
  }
}
