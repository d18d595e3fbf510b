package org.wedgecutter.core.scene;

import java.util.Locale;

/** What kind of object an entity is. */
public enum EntityKind {
  /** An instance of a mesh. */
  MESH,
  /** A point, spot or directional light. */
  LIGHT,
  /** A participating medium: haze, smoke. */
  MEDIUM,
  /** The environment around the scene. */
  ENVIRONMENT;

  /** Whether the camera meets it: everything but lights that have no surface. */
  public boolean isSeen() {
    return this != LIGHT;
  }

  /** Whether it stops light, and with it what the camera sees behind it: surfaces and media. */
  public boolean stopsLight() {
    return this == MESH || this == MEDIUM;
  }

  /** Returns the word that rules use. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
