package org.wedgecutter.core.scene.usd.stage;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** A layer as one file holds it, whatever the form of the file. */
final class Layer {
  /** Its file. */
  final AssetId id;

  final PrimSpec root;
  private final Map<String, PrimSpec> sites = new HashMap<>();

  Layer(AssetId id, PrimSpec root) {
    this.id = id;
    this.root = root;
    sites.put("", root);
    index("", root);
  }

  private void index(String path, PrimSpec spec) {
    spec.children.forEach((name, child) -> {
      String at = path + "/" + name;
      sites.put(at, child);
      index(at, child);
    });
    spec.variants.forEach((set, all) ->
        all.forEach((name, variant) -> {
          String at = Paths.variant(path, set, name);
          sites.put(at, variant);
          index(at, variant);
        }));
  }

  /** Returns what it says of a site; null if nothing. */
  @Nullable PrimSpec at(String site) {
    return sites.get(site);
  }

  /** Returns the prim that stands for the layer where none is named; empty if there is none. */
  String defaultPrim() {
    if (!(root.fields.get("defaultPrim") instanceof String s) || s.isEmpty()) {
      return "";
    }
    return s.startsWith("/") ? s : "/" + s;
  }

  /** Returns how many time codes a second has; as {@code timeCodesPerSecond}, else the frames. */
  double timeCodesPerSecond() {
    for (String name : List.of("timeCodesPerSecond", "framesPerSecond")) {
      if (root.fields.get(name) instanceof Double d && d > 0 && Double.isFinite(d)) {
        return d;
      }
    }
    return 24;
  }

  @SuppressWarnings("unchecked")
  List<PrimSpec.SubLayer> subLayers() {
    return root.fields.get("subLayers") instanceof List<?> l
        ? (List<PrimSpec.SubLayer>) l
        : List.of();
  }
}
