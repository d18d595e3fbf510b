package org.wedgecutter.demo;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;

/** The materials that several parts of the shot are made of, and how more are made. */
final class OrreryPaints {
  /** Paintings take seconds each, and scenes share them. */
  private static final Map<String, byte[]> PAINTED = new ConcurrentHashMap<>();

  final int brass;
  final int brassPolished;
  final int brassDark;
  final int graduated;
  final int steel;
  final int walnut;
  final int gold;

  private final Maker maker;

  /** Makes materials and textures. */
  static final class Maker {
    private final GlbWriter glb;

    Maker(GlbWriter glb) {
      this.glb = glb;
    }

    int textured(
        String name,
        int color,
        int roughMetal,
        double r,
        double g,
        double b,
        double metallic,
        double roughness) {
      ObjectNode m = glb.material(name, r, g, b, metallic, roughness);
      if (color >= 0) {
        GlbWriter.pbr(m).putObject("baseColorTexture").put("index", color);
      }
      if (roughMetal >= 0) {
        GlbWriter.pbr(m).putObject("metallicRoughnessTexture").put("index", roughMetal);
      }
      return glb.lastMaterial();
    }

    int jpeg(String name, Supplier<byte[]> painting) {
      return glb.texture(name, PAINTED.computeIfAbsent(name, n -> painting.get()), "image/jpeg");
    }
  }

  int textured(
      String name,
      int color,
      int roughMetal,
      double r,
      double g,
      double b,
      double metallic,
      double roughness) {
    return maker.textured(name, color, roughMetal, r, g, b, metallic, roughness);
  }

  /**
   * Adds a painting to the scene.
   *
   * @param name its own: what was painted under it before is taken again
   */
  int jpeg(String name, Supplier<byte[]> painting) {
    return maker.jpeg(name, painting);
  }

  OrreryPaints(GlbWriter glb) {
    maker = new Maker(glb);
    int wear = jpeg("brass wear", Paint::brassWear);
    int brassColor = jpeg("brass colour", Paint::brassColor);
    brass = textured("brass", brassColor, wear, 1, 1, 1, 1, 0.52);
    brassPolished = textured("brass polished", brassColor, wear, 1, 1, 1, 1, 0.30);
    brassDark = textured("brass dark", brassColor, wear, 0.50, 0.42, 0.36, 1, 0.62);
    graduated =
        textured("brass graduated", jpeg("graduation", Paint::graduation), wear, 1, 1, 1, 1, 0.5);
    steel = textured("steel", -1, wear, 0.62, 0.63, 0.66, 1, 0.42);
    gold = textured("gold", -1, -1, 1.0, 0.76, 0.33, 1, 0.16);
    walnut =
        textured(
            "walnut polished",
            jpeg("walnut", Paint::walnut),
            jpeg("varnish", Paint::varnish),
            1,
            1,
            1,
            1,
            0.44);
  }
}
