package org.wedgecutter.core.scene;

import java.util.List;
import java.util.Locale;
import org.joml.Matrix4f;
import org.joml.Vector3f;

/** Facts about a scene, for users. */
public final class SceneFacts {
  private SceneFacts() {}

  /** Returns the names of the materials that are on something. */
  public static List<String> materialNames(Scene scene) {
    return scene.entities().stream().flatMap(e -> e.materials().stream()).distinct().toList();
  }

  /** Returns the names of the cameras. */
  public static List<String> cameraNames(Scene scene) {
    return scene.cameras().stream().map(SceneCamera::name).toList();
  }

  /** Returns all emitters: path and type. */
  public static List<String> lights(Scene scene) {
    return scene.entities().stream()
        .filter(e -> e.kind() == EntityKind.LIGHT || scene.emits(e))
        .map(e ->
            e.path()
                + (e.kind() == EntityKind.LIGHT
                    ? " (%s)"
                        .formatted(
                            scene.lights().get(e.payload()).type().name().toLowerCase(Locale.ROOT))
                    : " (area)"))
        .toList();
  }

  /**
   * Returns min x, y, z, max x, y, z of all meshes at time 0, in metres; zeros if there are none.
   */
  public static float[] bounds(Scene scene) {
    Matrix4f[] pose = scene.pose(0);
    Vector3f low = new Vector3f(Float.POSITIVE_INFINITY);
    Vector3f high = new Vector3f(Float.NEGATIVE_INFINITY);
    Vector3f p = new Vector3f();
    for (Entity e : scene.entities()) {
      if (e.kind() == EntityKind.MESH) {
        float[] positions = scene.meshes().get(e.payload()).positions();
        for (int i = 0; i < positions.length; i += 3) {
          pose[e.node()].transformPosition(p.set(positions[i], positions[i + 1], positions[i + 2]));
          low.min(p);
          high.max(p);
        }
      }
    }
    return low.x > high.x
        ? new float[6]
        : new float[] {low.x, low.y, low.z, high.x, high.y, high.z};
  }
}
