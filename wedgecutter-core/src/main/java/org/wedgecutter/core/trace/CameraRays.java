package org.wedgecutter.core.trace;

import org.joml.Matrix4f;
import org.joml.Vector3f;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;

/**
 * Rays of a pinhole camera. The filter of a pixel is a tent two pixels wide, importance-sampled: a
 * sample belongs to the pixel that it was drawn for and counts fully.
 */
final class CameraRays {
  private final float ox;
  private final float oy;
  private final float oz;
  private final Vector3f right;
  private final Vector3f up;
  private final Vector3f ahead;
  private final int width;
  private final int height;
  private final float scale;

  CameraRays(SceneCamera camera, Matrix4f[] pose, int width, int height) {
    Matrix4f m = pose[camera.node()];
    Vector3f place = m.getTranslation(new Vector3f());
    ox = place.x;
    oy = place.y;
    oz = place.z;
    right = m.transformDirection(new Vector3f(1, 0, 0)).normalize();
    up = m.transformDirection(new Vector3f(0, 1, 0)).normalize();
    ahead = m.transformDirection(new Vector3f(0, 0, -1)).normalize();
    this.width = width;
    this.height = height;
    scale = (float) (2 * Math.tan(camera.verticalView() / 2) / height);
  }

  /** The camera of a scene by name, or its first. */
  static SceneCamera find(Scene scene, String name) {
    return scene.cameras().stream()
        .filter(c -> c.name().equals(name))
        .findFirst()
        .orElseGet(() -> scene.cameras().getFirst());
  }

  /** Width of a pixel's cone at distance 1. */
  float spread() {
    return scale;
  }

  /** Aims the caster through a pixel at (u, v) of its filter. */
  void aim(int x, int y, float u, float v, Caster out) {
    float a = (x + 0.5f + tent(u) - 0.5f * width) * scale;
    float b = (0.5f * height - (y + 0.5f + tent(v))) * scale;
    float dx = ahead.x + a * right.x + b * up.x;
    float dy = ahead.y + a * right.y + b * up.y;
    float dz = ahead.z + a * right.z + b * up.z;
    float inv = 1 / (float) Math.sqrt(dx * dx + dy * dy + dz * dz);
    out.ray(ox, oy, oz, dx * inv, dy * inv, dz * inv);
  }

  private static float tent(float u) {
    return u < 0.5f ? (float) Math.sqrt(2 * u) - 1 : 1 - (float) Math.sqrt(Math.max(0, 2 - 2 * u));
  }
}
