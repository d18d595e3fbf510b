package org.wedgecutter.core.scene.usd.stage;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;

/**
 * Reads the text form of OpenUSD (.usda) into a layer. It knows the grammar, not the meaning: any
 * type of prim and any property is kept.
 */
final class TextLayer {
  private static final int MAX_DEPTH = 256;
  private static final int MAX_PRIMS = 2_000_000;
  private static final Set<String> SPECIFIERS = Set.of("def", "over", "class");
  private static final Set<String> EDITS = Set.of("prepend", "append", "delete", "add", "reorder");
  private static final Set<String> QUALIFIERS = Set.of("custom", "uniform", "varying", "config");

  /** Fields whose name in the text is another than that in the crate form. */
  private static final Map<String, String> NAMES =
      Map.of(
          "inherits", "inheritPaths",
          "variantSets", "variantSetNames",
          "variants", "variantSelection",
          "doc", "documentation");

  private final TextValues in;
  private int prims;

  private TextLayer(String text, Path file) {
    in = new TextValues(text, file);
  }

  /**
   * Reads a layer.
   *
   * @param file for messages
   * @return the spec that stands for the layer; its fields are the layer's
   * @throws InputException with file, line and expectation
   */
  static PrimSpec read(String text, Path file) throws InputException {
    return new TextLayer(text, file).layer();
  }

  private PrimSpec layer() throws InputException {
    if (!in.isNext("#usda ")) {
      throw in.wrong("expected '#usda 1.0' at the beginning");
    }
    PrimSpec root = new PrimSpec("");
    if (in.peek() == '(') {
      metadata(root.fields, "");
    }
    while (in.peek() != 0) {
      if (in.takes(';')) {
        continue;
      }
      String word = in.word();
      if (word.equals("reorder")) {
        order(root);
      } else if (SPECIFIERS.contains(word)) {
        prim(root, word, "", 0);
      } else {
        throw in.wrong("expected def, over or class, found '%s'".formatted(word));
      }
    }
    return root;
  }

  /** Reads what follows {@code reorder}: names of children or of properties. */
  private void order(PrimSpec prim) throws InputException {
    String what = in.word();
    in.expect('=');
    if (in.value(0) instanceof List<?> names) {
      prim.fields.put(what.equals("properties") ? "propertyOrder" : "primOrder", names);
    }
  }

  private void prim(PrimSpec parent, String specifier, String above, int depth)
      throws InputException {
    if (depth > MAX_DEPTH || ++prims > MAX_PRIMS) {
      throw in.wrong("too many prims, or nested too deep");
    }
    String type = in.peek() == '"' || in.peek() == '\'' ? "" : in.word();
    String name = in.string();
    if (name.isEmpty() || name.indexOf('/') >= 0 || name.indexOf('{') >= 0) {
      throw in.wrong("expected the name of a prim, found '%s'".formatted(name));
    }
    PrimSpec prim = new PrimSpec(name);
    prim.type = type;
    prim.specifier = PrimSpec.Specifier.valueOf(specifier.toUpperCase(java.util.Locale.ROOT));
    if (parent.children.putIfAbsent(name, prim) != null) {
      throw in.wrong("a second '%s' in one place".formatted(name));
    }
    String path = above + "/" + name;
    if (in.peek() == '(') {
      metadata(prim.fields, path);
    }
    body(prim, path, depth);
  }

  private void body(PrimSpec prim, String path, int depth) throws InputException {
    in.expect('{');
    while (in.peek() != '}') {
      if (in.takes(';')) {
        continue;
      }
      String word = in.word();
      if (SPECIFIERS.contains(word)) {
        prim(prim, word, path, depth + 1);
      } else if (word.equals("variantSet")) {
        variants(prim, path, depth);
      } else if (word.equals("reorder") && (in.peek() == 'n' || in.peek() == 'p') && orders()) {
        order(prim);
      } else {
        property(prim, path, word);
      }
    }
    in.expect('}');
  }

  /** Whether names of children or properties come next. */
  private boolean orders() {
    return in.isNext("nameChildren") || in.isNext("properties");
  }

  private void variants(PrimSpec prim, String path, int depth) throws InputException {
    if (depth + 1 > MAX_DEPTH) {
      throw in.wrong("too many prims, or nested too deep");
    }
    String set = in.string();
    Map<String, PrimSpec> all = prim.variants.computeIfAbsent(set, k -> new LinkedHashMap<>());
    in.expect('=');
    in.expect('{');
    while (in.peek() != '}') {
      PrimSpec variant = new PrimSpec(in.string());
      if (++prims > MAX_PRIMS) {
        throw in.wrong("too many prims");
      }
      all.put(variant.name, variant);
      if (in.peek() == '(') {
        metadata(variant.fields, path);
      }
      body(variant, path, depth + 1);
    }
    in.expect('}');
  }

  private void property(PrimSpec prim, String path, String first) throws InputException {
    String edit = "";
    String type = first;
    while (EDITS.contains(type) || QUALIFIERS.contains(type)) {
      edit = EDITS.contains(type) ? type : edit;
      type = in.word();
    }
    boolean relationship = type.equals("rel");
    if (in.takes('[')) {
      in.expect(']');
      type += "[]";
    }
    String name = in.word();
    if (in.peek() == '[') {
      throw in.wrong("targets with values of their own are not read");
    }
    String of = name;
    String part = "";
    for (String end : List.of(".timeSamples", ".connect", ".default", ".spline")) {
      if (name.endsWith(end)) {
        of = name.substring(0, name.length() - end.length());
        part = end;
      }
    }
    PropertySpec spec = prim.properties.computeIfAbsent(of, PropertySpec::new);
    spec.relationship = relationship;
    if (!relationship) {
      spec.type = type;
    }
    if (in.takes('=')) {
      switch (part) {
        case ".timeSamples" -> samples(spec, type);
        case ".connect" -> targets(spec, edit, path);
        case ".spline" -> {
          in.skipBlock();
          spec.fields.put("spline", true);
        }
        default -> {
          if (relationship) {
            targets(spec, edit, path);
          } else {
            spec.value = typed(in.value(0), type);
          }
        }
      }
    }
    if (in.peek() == '(') {
      metadata(spec.fields, path);
    }
  }

