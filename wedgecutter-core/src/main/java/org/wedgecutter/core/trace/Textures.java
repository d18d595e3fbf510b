package org.wedgecutter.core.trace;

import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TextureRef;

/** The images of a scene, made ready once for each way they are used. */
final class Textures {
  private final @Nullable MipTexture[] colors;
  private final @Nullable MipTexture[] numbers;

  Textures(Scene scene) {
    colors = new MipTexture[scene.images().size()];
    numbers = new MipTexture[scene.images().size()];
    for (Material m : scene.materials()) {
      load(scene, m.baseColorTexture(), true);
      load(scene, m.emissionTexture(), true);
      load(scene, m.normalTexture(), false);
      load(scene, m.metallicRoughnessTexture(), false);
      load(scene, m.dielectric().specularTexture(), false);
      load(scene, m.dielectric().colorTexture(), true);
      load(scene, m.glass().transmissionTexture(), false);
      load(scene, m.coat().strengthTexture(), false);
      load(scene, m.coat().roughnessTexture(), false);
      load(scene, m.sheen().colorTexture(), true);
    }
  }

  private void load(Scene scene, @Nullable TextureRef ref, boolean srgb) {
    @Nullable MipTexture[] all = srgb ? colors : numbers;
    if (ref != null && all[ref.image()] == null) {
      all[ref.image()] = new MipTexture(scene.images().get(ref.image()), srgb);
    }
  }

  MipTexture get(int image, boolean srgb) {
    return Objects.requireNonNull(srgb ? colors[image] : numbers[image]);
  }
}
