package org.wedgecutter.core.trace.volume;

import java.util.stream.IntStream;
import org.joml.Matrix4f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.sample.Sampler;
import org.wedgecutter.core.trace.world.World;

/**
 * A medium in the world at the middle of the shutter interval: extent, density and scattering.
 * Immutable.
 *
 * <p>Even density and height falloff have their optical depth in closed form; a puff is a grid of
 * numbers made of noise, read with linear interpolation, through which light is followed by
 * tentative collisions.
 */
public final class PreparedMedium {
  /** Cells of a puff's grid along the box's width and depth, and along its height. */
  private static final int WIDE = 40;

  private static final int HIGH = 96;

  public final int entity;
  public final Medium medium;
  private final float[] toBox = new float[12];
  private final float @Nullable [] grid;
  private final float majorant;

  /** Part of a ray in it, set by {@link #enter}. */
  static final class Part {
    float from;
    float to;
  }

  public PreparedMedium(int entity, Medium medium, Matrix4f world, double time) {
    this.entity = entity;
    this.medium = medium;
    World.store(new Matrix4f(world).invertAffine(), toBox, 0);
    Medium.Puff puff = medium.puff();
    grid = puff == null || medium.everywhere() ? null : fill(puff, time);
    float most = 1;
    if (grid != null) {
      most = 0;
      for (float g : grid) {
        most = Math.max(most, g);
      }
    }
    majorant = medium.density() * most;
  }

  /** The same medium with other colours and density. */
  public PreparedMedium(PreparedMedium from, Medium medium) {
    entity = from.entity;
    this.medium = medium;
    System.arraycopy(from.toBox, 0, toBox, 0, 12);
    grid = from.grid;
    majorant =
        from.medium.density() > 0 ? from.majorant / from.medium.density() * medium.density() : 0;
  }

  /** Whether its optical depth is in closed form. */
  boolean hasClosedForm() {
    return grid == null;
  }

  /** The majorant: largest extinction, per metre. */
  float majorant() {
    return majorant;
  }

  /** Finds the part of a ray between two distances that lies in it. */
  boolean enter(RayCaster r, float from, float to, Part out) {
    out.from = from;
    out.to = to;
    if (majorant <= 0) {
      return false;
    }
    if (medium.everywhere()) {
      return from < to;
    }
    float[] m = toBox;
    for (int axis = 0; axis < 3; axis++) {
      int k = 4 * axis;
      float o = m[k] * r.ox + m[k + 1] * r.oy + m[k + 2] * r.oz + m[k + 3];
      float d = m[k] * r.dx + m[k + 1] * r.dy + m[k + 2] * r.dz;
      if (Math.abs(d) < 1e-12f) {
        if (Math.abs(o) > 0.5f) {
          return false;
        }
        continue;
      }
      float a = (-0.5f - o) / d;
      float b = (0.5f - o) / d;
      out.from = Math.max(out.from, Math.min(a, b));
      out.to = Math.min(out.to, Math.max(a, b));
    }
    return out.from < out.to;
  }

  /** Extinction at a distance along a ray that is in it, per metre. */
  float density(RayCaster r, float t) {
    float x = r.ox + t * r.dx;
    float y = r.oy + t * r.dy;
    float z = r.oz + t * r.dz;
    float d = medium.density();
    if (medium.falloff() > 0 && y > medium.base()) {
      d *= (float) Math.exp((medium.base() - y) / medium.falloff());
    }
    return grid == null ? d : d * noise(x, y, z);
  }

  private float noise(float x, float y, float z) {
    float[] g = java.util.Objects.requireNonNull(grid);
    float[] m = toBox;
    float u = (m[0] * x + m[1] * y + m[2] * z + m[3] + 0.5f) * WIDE - 0.5f;
    float v = (m[4] * x + m[5] * y + m[6] * z + m[7] + 0.5f) * HIGH - 0.5f;
    float w = (m[8] * x + m[9] * y + m[10] * z + m[11] + 0.5f) * WIDE - 0.5f;
    int i = (int) Math.floor(u);
    int j = (int) Math.floor(v);
    int k = (int) Math.floor(w);
    float fu = u - i;
    float fv = v - j;
    float fw = w - k;
    float sum = 0;
    for (int c = 0; c < 8; c++) {
      int a = i + (c & 1);
      int b = j + (c >> 1 & 1);
      int e = k + (c >> 2);
      if (a >= 0 && b >= 0 && e >= 0 && a < WIDE && b < HIGH && e < WIDE) {
        sum +=
            ((c & 1) == 0 ? 1 - fu : fu)
                * ((c >> 1 & 1) == 0 ? 1 - fv : fv)
                * ((c >> 2) == 0 ? 1 - fw : fw)
                * g[(b * WIDE + e) * WIDE + a];
      }
    }
    return sum;
  }

