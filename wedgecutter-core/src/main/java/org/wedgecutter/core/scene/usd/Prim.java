package org.wedgecutter.core.scene.usd;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** A prim of a stage, as it was written. Paths are absolute. */
final class Prim {
  final String path;
  final String type;
  final int line;
  final Map<String, Object> metadata = new LinkedHashMap<>();
  final Map<String, Property> properties = new LinkedHashMap<>();
  final List<Prim> children = new ArrayList<>();

  /**
   * A property.
   *
   * @param line where it is
   * @param value a Double, Boolean, String, {@link Numbers}, or a list of these; null if there is
   *     none
   * @param samples values by time code; empty if it does not change
   * @param metadata metadata in parentheses behind it
   */
  record Property(
      int line,
      @Nullable Object value,
      TreeMap<Double, Object> samples,
      Map<String, Object> metadata) {}

  /**
   * A list of numbers or tuples.
   *
   * @param values all of them, tuples one after another
   * @param each how many there are in a tuple; 1 if there are no tuples
   */
  record Numbers(double[] values, int each) {}

  Prim(String path, String type, int line) {
    this.path = path;
    this.type = type;
    this.line = line;
  }

  String name() {
    return path.substring(path.lastIndexOf('/') + 1);
  }

  Optional<Prim> child(String name) {
    return children.stream().filter(c -> c.name().equals(name)).findFirst();
  }

  @Nullable Object value(String name) {
    Property p = properties.get(name);
    return p == null
        ? null
        : p.value == null && !p.samples.isEmpty() ? p.samples.firstEntry().getValue() : p.value;
  }

  double number(String name, double otherwise) {
    return value(name) instanceof Double d ? d : otherwise;
  }

  boolean flag(String name, boolean otherwise) {
    Object v = value(name);
    return v instanceof Boolean b ? b : v instanceof Double d ? d != 0 : otherwise;
  }

  String text(String name, String otherwise) {
    return value(name) instanceof String s ? s : otherwise;
  }

  double @Nullable [] numbers(String name) {
    return value(name) instanceof Numbers n ? n.values : null;
  }

  /** Returns the paths of a relationship or connection; empty if there are none. */
  List<String> targets(String name) {
    Object v = value(name);
    List<String> out = new ArrayList<>();
    if (v instanceof String s) {
      out.add(s);
    } else if (v instanceof List<?> list) {
      for (Object o : list) {
        if (o instanceof String s) {
          out.add(s);
        }
      }
    }
    return out;
  }

  /** Returns the interpolation of a primvar. */
  String interpolation(String name, String otherwise) {
    Property p = properties.get(name);
    return p != null && p.metadata.get("interpolation") instanceof String s ? s : otherwise;
  }
}
