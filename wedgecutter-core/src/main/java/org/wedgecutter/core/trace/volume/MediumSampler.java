package org.wedgecutter.core.trace.volume;

import java.util.Arrays;
import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.sample.Sampler;

/**
 * Transmittance and scattering in media. Extinction is grey, so transmittance is one number.
 *
 * <p>Media in closed form are followed exactly; puffs by tentative collisions against the majorant:
 * a collision is kept with the probability of the real extinction (to find where light is
 * scattered), or each takes its share (to find how much gets through). Overlapping media collide
 * independently; the nearest collision counts.
 *
 * <p>Between two surfaces of a camera segment each medium leaves a fragment. One medium in closed
 * form has its exact alpha, and one place where light is gathered, picked by distance or by the
 * angle under which a light sees the way. Otherwise places are gathered in one walk: at each
 * tentative collision every medium takes its share of what is left, and one of a medium's places is
 * kept in proportion to the shares. The shares and what is left add up to 1, so alphas of layers
 * add up too.
 *
 * <p>Sources: E. Woodcock et al., "Techniques Used in the GEM Code for Monte Carlo Neutronics
 * Calculations", 1965; J. Novák et al., "Residual Ratio Tracking for Estimating Attenuation in
 * Participating Media", 2014; C. Kulla and M. Fajardo, "Importance Sampling Techniques for Path
 * Tracing in Participating Media", 2012.
 *
 * <p>One object serves one thread.
 */
public final class MediumSampler {
  private static final float FAR = 1e9f;
  private static final int STEPS = 8;

  public final PreparedMedium[] matter;
  private final Sampler random;
  private final PreparedMedium.Part part = new PreparedMedium.Part();
  private final float[] from;
  private final float[] to;

  /** Distance of the last collision. */
  public float t;

  /** Of the last camera interval: share of each medium, place and weight of its gathered light. */
  public final float[] alpha;

  public final float[] place;
  public final float[] weight;

  /** What is left behind the last camera interval. */
  public float left;

  public MediumSampler(PreparedMedium[] matter, Sampler random) {
    this.matter = matter;
    this.random = random;
    from = new float[matter.length];
    to = new float[matter.length];
    alpha = new float[matter.length];
    place = new float[matter.length];
    weight = new float[matter.length];
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
    for (int m = 0; m < matter.length; m++) {
      if (!feels[m] || !matter[m].enter(r, 0, far, part)) {
        continue;
      }
      if (matter[m].hasClosedForm()) {
        share *= (float) Math.exp(-matter[m].depth(r, part.from, part.to));
      } else {
        if (!begun) {
          random.stream(key);
          begun = true;
        }
        share *= shares(matter[m], r, part.from, part.to);
      }
    }
    return share;
  }

  private float shares(PreparedMedium m, RayCaster r, float a, float b) {
    float share = 1;
    float top = m.majorant();
    for (float s = a + step(top); s < b; s += step(top)) {
      share *= 1 - m.density(r, s) / top;
      if (share < 1e-4f) {
        return 0;
      }
    }
    return share;
  }

  private float step(float extinction) {
    return (float) -Math.log(1 - random.next()) / extinction;
  }

  /** Returns the medium that scatters or absorbs a ray first before a distance, or -1. */
  public int collide(RayCaster r, float start, float far, boolean[] feels, int key) {
    int first = -1;
    t = far;
    random.stream(key);
    for (int m = 0; m < matter.length; m++) {
      if (!feels[m] || !matter[m].enter(r, start, far, part)) {
        continue;
      }
      float at;
      if (matter[m].hasClosedForm()) {
        at = matter[m].reach(r, part.from, (float) -Math.log(1 - random.next()));
      } else {
        float top = matter[m].majorant();
        at = part.from + step(top);
        while (at < part.to && random.next() * top >= matter[m].density(r, at)) {
          at += step(top);
        }
      }
      if (at < part.to && at < t) {
        t = at;
        first = m;
      }
    }
    return first;
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
    for (int m = 0; m < matter.length; m++) {
      from[m] = to[m] = 0;
      if (sees[m] && matter[m].enter(r, start, end, part)) {
        from[m] = part.from;
        to[m] = Math.min(part.to, part.from + FAR);
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
      walk(r, low, high);
    }
  }

  private void single(RayCaster r, int m, float[] target, boolean has) {
    PreparedMedium medium = matter[m];
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
    float at =
        has && pick < 0.5f
            ? closest + off * (float) Math.tan(thetaA + u * (thetaB - thetaA))
            : medium.reach(r, a, (float) -Math.log1p(-u * alpha[m]));
    at = Math.max(a, Math.min(b, at));
    float kept = medium.density(r, at) * (float) Math.exp(-medium.depth(r, a, at));
    float density = kept / Math.max(1e-20f, alpha[m]);
    if (has) {
      float d = at - closest;
      density = 0.5f * density + 0.5f * off / ((thetaB - thetaA) * (off * off + d * d));
    }
    place[m] = at;
    weight[m] = density > 0 ? kept / density : 0;
  }

  private void walk(RayCaster r, float low, float high) {
    float s = low;
    while (s < high) {
      float top = 0;
      float border = high;
      for (int m = 0; m < matter.length; m++) {
        if (from[m] < to[m]) {
          if (from[m] > s) {
            border = Math.min(border, from[m]);
          } else if (s < to[m]) {
            border = Math.min(border, to[m]);
            top += matter[m].majorant();
          }
        }
      }
      if (top <= 0) {
        s = border;
        continue;
      }
      // more tentative collisions than needed where media are thin: less noise for little
      top = Math.max(top, STEPS / Math.max(1e-6f, Math.min(high - low, 1e6f)));
      float next = s + step(top);
      if (next >= border) {
        s = border;
        continue;
      }
      s = next;
      float taken = 0;
      for (int m = 0; m < matter.length; m++) {
        if (from[m] <= s && s < to[m]) {
          float share = matter[m].density(r, s) / top;
          float got = left * share;
          alpha[m] += got;
          taken += share;
          if (got > 0 && random.next() * alpha[m] < got) {
            place[m] = s;
          }
          weight[m] = alpha[m];
        }
      }
      left *= Math.max(0, 1 - taken);
      if (left < 1e-5f) {
        left = 0;
        return;
      }
    }
  }
}
