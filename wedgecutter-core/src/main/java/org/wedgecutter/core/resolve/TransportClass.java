package org.wedgecutter.core.resolve;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/**
 * What is beyond the camera segment: which entities are there, for which rays, and how light is
 * followed. Layers of the same class share one trace. Two classes are equal if nothing that light
 * could tell is different.
 */
public final class TransportClass {
  private final byte[] reach;
  private final TraceSettings settings;

  /**
   * @param reach bits of {@link Reach} for each entity of the scene, by index; copied
   * @param settings how light is followed
   */
  public TransportClass(byte[] reach, TraceSettings settings) {
    this.reach = reach.clone();
    this.settings = settings;
    for (int e = 0; e < reach.length; e++) {
      // light that no lobe takes is no light
      if ((reach[e] & (Reach.REFLECTION | Reach.BOUNCE)) == 0) {
        this.reach[e] &= (byte) ~Reach.SHINES;
      }
    }
  }

  /** The class in which every entity is wholly there. */
  public static TransportClass whole(int entities, TraceSettings settings) {
    byte[] reach = new byte[entities];
    Arrays.fill(reach, (byte) Reach.ALL);
    return new TransportClass(reach, settings);
  }

  /** Returns the class without some entities. */
  public TransportClass without(EntitySet absent) {
    byte[] next = reach.clone();
    for (int e = 0; e < next.length; e++) {
      if (absent.contains(e)) {
        next[e] = 0;
      }
    }
    return new TransportClass(next, settings);
  }

  /** Returns the bits of {@link Reach} of an entity. */
  public int reach(int entity) {
    return reach[entity];
  }

  /** Returns the number of entities of the scene. */
  public int entities() {
    return reach.length;
  }

  /** Returns how light is followed. */
  public TraceSettings settings() {
    return settings;
  }

  @Override
  public boolean equals(@Nullable Object other) {
    return other instanceof TransportClass that
        && Arrays.equals(reach, that.reach)
        && settings.equals(that.settings);
  }

  @Override
  public int hashCode() {
    return 31 * Arrays.hashCode(reach) + settings.hashCode();
  }
}
