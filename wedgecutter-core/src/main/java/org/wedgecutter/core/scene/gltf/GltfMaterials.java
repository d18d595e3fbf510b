package org.wedgecutter.core.scene.gltf;

import static org.wedgecutter.core.scene.gltf.GltfSource.list;

import de.javagl.jgltf.impl.v2.Sampler;
import de.javagl.jgltf.impl.v2.Texture;
import de.javagl.jgltf.impl.v2.TextureInfo;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.TextureRef;

/** The materials of a file; after them stands one plain white for meshes without any. */
final class GltfMaterials {
  private static final int CLAMP_TO_EDGE = 33071;

  private final GltfSource source;
  private final Set<String> unsupported;
  private final List<Material> all = new ArrayList<>();

  GltfMaterials(GltfSource source, Set<String> unsupported) throws InputException {
    this.source = source;
    this.unsupported = unsupported;
    var materials = list(source.gltf.getMaterials());
    for (int i = 0; i < materials.size(); i++) {
      all.add(material(materials.get(i), i));
    }
    all.add(Material.plain("default", Rgb.WHITE));
  }

  List<Material> all() {
    return all;
  }

  private Material material(de.javagl.jgltf.impl.v2.Material m, int index) throws InputException {
    String place = "materials[" + index + "]";
    if (m.getOcclusionTexture() != null) {
      unsupported.add(place + ".occlusionTexture: ignored, since occlusion is traced");
    }
    float strength =
        new Json(m.getExtensions())
            .get("KHR_materials_emissive_strength")
            .get("emissiveStrength")
            .number(1);
    float[] emissive = m.getEmissiveFactor() == null ? new float[3] : m.getEmissiveFactor();
    float[] base = {1, 1, 1, 1};
    float metallic = 1;
    float roughness = 1;
    TextureRef baseTexture = null;
    TextureRef roughTexture = null;
    var pbr = m.getPbrMetallicRoughness();
    if (pbr != null) {
      base = pbr.getBaseColorFactor() == null ? base : pbr.getBaseColorFactor();
      metallic = pbr.getMetallicFactor() == null ? 1 : pbr.getMetallicFactor();
      roughness = pbr.getRoughnessFactor() == null ? 1 : pbr.getRoughnessFactor();
      baseTexture = texture(pbr.getBaseColorTexture(), place + ".baseColorTexture");
      roughTexture =
          texture(pbr.getMetallicRoughnessTexture(), place + ".metallicRoughnessTexture");
    }
    var normal = m.getNormalTexture();
    Material.Draft out =
        new Material.Draft(
            m.getName() == null ? "material" + index : m.getName(),
            new Rgb(unit(base[0]), unit(base[1]), unit(base[2])));
    out.baseColorTexture = baseTexture;
    out.metallic = unit(metallic);
    out.roughness = unit(roughness);
    out.metallicRoughnessTexture = roughTexture;
    out.normalTexture = texture(normal, place + ".normalTexture");
    out.normalScale = normal == null || normal.getScale() == null ? 1 : normal.getScale();
    out.emission = new Rgb(emissive[0], emissive[1], emissive[2]).times(Math.max(0, strength));
    out.emissionTexture = texture(m.getEmissiveTexture(), place + ".emissiveTexture");
    cover(m, base[3], place, out);
    extensions(new Json(m.getExtensions()), place + ".extensions.", out);
    return out.build();
  }

  private void cover(
      de.javagl.jgltf.impl.v2.Material m, float alpha, String place, Material.Draft out)
      throws InputException {
    String mode = m.getAlphaMode() == null ? "OPAQUE" : m.getAlphaMode();
    switch (mode) {
      case "OPAQUE" -> {}
      case "MASK" -> {
        out.opacity = unit(alpha);
        out.cutoff = m.getAlphaCutoff() == null ? 0.5f : Math.max(1e-6f, m.getAlphaCutoff());
        out.fades = true;
      }
      case "BLEND" -> {
        out.opacity = unit(alpha);
        out.fades = true;
      }
      default ->
          throw new InputException(
              source.file,
              place + ".alphaMode",
              "'%s', expected OPAQUE, MASK or BLEND".formatted(mode));
    }
  }

