package org.wedgecutter.core.trace;

import org.wedgecutter.core.resolve.Reach;

/**
 * Kinds of rays that are cast. Each instance has a mask with one bit for each kind that it stops;
 * these bits have nothing to do with those of {@link Reach}, from which the masks are made.
 */
enum RayKind {
  /** Camera rays: set where some view of the job does not skip the instance. */
  CAMERA,
  DIFFUSE,
  REFLECTION,
  TRANSMISSION,
  /** Shadow rays that end at the instance. */
  SHADOW_OPAQUE,
  /** Shadow rays that the instance lets through in part. */
  SHADOW_CLEAR;

  /** Bits of both kinds of shadow rays. */
  static final int SHADOW = SHADOW_OPAQUE.bit() | SHADOW_CLEAR.bit();

  /** Returns the kind's bit in masks. */
  int bit() {
    return 1 << ordinal();
  }

  /**
   * Returns the mask of an instance.
   *
   * @param clear whether the instance lets part of the light through
   * @param camera whether camera rays stop at it
   */
  static byte mask(Reach reach, boolean clear, boolean camera) {
    int bits = camera ? CAMERA.bit() : 0;
    bits |= reach.has(Reach.Flag.BOUNCE) ? DIFFUSE.bit() : 0;
    bits |= reach.has(Reach.Flag.REFLECTION) ? REFLECTION.bit() : 0;
    bits |= reach.has(Reach.Flag.TRANSMISSION) ? TRANSMISSION.bit() : 0;
    if (reach.castsShadow()) {
      bits |= clear ? SHADOW_CLEAR.bit() : SHADOW_OPAQUE.bit();
    }
    return (byte) bits;
  }
}
