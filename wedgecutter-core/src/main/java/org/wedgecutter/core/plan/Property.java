package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What an override can change: the whole vocabulary of plans. Properties of entities stand in
 * cells, properties of a layer in its settings.
 */
public enum Property {
  /** The camera sees it; off turns Seen, Holdout and Catcher into Unseen. */
  VISIBLE_CAMERA("visible.camera", Sort.SWITCH, Subject.THING),
  /** Reflections show it, and take its light if it emits any. */
  VISIBLE_REFLECTION("visible.reflection", Sort.SWITCH, Subject.ANY),
  /** Diffuse surfaces receive the light that it bounces and emits. */
  VISIBLE_BOUNCE("visible.bounce", Sort.SWITCH, Subject.ANY),
  /** Refracted rays meet it. */
  VISIBLE_TRANSMISSION("visible.transmission", Sort.SWITCH, Subject.ANY),
  /** It stops light on the way from an emitter. */
  SHADOW_CASTS("shadow.casts", Sort.SWITCH, Subject.THING),
  /** Light on its way to it can be stopped. */
  SHADOW_RECEIVES("shadow.receives", Sort.SWITCH, Subject.SURFACE),
  /** It stops light on the way to itself. */
  SHADOW_SELF("shadow.self", Sort.SWITCH, Subject.SURFACE),
  /** Another material of the scene, or one that is built in. */
  MATERIAL("material", Sort.MATERIAL, Subject.SURFACE),
  /** Linear colour, 0 to 1; set takes the place of a texture too. */
  BASE_COLOR("material.base-color", Sort.COLOUR, Subject.SURFACE, 0, 1, ""),
  /** Perceptual, 0 to 1. */
  ROUGHNESS("material.roughness", Sort.NUMBER, Subject.SURFACE, 0, 1, ""),
  /** 0 (dielectric) to 1 (metal). */
  METAL("material.metal", Sort.NUMBER, Subject.SURFACE, 0, 1, ""),
  /** Share of light that passes through the surface. */
  TRANSMISSION("material.transmission", Sort.NUMBER, Subject.SURFACE, 0, 1, ""),
  /** Cover of the surface. */
  OPACITY("material.opacity", Sort.NUMBER, Subject.SURFACE, 0, 1, ""),
  /** Linear radiance that the surface emits. */
  EMISSION("material.emission", Sort.COLOUR, Subject.SURFACE, 0, 1e9, ""),
  /** Strength of a light, of the environment, or of what a mesh emits: its largest channel. */
  LIGHT_INTENSITY("light.intensity", Sort.NUMBER, Subject.EMITTER, 0, 1e12, ""),
  /** Colour of a light, of the environment, or of what a mesh emits, at the same strength. */
  LIGHT_COLOR("light.color", Sort.COLOUR, Subject.EMITTER, 0, 1, ""),
  /** Factor on the light that a surface sends to other objects; the camera sees it unchanged. */
  RETURNED("light.returned", Sort.COLOUR, Subject.SURFACE, 0, 100, ""),
  /** Factor on the density of a medium. */
  MEDIUM_DENSITY("medium.density", Sort.NUMBER, Subject.MEDIUM, 0, 1e9, ""),
  /** Share of light that the medium scatters. */
  MEDIUM_COLOR("medium.color", Sort.COLOUR, Subject.MEDIUM, 0, 1, ""),
  /** Light that the medium emits. */
  MEDIUM_EMISSION("medium.emission", Sort.COLOUR, Subject.MEDIUM, 0, 1e9, ""),
  /** Levels of subdivision. */
  SUBDIVISION("subdivision", Sort.WHOLE, Subject.SURFACE, 0, 6, "levels"),
  /** Whether it has motion blur; as a setting of a layer, whether anything has. */
  MOTION_BLUR("motion-blur", Sort.SWITCH, Subject.THING),

