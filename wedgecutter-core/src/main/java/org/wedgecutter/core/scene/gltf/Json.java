package org.wedgecutter.core.scene.gltf;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Reads loosely typed JSON of extensions and extras; what is not of the expected sort is absent.
 */
record Json(@Nullable Object value) {
  Json get(String key) {
    return new Json(value instanceof Map<?, ?> map ? map.get(key) : null);
  }

  boolean exists() {
    return value != null;
  }

  float number(float otherwise) {
    return value instanceof Number n && Float.isFinite(n.floatValue()) ? n.floatValue() : otherwise;
  }

  String text(String otherwise) {
    return value instanceof String s ? s : otherwise;
  }

  List<Json> items() {
    return value instanceof List<?> list ? list.stream().<Json>map(Json::new).toList() : List.of();
  }

  float[] numbers(float... otherwise) {
    List<Json> items = items();
    if (items.size() != otherwise.length) {
      return otherwise;
    }
    float[] out = new float[otherwise.length];
    for (int i = 0; i < out.length; i++) {
      out[i] = items.get(i).number(otherwise[i]);
    }
    return out;
  }
}
