package org.wedgecutter.core.trace.bsdf;

/**
 * The surface at a hit: its frame and how it scatters light. Refilled for each hit; one object
 * serves one thread at one depth of a path.
 *
 * <p>Light is scattered by three kinds of lobes, told apart because entities may be visible to one
 * and not to another: diffuse (Lambert), specular (facets, coat, fibres) and transmission. The
 * model is glTF 2.0's metal and roughness with its extensions: a mixture of a metal, of an opaque
 * dielectric (facets over Lambert, which gets what they let through) and of glass; over it a coat,
 * and over that fibres, each passing on all but the share that it reflects. Glass is a thin wall,
 * which light goes straight through (blurred when rough), or the skin of a body, at which it is
 * refracted.
 *
 * <p>Directions point away from the surface; {@code cos} is to the shading normal.
 */
public final class Surface extends SurfacePoint {
  /** Kinds of lobes. */
  public static final int DIFFUSE = 0;

  public static final int SPECULAR = 1;
  public static final int TRANSMISSION = 2;

  /** Below this width a thin wall is clear: light goes straight on. */
  private static final float CLEAR_ALPHA = 0.0026f;

  private static final float INV_PI = (float) (1 / Math.PI);

  /** Direction to the viewer in the frame. */
  private float ox;

  private float oy;
  private float oz;

  /** Light that goes straight on through a thin clear wall, of what is covered. */
  public final float[] straight = new float[3];

  public boolean isStraight;

  /** Diffuse albedo, with what the specular lobes leave of it. */
  final float[] diffuse = new float[3];

  /** Specular reflectance at normal incidence, with what further reflections give back. */
  private final float[] normal = new float[3];

  /** The same at grazing incidence. */
  private final float[] grazing = new float[3];

  /** Absorption in the body of glass, per metre; and whether there is a body. */
  public final float[] absorption = new float[3];

  public boolean thick;

  private final float[] tint = new float[3];
  private float glass;
  private float eta;
  private float glassGain;
  private float wallGain;

  private float coat;
  private float coatAlpha;
  private float coatGain;
  private final float[] sheen = new float[3];
  private float sheenRoughness;
  private float coatPart;
  private float sheenPart;

  public float alpha;

  /** Probability of picking each kind of lobe; they add up to 1. */
  public final float[] chance = new float[3];

  /** Direction picked last, in the world, and its density over solid angle within its lobe. */
  public float ix;

  public float iy;
  public float iz;
  public float pdf;

  /** Whether the direction picked last has no density: emitters must be met to be found. */
  public boolean isDelta;

  /** Value times cosine of the lobe asked for last. */
  public final float[] value = new float[3];

  private final float[] half = new float[3];
  private final float[] beyond = new float[3];

  /** What a surface is made of at a place. */
  static final class Paint {
    final float[] base = new float[3];
    final float[] specularColor = new float[3];
    final float[] sheenColor = new float[3];
    public final float[] absorption = new float[3];
    float metallic;
    float roughness;
    float specularity;
    float reflectance;
    float ior;
    float transmission;
    public boolean thick;
    float coat;
    float coatRoughness;
    float sheenRoughness;
    boolean unlit;
  }

  /**
   * Makes the frame from the shading normal and the direction to the viewer (both unit, same side).
   */
  void frame(float nx, float ny, float nz) {
    this.nx = nx;
    this.ny = ny;
    this.nz = nz;
    frame.about(nx, ny, nz);
    ox = frame.s(wx, wy, wz);
    oy = frame.t(wx, wy, wz);
    oz = Math.max(1e-4f, wx * nx + wy * ny + wz * nz);
  }

