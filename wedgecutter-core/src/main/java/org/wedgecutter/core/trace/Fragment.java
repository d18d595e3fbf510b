package org.wedgecutter.core.trace;

import org.wedgecutter.core.trace.volume.MediumSampler;

/**
 * One fragment of a camera sample; used again after the sink has taken it.
 *
 * <p>The data (depth to albedo) are those of the place that was met; they are filled only if the
 * job's {@link LightSplit} asks for them.
 */
public final class Fragment {
  /** What was met, and the material there (0 for what has none). */
  public int entity;

  public int material;

  /** Throughput from the camera to here, by channel: what is in front takes the rest. */
  public final float[] throughput = new float[3];

  /** Outgoing light times opacity, split as the job's {@link LightSplit} says. */
  public final float[] light;

  /** Opacity by channel: share that the entity stops, 0 to 1. */
  public final float[] opacity = new float[3];

  /** Distance along the camera's axis, metres; infinity for what is infinitely far. */
  public float depth;

  /**
   * Where it begins and ends along the camera's axis at the sample's moment, metres; the same of a
   * surface, infinite of what is infinitely far.
   */
  public float front;

  public float back;

  /** Into how many stretches a medium is divided; a surface is one. */
  public int slices = 1;

  /** Where each stretch begins, and the last one ends, along the camera's axis, metres. */
  public final float[] cuts = new float[MediumSampler.MOST_SLICES + 1];

  /** Shading normal in the world, towards the viewer. */
  public final float[] normal = new float[3];

  /** Position in the world, metres. */
  public final float[] position = new float[3];

  /** Texture coordinates, v downwards. */
  public final float[] uv = new float[2];

  /** Pixels right and down to the next frame, and from the one before. */
  public final float[] motion = new float[4];

  /** Base colour. */
  public final float[] albedo = new float[3];

  /** Returns the share of a fragment's alpha that lies in front of one of its stretches. */
  public static float before(int slice, int slices) {
    return MediumSampler.before(slice, slices);
  }

  Fragment(int numbers) {
    light = new float[numbers];
  }
}
