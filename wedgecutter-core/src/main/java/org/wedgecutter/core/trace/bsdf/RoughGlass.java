package org.wedgecutter.core.trace.bsdf;

/**
 * Reflection and refraction at rough glass.
 *
 * <p>Facets are those of {@link Microfacet}; each reflects the exact share F of a dielectric and
 * lets 1 - F through. What leaves at once is less than all, the more so the rougher; the loss is
 * compensated by dividing by the share that leaves, tabulated over the cosine to the viewer,
 * roughness and index, so that a glass that absorbs nothing loses no light.
 *
 * <p>Source: B. Walter et al., "Microfacet Models for Refraction through Rough Surfaces", 2007; the
 * division is that of E. Turquin, "Practical multiple scattering compensation for microfacet
 * models", 2019, taken over both sides together.
 */
public final class RoughGlass {
  private static final int COSINES = 24;
  private static final int ROUGHNESSES = 24;
  private static final int INDICES = 25;
  private static final float MAX_LOG = (float) Math.log(3);

  /** Shares by cosine, one slice an index and roughness. */
  private static final LazyTable LEAVES =
      new LazyTable(INDICES * ROUGHNESSES, RoughGlass::tabulate);

  private RoughGlass() {}

  /**
   * Fresnel reflectance of a dielectric, averaged over both polarisations.
   *
   * @param cosine of the angle of incidence, 0 to 1
   * @param eta index beyond by index on the viewer's side
   */
  public static float fresnel(float cosine, float eta) {
    float sin2 = (1 - cosine * cosine) / (eta * eta);
    if (sin2 >= 1) {
      return 1;
    }
    float t = (float) Math.sqrt(1 - sin2);
    float parallel = (eta * cosine - t) / (eta * cosine + t);
    float across = (cosine - eta * t) / (cosine + eta * t);
    return 0.5f * (parallel * parallel + across * across);
  }

  /**
   * Refracts a direction at a facet.
   *
   * @param x direction to the viewer, unit
   * @param h the facet's normal on the viewer's side
   * @param out the direction beyond, unit
   * @return whether there is one
   */
  public static boolean refract(float x, float y, float z, float[] h, float eta, float[] out) {
    float cosine = x * h[0] + y * h[1] + z * h[2];
    float sin2 = (1 - cosine * cosine) / (eta * eta);
    if (cosine <= 0 || sin2 >= 1) {
      return false;
    }
    float k = cosine / eta - (float) Math.sqrt(1 - sin2);
    out[0] = k * h[0] - x / eta;
    out[1] = k * h[1] - y / eta;
    out[2] = k * h[2] - z / eta;
    float inv = 1 / (float) Math.sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2]);
    out[0] *= inv;
    out[1] *= inv;
    out[2] *= inv;
    return out[2] < 0;
  }

  /** Share that leaves at once to either side, 0 to 1. */
  public static float directionalAlbedo(float cosine, float roughness, float eta) {
    float x = (float) Math.sqrt(Math.max(0, Math.min(1, cosine))) * (COSINES - 1);
    float y = Math.max(0, Math.min(1, roughness)) * (ROUGHNESSES - 1);
    float log = (float) Math.log(Math.max(1e-3f, eta)) / MAX_LOG;
    float z = (Math.max(-1, Math.min(1, log)) * 0.5f + 0.5f) * (INDICES - 1);
    int x0 = Math.min(COSINES - 2, (int) x);
    int y0 = Math.min(ROUGHNESSES - 2, (int) y);
    int z0 = Math.min(INDICES - 2, (int) z);
    float sum = 0;
    for (int k = 0; k < 4; k++) {
      int b = y0 + (k & 1);
      int c = z0 + (k >> 1);
      float[] row = LEAVES.get(c * ROUGHNESSES + b);
      float weight = (1 - Math.abs(y - b)) * (1 - Math.abs(z - c));
      sum += weight * (row[x0] + (x - x0) * (row[x0 + 1] - row[x0]));
    }
    return Math.max(0.05f, sum);
  }

  private static float[] tabulate(int slice) {
    float[] row = new float[COSINES];
    float[] h = new float[3];
    float[] beyond = new float[3];
    for (int c = 0; c < COSINES; c++) {
      row[c] = left(c, slice % ROUGHNESSES, slice / ROUGHNESSES, h, beyond);
    }
    return row;
  }

  private static float left(int cosine, int roughness, int index, float[] h, float[] beyond) {
    // facets that lean far are rare, and count: many steps over the lean, few around half a turn
    int turns = 6;
    int leans = 80;
    float root = Math.max(0.3f, cosine) / (COSINES - 1);
    float z = root * root;
    float x = (float) Math.sqrt(Math.max(0, 1 - z * z));
    float rough = roughness / (ROUGHNESSES - 1f);
    float alpha = Math.max(Microfacet.MIN_ALPHA, rough * rough);
    float eta = (float) Math.exp((index / (INDICES - 1f) * 2 - 1) * MAX_LOG);
    double sum = 0;
    for (int i = 0; i < turns * leans; i++) {
      Microfacet.sampleVisible(
          x, 0, z, alpha, 0.5f * (i / leans + 0.5f) / turns, (i % leans + 0.5f) / leans, h);
      float dot = x * h[0] + z * h[2];
      float f = fresnel(Math.max(0, Math.min(1, dot)), eta);
      float wi = 2 * dot * h[2] - z;
      if (wi > 0) {
        sum += f * Microfacet.g2(z, wi, alpha) / Microfacet.g1(z, alpha);
      }
      if (f < 1 && refract(x, 0, z, h, eta, beyond)) {
        sum += (1 - f) * Microfacet.g2(z, -beyond[2], alpha) / Microfacet.g1(z, alpha);
      }
    }
    return (float) (sum / (turns * leans));
  }
}
