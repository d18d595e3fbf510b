package org.wedgecutter.core.scene;

import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * A surface of the metal and roughness model of glTF 2.0 and its open extensions.
 *
 * @param name for rules and users
 * @param baseColor linear red, green, blue in 0..1: the diffuse albedo, or the metal's colour
 * @param baseColorTexture sRGB image that multiplies it; its alpha multiplies the opacity
 * @param opacity cover of the surface, 0 (nothing there) to 1
 * @param cutoff for a surface with holes: cover below this is none, all other is full; 0 means that
 *     the cover is taken as it stands
 * @param fades whether the alpha of the texture and of vertices is cover
 * @param metallic 0 (dielectric) to 1 (metal)
 * @param roughness 0 to 1, perceptual: the microfacet width is its square
 * @param metallicRoughnessTexture linear image; green multiplies roughness, blue multiplies
 *     metallic
 * @param dielectric how the dielectric part reflects
 * @param normalTexture linear tangent-space normals
 * @param normalScale how strongly they tilt
 * @param emission linear radiance in the scene's unit of light, strength included
 * @param emissionTexture sRGB image that multiplies it
 * @param glass transmission
 * @param coat a clear layer over all
 * @param sheen fibres over all
 * @param unlit whether it shows its base colour regardless of light, and lights nothing
 */
public record Material(
    String name,
    Rgb baseColor,
    @Nullable TextureRef baseColorTexture,
    float opacity,
    float cutoff,
    boolean fades,
    float metallic,
    float roughness,
    @Nullable TextureRef metallicRoughnessTexture,
    Dielectric dielectric,
    @Nullable TextureRef normalTexture,
    float normalScale,
    Rgb emission,
    @Nullable TextureRef emissionTexture,
    Glass glass,
    Coat coat,
    Sheen sheen,
    boolean unlit) {

  /**
   * Reflection of the dielectric part (KHR_materials_specular, KHR_materials_ior).
   *
   * @param specular strength, 0 (none at all) to 1 (as of its index of refraction)
   * @param specularTexture linear image whose alpha multiplies the strength
   * @param color factor on the reflection at normal incidence
   * @param colorTexture sRGB image that multiplies it
   * @param ior index of refraction, 1 or more
   */
  public record Dielectric(
      float specular,
      @Nullable TextureRef specularTexture,
      Rgb color,
      @Nullable TextureRef colorTexture,
      float ior) {
    /** Of index 1.5, as glTF 2.0 has it. */
    public static final Dielectric PLAIN = new Dielectric(1, null, Rgb.WHITE, null, 1.5f);

    /** Returns the reflectance at normal incidence without factors. */
    public float reflectance() {
      float r = (ior - 1) / (ior + 1);
      return r * r;
    }
  }

  /**
   * Transmission (KHR_materials_transmission, KHR_materials_volume).
   *
   * @param transmission share of the light under the reflection that goes through, 0 to 1
   * @param transmissionTexture linear image whose red multiplies it
   * @param thick whether there is a body behind the surface, in which light is refracted and
   *     absorbed; else the surface is a thin wall and light goes straight on
   * @param attenuation colour that white light has after {@code distance} in the body
   * @param distance metres; infinity means clear
   */
  public record Glass(
      float transmission,
      @Nullable TextureRef transmissionTexture,
      boolean thick,
      Rgb attenuation,
      float distance) {
    /** Nothing goes through. */
    public static final Glass NONE = new Glass(0, null, false, Rgb.WHITE, Float.POSITIVE_INFINITY);
  }

  /**
   * A clear layer of index 1.5 over all (KHR_materials_clearcoat).
   *
   * @param strength 0 to 1
   * @param strengthTexture linear image whose red multiplies it
   * @param roughness 0 to 1, perceptual
   * @param roughnessTexture linear image whose green multiplies it
   */
  public record Coat(
      float strength,
      @Nullable TextureRef strengthTexture,
      float roughness,
      @Nullable TextureRef roughnessTexture) {
    /** No coat. */
    public static final Coat NONE = new Coat(0, null, 0, null);
  }

  /**
   * Fibres over all (KHR_materials_sheen).
   *
   * @param color strength by channel, 0 to 1
   * @param colorTexture sRGB image that multiplies it
   * @param roughness 0 to 1, perceptual
   */
  public record Sheen(Rgb color, @Nullable TextureRef colorTexture, float roughness) {
    /** No fibres. */
    public static final Sheen NONE = new Sheen(Rgb.BLACK, null, 0);
  }

  /** What a surface without a material has: white, rough, no metal, as glTF 2.0 demands. */
  public static Material plain(String name, Rgb baseColor) {
    return new Draft(name, baseColor).build();
  }

  /** Returns it with changes. */
  public Material with(Consumer<Draft> changes) {
    Draft draft = new Draft(this);
    changes.accept(draft);
    return draft.build();
  }

  /** Whether it emits light. */
  public boolean emits() {
    return emission.max() > 0;
  }

  /** Whether a ray may go straight on through a part of it. */
  public boolean isPartlyTransparent() {
    return opacity < 1 || fades || cutoff > 0 || isThinGlass();
  }

  /** Whether it is a thin wall that light goes straight through. */
  public boolean isThinGlass() {
    return glass.transmission > 0 && !glass.thick && metallic < 1;
  }

  /** A builder of materials; begins with the plain one. */
  public static final class Draft {
    public String name;
    public Rgb baseColor;
    public @Nullable TextureRef baseColorTexture;
    public float opacity = 1;
    public float cutoff;
    public boolean fades;
    public float metallic;
    public float roughness = 1;
    public @Nullable TextureRef metallicRoughnessTexture;
    public Dielectric dielectric = Dielectric.PLAIN;
    public @Nullable TextureRef normalTexture;
    public float normalScale = 1;
    public Rgb emission = Rgb.BLACK;
    public @Nullable TextureRef emissionTexture;
    public Glass glass = Glass.NONE;
    public Coat coat = Coat.NONE;
    public Sheen sheen = Sheen.NONE;
    public boolean unlit;

    /** A white or coloured rough surface. */
    public Draft(String name, Rgb baseColor) {
      this.name = name;
      this.baseColor = baseColor;
    }

    private Draft(Material m) {
      name = m.name;
      baseColor = m.baseColor;
      baseColorTexture = m.baseColorTexture;
      opacity = m.opacity;
      cutoff = m.cutoff;
      fades = m.fades;
      metallic = m.metallic;
      roughness = m.roughness;
      metallicRoughnessTexture = m.metallicRoughnessTexture;
      dielectric = m.dielectric;
      normalTexture = m.normalTexture;
      normalScale = m.normalScale;
      emission = m.emission;
      emissionTexture = m.emissionTexture;
      glass = m.glass;
      coat = m.coat;
      sheen = m.sheen;
      unlit = m.unlit;
    }

    /** Sets the strength of the dielectric's reflection. */
    public void specular(float strength) {
      dielectric =
          new Dielectric(
              strength,
              dielectric.specularTexture,
              dielectric.color,
              dielectric.colorTexture,
              dielectric.ior);
    }

    /** Returns the material. */
    public Material build() {
      return new Material(
          name,
          baseColor,
          baseColorTexture,
          opacity,
          cutoff,
          fades,
          metallic,
          roughness,
          metallicRoughnessTexture,
          dielectric,
          normalTexture,
          normalScale,
          emission,
          emissionTexture,
          glass,
          coat,
          sheen,
          unlit);
    }
  }
}