  /** Sets the lobes. {@code minAlpha} widens what is narrower. */
  void lobes(Paint p, float minAlpha) {
    if (p.unlit) {
      unlit(p);
      return;
    }
    alpha = Math.max(Math.max(Microfacet.MIN_ALPHA, minAlpha), p.roughness * p.roughness);
    float roughness = (float) Math.sqrt(alpha);
    float a = Microfacet.albedoScale(oz, roughness);
    float b = Microfacet.albedoBias(oz, roughness);
    float loss = Math.max(0, 1 - a - b) / Math.max(1e-4f, a + b);
    float metal = p.metallic;
    float opaque = (1 - metal) * (1 - p.transmission);
    glass = (1 - metal) * p.transmission;
    thick = p.thick && glass > 0;
    isStraight = false;
    // thin walls reflect as opaque dielectrics do; bodies by their own lobe
    float facets = thick ? opaque : 1 - metal;
    float specular = 0;
    float share = 0;
    for (int c = 0; c < 3; c++) {
      float metalGain = 1 + p.base[c] * loss;
      float f0 = Math.min(1, p.reflectance * p.specularColor[c]) * p.specularity;
      float gain = 1 + f0 * loss;
      normal[c] = metal * p.base[c] * metalGain + facets * f0 * gain;
      grazing[c] = metal * metalGain + facets * p.specularity * gain;
      specular += normal[c] * a + grazing[c] * b;
      share = Math.max(share, Math.min(1, (f0 * a + p.specularity * b) * gain));
    }
    float body = 0;
    for (int c = 0; c < 3; c++) {
      diffuse[c] = p.base[c] * opaque * (1 - share);
      tint[c] = glass * p.base[c];
      straight[c] = 0;
      absorption[c] = p.absorption[c];
      body += diffuse[c];
    }
    float through = 0;
    if (thick) {
      eta = inside ? 1 / p.ior : p.ior;
      glassGain = 1 / RoughGlass.directionalAlbedo(oz, roughness, eta);
      if (inside) {
        // no light reaches the inner side but by its own rays: one lobe goes either way
        glassGain = 0;
        through = 3 * glass;
      } else {
        float reflected = RoughGlass.fresnel(Math.min(1, oz), eta);
        specular += 3 * glass * reflected;
        through = (tint[0] + tint[1] + tint[2]) * (1 - reflected);
      }
    } else if (glass > 0) {
      isStraight = alpha < CLEAR_ALPHA;
      for (int c = 0; c < 3; c++) {
        tint[c] *= 1 - share;
        straight[c] = isStraight ? tint[c] : 0;
      }
      wallGain = 1 / Math.max(1e-4f, a + b);
      through = tint[0] + tint[1] + tint[2];
    }
    layers(p, body, specular, through);
  }

  /** Adds coat and fibres over what was set. */
  private void layers(Paint p, float body, float specular, float through) {
    float under = 1;
    coat = p.coat;
    float coatShare = 0;
    if (coat > 0) {
      coatAlpha = Math.max(Microfacet.MIN_ALPHA, p.coatRoughness * p.coatRoughness);
      float rough = (float) Math.sqrt(coatAlpha);
      float a = Microfacet.albedoScale(oz, rough);
      float b = Microfacet.albedoBias(oz, rough);
      coatGain = 1 + COAT_F0 * Math.max(0, 1 - a - b) / Math.max(1e-4f, a + b);
      coatShare = coat * (COAT_F0 * a + b) * coatGain;
      under *= 1 - coatShare;
    }
    float most = 0;
    float sheenShare = 0;
    for (int c = 0; c < 3; c++) {
      sheen[c] = p.sheenColor[c];
      most = Math.max(most, sheen[c]);
    }
    if (most > 0) {
      sheenRoughness = p.sheenRoughness;
      sheenShare = Sheen.directionalAlbedo(oz, sheenRoughness);
      under *= 1 - most * sheenShare;
      coatShare *= 1 - most * sheenShare;
      coatGain *= 1 - most * sheenShare;
    }
    if (under < 1) {
      for (int c = 0; c < 3; c++) {
        normal[c] *= under;
        grazing[c] *= under;
        diffuse[c] *= under;
        tint[c] *= under;
        straight[c] *= under;
      }
      glass *= under;
      body *= under;
      specular *= under;
      through *= under;
    }
    float over = 3 * coatShare + 3 * most * sheenShare;
    float all = specular + over;
    coatPart = all > 0 ? 3 * coatShare / all : 0;
    sheenPart = all > 0 ? 3 * most * sheenShare / all : 0;
    pick(body, all, through);
  }

  private static final float COAT_F0 = 0.04f;

  /** Probabilities in proportion to albedo, with a minimum for each lobe. */
  private void pick(float body, float specular, float through) {
    float sum = body + specular + through;
    chance[DIFFUSE] = body > 0 ? Math.max(0.1f, body / sum) : 0;
    chance[SPECULAR] = specular > 0 ? Math.max(0.1f, specular / sum) : 0;
    chance[TRANSMISSION] = through > 0 ? Math.max(0.1f, through / sum) : 0;
    float total = chance[DIFFUSE] + chance[SPECULAR] + chance[TRANSMISSION];
    for (int k = 0; k < 3; k++) {
      chance[k] = total > 0 ? chance[k] / total : 0;
    }
  }

