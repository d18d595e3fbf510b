package org.wedgecutter.core.trace;

/**
 * The surface at a hit: its frame and how it scatters light in a diffuse and a specular lobe.
 * Filled anew for each hit; one object serves one thread at one depth of a path.
 *
 * <p>The model is glTF 2.0's metal and roughness, a mixture of a metal, which is a GGX lobe of its
 * colour, and of a dielectric, which is a GGX lobe of reflectance 0.04 over a Lambertian lobe that
 * gets what the first lets through. Directions point away from the surface; {@code cos} is to the
 * shading normal.
 */
final class Surface {
  /** Place in the world. */
  float px;

  float py;
  float pz;

  /** Geometric normal on the side of the eye, unit. */
  float gx;

  float gy;
  float gz;

  /** Shading normal, unit, and two tangents that make it a frame. */
  float nx;

  float ny;
  float nz;
  private float sx;
  private float sy;
  private float sz;
  private float tx;
  private float ty;
  private float tz;

  /** Direction to the eye in the frame. */
  private float ox;

  private float oy;
  private float oz;

  /** Direction to the eye in the world. */
  float wx;

  float wy;
  float wz;

  /** Entity that was hit. */
  int entity;

  /** Emitted radiance. */
  final float[] emission = new float[3];

  /** Diffuse albedo, with what the specular lobe leaves of it. */
  final float[] diffuse = new float[3];

  /** Specular reflectance at normal incidence, with what further reflections give back. */
  private final float[] normal = new float[3];

  /** The same at grazing incidence. */
  private final float[] grazing = new float[3];

  float alpha;
  private float roughness;

  /** Chance of picking the specular lobe. */
  float specularChance;

  /** Whether there is a lobe of either kind. */
  boolean hasDiffuse;

  boolean hasSpecular;

  /** Direction picked last, in the world, and its density over solid angle within its lobe. */
  float ix;

  float iy;
  float iz;
  float pdf;

  /** Value times cosine of the lobe asked for last. */
  final float[] value = new float[3];

  private final float[] half = new float[3];

  /**
   * Makes the frame from the shading normal and the direction to the eye (both unit, same side).
   */
  void frame(float nx, float ny, float nz) {
    this.nx = nx;
    this.ny = ny;
    this.nz = nz;
    // T. Duff et al., "Building an Orthonormal Basis, Revisited", JCGT 6(1), 2017
    float sign = Math.copySign(1f, nz);
    float a = -1 / (sign + nz);
    float b = nx * ny * a;
    sx = 1 + sign * nx * nx * a;
    sy = sign * b;
    sz = -sign * nx;
    tx = b;
    ty = sign + ny * ny * a;
    tz = -ny;
    ox = wx * sx + wy * sy + wz * sz;
    oy = wx * tx + wy * ty + wz * tz;
    oz = Math.max(1e-4f, wx * nx + wy * ny + wz * nz);
  }

  /** Sets the lobes. {@code roughness} is perceptual; {@code minAlpha} widens what is narrower. */
  void lobes(float[] base, float metallic, float roughness, float specularity, float minAlpha) {
    alpha = Math.max(Math.max(Microfacets.MIN_ALPHA, minAlpha), roughness * roughness);
    this.roughness = (float) Math.sqrt(alpha);
    float a = Microfacets.shareA(oz, this.roughness);
    float b = Microfacets.shareB(oz, this.roughness);
    float loss = Math.max(0, 1 - a - b) / Math.max(1e-4f, a + b);
    float glass = 0.04f * specularity;
    float glassGain = 1 + glass * loss;
    float glassShare = Math.min(1, (glass * a + specularity * b) * glassGain);
    float specular = 0;
    for (int c = 0; c < 3; c++) {
      float metalGain = 1 + base[c] * loss;
      normal[c] = metallic * base[c] * metalGain + (1 - metallic) * glass * glassGain;
      grazing[c] = metallic * metalGain + (1 - metallic) * specularity * glassGain;
      specular += normal[c] * a + grazing[c] * b;
    }
    float body = 0;
    for (int c = 0; c < 3; c++) {
      diffuse[c] = base[c] * (1 - metallic) * (1 - glassShare);
      body += diffuse[c];
    }
    hasDiffuse = body > 0;
    hasSpecular = specular > 0;
    float chance = specular / Math.max(1e-9f, specular + body);
    specularChance = !hasDiffuse ? 1 : !hasSpecular ? 0 : Math.max(0.1f, Math.min(0.9f, chance));
  }

  /** Sets {@link #value} and {@link #pdf} of the diffuse lobe for a world direction. */
  void evaluateDiffuse(float x, float y, float z) {
    float cos = x * nx + y * ny + z * nz;
    pdf = 0;
    value[0] = value[1] = value[2] = 0;
    if (cos <= 0 || x * gx + y * gy + z * gz <= 0) {
      return;
    }
    pdf = cos * INV_PI;
    for (int c = 0; c < 3; c++) {
      value[c] = diffuse[c] * pdf;
    }
  }

  private static final float INV_PI = (float) (1 / Math.PI);

  /** Sets {@link #value} and {@link #pdf} of the specular lobe for a world direction. */
  void evaluateSpecular(float x, float y, float z) {
    pdf = 0;
    value[0] = value[1] = value[2] = 0;
    float iz = x * nx + y * ny + z * nz;
    if (iz <= 0 || x * gx + y * gy + z * gz <= 0) {
      return;
    }
    float ix = x * sx + y * sy + z * sz;
    float iy = x * tx + y * ty + z * tz;
    float hx = ox + ix;
    float hy = oy + iy;
    float hz = oz + iz;
    float inv = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
    specular(iz, hz * inv, (ox * hx + oy * hy + oz * hz) * inv);
  }

  private void specular(float iz, float hz, float dot) {
    float d = Microfacets.density(Math.min(1, hz), alpha);
    float common = d / (4 * oz);
    pdf = common * Microfacets.seen(oz, alpha);
    float kept = common * Microfacets.seenBoth(oz, iz, alpha);
    float power = Microfacets.fresnelPower(dot);
    for (int c = 0; c < 3; c++) {
      value[c] = kept * (normal[c] + (grazing[c] - normal[c]) * power);
    }
  }

  /** Picks a direction of the diffuse lobe; says whether there is one. */
  boolean sampleDiffuse(float u, float v) {
    float r = (float) Math.sqrt(u);
    float phi = 2 * (float) Math.PI * v;
    float x = r * (float) Math.cos(phi);
    float y = r * (float) Math.sin(phi);
    float z = (float) Math.sqrt(Math.max(0, 1 - u));
    toWorld(x, y, z);
    evaluateDiffuse(ix, iy, iz);
    return pdf > 0;
  }

  /** Picks a direction of the specular lobe; says whether there is one. */
  boolean sampleSpecular(float u, float v) {
    Microfacets.sampleVisible(ox, oy, oz, alpha, u, v, half);
    float dot = ox * half[0] + oy * half[1] + oz * half[2];
    float x = 2 * dot * half[0] - ox;
    float y = 2 * dot * half[1] - oy;
    float z = 2 * dot * half[2] - oz;
    pdf = 0;
    if (z <= 0 || dot <= 0) {
      return false;
    }
    toWorld(x, y, z);
    if (ix * gx + iy * gy + iz * gz <= 0) {
      return false;
    }
    specular(z, half[2], dot);
    return pdf > 0;
  }

  private void toWorld(float x, float y, float z) {
    ix = x * sx + y * tx + z * nx;
    iy = x * sy + y * ty + z * ny;
    iz = x * sz + y * tz + z * nz;
  }
}
