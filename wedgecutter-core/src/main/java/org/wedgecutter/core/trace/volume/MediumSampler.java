package org.wedgecutter.core.trace.volume;

import java.util.Arrays;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.sample.Sampler;

/**
 * Transmittance and scattering in media. Extinction is grey, so transmittance is one number.
 *
 * <p>Media in closed form are followed exactly; puffs by tentative collisions against majorants of
 * blocks of their cells: a collision is kept with the probability of the real extinction (to find
 * where light is scattered), or each takes its share (to find how much gets through). Overlapping
 * media collide independently; the nearest collision counts.
 *
 * <p>Between two surfaces of a camera segment each medium leaves a fragment. One medium in closed
 * form has its exact alpha, and one place where light is gathered, picked by distance or by the
 * angle under which a light sees the way. Where several overlap, the tentative collisions of puffs
 * cut the way into stretches. Over a stretch the media in closed form take exactly what their
 * optical depths add up to, divided among them by their densities at places picked by that depth;
 * at a tentative collision a puff takes its share of what is left. One of a medium's places is kept
 * in proportion to the shares. The shares and what is left add up to 1, so alphas of layers add up
 * too; and no way is too long, since nothing is stepped through where there is no puff.
 *
 * <p>Tentative collisions of one walk are bounded by {@link #MOST}; walks that were cut short are
 * counted in {@link #cutShort}.
 *
 * <p>Sources: E. Woodcock et al., "Techniques Used in the GEM Code for Monte Carlo Neutronics
 * Calculations", 1965; J. Novák et al., "Residual Ratio Tracking for Estimating Attenuation in
 * Participating Media", 2014; C. Kulla and M. Fajardo, "Importance Sampling Techniques for Path
 * Tracing in Participating Media", 2012; L. Szirmay-Kalos et al., "Free Path Sampling in High
 * Resolution Inhomogeneous Participating Media", 2011 (majorants of blocks).
 *
 * <p>One object serves one thread.
 */
public final class MediumSampler {
  private static final float FAR = 1e9f;

  /** Tentative collisions that a camera ray has in a puff at least, on average. */
  private static final int STEPS = 8;

  /** Most tentative collisions of one walk. */
  static final int MOST = 20_000;

  /**
   * Shares of its alpha at which a medium that thins out is divided into stretches: closer together
   * towards its end, where it is thinnest and each stretch longest.
   */
  private static final float[] SHARES = {0, 0.2f, 0.4f, 0.6f, 0.75f, 0.87f, 0.94f, 0.975f, 1};

  /** Most stretches into which a medium is divided. */
  public static final int MOST_SLICES = SHARES.length - 1;

  /** Share of a medium's alpha behind the end of its samples by depth. */
  private static final double SPENT = 1e-3;

  /** Part of the way that must lie behind that end, or the medium ends where it is left. */
  private static final float SPENT_EARLY = 0.1f;

  /** Alpha below which a medium is one stretch. */
  private static final double THIN = 0.02;

  /** Places of a stretch at which overlapping media in closed form are compared. */
  private static final int COMPARED = 2;

  public final PreparedMedium[] matter;
  private final MediumAt[] at;
  private final Sampler random;
  private final float[] from;
  private final float[] to;

  /**
   * Of each puff on a camera interval: next tentative collision, and where its walk has come to.
   */
  private final float[] tentative;

  private final float[] come;
  private final float[] least;

  /** Distance of the last collision. */
  public float t;

  /** Of the last camera interval: share of each medium, place and weight of its gathered light. */
  public final float[] alpha;

  public final float[] place;
  public final float[] weight;

  /** What is left behind the last camera interval. */
  public float left;

  /** Returns where the last camera interval entered a medium. */
  public float entry(int m) {
    return from[m];
  }

  /** Returns where the last camera interval left a medium. */
  public float exit(int m) {
    return to[m];
  }

  /** Walks that were cut short since the object was made, because they took too many steps. */
  public long cutShort;

