package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.TextureImage;
import org.wedgecutter.core.io.Budget;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.InputFile;
import org.wedgecutter.core.io.SafePath;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.TextureRef;

/** Preview-surface materials of a stage. */
final class UsdMaterials {
  private static final long MAX_MEBIBYTES = 256;
  private final Path file;
  private final Map<String, Prim> byPath;
  private final List<String> unsupported;
  private final Map<String, Integer> numbers = new HashMap<>();
  private final Map<String, Integer> imageNumbers = new HashMap<>();
  final List<Material> all = new ArrayList<>();
  final List<TextureImage> images = new ArrayList<>();
  private final Budget budget;

  UsdMaterials(Path file, Map<String, Prim> byPath, List<String> unsupported) {
    this.file = file;
    budget = Budget.of(file);
    this.byPath = byPath;
    this.unsupported = unsupported;
  }

  /** Returns the number of a bound material; the empty path stands for no binding. */
  int number(String path) throws InputException {
    Integer known = numbers.get(path);
    if (known != null) {
      return known;
    }
    Prim prim = byPath.get(path);
    if (!path.isEmpty() && prim == null) {
      throw new InputException(
          file, path, "a material is bound that does not exist; expected a Material prim");
    }
    all.add(
        prim == null ? Material.plain("default", new Rgb(0.18f, 0.18f, 0.18f)) : material(prim));
    numbers.put(path, all.size() - 1);
    return all.size() - 1;
  }

  /** A material that only emits light. */
  int light(String name, Rgb radiance) {
    all.add(
        Material.plain(name, Rgb.BLACK)
            .with(m -> {
              m.specular(0);
              m.emission = radiance;
            }));
    return all.size() - 1;
  }

  private @Nullable Prim shader(Prim prim, String output) {
    for (String target : prim.targets(output)) {
      Prim found = byPath.get(target.replaceAll("\\.outputs:.*", ""));
      if (found != null) {
        return found;
      }
    }
    return null;
  }

  private Material material(Prim prim) throws InputException {
    Prim s = shader(prim, "outputs:surface.connect");
    if (s == null || !s.text("info:id", "").equals("UsdPreviewSurface")) {
      unsupported.add(prim.path + ": no UsdPreviewSurface");
      return Material.plain(prim.name(), new Rgb(0.18f, 0.18f, 0.18f));
    }
    for (String name : s.properties.keySet()) {
      boolean known =
          List.of(
                  "inputs:diffuseColor",
                  "inputs:emissiveColor",
                  "inputs:metallic",
                  "inputs:roughness",
                  "inputs:opacity",
                  "inputs:opacityThreshold",
                  "inputs:ior",
                  "inputs:clearcoat",
                  "inputs:clearcoatRoughness",
                  "inputs:diffuseColor.connect",
                  "inputs:emissiveColor.connect",
                  "info:id")
              .contains(name);
      if (name.startsWith("inputs:") && !known) {
        unsupported.add(s.path + "." + name);
      }
    }
    TextureRef base = texture(s, "inputs:diffuseColor.connect");
    TextureRef emissive = texture(s, "inputs:emissiveColor.connect");
    Material.Draft out =
        new Material.Draft(
            prim.name(), base != null ? Rgb.WHITE : color(s, "inputs:diffuseColor", 0.18f));
    out.baseColorTexture = base;
    out.metallic = unit(s.number("inputs:metallic", 0));
    out.roughness = unit(s.number("inputs:roughness", 0.5));
    out.opacity = unit(s.number("inputs:opacity", 1));
    out.cutoff = unit(s.number("inputs:opacityThreshold", 0));
    float ior = (float) Math.max(1, s.number("inputs:ior", 1.5));
    out.dielectric = new Material.Dielectric(1, null, Rgb.WHITE, null, ior);
    float coat = unit(s.number("inputs:clearcoat", 0));
    out.coat =
        new Material.Coat(coat, null, unit(s.number("inputs:clearcoatRoughness", 0.01)), null);
    out.emission = emissive != null ? Rgb.WHITE : color(s, "inputs:emissiveColor", 0);
    out.emissionTexture = emissive;
    return out.build();
  }

  private static float unit(double x) {
    return (float) Math.max(0, Math.min(1, x));
  }

  static Rgb color(Prim prim, String name, float otherwise) {
    double[] v = prim.numbers(name);
    return v == null || v.length != 3
        ? new Rgb(otherwise, otherwise, otherwise)
        : new Rgb((float) Math.max(0, v[0]), (float) Math.max(0, v[1]), (float) Math.max(0, v[2]));
  }

  private @Nullable TextureRef texture(Prim surface, String connection) throws InputException {
    Prim t = shader(surface, connection);
    if (t == null) {
      return null;
    }
    String asset = t.text("inputs:file", "");
    if (!t.text("info:id", "").equals("UsdUVTexture") || asset.isEmpty()) {
      unsupported.add(t.path + ": expected a UsdUVTexture with a file");
      return null;
    }
    Integer image = imageNumbers.get(asset);
    if (image == null) {
      image = images.size();
      images.add(image(t, asset));
      imageNumbers.put(asset, image);
    }
    return new TextureRef(
        image,
        t.text("inputs:wrapS", "repeat").equals("repeat"),
        t.text("inputs:wrapT", "repeat").equals("repeat"));
  }

  private TextureImage image(Prim t, String asset) throws InputException {
    Path folder = file.toAbsolutePath().normalize().getParent();
    if (folder == null) {
      throw new InputException(file, "", "not a file");
    }
    Path path = SafePath.inside(folder, asset, file, t.path + ".inputs:file");
    byte[] bytes = InputFile.bytes(path, MAX_MEBIBYTES, file, t.path + ".inputs:file");
    budget.and(path);
    return TextureImage.decode(bytes, asset, file, t.path + ".inputs:file", budget);
  }
}
