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

  /** Returns the word that rules use. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
