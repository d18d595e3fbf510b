package org.wedgecutter.core.scene.usd.stage;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** What one layer says of an attribute or a relationship. */
final class PropertySpec {
  /** What stands for no value, and hides those of weaker layers. */
  enum Blocked {
    NONE
  }

  /** A value that hides those of weaker layers. */
  static final Object BLOCKED = Blocked.NONE;

  final String name;
  String type = "";
  boolean relationship;

  /**
   * A Double, Boolean, String, {@link AssetPath}, {@link Numbers}, a list or map of these, or
   * {@link #BLOCKED}; null if it says none.
   */
  @Nullable Object value;

  /** Values by time code, without null. */
  final TreeMap<Double, Object> samples = new TreeMap<>();

  /** Targets or connections, absolute paths in the layer. */
  @Nullable ListOp<String> targets;

  final Map<String, Object> fields = new LinkedHashMap<>();

  PropertySpec(String name) {
    this.name = name;
  }
}
