package org.wedgecutter.core.trace;

import org.wedgecutter.core.scene.Light;

/**
 * Picks a point or direction on an emitter as seen from a surface. One object serves one thread.
 */
final class LightSampler {
  private final FrameWorld frame;
  private final SurfaceReader reader;
  private final Environment.Pick pick = new Environment.Pick();

  /** Direction to the light, unit. */
  float x;

  float y;
  float z;

  /** How far a blocker may be. */
  float distance;

  /** Light that comes from there: radiance, or for a point the irradiance facing it. */
  final float[] radiance = new float[3];

  /** Density over solid angle; without meaning for a point. */
  float pdf;

  /** Whether the direction has no width. */
  boolean point;

  LightSampler(FrameWorld frame, SurfaceReader reader) {
    this.frame = frame;
    this.reader = reader;
  }

  /** Picks; says whether any light can come from there. */
  boolean sample(Emitters.Emitter emitter, Surface from, float u, float v) {
    return switch (emitter) {
      case Emitters.Punctual p -> punctual(p, from);
      case Emitters.Area a -> area(a, from, u, v);
      case Emitters.Surround s -> surround(u, v);
    };
  }

  private boolean surround(float u, float v) {
    frame.environment().sample(u, v, pick);
    x = pick.x;
    y = pick.y;
    z = pick.z;
    pdf = pick.pdf;
    distance = Float.POSITIVE_INFINITY;
    point = false;
    frame.environment().radiance(x, y, z, radiance);
    return pdf > 0;
  }

  private boolean punctual(Emitters.Punctual p, Surface from) {
    point = true;
    pdf = 1;
    float strength = 1;
    if (p.light().type() == Light.Type.DIRECTIONAL) {
      x = -p.ax();
      y = -p.ay();
      z = -p.az();
      distance = Float.POSITIVE_INFINITY;
    } else {
      towards(p.x(), p.y(), p.z(), from);
      strength = 1 / (distance * distance);
      distance *= 1 - 1e-5f;
    }
    if (p.light().type() == Light.Type.SPOT) {
      strength *= cone(p);
    }
    radiance[0] = p.light().intensity().r() * strength;
    radiance[1] = p.light().intensity().g() * strength;
    radiance[2] = p.light().intensity().b() * strength;
    return strength > 0 && Float.isFinite(strength);
  }

  /** The smooth edge that KHR_lights_punctual recommends. */
  private float cone(Emitters.Punctual p) {
    double cos = -(x * p.ax() + y * p.ay() + z * p.az());
    double inner = Math.cos(p.light().innerCone());
    double outer = Math.cos(p.light().outerCone());
    double part = (cos - outer) / Math.max(1e-4, inner - outer);
    double clamped = Math.max(0, Math.min(1, part));
    return (float) (clamped * clamped);
  }

  private boolean area(Emitters.Area a, Surface from, float u, float v) {
    int k = a.pick(u);
    float low = k == 0 ? 0 : a.cdf()[k - 1];
    float again = Math.min(0.999999f, (u - low) / Math.max(1e-12f, a.cdf()[k] - low));
    // E. Heitz, "A Low-Distortion Map Between Triangle and Square", 2019
    float b;
    float c;
    if (v > again) {
      b = again * 0.5f;
      c = v - b;
    } else {
      c = v * 0.5f;
      b = again - c;
    }
    float[] t = a.corners();
    int o = 9 * k;
    towards(
        t[o] + b * t[o + 3] + c * t[o + 6],
        t[o + 1] + b * t[o + 4] + c * t[o + 7],
        t[o + 2] + b * t[o + 5] + c * t[o + 8],
        from);
    float nx = t[o + 4] * t[o + 8] - t[o + 5] * t[o + 7];
    float ny = t[o + 5] * t[o + 6] - t[o + 3] * t[o + 8];
    float nz = t[o + 3] * t[o + 7] - t[o + 4] * t[o + 6];
    float length = (float) Math.sqrt(nx * nx + ny * ny + nz * nz);
    float cos = Math.abs(x * nx + y * ny + z * nz) / Math.max(length, 1e-30f);
    if (!(cos > 1e-6f) || !(distance > 0)) {
      return false;
    }
    pdf = distance * distance / (cos * a.area());
    distance *= 1 - 1e-4f;
    point = false;
    reader.emission(a.instance(), a.triangles()[k], b, c, radiance);
    return radiance[0] + radiance[1] + radiance[2] > 0;
  }

  private void towards(float tx, float ty, float tz, Surface from) {
    x = tx - from.px;
    y = ty - from.py;
    z = tz - from.pz;
    distance = (float) Math.sqrt(x * x + y * y + z * z);
    float inv = 1 / Math.max(distance, 1e-20f);
    x *= inv;
    y *= inv;
    z *= inv;
  }
}
