package org.wedgecutter.core.plan;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;

/** Unknown keys of a part of a plan file with their values; written back unchanged. */
public record Extra(Map<String, JsonNode> values) {
  /** No unknown keys. */
  public static final Extra NONE = new Extra(Map.of());

  public Extra {
    values = Collections.unmodifiableMap(new LinkedHashMap<>(values));
  }
}