  public MediumSampler(PreparedMedium[] matter, Sampler random) {
    this.matter = matter;
    this.random = random;
    at = new MediumAt[matter.length];
    for (int m = 0; m < at.length; m++) {
      at[m] = new MediumAt(matter[m]);
    }
    from = new float[matter.length];
    to = new float[matter.length];
    tentative = new float[matter.length];
    come = new float[matter.length];
    least = new float[matter.length];
    alpha = new float[matter.length];
    place = new float[matter.length];
    weight = new float[matter.length];
  }

  /** Goes to a moment: 0 when the shutter opens, 1 when it closes. */
  public void set(float moment) {
    for (MediumAt m : at) {
      m.set(moment);
    }
  }

  /**
   * Returns the transmittance from a ray's origin to a distance.
   *
   * @param feels which media attenuate
   * @param key of the random numbers
   */
  public float through(RayCaster r, float far, boolean[] feels, int key) {
    float share = 1;
    boolean begun = false;
    for (int m = 0; m < at.length; m++) {
      if (!feels[m] || !at[m].enter(r, 0, far)) {
        continue;
      }
      if (matter[m].hasClosedForm()) {
        share *= (float) Math.exp(-at[m].depth(r, at[m].from, at[m].to));
      } else {
        if (!begun) {
          random.stream(key);
          begun = true;
        }
        share *= shares(at[m], r, at[m].from, at[m].to);
      }
    }
    return share;
  }

  private float shares(MediumAt m, RayCaster r, float a, float b) {
    float share = 1;
    m.walk(r, a);
    float s = a;
    for (int steps = 0; steps < MOST; steps++) {
      s = tentative(m, s, b, 0);
      if (s >= b) {
        return share;
      }
      share *= 1 - m.density(r, s) / m.majorant();
      if (share < 1e-4f) {
        return 0;
      }
    }
    cutShort++;
    return share;
  }

  private float depth() {
    return (float) -Math.log(1 - random.next());
  }

  /**
   * Returns the next tentative collision of a puff's walk, or {@code end}.
   *
   * @param low least majorant
   */
  private float tentative(MediumAt m, float start, float end, float low) {
    float s = start;
    float left = depth();
    while (true) {
      float top = Math.max(low, m.majorant());
      float exit = Math.min(m.exit(), end);
      float ahead = Math.max(0, exit - s) * top;
      if (left < ahead) {
        return s + left / top;
      }
      left -= ahead;
      s = Math.max(s, exit);
      if (s >= end || !m.advance()) {
        return end;
      }
    }
  }

  /** Returns the medium that scatters or absorbs a ray first before a distance, or -1. */
  public int collide(RayCaster r, float start, float far, boolean[] feels, int key) {
    int first = -1;
    t = far;
    random.stream(key);
    for (int m = 0; m < at.length; m++) {
      if (!feels[m] || !at[m].enter(r, start, far)) {
        continue;
      }
      float where =
          matter[m].hasClosedForm()
              ? at[m].reach(r, at[m].from, depth())
              : collision(at[m], r, at[m].from, at[m].to);
      if (where < at[m].to && where < t) {
        t = where;
        first = m;
      }
    }
    return first;
  }

  private float collision(MediumAt m, RayCaster r, float a, float b) {
    m.walk(r, a);
    float s = a;
    for (int steps = 0; steps < MOST; steps++) {
      s = tentative(m, s, b, 0);
      if (s >= b || random.next() * m.majorant() < m.density(r, s)) {
        return s;
      }
    }
    cutShort++;
    return b;
  }

