package org.wedgecutter.core.trace;

/**
 * The sheen of cloth: light scattered by fibres that stand on the surface.
 *
 * <p>Sources: A. Estevez and C. Kulla, "Production Friendly Microfacet Sheen BRDF", 2017 (the
 * distribution); KHR_materials_sheen (its use over a base, which gets what the fibres leave).
 */
final class Fibres {
  private static final int SIZE = 32;
  private static final float[] SHARE = new float[SIZE * SIZE];

  /** Makes the table if it is not there yet. */
  static void prepare() {
    float _ = share(1, 1);
  }

  static {
    tabulate();
  }

  private Fibres() {}

  /** Value for white fibres, without the cosine. */
  static float value(float hz, float oz, float iz, float roughness) {
    float alpha = Math.max(0.07f, roughness * roughness);
    float sine = (float) Math.sqrt(Math.max(0, 1 - hz * hz));
    float d = (2 + 1 / alpha) * (float) Math.pow(sine, 1 / alpha) / (2 * (float) Math.PI);
    return d / (4 * Math.max(1e-4f, oz + iz - oz * iz));
  }

  /** Share of even light that white fibres send to a direction, 0 to 1. */
  static float share(float cosine, float roughness) {
    float x = Math.max(0, Math.min(1, cosine)) * (SIZE - 1);
    float y = Math.max(0, Math.min(1, roughness)) * (SIZE - 1);
    int x0 = Math.min(SIZE - 2, (int) x);
    int y0 = Math.min(SIZE - 2, (int) y);
    float fx = x - x0;
    float fy = y - y0;
    int at = y0 * SIZE + x0;
    float low = SHARE[at] + fx * (SHARE[at + 1] - SHARE[at]);
    float high = SHARE[at + SIZE] + fx * (SHARE[at + SIZE + 1] - SHARE[at + SIZE]);
    return low + fy * (high - low);
  }

  private static void tabulate() {
    int steps = 32;
    for (int r = 0; r < SIZE; r++) {
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
          sum += value(hz / length, oz, z, r / (SIZE - 1f)) * Math.PI;
        }
        SHARE[r * SIZE + c] = (float) Math.min(1, sum / (steps * steps));
      }
    }
  }
}
