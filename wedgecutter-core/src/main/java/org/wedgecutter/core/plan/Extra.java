package org.wedgecutter.core.plan;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * What stood in a part of a plan file under keys that this version does not know; written back as
 * it was.
 */
public record Extra(Map<String, JsonNode> values) {
  /** Nothing. */
  public static final Extra NONE = new Extra(Map.of());

  public Extra {
    values = Collections.unmodifiableMap(new LinkedHashMap<>(values));
  }
}
