package org.wedgecutter.core.scene.usd.stage;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A layer with all that it brings in as sublayers, the strongest first. */
final class LayerStack {
  private final List<Layer> layers;
  private final List<LayerOffset> offsets;

  /**
   * Joins layers.
   *
   * @param layers the first is the one that all others are brought in by
   * @param offsets of each layer's time codes, as those of the first
   */
  LayerStack(List<Layer> layers, List<LayerOffset> offsets) {
    this.layers = List.copyOf(layers);
    this.offsets = List.copyOf(offsets);
  }

  List<Layer> layers() {
    return layers;
  }

  List<LayerOffset> offsets() {
    return offsets;
  }

  Layer root() {
    return layers.getFirst();
  }

  /** Whether any layer says something of a site. */
  boolean says(String site) {
    for (Layer layer : layers) {
      if (layer.at(site) != null) {
        return true;
      }
    }
    return false;
  }

  /** Returns what the strongest layer that has a field says; null if none has. */
  @Nullable Object field(String site, String name) {
    for (Layer layer : layers) {
      PrimSpec spec = layer.at(site);
      Object value = spec == null ? null : spec.fields.get(name);
      if (value != null) {
        return value;
      }
    }
    return null;
  }

  /** Returns a list that its layers edit. */
  <T> List<T> list(String site, String name) {
    List<T> out = new ArrayList<>();
    for (int k = layers.size() - 1; k >= 0; k--) {
      PrimSpec spec = layers.get(k).at(site);
      if (spec != null) {
        out = spec.<T>list(name).over(out);
      }
    }
    return out;
  }
}
