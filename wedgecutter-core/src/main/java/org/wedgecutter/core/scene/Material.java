package org.wedgecutter.core.scene;

import org.jspecify.annotations.Nullable;

/**
 * A surface of the metal and roughness model of glTF 2.0.
 *
 * @param name for rules and people
 * @param baseColor linear red, green, blue in 0..1: the diffuse albedo, or the metal's colour
 * @param baseColorTexture sRGB image that multiplies it
 * @param metallic 0 (dielectric) to 1 (metal)
 * @param roughness 0 to 1, perceptual: the microfacet width is its square
 * @param metallicRoughnessTexture linear image; green multiplies roughness, blue multiplies
 *     metallic
 * @param specular strength of a dielectric's reflection, 0 (none at all) to 1 (as of glass); metals
 *     take no notice
 * @param normalTexture linear tangent-space normals
 * @param normalScale how strongly they tilt
 * @param emission linear radiance in the scene's unit of light, strength included
 * @param emissionTexture sRGB image that multiplies it
 */
public record Material(
    String name,
    Rgb baseColor,
    @Nullable TextureRef baseColorTexture,
    float metallic,
    float roughness,
    @Nullable TextureRef metallicRoughnessTexture,
    float specular,
    @Nullable TextureRef normalTexture,
    float normalScale,
    Rgb emission,
    @Nullable TextureRef emissionTexture) {

  /** What a surface without a material has: white, rough, no metal, as glTF 2.0 demands. */
  public static Material plain(String name, Rgb baseColor) {
    return new Material(name, baseColor, null, 0, 1, null, 1, null, 1, Rgb.BLACK, null);
  }

  /** Returns it with another base colour and what paints it. */
  public Material withBaseColor(Rgb next, @Nullable TextureRef texture) {
    return new Material(
        name,
        next,
        texture,
        metallic,
        roughness,
        metallicRoughnessTexture,
        specular,
        normalTexture,
        normalScale,
        emission,
        emissionTexture);
  }

  /**
   * Returns it with another roughness.
   *
   * @param plain whether no texture has a say in roughness and metal any more
   */
  public Material withRoughness(float next, boolean plain) {
    return new Material(
        name,
        baseColor,
        baseColorTexture,
        metallic,
        next,
        plain ? null : metallicRoughnessTexture,
        specular,
        normalTexture,
        normalScale,
        emission,
        emissionTexture);
  }

  /**
   * Returns it as more or less of a metal.
   *
   * @param plain whether no texture has a say in roughness and metal any more
   */
  public Material withMetallic(float next, boolean plain) {
    return new Material(
        name,
        baseColor,
        baseColorTexture,
        next,
        roughness,
        plain ? null : metallicRoughnessTexture,
        specular,
        normalTexture,
        normalScale,
        emission,
        emissionTexture);
  }

  /** Returns it with another strength of a dielectric's reflection. */
  public Material withSpecular(float next) {
    return new Material(
        name,
        baseColor,
        baseColorTexture,
        metallic,
        roughness,
        metallicRoughnessTexture,
        next,
        normalTexture,
        normalScale,
        emission,
        emissionTexture);
  }

  /** Returns it with another emission and what paints it. */
  public Material withEmission(Rgb next, @Nullable TextureRef texture) {
    return new Material(
        name,
        baseColor,
        baseColorTexture,
        metallic,
        roughness,
        metallicRoughnessTexture,
        specular,
        normalTexture,
        normalScale,
        next,
        texture);
  }

  /** Says whether it gives off light. */
  public boolean emits() {
    return emission.max() > 0;
  }
}