  /** Optical depth between two distances along a ray, in closed form. */
  float depth(RayCaster r, float from, float to) {
    float s = medium.density();
    float h = medium.falloff();
    if (h <= 0) {
      return s * (to - from);
    }
    float ya = r.oy + from * r.dy - medium.base();
    float yb = r.oy + Math.min(to, 1e18f) * r.dy - medium.base();
    if (Math.abs(r.dy) < 1e-5f) {
      return s * (float) Math.exp(-Math.max(0, 0.5f * (ya + yb)) / h) * (to - from);
    }
    return s * (up(yb, h) - up(ya, h)) / r.dy;
  }

  /** Integral of the density over height, from the base. */
  private static float up(float y, float h) {
    return y <= 0 ? y : h * (1 - (float) Math.exp(-y / h));
  }

  /** Distance at which the optical depth from {@code from} reaches a value, or infinity. */
  float reach(RayCaster r, float from, float depth) {
    float s = medium.density();
    float h = medium.falloff();
    if (h <= 0) {
      return from + depth / s;
    }
    float ya = r.oy + from * r.dy - medium.base();
    if (Math.abs(r.dy) < 1e-5f) {
      return from + depth / Math.max(1e-20f, s * (float) Math.exp(-Math.max(0, ya) / h));
    }
    float target = up(ya, h) + depth * r.dy / s;
    if (target >= h) {
      return Float.POSITIVE_INFINITY;
    }
    float yb = target <= 0 ? target : -h * (float) Math.log(1 - target / h);
    return from + (yb - ya) / r.dy;
  }

  /** Density over solid angle of scattering by a cosine; it is the value too. */
  public float phase(float cosine) {
    float g = medium.anisotropy();
    float d = 1 + g * g - 2 * g * cosine;
    return (1 - g * g) / (4 * (float) Math.PI * d * (float) Math.sqrt(Math.max(1e-9f, d)));
  }

  /**
   * Cosine to the direction of travel of a scattered direction.
   *
   * <p>Source: L. Henyey and J. Greenstein, "Diffuse Radiation in the Galaxy", 1941.
   */
  public float scattered(float u) {
    float g = medium.anisotropy();
    if (Math.abs(g) < 1e-3f) {
      return 1 - 2 * u;
    }
    float s = (1 - g * g) / (1 - g + 2 * g * u);
    return Math.max(-1, Math.min(1, (1 + g * g - s * s) / (2 * g)));
  }

  // ---- the grid of a puff

  private static float[] fill(Medium.Puff p, double time) {
    float[] out = new float[WIDE * WIDE * HIGH];
    IntStream.range(0, HIGH)
        .parallel()
        .forEach(j -> {
          float v = (j + 0.5f) / HIGH;
          float rise = (float) (time * p.rise());
          float ax =
              p.sway() * v * (lattice(p.seed() + 71, 0.5f, v * 3 - rise * 0.3f, 0.5f) - 0.5f);
          float az =
              p.sway() * v * (lattice(p.seed() + 72, 0.5f, v * 3 - rise * 0.3f, 0.5f) - 0.5f);
          float radius = Math.max(1e-3f, 0.5f * (p.foot() + (p.head() - p.foot()) * v));
          float ends = Math.min(1, Math.min(v * 12, (1 - v) * 3));
          for (int k = 0; k < WIDE; k++) {
            for (int i = 0; i < WIDE; i++) {
              float x = (i + 0.5f) / WIDE - 0.5f - ax;
              float z = (k + 0.5f) / WIDE - 0.5f - az;
              float off = (x * x + z * z) / (radius * radius);
              if (off < 1) {
                float n = fractal(p, x * p.cells(), v * p.cells() - rise, z * p.cells());
                float cut = Math.max(0, (n - p.threshold()) / (1 - p.threshold()));
                out[(j * WIDE + k) * WIDE + i] = cut * (1 - off) * ends;
              }
            }
          }
        });
    return out;
  }

  private static float fractal(Medium.Puff p, float x, float y, float z) {
    float sum = 0;
    float strength = 1;
    float all = 0;
    float scale = 1;
    for (int o = 0; o < p.octaves(); o++) {
      sum += strength * lattice(p.seed() + o, x * scale, y * scale, z * scale);
      all += strength;
      strength *= 0.5f;
      scale *= 2;
    }
    return sum / all;
  }

  /** Value noise in 0..1: numbers on a lattice, joined by smooth steps. */
  private static float lattice(int seed, float x, float y, float z) {
    int i = (int) Math.floor(x);
    int j = (int) Math.floor(y);
    int k = (int) Math.floor(z);
    float fx = smooth(x - i);
    float fy = smooth(y - j);
    float fz = smooth(z - k);
    float sum = 0;
    for (int c = 0; c < 8; c++) {
      float weight =
          ((c & 1) == 0 ? 1 - fx : fx)
              * ((c >> 1 & 1) == 0 ? 1 - fy : fy)
              * ((c >> 2) == 0 ? 1 - fz : fz);
      int h = Sampler.hash(seed);
      h = Sampler.hash(h ^ (i + (c & 1)));
      h = Sampler.hash(h ^ (j + (c >> 1 & 1)));
      h = Sampler.hash(h ^ (k + (c >> 2)));
      sum += weight * (h >>> 8) * 0x1p-24f;
    }
    return sum;
  }

  private static float smooth(float t) {
    return t * t * (3 - 2 * t);
  }
}
