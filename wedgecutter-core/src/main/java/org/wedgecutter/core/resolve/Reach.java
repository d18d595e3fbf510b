package org.wedgecutter.core.resolve;

/** What of an entity the light beyond the camera segment feels; bits of {@link TransportClass}. */
public final class Reach {
  /** Rays of the specular lobe meet it, or take light from it. */
  public static final int REFLECTION = 1;

  /** Rays of the diffuse lobe, and those that a medium scatters, meet it, or take light from it. */
  public static final int BOUNCE = 2;

  /** It stops light on its way from an emitter. */
  public static final int SHADOW = 4;

  /** It gives off light, if it has any. */
  public static final int SHINES = 8;

  /** Refracted rays, and those that went through a thin wall, meet it, or take light from it. */
  public static final int TRANSMISSION = 64;

  /** All of them: an entity that is wholly there. */
  public static final int ALL = REFLECTION | BOUNCE | SHADOW | SHINES | TRANSMISSION;

  /** Those by which rays meet it. */
  public static final int MET = REFLECTION | BOUNCE | TRANSMISSION;

  /** Nothing stops light on its way to it: a departure from an entity that is wholly there. */
  public static final int LIT_THROUGH = 16;

  /** It does not stop light on its way to itself: another departure. */
  public static final int NO_SELF_SHADOW = 32;

  private Reach() {}
}
