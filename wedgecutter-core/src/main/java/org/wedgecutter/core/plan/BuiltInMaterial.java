package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Materials that every shot has, for overrides of {@code material}. The data views show numbers
 * instead of light to the camera, and are black to everything else.
 */
public enum BuiltInMaterial {
  /** Matt grey of half the light. */
  CLAY,
  /** Black: reflects nothing. */
  BLACK,
  /** Matt, 80 percent of the light. */
  WHITE,
  /** The world normal, -1..1 as 0..1. */
  DATA_NORMAL,
  /** The position in the world, metres. */
  DATA_POSITION,
  /** Texture coordinates u and v. */
  DATA_UV,
  /** The distance from the camera along the ray, metres. */
  DATA_DEPTH,
  /** The base colour as it was before. */
  DATA_ALBEDO;

  /** Returns the name in plans. */
  public String word() {
    return name().toLowerCase(Locale.ROOT).replace('_', '.');
  }

  /** Whether it shows data instead of light. */
  public boolean data() {
    return name().startsWith("DATA");
  }

  /** Finds a built-in material by its name. */
  public static Optional<BuiltInMaterial> of(String word) {
    return Arrays.stream(values()).filter(m -> m.word().equals(word)).findFirst();
  }

  /** Returns all names. */
  public static List<String> words() {
    return Arrays.stream(values()).map(BuiltInMaterial::word).toList();
  }
}