  private void unlit(Paint p) {
    for (int c = 0; c < 3; c++) {
      emission[c] += p.base[c];
      diffuse[c] = normal[c] = grazing[c] = tint[c] = straight[c] = sheen[c] = 0;
      chance[c] = 0;
    }
    glass = coat = coatPart = sheenPart = 0;
    thick = false;
    isStraight = false;
    alpha = 1;
  }

  /**
   * Removes straight transmission through a thin wall from the lobes: the camera segment follows
   * it.
   */
  public void withoutStraight() {
    if (isStraight && chance[TRANSMISSION] > 0) {
      float rest = 1 - chance[TRANSMISSION];
      chance[TRANSMISSION] = 0;
      for (int k = 0; k < 2; k++) {
        chance[k] = rest > 0 ? chance[k] / rest : 0;
      }
    }
  }

  /** Whether light from a point on an emitter can be taken by a kind of lobe. */
  public boolean takes(int kind) {
    return chance[kind] > 0 && (kind != TRANSMISSION || (!thick && !isStraight));
  }

  /** Sets {@link #value} and {@link #pdf} of a kind of lobe for a world direction. */
  public void evaluate(int kind, float x, float y, float z) {
    pdf = 0;
    value[0] = value[1] = value[2] = 0;
    float cos = x * nx + y * ny + z * nz;
    float side = x * gx + y * gy + z * gz;
    if (kind == TRANSMISSION) {
      if (cos < 0 && side < 0) {
        wall(frame.s(x, y, z), frame.t(x, y, z), -cos);
      }
      return;
    }
    if (cos <= 0 || side <= 0) {
      return;
    }
    if (kind == DIFFUSE) {
      pdf = cos * INV_PI;
      for (int c = 0; c < 3; c++) {
        value[c] = diffuse[c] * pdf;
      }
    } else {
      specular(frame.s(x, y, z), frame.t(x, y, z), cos);
    }
  }

  /** A rough thin wall: the reflected lobe of a white surface, on the other side. */
  private void wall(float lx, float ly, float lz) {
    float hx = ox + lx;
    float hy = oy + ly;
    float hz = oz + lz;
    float inv = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
    float common = Microfacet.ndf(Math.min(1, hz * inv), alpha) / (4 * oz);
    pdf = common * Microfacet.g1(oz, alpha);
    float kept = common * Microfacet.g2(oz, lz, alpha) * wallGain;
    for (int c = 0; c < 3; c++) {
      value[c] = kept * tint[c];
    }
  }

  private void specular(float lx, float ly, float lz) {
    float hx = ox + lx;
    float hy = oy + ly;
    float hz = oz + lz;
    float inv = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
    hz = Math.min(1, hz * inv);
    float dot = (ox * hx + oy * hy + oz * (oz + lz)) * inv;
    float common = Microfacet.ndf(hz, alpha) / (4 * oz);
    float base = common * Microfacet.g1(oz, alpha);
    float kept = common * Microfacet.g2(oz, lz, alpha);
    float power = Microfacet.fresnelPower(dot);
    float body = 0;
    if (thick) {
      body = kept * glass * glassGain * RoughGlass.fresnel(Math.min(1, dot), eta);
    }
    for (int c = 0; c < 3; c++) {
      value[c] = body + kept * (normal[c] + (grazing[c] - normal[c]) * power);
    }
    pdf = base * (1 - coatPart - sheenPart);
    if (coatPart > 0) {
      float over = Microfacet.ndf(hz, coatAlpha) / (4 * oz);
      pdf += coatPart * over * Microfacet.g1(oz, coatAlpha);
      float v =
          coat
              * coatGain
              * (COAT_F0 + (1 - COAT_F0) * power)
              * over
              * Microfacet.g2(oz, lz, coatAlpha);
      for (int c = 0; c < 3; c++) {
        value[c] += v;
      }
    }
    if (sheenPart > 0) {
      pdf += sheenPart * lz * INV_PI;
      float v = Sheen.evaluate(hz, oz, lz, sheenRoughness) * lz;
      for (int c = 0; c < 3; c++) {
        value[c] += sheen[c] * v;
      }
    }
  }

