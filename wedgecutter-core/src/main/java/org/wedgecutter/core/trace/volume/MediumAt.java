package org.wedgecutter.core.trace.volume;

import java.util.Objects;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.trace.accel.Instances;
import org.wedgecutter.core.trace.accel.MotionPath;
import org.wedgecutter.core.trace.accel.RayCaster;

/** A medium at a moment, and rays through it. One object serves one thread. */
final class MediumAt {
  private static final int WIDE = PreparedMedium.WIDE;
  private static final int HIGH = PreparedMedium.HIGH;

  final PreparedMedium of;
  private final Medium medium;
  private final float[] toWorld = new float[MotionPath.SIZE];
  private final float[] toBox = new float[MotionPath.SIZE];
  private float[] grid = new float[0];
  private float[] next = new float[0];
  private float mix;

  /** Part of a ray in it, set by {@link #enter}. */
  float from;

  float to;

  // the block that a ray is in, and where it leaves it along each axis; set by walk
  private int bi;
  private int bj;
  private int bk;
  private float exitX;
  private float exitY;
  private float exitZ;
  private float stepX;
  private float stepY;
  private float stepZ;
  private int goX;
  private int goY;
  private int goZ;

  MediumAt(PreparedMedium of) {
    this.of = of;
    medium = of.medium;
    place(0.5f);
  }

  /** Goes to a moment: 0 when the shutter opens, 1 when it closes. */
  void set(float moment) {
    if (of.changes()) {
      place(moment);
    }
  }

  private void place(float moment) {
    of.path.at(moment, toWorld, 0);
    Instances.invert(toWorld, toBox, 0);
    float[][] grids = of.grids;
    if (grids != null) {
      float at = moment * (grids.length - 1);
      int g = Math.max(0, Math.min(grids.length - 1, (int) at));
      grid = grids[g];
      next = grids[Math.min(grids.length - 1, g + 1)];
      mix = grids.length == 1 ? 0 : at - g;
    }
  }

  /** Finds the part of a ray between two distances that lies in it. */
  boolean enter(RayCaster r, float start, float end) {
    from = start;
    to = end;
    if (of.majorant() <= 0) {
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
      from = Math.max(from, Math.min(a, b));
      to = Math.min(to, Math.max(a, b));
    }
    return from < to;
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
    return of.hasClosedForm() ? d : d * noise(x, y, z);
  }