  /**
   * Follows a camera ray between two surfaces; sets {@link #alpha}, {@link #place}, {@link #weight}
   * and {@link #left}.
   *
   * @param sees which media the camera meets
   * @param target a place whose light is gathered, or null
   * @param key of the random numbers
   */
  public void interval(
      RayCaster r, float start, float end, boolean[] sees, float[] target, boolean has, int key) {
    Arrays.fill(alpha, 0);
    left = 1;
    int count = 0;
    int last = -1;
    float low = Float.POSITIVE_INFINITY;
    float high = 0;
    for (int m = 0; m < at.length; m++) {
      from[m] = to[m] = 0;
      if (sees[m] && at[m].enter(r, start, end)) {
        from[m] = at[m].from;
        to[m] = Math.min(at[m].to, at[m].from + FAR);
        low = Math.min(low, from[m]);
        high = Math.max(high, to[m]);
        count++;
        last = m;
      }
    }
    if (count == 0) {
      return;
    }
    if (count == 1 && matter[last].hasClosedForm()) {
      random.pair(key);
      single(r, last, target, has);
    } else {
      random.stream(key);
      several(r, low, high);
    }
  }

  private void single(RayCaster r, int m, float[] target, boolean has) {
    MediumAt medium = at[m];
    float a = from[m];
    float b = to[m];
    alpha[m] = (float) -Math.expm1(-medium.depth(r, a, b));
    left = 1 - alpha[m];
    float pick = random.u;
    float u = random.v;
    float closest = 0;
    float off = 1;
    float thetaA = 0;
    float thetaB = 0;
    if (has) {
      closest = (target[0] - r.ox) * r.dx + (target[1] - r.oy) * r.dy + (target[2] - r.oz) * r.dz;
      float x = r.ox + closest * r.dx - target[0];
      float y = r.oy + closest * r.dy - target[1];
      float z = r.oz + closest * r.dz - target[2];
      off = Math.max(1e-4f, (float) Math.sqrt(x * x + y * y + z * z));
      thetaA = (float) Math.atan((a - closest) / off);
      thetaB = (float) Math.atan((b - closest) / off);
    }
    float where =
        has && pick < 0.5f
            ? closest + off * (float) Math.tan(thetaA + u * (thetaB - thetaA))
            : medium.reach(r, a, (float) -Math.log1p(-u * alpha[m]));
    where = Math.max(a, Math.min(b, where));
    float kept = medium.density(r, where) * (float) Math.exp(-medium.depth(r, a, where));
    float density = kept / Math.max(1e-20f, alpha[m]);
    if (has) {
      float d = where - closest;
      density = 0.5f * density + 0.5f * off / ((thetaB - thetaA) * (off * off + d * d));
    }
    place[m] = where;
    weight[m] = density > 0 ? kept / density : 0;
  }

  /**
   * Divides a medium on the last camera interval into stretches that take shares of its alpha as
   * {@link #before} says, the last of which ends where all but {@link #SPENT} of it is taken: a
   * haze that reaches to the horizon hides what stands in it long before. A puff is not divided.
   *
   * @param into is given where each begins, and the last one ends
   * @return how many there are
   */
  public int slices(RayCaster r, int m, float[] into) {
    into[0] = from[m];
    into[1] = to[m];
    if (!matter[m].hasClosedForm() || !(from[m] < to[m])) {
      return 1;
    }
    double all = -Math.expm1(-at[m].depth(r, from[m], to[m]));
    // one stretch is exact for an even medium: it fades as light does
    boolean even = !(matter[m].medium.falloff() > 0);
    int count = even || all < THIN ? 1 : into.length - 1;
    float end = at[m].reach(r, from[m], (float) -Math.log1p(-all * (1 - SPENT)));
    // what a surface cuts off ends there
    into[count] = to[m] - end > SPENT_EARLY * (to[m] - from[m]) ? Math.max(from[m], end) : to[m];
    for (int k = 1; k < count; k++) {
      float where = at[m].reach(r, from[m], (float) -Math.log1p(-all * before(k, count)));
      into[k] = Math.max(into[k - 1], Math.min(into[count], where));
    }
    return count;
  }

  /** Returns the share of a medium's alpha that lies in front of one of its stretches. */
  public static float before(int slice, int slices) {
    return slices == 1 ? slice : SHARES[slice];
  }

