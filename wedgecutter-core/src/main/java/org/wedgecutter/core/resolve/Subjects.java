package org.wedgecutter.core.resolve;

import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/** Which entities have a property. */
public final class Subjects {
  private Subjects() {}

  /** Whether an entity has a property. */
  public static boolean has(Scene scene, Entity e, Property property) {
    return switch (property.subject()) {
      case ANY -> true;
      case THING -> e.kind().stopsLight();
      case SURFACE -> e.kind() == EntityKind.MESH;
      case EMITTER ->
          e.kind() == EntityKind.LIGHT
              || e.kind() == EntityKind.ENVIRONMENT
              || (e.kind() == EntityKind.MESH && scene.emits(e));
      case MEDIUM -> e.kind() == EntityKind.MEDIUM;
      case LAYER -> false;
    };
  }

  /**
   * Returns everything that emits light in a shot: lights, meshes with a part that does, media that
   * glow, and the environment if the shot has an image of it.
   */
  public static EntitySet emitters(Shot shot, Scene scene) {
    boolean around = !shot.environment().image().isEmpty();
    return EntitySet.where(
        scene.entities().size(),
        e -> {
          Entity entity = scene.entities().get(e);
          return entity.kind() == EntityKind.MEDIUM
              ? scene.media().get(entity.payload()).emission().max() > 0
              : has(scene, entity, Property.LIGHT_INTENSITY)
                  && (entity.kind() != EntityKind.ENVIRONMENT || around);
        });
  }
}
