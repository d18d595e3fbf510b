package org.wedgecutter.core.trace.bsdf;

/**
 * The GGX distribution of microfacets, its sampling by visible normals, and how much light it
 * reflects.
 *
 * <p>One reflection off a rough surface loses what would leave after two or more. The loss is
 * compensated by scaling the lobe by {@code 1 + F0 (1 - E) / E}, with E the share that leaves at
 * once from a surface of perfect mirrors, so that a white surface in white light stays white.
 *
 * <p>Sources: B. Walter et al., "Microfacet Models for Refraction through Rough Surfaces", 2007; E.
 * Heitz, "Understanding the Masking-Shadowing Function in Microfacet-Based BRDFs", 2014; J. Dupuy
 * and A. Benyoub, "Sampling Visible GGX Normals with Spherical Caps", 2023; E. Turquin, "Practical
 * multiple scattering compensation for microfacet models", 2019; R. Schlick, "An Inexpensive BRDF
 * Model for Physically-based Rendering", 1994.
 */
public final class Microfacet {
  /** Below this width the float numbers of the distribution would lose their meaning. */
  static final float MIN_ALPHA = 1e-3f;

  private static final int SIZE = 48;

  /**
   * Reflected share is {@code F0 * a + b}: one slice a roughness, a over the root of the cosine,
   * then b.
   */
  private static final LazyTable SHARES = new LazyTable(SIZE, Microfacet::albedoTables);

  private Microfacet() {}

  /** Density of microfacet normals, for the cosine of their angle to the surface's normal. */
  public static float ndf(float cosine, float alpha) {
    float a2 = alpha * alpha;
    // 1 - c^2 + a^2 c^2, written so that it does not cancel for narrow lobes
    float c2 = cosine * cosine;
    float d = (1 - c2) + a2 * c2;
    return a2 / ((float) Math.PI * d * d);
  }

  private static float lambda(float cosine, float alpha) {
    float c2 = cosine * cosine;
    float tan2 = Math.max(0, 1 - c2) / Math.max(c2, 1e-12f);
    return 0.5f * ((float) Math.sqrt(1 + alpha * alpha * tan2) - 1);
  }

  /** Masking: the share of facets seen from a direction (G1). */
  public static float g1(float cosine, float alpha) {
    return 1 / (1 + lambda(cosine, alpha));
  }

  /** Masking and shadowing: the share of facets seen from both directions (G2). */
  static float g2(float cosineA, float cosineB, float alpha) {
    return 1 / (1 + lambda(cosineA, alpha) + lambda(cosineB, alpha));
  }

  /** The fifth power of Schlick's Fresnel approximation. */
  static float fresnelPower(float cosine) {
    float m = Math.max(0, 1 - cosine);
    float m2 = m * m;
    return m2 * m2 * m;
  }

  /**
   * Samples a visible normal.
   *
   * @param x local direction to the viewer, unit, z along the surface's normal, z above 0
   * @param out three numbers
   */
  public static void sampleVisible(
      float x, float y, float z, float alpha, float u, float v, float[] out) {
    // stretch to the sphere of width 1
    float sx = alpha * x;
    float sy = alpha * y;
    float inv = 1 / (float) Math.sqrt(sx * sx + sy * sy + z * z);
    sx *= inv;
    sy *= inv;
    float sz = z * inv;
    // a point on the cap of directions that reflect upwards
    float phi = 2 * (float) Math.PI * u;
    float cz = (1 - v) * (1 + sz) - sz;
    float sine = (float) Math.sqrt(Math.max(0, 1 - cz * cz));
    float hx = sine * (float) Math.cos(phi) + sx;
    float hy = sine * (float) Math.sin(phi) + sy;
    float hz = cz + sz;
    hx *= alpha;
    hy *= alpha;
    inv = 1 / (float) Math.sqrt(Math.max(1e-30f, hx * hx + hy * hy + hz * hz));
    out[0] = hx * inv;
    out[1] = hy * inv;
    out[2] = Math.max(hz * inv, 1e-6f);
  }

  /** Slope of the reflected share over F0. */
  public static float albedoScale(float cosine, float roughness) {
    return lookup(0, cosine, roughness);
  }

  /** Reflected share at F0 = 0: what only grazing light gives. */
  public static float albedoBias(float cosine, float roughness) {
    return lookup(SIZE, cosine, roughness);
  }

  private static float lookup(int from, float cosine, float roughness) {
    float x = (float) Math.sqrt(Math.max(0, Math.min(1, cosine))) * (SIZE - 1);
    float y = Math.max(0, Math.min(1, roughness)) * (SIZE - 1);
    int x0 = Math.min(SIZE - 2, (int) x);
    int y0 = Math.min(SIZE - 2, (int) y);
    float fx = x - x0;
    float fy = y - y0;
    int at = from + x0;
    float[] smooth = SHARES.get(y0);
    float[] rough = SHARES.get(y0 + 1);
    float low = smooth[at] + fx * (smooth[at + 1] - smooth[at]);
    float high = rough[at] + fx * (rough[at + 1] - rough[at]);
    return low + fy * (high - low);
  }

  private static float[] albedoTables(int roughness) {
    // facets that lean far are rare, and count: many steps over the lean, few around half a turn
    int turns = 6;
    int leans = 48;
    float[] out = new float[2 * SIZE];
    float[] h = new float[3];
    float rough = roughness / (SIZE - 1f);
    float alpha = Math.max(MIN_ALPHA, rough * rough);
    for (int c = 0; c < SIZE; c++) {
      float root = Math.max(0.3f, c) / (SIZE - 1);
      float z = root * root;
      float x = (float) Math.sqrt(Math.max(0, 1 - z * z));
      double a = 0;
      double b = 0;
      for (int i = 0; i < turns * leans; i++) {
        float u = 0.5f * (i / leans + 0.5f) / turns;
        float v = (i % leans + 0.5f) / leans;
        sampleVisible(x, 0, z, alpha, u, v, h);
        float dot = x * h[0] + z * h[2];
        float wi = 2 * dot * h[2] - z;
        if (wi > 0) {
          double kept = g2(z, wi, alpha) / g1(z, alpha);
          double fresnel = fresnelPower(dot);
          a += kept * (1 - fresnel);
          b += kept * fresnel;
        }
      }
      out[c] = (float) (a / (turns * leans));
      out[SIZE + c] = (float) (b / (turns * leans));
    }
    return out;
  }
}
