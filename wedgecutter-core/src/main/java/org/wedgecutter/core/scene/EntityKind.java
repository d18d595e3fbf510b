package org.wedgecutter.core.scene;

import java.util.Locale;

/** What kind of object an entity is. */
public enum EntityKind {
  /** One placing of a mesh. */
  MESH,
  /** A point, spot or directional light. */
  LIGHT,
  /** Haze, smoke: matter without a surface. */
  MEDIUM,
  /** All that surrounds the scene. */
  ENVIRONMENT;

  /** Returns the word that rules use. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
