package org.wedgecutter.core.trace.world;

import java.util.BitSet;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TextureRef;

/** The images of a scene, prepared once for each use. */
public final class Textures {
  private final @Nullable MipTexture[] colors;
  private final @Nullable MipTexture[] numbers;

  public Textures(Scene scene) {
    colors = new MipTexture[scene.images().size()];
    numbers = new MipTexture[scene.images().size()];
    BitSet asColors = new BitSet();
    BitSet asNumbers = new BitSet();
    for (Material m : scene.materials()) {
      note(asColors, m.baseColorTexture());
      note(asColors, m.emissionTexture());
      note(asNumbers, m.normalTexture());
      note(asNumbers, m.metallicRoughnessTexture());
      note(asNumbers, m.dielectric().specularTexture());
      note(asColors, m.dielectric().colorTexture());
      note(asNumbers, m.glass().transmissionTexture());
      note(asNumbers, m.coat().strengthTexture());
      note(asNumbers, m.coat().roughnessTexture());
      note(asColors, m.sheen().colorTexture());
    }
    int images = colors.length;
    IntStream.range(0, 2 * images)
        .filter(k -> (k < images ? asColors : asNumbers).get(k % images))
        .parallel()
        .forEach(k -> {
          boolean srgb = k < images;
          (srgb ? colors : numbers)[k % images] =
              new MipTexture(scene.images().get(k % images), srgb);
        });
  }

  private static void note(BitSet uses, @Nullable TextureRef ref) {
    if (ref != null) {
      uses.set(ref.image());
    }
  }

  public MipTexture get(int image, boolean srgb) {
    return Objects.requireNonNull(srgb ? colors[image] : numbers[image]);
  }
}
