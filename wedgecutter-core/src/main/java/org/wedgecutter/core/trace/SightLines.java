package org.wedgecutter.core.trace;

import java.util.Arrays;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.world.World;

/**
 * What the camera's rays meet all the way through a scene, in order: who is in front of whom, also
 * behind what hides it. One ray through the middle of each pixel, in the middle of the shutter,
 * without a lens. Only surfaces count: media and the environment are neither in front nor behind.
 *
 * <p>Layout: the entities that pixel {@code p} meets are {@code entities[starts[p]]} to before
 * {@code entities[starts[p + 1]]}, each once, the nearest first; {@code distances} are where each
 * is met first, along the ray, metres.
 */
public final class SightLines {
  /** Most surfaces that a ray passes, and most entities of a pixel: what is behind is left out. */
  private static final int MOST_SURFACES = 128;

  private static final int MOST_ENTITIES = 24;

  private final int width;
  private final int height;
  private final int[] starts;
  private final int[] entities;
  private final float[] distances;

  private SightLines(int width, int height, int[] starts, int[] entities, float[] distances) {
    this.width = width;
    this.height = height;
    this.starts = starts;
    this.entities = entities;
    this.distances = distances;
  }

  static SightLines of(World world, CameraRays camera, int width, int height) {
    Moment moment = new Moment(world);
    moment.set(0.5f);
    RayCaster ray = RayCaster.of(world, moment);
    byte[] all = new byte[world.instances];
    Arrays.fill(all, (byte) 1);
    Hit hit = new Hit();
    int[] starts = new int[width * height + 1];
    int[] entities = new int[2 * width * height + MOST_ENTITIES];
    float[] distances = new float[entities.length];
    int used = 0;
    for (int p = 0; p < width * height; p++) {
      starts[p] = used;
      if (used + MOST_ENTITIES > entities.length) {
        entities = Arrays.copyOf(entities, 2 * entities.length);
        distances = Arrays.copyOf(distances, entities.length);
      }
      camera.aim(p % width, p / width, 0.5f, 0.5f, 0, 0, ray);
      ray.nearest(all, 1, hit);
      for (int k = 0; k < MOST_SURFACES && hit.found(); k++) {
        int entity = world.entity[hit.instance];
        if (used - starts[p] < MOST_ENTITIES && !isIn(entities, starts[p], used, entity)) {
          entities[used] = entity;
          distances[used++] = hit.t;
        }
        ray.next(all, 1, hit);
      }
    }
    starts[width * height] = used;
    return new SightLines(
        width, height, starts, Arrays.copyOf(entities, used), Arrays.copyOf(distances, used));
  }

  private static boolean isIn(int[] entities, int from, int to, int entity) {
    for (int k = from; k < to; k++) {
      if (entities[k] == entity) {
        return true;
      }
    }
    return false;
  }

  /** Returns the number of pixels. */
  public int pixels() {
    return width * height;
  }

  /** Returns the width in pixels. */
  public int width() {
    return width;
  }

  /** Returns how many entities a pixel's ray meets. */
  public int count(int pixel) {
    return starts[pixel + 1] - starts[pixel];
  }

  /**
   * Returns an entity that a pixel's ray meets.
   *
   * @param k 0 for the nearest
   */
  public int entity(int pixel, int k) {
    return entities[starts[pixel] + k];
  }

  /** Returns where that entity is met first, metres along the ray. */
  public float distance(int pixel, int k) {
    return distances[starts[pixel] + k];
  }
}
