package org.wedgecutter.core.trace;

import java.util.LinkedHashSet;
import java.util.Objects;
import java.util.Set;
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
    Set<Use> uses = new LinkedHashSet<>();
    for (Material m : scene.materials()) {
      note(uses, m.baseColorTexture(), true);
      note(uses, m.emissionTexture(), true);
      note(uses, m.normalTexture(), false);
      note(uses, m.metallicRoughnessTexture(), false);
      note(uses, m.dielectric().specularTexture(), false);
      note(uses, m.dielectric().colorTexture(), true);
      note(uses, m.glass().transmissionTexture(), false);
      note(uses, m.coat().strengthTexture(), false);
      note(uses, m.coat().roughnessTexture(), false);
      note(uses, m.sheen().colorTexture(), true);
    }
    uses.parallelStream()
        .forEach(u ->
            (u.srgb ? colors : numbers)[u.image] =
                new MipTexture(scene.images().get(u.image), u.srgb));
  }

  private static void note(Set<Use> uses, @Nullable TextureRef ref, boolean srgb) {
    if (ref != null) {
      uses.add(new Use(ref.image(), srgb));
    }
  }

  private record Use(int image, boolean srgb) {}

  MipTexture get(int image, boolean srgb) {
    return Objects.requireNonNull(srgb ? colors[image] : numbers[image]);
  }
}
