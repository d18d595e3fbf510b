package org.wedgecutter.core.pass;

import java.util.List;

/**
 * The parts that a fragment's light is split into while tracing, by what happens first at what is
 * seen. They add up to the beauty. The order is the layout of a fragment's light: three numbers,
 * red, green, blue, for each.
 */
public enum LightPass {
  /** Diffuse light straight from lights and emitting meshes. */
  DIFFUSE_LIGHTS,
  /** Diffuse light straight from the environment. */
  DIFFUSE_ENVIRONMENT,
  /** Indirect diffuse light. */
  DIFFUSE_BOUNCED,
  /** Specular light straight from lights, emitting meshes and the environment. */
  SPECULAR_DIRECT,
  /** Indirect specular light. */
  SPECULAR_INDIRECT,
  /** Light straight from emitters that came through. */
  TRANSMISSION_DIRECT,
  /** Indirect transmitted light. */
  TRANSMISSION_INDIRECT,
  /** Light that the object itself emits. */
  EMISSION,
  /** Light that a medium scatters and emits. */
  MEDIUM;

  /** Number of values of a fragment's light over all parts. */
  public static final int NUMBERS = 3 * values().length;

  /** A pass of a delivery: its channel name and the parts that it adds up. */
  public record Named(String name, List<LightPass> parts) {
    public Named {
      parts = List.copyOf(parts);
    }
  }

  /** The passes that a delivery can hold; they add up to the beauty. */
  public static final List<Named> PASSES =
      List.of(
          new Named("diffuse.direct", List.of(DIFFUSE_LIGHTS, DIFFUSE_ENVIRONMENT)),
          new Named("diffuse.indirect", List.of(DIFFUSE_BOUNCED)),
          new Named("specular.direct", List.of(SPECULAR_DIRECT)),
          new Named("specular.indirect", List.of(SPECULAR_INDIRECT)),
          new Named("transmission.direct", List.of(TRANSMISSION_DIRECT)),
          new Named("transmission.indirect", List.of(TRANSMISSION_INDIRECT)),
          new Named("emission", List.of(EMISSION)),
          new Named("medium", List.of(MEDIUM)));

  /** Whether a pass is one of these, by its name. */
  public static boolean isNamed(String name) {
    return PASSES.stream().anyMatch(p -> p.name().equals(name));
  }

  /** Returns where its numbers begin in a fragment's light. */
  public int at() {
    return 3 * ordinal();
  }
}
