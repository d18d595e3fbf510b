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
  private final Set<String> notUnderstood;
  private final List<Material> all = new ArrayList<>();

  GltfMaterials(GltfSource source, Set<String> notUnderstood) throws InputException {
    this.source = source;
    this.notUnderstood = notUnderstood;
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
    if (m.getAlphaMode() != null && !m.getAlphaMode().equals("OPAQUE")) {
      notUnderstood.add(place + ".alphaMode " + m.getAlphaMode() + ": taken as opaque");
    }
    if (m.getOcclusionTexture() != null) {
      notUnderstood.add(place + ".occlusionTexture: occlusion is traced, not painted");
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
    return new Material(
        m.getName() == null ? "material" + index : m.getName(),
        new Rgb(unit(base[0]), unit(base[1]), unit(base[2])),
        baseTexture,
        unit(metallic),
        unit(roughness),
        roughTexture,
        unit(specular(m, place)),
        texture(normal, place + ".normalTexture"),
        normal == null || normal.getScale() == null ? 1 : normal.getScale(),
        new Rgb(emissive[0], emissive[1], emissive[2]).times(Math.max(0, strength)),
        texture(m.getEmissiveTexture(), place + ".emissiveTexture"));
  }

  /** KHR_materials_specular: its factor is understood, its colour and textures are not. */
  private float specular(de.javagl.jgltf.impl.v2.Material m, String place) {
    Json extension = new Json(m.getExtensions()).get("KHR_materials_specular");
    for (String key :
        new String[] {"specularTexture", "specularColorFactor", "specularColorTexture"}) {
      if (extension.get(key).exists()) {
        notUnderstood.add(place + ".extensions.KHR_materials_specular." + key);
      }
    }
    return extension.get("specularFactor").number(1);
  }

  private static float unit(float value) {
    return Math.max(0, Math.min(1, value));
  }

  private @Nullable TextureRef texture(@Nullable TextureInfo info, String place)
      throws InputException {
    if (info == null) {
      return null;
    }
    if (info.getTexCoord() != null && info.getTexCoord() != 0) {
      notUnderstood.add(
          place + ".texCoord %d: the first set is used".formatted(info.getTexCoord()));
    }
    Texture texture = source.element(source.gltf.getTextures(), info.getIndex(), place, "textures");
    source.element(
        source.gltf.getImages(),
        texture.getSource(),
        "textures[" + info.getIndex() + "].source",
        "images");
    boolean repeatU = true;
    boolean repeatV = true;
    if (texture.getSampler() != null) {
      Sampler sampler =
          source.element(source.gltf.getSamplers(), texture.getSampler(), place, "samplers");
      repeatU = sampler.getWrapS() == null || sampler.getWrapS() != CLAMP_TO_EDGE;
      repeatV = sampler.getWrapT() == null || sampler.getWrapT() != CLAMP_TO_EDGE;
    }
    return new TextureRef(texture.getSource(), repeatU, repeatV);
  }
}