  private float noise(float x, float y, float z) {
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
        int at = (b * WIDE + e) * WIDE + a;
        float value = grid[at];
        if (mix > 0) {
          value += mix * (next[at] - value);
        }
        sum +=
            ((c & 1) == 0 ? 1 - fu : fu)
                * ((c >> 1 & 1) == 0 ? 1 - fv : fv)
                * ((c >> 2) == 0 ? 1 - fw : fw)
                * value;
      }
    }
    return sum;
  }

  // ---- blocks of cells along a ray

  /** Begins a walk through the blocks along a ray, at a distance that lies in the box. */
  void walk(RayCaster r, float start) {
    float[] m = toBox;
    float ou = (m[0] * r.ox + m[1] * r.oy + m[2] * r.oz + m[3] + 0.5f) * PreparedMedium.BLOCKS_WIDE;
    float ov = (m[4] * r.ox + m[5] * r.oy + m[6] * r.oz + m[7] + 0.5f) * PreparedMedium.BLOCKS_HIGH;
    float ow =
        (m[8] * r.ox + m[9] * r.oy + m[10] * r.oz + m[11] + 0.5f) * PreparedMedium.BLOCKS_WIDE;
    float du = (m[0] * r.dx + m[1] * r.dy + m[2] * r.dz) * PreparedMedium.BLOCKS_WIDE;
    float dv = (m[4] * r.dx + m[5] * r.dy + m[6] * r.dz) * PreparedMedium.BLOCKS_HIGH;
    float dw = (m[8] * r.dx + m[9] * r.dy + m[10] * r.dz) * PreparedMedium.BLOCKS_WIDE;
    bi = block(ou + start * du, PreparedMedium.BLOCKS_WIDE);
    bj = block(ov + start * dv, PreparedMedium.BLOCKS_HIGH);
    bk = block(ow + start * dw, PreparedMedium.BLOCKS_WIDE);
    goX = du > 0 ? 1 : -1;
    goY = dv > 0 ? 1 : -1;
    goZ = dw > 0 ? 1 : -1;
    stepX = du == 0 ? Float.POSITIVE_INFINITY : Math.abs(1 / du);
    stepY = dv == 0 ? Float.POSITIVE_INFINITY : Math.abs(1 / dv);
    stepZ = dw == 0 ? Float.POSITIVE_INFINITY : Math.abs(1 / dw);
    exitX = du == 0 ? Float.POSITIVE_INFINITY : (bi + (du > 0 ? 1 : 0) - ou) / du;
    exitY = dv == 0 ? Float.POSITIVE_INFINITY : (bj + (dv > 0 ? 1 : 0) - ov) / dv;
    exitZ = dw == 0 ? Float.POSITIVE_INFINITY : (bk + (dw > 0 ? 1 : 0) - ow) / dw;
  }

  private static int block(float at, int count) {
    return Math.max(0, Math.min(count - 1, (int) at));
  }

  /** Returns where the walk leaves its block, as a distance along the ray. */
  float exit() {
    return Math.min(exitX, Math.min(exitY, exitZ));
  }

  /** Goes on to the next block; returns whether there is one. */
  boolean advance() {
    if (exitX <= exitY && exitX <= exitZ) {
      bi += goX;
      exitX += stepX;
      return bi >= 0 && bi < PreparedMedium.BLOCKS_WIDE;
    }
    if (exitY <= exitZ) {
      bj += goY;
      exitY += stepY;
      return bj >= 0 && bj < PreparedMedium.BLOCKS_HIGH;
    }
    bk += goZ;
    exitZ += stepZ;
    return bk >= 0 && bk < PreparedMedium.BLOCKS_WIDE;
  }

  /** The majorant of the block that the walk is in, per metre. */
  float majorant() {
    float[] b = Objects.requireNonNull(of.blocks);
    return medium.density()
        * b[(bj * PreparedMedium.BLOCKS_WIDE + bk) * PreparedMedium.BLOCKS_WIDE + bi];
  }

  // ---- closed form

  /** Optical depth between two distances along a ray, in closed form. */
  float depth(RayCaster r, float start, float end) {
    float s = medium.density();
    float h = medium.falloff();
    if (h <= 0) {
      return s * (end - start);
    }
    float ya = r.oy + start * r.dy - medium.base();
    float yb = r.oy + Math.min(end, 1e18f) * r.dy - medium.base();
    if (Math.abs(r.dy) < 1e-5f) {
      return s * (float) Math.exp(-Math.max(0, 0.5f * (ya + yb)) / h) * (end - start);
    }
    return s * (up(yb, h) - up(ya, h)) / r.dy;
  }

  /** Integral of the density over height, from the base. */
  private static float up(float y, float h) {
    return y <= 0 ? y : h * (1 - (float) Math.exp(-y / h));
  }

  /** Distance at which the optical depth from {@code start} reaches a value, or infinity. */
  float reach(RayCaster r, float start, float depth) {
    float s = medium.density();
    float h = medium.falloff();
    if (h <= 0) {
      return start + depth / s;
    }
    float ya = r.oy + start * r.dy - medium.base();
    if (Math.abs(r.dy) < 1e-5f) {
      return start + depth / Math.max(1e-20f, s * (float) Math.exp(-Math.max(0, ya) / h));
    }
    float target = up(ya, h) + depth * r.dy / s;
    if (target >= h) {
      return Float.POSITIVE_INFINITY;
    }
    float yb = target <= 0 ? target : -h * (float) Math.log(1 - target / h);
    return start + (yb - ya) / r.dy;
  }
}
