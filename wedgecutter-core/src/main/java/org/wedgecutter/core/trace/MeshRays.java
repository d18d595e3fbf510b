package org.wedgecutter.core.trace;

import java.util.Arrays;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.Instances;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.accel.VectorSupport;

/**
 * Rays against triangles alone, as the tracer casts them when it is warm: what benchmarks measure
 * and independent readers compare. The trees are built when an object is made; any number of
 * threads may then each have a {@link #thread}.
 */
public final class MeshRays {
  private final Instances world;

  /**
   * Builds the trees.
   *
   * @param xyz corners, three numbers each
   * @param index three corners of each triangle
   * @throws IllegalArgumentException if an index names no corner
   */
  public MeshRays(float[] xyz, int[] index) {
    this(xyz, index, new float[][] {new float[3]});
  }

  /**
   * Builds the trees of one mesh that stands at several places.
   *
   * @param places by how much it is moved at each: three numbers
   */
  public MeshRays(float[] xyz, int[] index, float[][] places) {
    for (int i : index) {
      if (i < 0 || 3L * i + 2 >= xyz.length) {
        throw new IllegalArgumentException("there is no corner " + i);
      }
    }
    VectorSupport.useNow();
    world = Instances.still(xyz, index, places);
  }

  /** Returns a caster for one thread. */
  public Thread thread() {
    byte[] all = new byte[world.instances];
    Arrays.fill(all, (byte) 1);
    return new Thread(RayCaster.of(world), all);
  }

  /** Whether eight boxes or triangles are tested at once here. */
  public static boolean vector() {
    return VectorSupport.isAvailable();
  }

  /** Casts rays on one thread. */
  public static final class Thread {
    private final RayCaster caster;
    private final byte[] all;
    private final Hit hit = new Hit();

    private Thread(RayCaster caster, byte[] all) {
      this.caster = caster;
      this.all = all;
    }

    /**
     * Returns the distance of the nearest hit of a ray, or NaN if there is none.
     *
     * @param rays eight numbers per ray: origin, least distance, direction, greatest distance
     * @param at where the ray's begin; a hit lies beyond the least and not beyond the greatest
     */
    public float closest(float[] rays, int at) {
      caster.ray(rays[at], rays[at + 1], rays[at + 2], rays[at + 4], rays[at + 5], rays[at + 6]);
      caster.nearest(all, 1, rays[at + 3], rays[at + 7], hit);
      return hit.found() ? hit.t : Float.NaN;
    }

    /** Whether a ray meets anything; the same numbers. */
    public boolean any(float[] rays, int at) {
      caster.ray(rays[at], rays[at + 1], rays[at + 2], rays[at + 4], rays[at + 5], rays[at + 6]);
      return caster.blocked(all, 1, rays[at + 3], rays[at + 7], hit);
    }
  }
}
