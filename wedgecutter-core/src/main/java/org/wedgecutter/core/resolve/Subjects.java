package org.wedgecutter.core.resolve;

import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/** Which entities have a property. */
public final class Subjects {
  private Subjects() {}

  /** Says whether an entity has a property. */
  public static boolean has(Scene scene, Entity e, Property property) {
    return switch (property.subject()) {
      case ANY -> true;
      case THING -> e.kind() == EntityKind.MESH || e.kind() == EntityKind.MEDIUM;
      case SURFACE -> e.kind() == EntityKind.MESH;
      case EMITTER ->
          e.kind() == EntityKind.LIGHT
              || e.kind() == EntityKind.ENVIRONMENT
              || (e.kind() == EntityKind.MESH && scene.emits(e));
      case MEDIUM -> e.kind() == EntityKind.MEDIUM;
      case LAYER -> false;
    };
  }
}
