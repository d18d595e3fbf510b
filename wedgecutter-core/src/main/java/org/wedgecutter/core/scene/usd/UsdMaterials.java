package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.TextureImage;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.TextureRef;
import org.wedgecutter.core.scene.usd.stage.AssetId;
import org.wedgecutter.core.scene.usd.stage.AssetPath;
import org.wedgecutter.core.scene.usd.stage.Assets;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/** Preview-surface materials of a stage. */
final class UsdMaterials {
  private static final long MAX_MEBIBYTES = 256;
  private final Path file;
  private final Map<String, StagePrim> byPath;
  private final List<String> unsupported;
  private final Map<String, Integer> numbers = new HashMap<>();
  private final Map<String, Integer> imageNumbers = new HashMap<>();
  final List<Material> all = new ArrayList<>();
  final List<String> missing = new ArrayList<>();
  final List<TextureImage> images = new ArrayList<>();
  private final Assets assets;

  UsdMaterials(Path file, Map<String, StagePrim> byPath, Assets assets, List<String> unsupported) {
    this.file = file;
    this.assets = assets;
    this.byPath = byPath;
    this.unsupported = unsupported;
  }

  /** Returns the number of a bound material; the empty path stands for no binding. */
  int number(String path) throws InputException {
    Integer known = numbers.get(path);
    if (known != null) {
      return known;
    }
    StagePrim prim = path.isEmpty() ? null : byPath.get(path);
    if (!path.isEmpty() && prim == null) {
      missing.add(path + ": a material is bound that does not exist; grey instead");
    }
    all.add(
        prim == null ? Material.plain("default", new Rgb(0.18f, 0.18f, 0.18f)) : material(prim));
    numbers.put(path, all.size() - 1);
    return all.size() - 1;
  }

  /**
   * Returns the number of a white material for meshes with colours of their own.
   *
   * @param fading whether the colours have opacity
   */
  int ofColors(boolean fading) {
    return numbers.computeIfAbsent(
        fading ? " fading colours" : " colours",
        k -> {
          all.add(
              Material.plain("display colours", Rgb.WHITE)
                  .with(m -> {
                    m.roughness = 0.5f;
                    m.fades = fading;
                  }));
          return all.size() - 1;
        });
  }

  /** Returns the name of the texture coordinates that a bound material's images are laid by. */
  String coordinates(String path) {
    StagePrim prim = path.isEmpty() ? null : byPath.get(path);
    StagePrim surface = prim == null ? null : shader(prim, "outputs:surface");
    if (surface != null) {
      for (String input : surface.properties().keySet()) {
        StagePrim texture = shader(surface, input);
        StagePrim reader = texture == null ? null : coordinatesOf(texture);
        if (reader != null) {
          String name = reader.text("inputs:varname", "");
          if (name.isEmpty() && !reader.targets("inputs:varname").isEmpty()) {
            // a name that the material itself tells
            String from = reader.targets("inputs:varname").getFirst();
            int dot = from.lastIndexOf('.');
            StagePrim teller = dot < 0 ? null : byPath.get(from.substring(0, dot));
            name = teller == null ? "" : teller.text(from.substring(dot + 1), "");
          }
          if (!name.isEmpty()) {
            return name;
          }
        }
      }
    }
    return "st";
  }

  /** What reads the coordinates of a texture, perhaps through a transform. */
  private @Nullable StagePrim coordinatesOf(StagePrim texture) {
    StagePrim from = shader(texture, "inputs:st");
    return from != null && from.text("info:id", "").equals("UsdTransform2d")
        ? shader(from, "inputs:in")
        : from;
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

  private @Nullable StagePrim shader(StagePrim prim, String output) {
    for (String target : prim.targets(output)) {
      StagePrim found = byPath.get(target.replaceAll("\\.outputs:.*", ""));
      if (found != null) {
        return found;
      }
    }
    return null;
  }

  private Material material(StagePrim prim) throws InputException {
    StagePrim s = shader(prim, "outputs:surface");
    if (s == null || !s.text("info:id", "").equals("UsdPreviewSurface")) {
      unsupported.add(prim.path() + ": no UsdPreviewSurface");
      return Material.plain(prim.name(), new Rgb(0.18f, 0.18f, 0.18f));
    }
    for (String name : s.properties().keySet()) {
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
                  "info:id")
              .contains(name);
      if (name.startsWith("inputs:") && !known) {
        unsupported.add(s.path() + "." + name);
      }
    }
    TextureRef base = texture(s, "inputs:diffuseColor");
    TextureRef emissive = texture(s, "inputs:emissiveColor");
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

  static Rgb color(StagePrim prim, String name, float otherwise) {
    double[] v = prim.numbers(name);
    return v == null || v.length != 3
        ? new Rgb(otherwise, otherwise, otherwise)
        : new Rgb((float) Math.max(0, v[0]), (float) Math.max(0, v[1]), (float) Math.max(0, v[2]));
  }

  private @Nullable TextureRef texture(StagePrim surface, String connection) throws InputException {
    StagePrim t = shader(surface, connection);
    if (t == null) {
      return null;
    }
    if (!t.text("info:id", "").equals("UsdUVTexture")
        || !(t.value("inputs:file") instanceof AssetPath asset)) {
      unsupported.add(t.path() + ": expected a UsdUVTexture with a file");
      return null;
    }
    String key = asset.from() + " " + asset.written();
    Integer image = imageNumbers.get(key);
    if (image == null) {
      TextureImage read = image(t, asset);
      if (read == null) {
        return null;
      }
      image = images.size();
      images.add(read);
      imageNumbers.put(key, image);
    }
    return new TextureRef(
        image,
        t.text("inputs:wrapS", "repeat").equals("repeat"),
        t.text("inputs:wrapT", "repeat").equals("repeat"));
  }

  /** Reads an image; a missing one is reported, and the rest is read. */
  private @Nullable TextureImage image(StagePrim t, AssetPath asset) throws InputException {
    String place = t.path() + ".inputs:file";
    AssetId id = null;
    String why = "not found";
    try {
      AssetId from = Objects.requireNonNull(asset.from());
      id = assets.find(asset.written(), from).orElse(null);
    } catch (InputException e) {
      why = e.reason();
    }
    if (id == null) {
      missing.add("%s: @%s@ %s".formatted(place, asset.written(), why));
      return null;
    }
    byte[] bytes = assets.bytes(id, MAX_MEBIBYTES, file, place);
    return TextureImage.decode(bytes, asset.written(), file, place, assets.budget());
  }
}