  /**
   * Samples a direction of a kind of lobe; returns whether there is one.
   *
   * @param w a third random number, which picks among lobes of the kind
   */
  public boolean sample(int kind, float u, float v, float w) {
    isDelta = false;
    return switch (kind) {
      case DIFFUSE -> sampleCosine(u, v, DIFFUSE);
      case SPECULAR ->
          w < sheenPart
              ? sampleCosine(u, v, SPECULAR)
              : sampleMicrofacet(u, v, w < sheenPart + coatPart);
      default -> sampleThrough(u, v, w);
    };
  }

  private boolean sampleCosine(float u, float v, int kind) {
    float r = (float) Math.sqrt(u);
    float phi = 2 * (float) Math.PI * v;
    float z = (float) Math.sqrt(Math.max(0, 1 - u));
    toWorld(r * (float) Math.cos(phi), r * (float) Math.sin(phi), z);
    evaluate(kind, ix, iy, iz);
    return pdf > 0;
  }

  private boolean sampleMicrofacet(float u, float v, boolean ofCoat) {
    Microfacet.sampleVisible(ox, oy, oz, ofCoat ? coatAlpha : alpha, u, v, half);
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
    specular(x, y, z);
    return pdf > 0;
  }

  private boolean sampleThrough(float u, float v, float w) {
    if (isStraight) {
      ix = -wx;
      iy = -wy;
      iz = -wz;
      isDelta = true;
      pdf = 1;
      System.arraycopy(straight, 0, value, 0, 3);
      return true;
    }
    Microfacet.sampleVisible(ox, oy, oz, alpha, u, v, half);
    float dot = Math.min(1, ox * half[0] + oy * half[1] + oz * half[2]);
    if (!thick) {
      float z = 2 * dot * half[2] - oz;
      if (z <= 0) {
        return false;
      }
      toWorld(2 * dot * half[0] - ox, 2 * dot * half[1] - oy, -z);
      evaluate(TRANSMISSION, ix, iy, iz);
      return pdf > 0;
    }
    if (inside) {
      return sampleEither(dot, w);
    }
    if (!RoughGlass.refract(ox, oy, oz, half, eta, beyond)) {
      return false;
    }
    toWorld(beyond[0], beyond[1], beyond[2]);
    if (ix * gx + iy * gy + iz * gz >= 0) {
      return false;
    }
    // bodies are found by their refracted rays alone, so a density is of no use
    isDelta = true;
    pdf = 1;
    float kept =
        (1 - RoughGlass.fresnel(dot, eta))
            * glassGain
            * Microfacet.g2(oz, -beyond[2], alpha)
            / Microfacet.g1(oz, alpha);
    for (int c = 0; c < 3; c++) {
      value[c] = kept * tint[c];
    }
    return true;
  }

  /**
   * From inside a body: a facet reflects or lets through, and what would go to the wrong side of
   * the surface is turned to the other, so that no light is lost however often it is thrown back.
   */
  private boolean sampleEither(float dot, float w) {
    float f = RoughGlass.fresnel(dot, eta);
    boolean back = w < f || !refracts();
    if (back) {
      float z = 2 * dot * half[2] - oz;
      toWorld(2 * dot * half[0] - ox, 2 * dot * half[1] - oy, Math.max(1e-4f, Math.abs(z)));
    } else {
      toWorld(beyond[0], beyond[1], Math.min(-1e-4f, -Math.abs(beyond[2])));
    }
    float side = ix * gx + iy * gy + iz * gz;
    if (back != side > 0) {
      // the shading normal leans: mirrored at the real surface
      ix -= 2 * side * gx;
      iy -= 2 * side * gy;
      iz -= 2 * side * gz;
    }
    isDelta = true;
    pdf = 1;
    for (int c = 0; c < 3; c++) {
      value[c] = back ? glass : tint[c];
    }
    return true;
  }

  /** Whether the direction picked last goes into the body. */
  public boolean isInward() {
    return (ix * gx + iy * gy + iz * gz > 0) == inside;
  }

  private boolean refracts() {
    float cosine = ox * half[0] + oy * half[1] + oz * half[2];
    RoughGlass.refract(ox, oy, oz, half, eta, beyond);
    return cosine > 0 && (1 - cosine * cosine) / (eta * eta) < 1;
  }

  private void toWorld(float x, float y, float z) {
    ix = frame.x(x, y, z);
    iy = frame.y(x, y, z);
    iz = frame.z(x, y, z);
  }
}
