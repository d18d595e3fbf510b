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
   * Returns when an entity moves: the first and last second with keys that change it or a parent;
   * empty if it is still.
   */
  public static float[] movesWhen(Scene scene, Entity e) {
    float first = Float.POSITIVE_INFINITY;
    float last = Float.NEGATIVE_INFINITY;
    for (int n = e.node(); n >= 0; n = scene.nodes().get(n).parent()) {
      for (Channel c : scene.nodes().get(n).channels()) {
        if (c.changes()) {
          first = Math.min(first, c.times()[0]);
          last = Math.max(last, c.times()[c.times().length - 1]);
        }
      }
    }
    return first > last ? new float[0] : new float[] {first, last};
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
