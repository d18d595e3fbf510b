package org.wedgecutter.core.resolve;

import java.util.EnumSet;
import java.util.Set;

/**
 * How an entity takes part in the light beyond the camera segment: a set of {@link Flag}s.
 * Immutable; two with the same flags are the same object, so sets are compared by identity.
 */
public final class Reach {
  /** One way of taking part, or one departure from it. */
  public enum Flag {
    /** Rays of the specular lobe meet the entity, or gather its light. */
    REFLECTION,
    /** Rays of the diffuse lobe, and those scattered by a medium, meet it or gather its light. */
    BOUNCE,
    /** It casts shadows: it blocks light on its way from an emitter. */
    SHADOW,
    /** It emits its light, if it has any. */
    EMITS,
    /** Refracted rays, and those that passed a thin wall, meet it or gather its light. */
    TRANSMISSION,
    /** A departure: it receives no shadows, so nothing blocks light on its way to it. */
    NO_RECEIVED_SHADOWS,
    /** A departure: it casts no shadow on itself. */
    NO_SELF_SHADOW;

    private int bit() {
      return 1 << ordinal();
    }
  }

  /** The flags by which rays meet an entity. */
  public static final Set<Flag> RAYS =
      Set.copyOf(EnumSet.of(Flag.REFLECTION, Flag.BOUNCE, Flag.TRANSMISSION));

  /** The flags by which an entity changes the light of others, other than by its own emission. */
  public static final Set<Flag> RAYS_AND_SHADOW =
      Set.copyOf(EnumSet.of(Flag.REFLECTION, Flag.BOUNCE, Flag.TRANSMISSION, Flag.SHADOW));

  private static final int RAY_BITS = bits(RAYS);
  private static final Reach[] VALUES = new Reach[1 << Flag.values().length];

  static {
    for (int bits = 0; bits < VALUES.length; bits++) {
      VALUES[bits] = new Reach(bits);
    }
  }

  /** Takes no part at all. */
  public static final Reach NONE = VALUES[0];

  /** Takes part in every way, without departures. */
  public static final Reach ALL = NONE.with(RAYS_AND_SHADOW.toArray(Flag[]::new)).with(Flag.EMITS);

  private final int bits;

  private Reach(int bits) {
    this.bits = bits;
  }

  private static int bits(Iterable<Flag> flags) {
    int out = 0;
    for (Flag f : flags) {
      out |= f.bit();
    }
    return out;
  }

  /** Returns these flags and others. */
  public Reach with(Flag... more) {
    return VALUES[bits | bits(java.util.List.of(more))];
  }

  /** Returns these flags but for some. */
  public Reach without(Flag... fewer) {
    return VALUES[bits & ~bits(java.util.List.of(fewer))];
  }

  /** Returns these flags but for some. */
  public Reach without(Set<Flag> fewer) {
    return VALUES[bits & ~bits(fewer)];
  }

  /** Whether a flag is set. */
  public boolean has(Flag flag) {
    return (bits & flag.bit()) != 0;
  }

  /** Whether it takes no part at all. */
  public boolean isNone() {
    return bits == 0;
  }

  /** Whether any kind of ray meets the entity. */
  public boolean isMet() {
    return (bits & RAY_BITS) != 0;
  }

  /** Whether it casts shadows. */
  public boolean castsShadow() {
    return has(Flag.SHADOW);
  }

  /** Whether it emits its light. */
  public boolean emits() {
    return has(Flag.EMITS);
  }

  /** Whether nothing blocks light on its way to it. */
  public boolean receivesNoShadows() {
    return has(Flag.NO_RECEIVED_SHADOWS);
  }

  /** Whether it casts no shadow on itself. */
  public boolean castsNoSelfShadow() {
    return has(Flag.NO_SELF_SHADOW);
  }

  /** Returns the flags. */
  public Set<Flag> flags() {
    Set<Flag> out = EnumSet.noneOf(Flag.class);
    for (Flag f : Flag.values()) {
      if (has(f)) {
        out.add(f);
      }
    }
    return out;
  }

  @Override
  public int hashCode() {
    return bits;
  }

  @Override
  public boolean equals(@org.jspecify.annotations.Nullable Object other) {
    return this == other;
  }

  @Override
  public String toString() {
    return flags().toString();
  }
}
