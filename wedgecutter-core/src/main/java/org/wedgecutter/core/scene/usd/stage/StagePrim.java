package org.wedgecutter.core.scene.usd.stage;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** A prim as it is on the stage: composed from all layers. Immutable once the stage is open. */
public final class StagePrim {
  private final String path;
  private final String type;
  private final boolean instance;
  final Map<String, Object> fields = new LinkedHashMap<>();
  final Map<String, Property> properties = new LinkedHashMap<>();
  final List<StagePrim> children = new ArrayList<>();
  final Map<String, List<String>> variants = new LinkedHashMap<>();
  final Map<String, String> selections = new LinkedHashMap<>();

  /**
   * A property.
   *
   * @param name with its namespaces
   * @param type of an attribute, as {@code point3f[]}; {@code rel} for a relationship
   * @param value what it is where time does not matter: a Double, Boolean, String, {@link
   *     AssetPath}, {@link Numbers}, or a list or map of these; null if there is none
   * @param samples values by the stage's time codes; empty if it does not change; a null is none
   * @param targets what a relationship or a connection leads to, as absolute paths
   * @param fields what else is said of it
   */
  public record Property(
      String name,
      String type,
      @Nullable Object value,
      TreeMap<Double, Object> samples,
      List<String> targets,
      Map<String, Object> fields) {}

  StagePrim(String path, String type, boolean instance) {
    this.path = path;
    this.type = type;
    this.instance = instance;
  }

  /** Returns its absolute path; empty for the stage's root. */
  public String path() {
    return path;
  }

  /** Returns the last part of its path. */
  public String name() {
    return Paths.name(path);
  }

  /** Returns its type, as {@code Mesh}; empty if it has none. */
  public String type() {
    return type;
  }

  /** Whether it shares all that is below it with others of the same origin. */
  public boolean isInstance() {
    return instance;
  }

  /** Returns its children in order. */
  public List<StagePrim> children() {
    return children;
  }

  /** Returns a child. */
  public Optional<StagePrim> child(String name) {
    return children.stream().filter(c -> c.name().equals(name)).findFirst();
  }

  /** Returns its properties by name, in order. */
  public Map<String, Property> properties() {
    return properties;
  }

  /** Returns what is said of it apart from properties, by name. */
  public Map<String, Object> fields() {
    return fields;
  }

  /** Returns its sets of variants, each with the names of all of them. */
  public Map<String, List<String>> variants() {
    return variants;
  }

  /** Returns the variant of each set that is chosen; none where nobody chose. */
  public Map<String, String> selections() {
    return selections;
  }

  /** Returns the first sample of an attribute, or its value; null if there is neither. */
  public @Nullable Object value(String name) {
    Property p = properties.get(name);
    return p == null ? null : p.samples.isEmpty() ? p.value : p.samples.firstEntry().getValue();
  }

  /** Returns a number, or another one where there is none. */
  public double number(String name, double otherwise) {
    return value(name) instanceof Double d ? d : otherwise;
  }

  /** Returns a truth value, or another one where there is none. */
  public boolean flag(String name, boolean otherwise) {
    Object v = value(name);
    return v instanceof Boolean b ? b : v instanceof Double d ? d != 0 : otherwise;
  }

  /** Returns a text or token, or another one where there is none. */
  public String text(String name, String otherwise) {
    return value(name) instanceof String s ? s : otherwise;
  }

  /** Returns numbers; null where there are none. */
  public double @Nullable [] numbers(String name) {
    return value(name) instanceof Numbers n ? n.doubles() : null;
  }

  /** Returns what a relationship or connection leads to; empty if nowhere. */
  public List<String> targets(String name) {
    Property p = properties.get(name);
    return p == null ? List.of() : p.targets;
  }

  /** Returns the interpolation of a primvar. */
  public String interpolation(String name, String otherwise) {
    Property p = properties.get(name);
    return p != null && p.fields.get("interpolation") instanceof String s ? s : otherwise;
  }
}