  private void several(RayCaster r, float low, float high) {
    for (int m = 0; m < at.length; m++) {
      tentative[m] = Float.POSITIVE_INFINITY;
      if (from[m] < to[m] && !matter[m].hasClosedForm()) {
        // more tentative collisions than needed where it is thin: less noise for little
        least[m] = STEPS / Math.max(1e-6f, to[m] - from[m]);
        at[m].walk(r, from[m]);
        come[m] = from[m];
        step(m);
      }
    }
    float s = low;
    for (int steps = 0; left > 0; steps++) {
      int next = -1;
      float where = high;
      for (int m = 0; m < at.length; m++) {
        if (tentative[m] < where) {
          where = tentative[m];
          next = m;
        }
      }
      stretch(r, s, where);
      s = where;
      if (next < 0 || left < 1e-5f) {
        break;
      }
      if (steps >= MOST) {
        cutShort++;
        break;
      }
      float top = Math.max(least[next], at[next].majorant());
      float got = left * Math.min(1, at[next].density(r, s) / top);
      take(next, got, s);
      left -= got;
      step(next);
    }
    if (left < 1e-5f) {
      left = 0;
    }
  }

  private void step(int m) {
    come[m] = tentative(at[m], come[m], to[m], least[m]);
    tentative[m] = come[m] < to[m] ? come[m] : Float.POSITIVE_INFINITY;
  }

  /** Gives a medium a share, and keeps the place of one of its shares. */
  private void take(int m, float got, float where) {
    alpha[m] += got;
    if (got > 0 && random.next() * alpha[m] < got) {
      place[m] = where;
    }
    weight[m] = alpha[m];
  }

  /** Media in closed form between two distances. */
  private void stretch(RayCaster r, float a, float b) {
    float sum = 0;
    int only = -1;
    int count = 0;
    for (int m = 0; m < at.length; m++) {
      if (matter[m].hasClosedForm()) {
        float d = depth(r, m, a, b);
        if (d > 0) {
          sum += d;
          only = m;
          count++;
        }
      }
    }
    if (count == 0) {
      return;
    }
    float share = (float) -Math.expm1(-sum);
    float taken = left * share;
    if (count == 1) {
      float start = Math.max(a, from[only]);
      float where = at[only].reach(r, start, (float) -Math.log1p(-random.next() * share));
      take(only, taken, Math.max(start, Math.min(Math.min(b, to[only]), where)));
    } else {
      for (int k = 0; k < COMPARED; k++) {
        float u = (k + random.next()) / COMPARED;
        float where = place(r, a, b, (float) -Math.log1p(-u * share));
        divide(r, where, taken / COMPARED);
      }
    }
    left -= taken;
  }

  private float depth(RayCaster r, int m, float a, float b) {
    float start = Math.max(a, from[m]);
    float end = Math.min(b, to[m]);
    return start < end ? at[m].depth(r, start, end) : 0;
  }

  /** Divides a share among the media in closed form by their densities at a place. */
  private void divide(RayCaster r, float where, float share) {
    float all = 0;
    int first = -1;
    for (int m = 0; m < at.length; m++) {
      if (isAt(m, where)) {
        all += at[m].density(r, where);
        first = first < 0 ? m : first;
      }
    }
    for (int m = 0; m < at.length; m++) {
      if (isAt(m, where)) {
        take(m, all > 0 ? share * at[m].density(r, where) / all : m == first ? share : 0, where);
      }
    }
  }

  private boolean isAt(int m, float where) {
    return matter[m].hasClosedForm() && from[m] < to[m] && from[m] <= where && where <= to[m];
  }

  /** Where the depth of all media in closed form from a distance reaches a value, by bisection. */
  private float place(RayCaster r, float a, float b, float depth) {
    float low = a;
    float high = b;
    for (int k = 0; k < 48 && low < high; k++) {
      float middle = 0.5f * (low + high);
      float sum = 0;
      for (int m = 0; m < at.length; m++) {
        if (matter[m].hasClosedForm()) {
          sum += depth(r, m, a, middle);
        }
      }
      if (sum < depth) {
        low = middle;
      } else {
        high = middle;
      }
      if (middle == low && middle == high) {
        break;
      }
    }
    return high;
  }
}
