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

  /** Says whether it gives off light. */
  public boolean emits() {
    return emission.max() > 0;
  }
}
