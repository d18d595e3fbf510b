package org.wedgecutter.core.trace.bsdf;

/**
 * The sheen of cloth: light scattered by fibres that stand on the surface.
 *
 * <p>Sources: A. Estevez and C. Kulla, "Production Friendly Microfacet Sheen BRDF", 2017 (the
 * distribution); KHR_materials_sheen (its use over a base, which gets what the fibres leave).
 */
public final class Sheen {
  private static final int SIZE = 32;

  /** Shares of cosines, one slice a roughness. */
  private static final LazyTable SHARE = new LazyTable(SIZE, Sheen::albedoTable);

  private Sheen() {}

  /** Value for white fibres, without the cosine. */
  static float evaluate(float hz, float oz, float iz, float roughness) {
    float alpha = Math.max(0.07f, roughness * roughness);
    float sine = (float) Math.sqrt(Math.max(0, 1 - hz * hz));
    float d = (2 + 1 / alpha) * (float) Math.pow(sine, 1 / alpha) / (2 * (float) Math.PI);
    return d / (4 * Math.max(1e-4f, oz + iz - oz * iz));
  }

  /** Share of even light that white fibres send to a direction, 0 to 1. */
  public static float directionalAlbedo(float cosine, float roughness) {
    float x = Math.max(0, Math.min(1, cosine)) * (SIZE - 1);
    float y = Math.max(0, Math.min(1, roughness)) * (SIZE - 1);
    int x0 = Math.min(SIZE - 2, (int) x);
    int y0 = Math.min(SIZE - 2, (int) y);
    float fx = x - x0;
    float fy = y - y0;
    float[] smooth = SHARE.get(y0);
    float[] rough = SHARE.get(y0 + 1);
    float low = smooth[x0] + fx * (smooth[x0 + 1] - smooth[x0]);
    float high = rough[x0] + fx * (rough[x0 + 1] - rough[x0]);
    return low + fy * (high - low);
  }

  private static float[] albedoTable(int r) {
    float[] out = new float[SIZE];
    int steps = 32;
    for (int c = 0; c < SIZE; c++) {
      float oz = Math.max(0.01f, c / (SIZE - 1f));
      float ox = (float) Math.sqrt(Math.max(0, 1 - oz * oz));
      double sum = 0;
      for (int i = 0; i < steps * steps; i++) {
        // cosine-weighted directions: value times pi
        float radius = (float) Math.sqrt((i / steps + 0.5f) / steps);
        double phi = 2 * Math.PI * (i % steps + 0.5f) / steps;
        float x = radius * (float) Math.cos(phi);
        float y = radius * (float) Math.sin(phi);
        float z = (float) Math.sqrt(Math.max(0, 1 - radius * radius));
        float hx = ox + x;
        float hz = oz + z;
        float length = (float) Math.sqrt(hx * hx + y * y + hz * hz);
        sum += evaluate(hz / length, oz, z, r / (SIZE - 1f)) * Math.PI;
      }
      out[c] = (float) Math.min(1, sum / (steps * steps));
    }
    return out;
  }
}