  /** Width and height in pixels. */
  SIZE("size", Sort.SIZE, Subject.LAYER, 1, 16384, "px"),
  /** Frames that are rendered; at others the last one before is held. */
  FRAMES("frames", Sort.FRAMES, Subject.LAYER),
  /** Samples per pixel. */
  SAMPLES("samples", Sort.WHOLE, Subject.LAYER, 1, 1_000_000, "per pixel"),
  /** Most bounces of light. */
  BOUNCES("bounces", Sort.WHOLE, Subject.LAYER, 0, 64, ""),
  /** Most times that light goes through glass. */
  BOUNCES_GLASS("bounces.glass", Sort.WHOLE, Subject.LAYER, 0, 64, ""),
  /** Most times that media scatter light. */
  BOUNCES_MEDIA("bounces.media", Sort.WHOLE, Subject.LAYER, 0, 64, ""),
  /** Whether the camera looks straight through thin clear glass, and alpha tells it. */
  SEE_THROUGH("see-through-glass", Sort.SWITCH, Subject.LAYER),
  /** Factor on the environment's light. */
  ENVIRONMENT_LEVEL("environment.level", Sort.NUMBER, Subject.LAYER, 0, 1e9, ""),
  /** Degrees about the vertical. */
  ENVIRONMENT_TURN("environment.turn", Sort.NUMBER, Subject.LAYER, -1e6, 1e6, "°"),
  /** Amount of noise that is filtered away. */
  DENOISE("denoise", Sort.NUMBER, Subject.LAYER, 0, 1, "");

  /** The type of its value. */
  public enum Sort {
    /** On or off. */
    SWITCH,
    /** A number. */
    NUMBER,
    /** A whole number. */
    WHOLE,
    /** Red, green, blue. */
    COLOUR,
    /** The name of a material. */
    MATERIAL,
    /** Width and height. */
    SIZE,
    /** A frame range. */
    FRAMES;

    /** Whether a verb makes sense. */
    public boolean allows(Verb verb) {
      return switch (this) {
        case SWITCH, MATERIAL, FRAMES -> verb == Verb.SET;
        case SIZE -> verb != Verb.ADD;
        case NUMBER, WHOLE, COLOUR -> true;
      };
    }
  }

  /** What kind of entity has it. */
  public enum Subject {
    /** Every entity. */
    ANY,
    /** Meshes and media. */
    THING,
    /** Meshes. */
    SURFACE,
    /** Lights, the environment, and meshes that emit light. */
    EMITTER,
    /** Media. */
    MEDIUM,
    /** A layer. */
    LAYER
  }

  private final String word;
  private final Sort sort;
  private final Subject subject;
  private final double least;
  private final double most;
  private final String unit;

  Property(String word, Sort sort, Subject subject) {
    this(word, sort, subject, 0, 1, "");
  }

  Property(String word, Sort sort, Subject subject, double least, double most, String unit) {
    this.word = word;
    this.sort = sort;
    this.subject = subject;
    this.least = least;
    this.most = most;
    this.unit = unit;
  }

  /** Returns the name in plans and on screens. */
  public String word() {
    return word;
  }

  /** Returns the type of its value. */
  public Sort sort() {
    return sort;
  }

  /** Returns the kind of entity that has it. */
  public Subject subject() {
    return subject;
  }

  /** Whether it is a setting of a layer. */
  public boolean ofLayer() {
    return subject == Subject.LAYER;
  }

  /** Whether a layer can have a value of its own, beside what its cells say. */
  public boolean isSetting() {
    return ofLayer() || this == MOTION_BLUR;
  }

  /** Returns the least value that a number may have. */
  public double least() {
    return least;
  }

  /** Returns the largest value that a number may have. */
  public double most() {
    return most;
  }

  /** Returns the unit of its numbers, or an empty text. */
  public String unit() {
    return unit;
  }

  /** Finds a property by its name. */
  public static Optional<Property> of(String word) {
    return Arrays.stream(values()).filter(p -> p.word.equals(word)).findFirst();
  }

  /** Returns all names of entities' properties, or of layers' settings, for messages. */
  public static String words(boolean settings) {
    return Arrays.stream(values())
        .filter(p -> settings ? p.isSetting() : !p.ofLayer())
        .map(Property::word)
        .collect(Collectors.joining(", "));
  }

  /** How an override changes a value. */
  public enum Verb {
    /** Replaces it. */
    SET,
    /** Multiplies it. */
    SCALE,
    /** Is added to it. */
    ADD;

    /** Returns the word in plans. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Finds a verb by its word. */
    public static Verb of(String word) {
      return valueOf(word.toUpperCase(Locale.ROOT));
    }
  }
}
