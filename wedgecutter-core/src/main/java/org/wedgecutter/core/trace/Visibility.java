package org.wedgecutter.core.trace;

import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.trace.accel.Hit;
import org.wedgecutter.core.trace.accel.Moment;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.bsdf.Surface;
import org.wedgecutter.core.trace.bsdf.SurfaceReader;
import org.wedgecutter.core.trace.volume.MediumSampler;
import org.wedgecutter.core.trace.world.World;

/**
 * Transmittance from an emitter to a point: zero through opaque surfaces, a share through partly
 * opaque ones, thin clear walls and media. One object serves one thread.
 */
final class Visibility {
  private static final int OPAQUE = RayKind.SHADOW_OPAQUE.bit();
  private static final int CLEAR = RayKind.SHADOW_CLEAR.bit();

  private final World world;
  private final TransportClass transport;
  private final byte[] masks;
  private final boolean anyClear;
  private final boolean anyMatter;
  private final boolean[] dims;
  private final MediumSampler media;
  private final SurfaceReader reader;
  private final Surface scratch = new Surface();
  private final Hit hit = new Hit();
  private final RayCaster ray;

  /** Transmittance by channel, after {@link #reaches}. */
  final float[] transmittance = new float[3];

  /** Entity that stopped the light, or -1. */
  int blocker;

  Visibility(
      PreparedFrame frame,
      Moment moment,
      TransportClass transport,
      byte[] masks,
      MediumSampler media,
      SurfaceReader reader) {
    world = frame.world();
    this.transport = transport;
    this.masks = masks;
    this.media = media;
    this.reader = reader;
    ray = RayCaster.of(world, moment);
    boolean clear = false;
    for (byte mask : masks) {
      clear |= (mask & CLEAR) != 0;
    }
    anyClear = clear;
    dims = new boolean[media.matter.length];
    boolean matter = false;
    for (int m = 0; m < dims.length; m++) {
      dims[m] = transport.reach(media.matter[m].entity).castsShadow();
      matter |= dims[m];
    }
    anyMatter = matter;
  }

  long rays() {
    return ray.rays;
  }

  /** Sets the ray's origin to a point of a surface, offset to the side of the direction. */
  static void leave(Surface s, RayCaster caster, float x, float y, float z) {
    float largest = Math.max(Math.abs(s.px), Math.max(Math.abs(s.py), Math.abs(s.pz)));
    float away = 2e-5f + 4e-6f * largest;
    if (x * s.gx + y * s.gy + z * s.gz < 0) {
      away = -away;
    }
    caster.ray(s.px + away * s.gx, s.py + away * s.gy, s.pz + away * s.gz, x, y, z);
  }

  /** Whether any light gets to a surface from a direction and distance. */
  boolean reaches(Surface s, int instance, float x, float y, float z, float far, int key) {
    Reach reach = transport.reach(s.entity);
    transmittance[0] = transmittance[1] = transmittance[2] = 1;
    blocker = -1;
    if (reach.receivesNoShadows()) {
      return true;
    }
    leave(s, ray, x, y, z);
    if (!reach.castsNoSelfShadow()) {
      return open(far, key);
    }
    byte own = masks[instance];
    masks[instance] = (byte) (own & ~RayKind.SHADOW);
    boolean open = open(far, key);
    masks[instance] = own;
    return open;
  }

  /** Whether any light gets to a point in a medium. */
  boolean reaches(float px, float py, float pz, float x, float y, float z, float far, int key) {
    transmittance[0] = transmittance[1] = transmittance[2] = 1;
    blocker = -1;
    ray.ray(px, py, pz, x, y, z);
    return open(far, key);
  }

  /** Whether nothing solid or clear is near above a surface. */
  boolean isUnoccluded(Surface s, float x, float y, float z, float far) {
    leave(s, ray, x, y, z);
    return !ray.blocked(masks, RayKind.SHADOW, far, hit);
  }

  private boolean open(float far, int key) {
    if (ray.blocked(masks, OPAQUE, far, hit)) {
      blocker = world.entity[hit.instance];
      return false;
    }
    if (anyClear && !throughClear(far)) {
      return false;
    }
    if (anyMatter) {
      float share = media.through(ray, far, dims, key);
      for (int c = 0; c < 3; c++) {
        transmittance[c] *= share;
      }
    }
    return transmittance[0] + transmittance[1] + transmittance[2] > 0;
  }

  private boolean throughClear(float far) {
    ray.nearest(masks, CLEAR, hit);
    while (hit.found() && hit.t <= far) {
      reader.read(hit, ray, 0, 0, scratch);
      for (int c = 0; c < 3; c++) {
        transmittance[c] *= 1 - scratch.opacity + scratch.opacity * scratch.straight[c];
      }
      if (transmittance[0] + transmittance[1] + transmittance[2] <= 0) {
        blocker = world.entity[hit.instance];
        return false;
      }
      ray.next(masks, CLEAR, hit);
    }
    return true;
  }
}
