package org.wedgecutter.core.trace.volume;

import java.util.stream.IntStream;
import org.joml.Matrix4f;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.trace.accel.MotionPath;
import org.wedgecutter.core.trace.sample.Sampler;

/**
 * A medium while the shutter is open: extent, density and scattering. Immutable; {@link MediumAt}
 * is what it is like at a moment.
 *
 * <p>Even density and height falloff have their optical depth in closed form. A puff is a grid of
 * numbers made of noise, read with linear interpolation, in space and in time: where it rises by
 * its own law there are several grids over the interval, no farther apart than a cell. Light is
 * followed through it by tentative collisions against majorants of blocks of cells, which hold at
 * every moment.
 */
public final class PreparedMedium {
  /** Cells of a puff's grid along the box's width and depth, and along its height. */
  static final int WIDE = 40;

  static final int HIGH = 96;

  /** Cells along the side of a block that has one majorant, and blocks along the box's sides. */
  static final int BLOCK = 8;

  static final int BLOCKS_WIDE = WIDE / BLOCK;
  static final int BLOCKS_HIGH = HIGH / BLOCK;

  private static final int MOST_GRIDS = 16;

  public final int entity;
  public final Medium medium;
  final MotionPath path;

  /** The grids of a puff at equal steps from the shutter's opening to its closing; one if still. */
  final float @Nullable [][] grids;

  /** Largest number of each block's cells and of those beside them, over all grids. */
  final float @Nullable [] blocks;

  private final float peak;

  /** A medium that stands at a time. */
  public PreparedMedium(int entity, Medium medium, Matrix4f world, double time) {
    this(entity, medium, MotionPath.still(world), time, time);
  }

  /**
   * @param path of its box
   * @param opens when the shutter opens, seconds
   * @param closes when it closes, seconds
   */
  public PreparedMedium(int entity, Medium medium, MotionPath path, double opens, double closes) {
    this.entity = entity;
    this.medium = medium.at((opens + closes) / 2);
    this.path = path;
    Medium.Puff puff = medium.puff();
    if (puff == null || medium.everywhere()) {
      grids = null;
      blocks = null;
      peak = 1;
      return;
    }
    double cells = Math.abs(puff.rise()) * (closes - opens) / puff.cells() * HIGH;
    int steps = cells == 0 ? 0 : (int) Math.min(MOST_GRIDS, Math.ceil(cells));
    grids = new float[steps + 1][];
    for (int g = 0; g <= steps; g++) {
      double at = steps == 0 ? (opens + closes) / 2 : opens + (closes - opens) * g / steps;
      grids[g] = fill(puff, at);
    }
    blocks = majorants(grids);
    float most = 0;
    for (float b : blocks) {
      most = Math.max(most, b);
    }
    peak = most;
  }

  /** The same medium with other colours and density. */
  public PreparedMedium(PreparedMedium from, Medium medium) {
    entity = from.entity;
    this.medium = medium;
    path = from.path;
    grids = from.grids;
    blocks = from.blocks;
    peak = from.peak;
  }

  /** Whether it is not the same at all moments. */
  public boolean changes() {
    return path.moves() || (grids != null && grids.length > 1);
  }

  /** Whether its optical depth is in closed form. */
  boolean hasClosedForm() {
    return grids == null;
  }

  /** The majorant of all of it: largest extinction, per metre. */
  float majorant() {
    return medium.density() * peak;
  }

  /** The largest number that interpolation can read in each block. */
  private static float[] majorants(float[][] grids) {
    float[] out = new float[BLOCKS_WIDE * BLOCKS_WIDE * BLOCKS_HIGH];
    for (int b = 0; b < out.length; b++) {
      int i = b % BLOCKS_WIDE * BLOCK;
      int k = b / BLOCKS_WIDE % BLOCKS_WIDE * BLOCK;
      int j = b / (BLOCKS_WIDE * BLOCKS_WIDE) * BLOCK;
      float most = 0;
      for (int y = Math.max(0, j - 1); y <= Math.min(HIGH - 1, j + BLOCK); y++) {
        for (int z = Math.max(0, k - 1); z <= Math.min(WIDE - 1, k + BLOCK); z++) {
          for (int x = Math.max(0, i - 1); x <= Math.min(WIDE - 1, i + BLOCK); x++) {
            for (float[] grid : grids) {
              most = Math.max(most, grid[(y * WIDE + z) * WIDE + x]);
            }
          }
        }
      }
      out[b] = most;
    }
    return out;
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

  static float[] fill(Medium.Puff p, double time) {
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
