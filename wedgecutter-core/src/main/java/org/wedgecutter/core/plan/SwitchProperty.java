package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.Optional;
import java.util.stream.Collectors;

/** The properties that an override can switch on and off, finer than a role. */
public enum SwitchProperty {
  /** Reflections show it, and take its light if it gives off any. */
  VISIBLE_REFLECTION("visible.reflection"),
  /** Diffuse surfaces get light by way of it, and its own. */
  VISIBLE_BOUNCE("visible.bounce"),
  /** It stops light on the way from an emitter. */
  SHADOW_CASTS("shadow.casts");

  private final String word;

  SwitchProperty(String word) {
    this.word = word;
  }

  /** Returns the name in plans. */
  public String word() {
    return word;
  }

  /** Finds a property by its name. */
  public static Optional<SwitchProperty> of(String word) {
    return Arrays.stream(values()).filter(p -> p.word.equals(word)).findFirst();
  }

  /** Returns all names, for messages. */
  public static String words() {
    return Arrays.stream(values()).map(SwitchProperty::word).collect(Collectors.joining(", "));
  }
}
