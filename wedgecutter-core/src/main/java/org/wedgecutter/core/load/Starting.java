package org.wedgecutter.core.load;

import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneFacts;

/** What a scene is given that it lacks, so that every scene opens with a picture. */
public final class Starting {
  private Starting() {}

  /**
   * Returns a shot with a camera that frames the scene if that has none, and with a neutral
   * surround if it has no light and the shot names no environment.
   */
  public static Shot shot(Shot shot, Scene scene) {
    return shot.with(s -> {
      if (scene.cameras().isEmpty() && s.placed == null) {
        s.placed = framing(scene, (double) s.width / s.height);
      }
      if (!isLit(scene) && s.environment.image().isEmpty()) {
        s.environment = new Shot.EnvironmentDef(Shot.EnvironmentDef.NEUTRAL, 0, 1, Extra.NONE);
      }
    });
  }

  /** Returns a camera that shows everything in a scene as it stands at its beginning. */
  public static PlacedCamera framing(Scene scene, double aspect) {
    return PlacedCamera.framing(SceneFacts.bounds(scene), aspect);
  }

  /** Whether anything in a scene gives light. */
  static boolean isLit(Scene scene) {
    for (Entity e : scene.entities()) {
      boolean glows =
          e.kind() == EntityKind.MEDIUM && scene.media().get(e.payload()).emission().max() > 0;
      if (e.kind() == EntityKind.LIGHT || glows || scene.emits(e)) {
        return true;
      }
    }
    return false;
  }
}