  /** Returns a value in the form that its type has; nothing blocks those of weaker layers. */
  private static Object typed(@Nullable Object value, String type) {
    return switch (value) {
      case null -> PropertySpec.BLOCKED;
      case Numbers n when n.size() == 0 && isTexts(type) -> List.of();
      case Numbers n -> n.as(type);
      case List<?> l when !l.isEmpty() && l.stream().allMatch(Boolean.class::isInstance) ->
          Numbers.of(l.stream().mapToInt(b -> Boolean.TRUE.equals(b) ? 1 : 0).toArray(), 1);
      case Double d when type.equals("bool") -> d != 0;
      case Double d when type.equals("float") -> (double) d.floatValue();
      case Double d when type.equals("half") ->
          (double) Float.float16ToFloat(Float.floatToFloat16(d.floatValue()));
      default -> value;
    };
  }

  private static boolean isTexts(String type) {
    return List.of("token[]", "string[]", "asset[]", "pathExpression[]").contains(type);
  }

  private void targets(PropertySpec spec, String edit, String path) throws InputException {
    List<String> paths = new ArrayList<>();
    for (Object o : many(in.value(0))) {
      paths.add(Paths.absolute(path, String.valueOf(o)));
    }
    ListOp<String> before = spec.targets == null ? ListOp.none() : spec.targets;
    spec.targets = before.with(edit, paths);
  }

  /** Returns what a list, a single value, or nothing holds. */
  private static List<Object> many(@Nullable Object value) {
    return switch (value) {
      case null -> List.of();
      case List<?> l -> new ArrayList<>(l);
      case Numbers n when n.size() == 0 -> List.of();
      default -> List.of(value);
    };
  }

  private void samples(PropertySpec spec, String type) throws InputException {
    in.expect('{');
    while (in.peek() != '}') {
      double time = in.number();
      in.expect(':');
      spec.samples.put(time, typed(in.value(0), type));
      if (in.takes(',')) {}
    }
    in.expect('}');
  }

  private void metadata(Map<String, Object> into, String path) throws InputException {
    in.expect('(');
    while (in.peek() != ')') {
      if (in.takes(';') || in.takes(',')) {
        continue;
      }
      if (in.peek() == '"' || in.peek() == '\'') {
        into.put("comment", in.string());
      } else {
        String edit = "";
        String key = in.word();
        while (EDITS.contains(key)) {
          edit = key;
          key = in.word();
        }
        in.expect('=');
        field(into, NAMES.getOrDefault(key, key), edit, path);
      }
    }
    in.expect(')');
  }

  private void field(Map<String, Object> into, String key, String edit, String path)
      throws InputException {
    switch (key) {
      case "references", "payload" -> edit(into, key, edit, references(path));
      case "subLayers" -> into.put(key, subLayers());
      case "relocates", "clips" -> {
        in.skipBlock();
        into.put(key, true);
      }
      default -> {
        Object value = in.value(0);
        switch (key) {
          case "inheritPaths", "specializes" ->
              edit(
                  into,
                  key,
                  edit,
                  many(value).stream()
                      .map(o -> (Object) Paths.absolute(path, String.valueOf(o)))
                      .toList());
          case "variantSetNames", "apiSchemas" -> edit(into, key, edit, many(value));
          default -> {
            if (value != null) {
              into.put(key, value);
            }
          }
        }
      }
    }
  }

  @SuppressWarnings("unchecked")
  private static void edit(Map<String, Object> into, String key, String edit, List<?> items) {
    ListOp<Object> before =
        into.get(key) instanceof ListOp<?> op ? (ListOp<Object>) op : ListOp.none();
    into.put(key, before.with(edit, (List<Object>) items));
  }

  private List<PrimSpec.SubLayer> subLayers() throws InputException {
    List<PrimSpec.SubLayer> out = new ArrayList<>();
    for (Reference r : references("")) {
      out.add(new PrimSpec.SubLayer(r.asset(), r.offset()));
    }
    return out;
  }

  /** Reads one or a list of {@code @file@<path> (offset = 1; scale = 2)}, or None. */
  private List<Reference> references(String prim) throws InputException {
    List<Reference> out = new ArrayList<>();
    if (in.peek() != '[') {
      if (in.isNext("None")) {
        in.skip(4);
      } else {
        out.add(reference(prim));
      }
      return out;
    }
    in.expect('[');
    while (in.peek() != ']') {
      out.add(reference(prim));
      if (in.takes(',')) {}
    }
    in.expect(']');
    return out;
  }

  private Reference reference(String prim) throws InputException {
    char c = in.peek();
    if (c != '@' && c != '<') {
      throw in.wrong("expected @file@ or <path>, found '%s'".formatted(in.next()));
    }
    String asset = c == '@' ? in.asset() : "";
    String path = in.peek() == '<' ? in.path() : "";
    Map<String, Object> more = new LinkedHashMap<>();
    if (in.peek() == '(') {
      metadata(more, prim);
    }
    double offset = more.get("offset") instanceof Double d ? d : 0;
    double scale = more.get("scale") instanceof Double d && d != 0 ? d : 1;
    return new Reference(
        asset, path.isEmpty() ? "" : Paths.absolute(prim, path), new LayerOffset(offset, scale));
  }
}