  private void extensions(Json all, String place, Material.Draft out) throws InputException {
    Json specular = all.get("KHR_materials_specular");
    Json ior = all.get("KHR_materials_ior");
    float index = ior.get("ior").number(1.5f);
    // the extension takes 0 for "reflects everything"; so does a very large index
    out.dielectric =
        new Material.Dielectric(
            unit(specular.get("specularFactor").number(1)),
            texture(specular.get("specularTexture"), place + "KHR_materials_specular"),
            rgb(specular.get("specularColorFactor"), 1),
            texture(specular.get("specularColorTexture"), place + "KHR_materials_specular"),
            index == 0 ? 1e4f : Math.max(1, index));
    Json transmission = all.get("KHR_materials_transmission");
    Json volume = all.get("KHR_materials_volume");
    if (transmission.exists()) {
      float distance = volume.get("attenuationDistance").number(Float.POSITIVE_INFINITY);
      if (volume.get("thicknessTexture").exists()) {
        unsupported.add(
            place
                + "KHR_materials_volume.thicknessTexture: ignored, since thickness comes from the shape");
      }
      out.glass =
          new Material.Glass(
              unit(transmission.get("transmissionFactor").number(0)),
              texture(
                  transmission.get("transmissionTexture"), place + "KHR_materials_transmission"),
              volume.get("thicknessFactor").number(0) > 0,
              rgb(volume.get("attenuationColor"), 1),
              distance > 0 ? distance : Float.POSITIVE_INFINITY);
    }
    Json coat = all.get("KHR_materials_clearcoat");
    if (coat.exists()) {
      if (coat.get("clearcoatNormalTexture").exists()) {
        unsupported.add(place + "KHR_materials_clearcoat.clearcoatNormalTexture");
      }
      out.coat =
          new Material.Coat(
              unit(coat.get("clearcoatFactor").number(0)),
              texture(coat.get("clearcoatTexture"), place + "KHR_materials_clearcoat"),
              unit(coat.get("clearcoatRoughnessFactor").number(0)),
              texture(coat.get("clearcoatRoughnessTexture"), place + "KHR_materials_clearcoat"));
    }
    Json sheen = all.get("KHR_materials_sheen");
    if (sheen.exists()) {
      if (sheen.get("sheenRoughnessTexture").exists()) {
        unsupported.add(place + "KHR_materials_sheen.sheenRoughnessTexture");
      }
      out.sheen =
          new Material.Sheen(
              rgb(sheen.get("sheenColorFactor"), 0),
              texture(sheen.get("sheenColorTexture"), place + "KHR_materials_sheen"),
              unit(sheen.get("sheenRoughnessFactor").number(0)));
    }
    out.unlit = all.get("KHR_materials_unlit").exists();
  }

  private static Rgb rgb(Json json, float otherwise) {
    float[] c = json.numbers(otherwise, otherwise, otherwise);
    return new Rgb(unit(c[0]), unit(c[1]), unit(c[2]));
  }

  private static float unit(float value) {
    return Math.max(0, Math.min(1, value));
  }

  private @Nullable TextureRef texture(@Nullable TextureInfo info, String place)
      throws InputException {
    if (info == null) {
      return null;
    }
    return texture(
        info.getIndex(),
        info.getTexCoord() == null ? 0 : info.getTexCoord(),
        new Json(info.getExtensions()).get("KHR_texture_transform"),
        place);
  }

  private @Nullable TextureRef texture(Json info, String place) throws InputException {
    if (!info.exists()) {
      return null;
    }
    return texture(
        (int) info.get("index").number(-1),
        (int) info.get("texCoord").number(0),
        info.get("extensions").get("KHR_texture_transform"),
        place);
  }

  private TextureRef texture(@Nullable Integer index, int set, Json transform, String place)
      throws InputException {
    int used = (int) transform.get("texCoord").number(set);
    if (used != 0) {
      unsupported.add(place + ".texCoord %d: the first set is used".formatted(used));
    }
    Texture texture = source.element(source.gltf.getTextures(), index, place, "textures");
    source.element(
        source.gltf.getImages(), texture.getSource(), "textures[" + index + "].source", "images");
    boolean repeatU = true;
    boolean repeatV = true;
    if (texture.getSampler() != null) {
      Sampler sampler =
          source.element(source.gltf.getSamplers(), texture.getSampler(), place, "samplers");
      repeatU = sampler.getWrapS() == null || sampler.getWrapS() != CLAMP_TO_EDGE;
      repeatV = sampler.getWrapT() == null || sampler.getWrapT() != CLAMP_TO_EDGE;
    }
    return new TextureRef(texture.getSource(), repeatU, repeatV, placing(transform));
  }

  /** Scale, then turn, then shift, as KHR_texture_transform has it. */
  private static TextureRef.@Nullable Placing placing(Json transform) {
    if (!transform.exists()) {
      return null;
    }
    float[] offset = transform.get("offset").numbers(0, 0);
    float[] scale = transform.get("scale").numbers(1, 1);
    double turn = transform.get("rotation").number(0);
    float cos = (float) Math.cos(turn);
    float sin = (float) Math.sin(turn);
    return new TextureRef.Placing(
        cos * scale[0], sin * scale[1], offset[0], -sin * scale[0], cos * scale[1], offset[1]);
  }
}
