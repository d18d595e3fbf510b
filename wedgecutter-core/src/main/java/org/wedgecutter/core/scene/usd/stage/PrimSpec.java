package org.wedgecutter.core.scene.usd.stage;

import java.util.LinkedHashMap;
import java.util.Map;

/** What one layer says of a prim or of a variant; that of its root holds the layer's own fields. */
final class PrimSpec {
  /** What a layer says that a prim is. */
  enum Specifier {
    DEF,
    OVER,
    CLASS
  }

  final String name;
  Specifier specifier = Specifier.OVER;
  String type = "";

  /**
   * What is said of it, by the names that the crate form has: {@code references} and {@code
   * payload} are a {@link ListOp} of {@link Reference}, {@code inheritPaths} and {@code
   * specializes} one of paths, {@code variantSetNames} one of names, {@code variantSelection} a
   * map, {@code subLayers} a list of {@link SubLayer}.
   */
  final Map<String, Object> fields = new LinkedHashMap<>();

  final Map<String, PropertySpec> properties = new LinkedHashMap<>();
  final Map<String, PrimSpec> children = new LinkedHashMap<>();

  /** Variants by the set's name and their own. */
  final Map<String, Map<String, PrimSpec>> variants = new LinkedHashMap<>();

  /** A weaker layer that a layer brings in. */
  record SubLayer(String asset, LayerOffset offset) {}

  PrimSpec(String name) {
    this.name = name;
  }

  /** Returns the edits of a list; none if it is not there, or is not a list. */
  @SuppressWarnings("unchecked")
  <T> ListOp<T> list(String field) {
    return fields.get(field) instanceof ListOp<?> op ? (ListOp<T>) op : ListOp.none();
  }
}
