package org.wedgecutter.core.scene.usd.stage;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
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

  private final String text;
  private final Path file;
  private int at;
  private int line = 1;
  private int prims;

  private TextLayer(String text, Path file) {
    this.text = text;
    this.file = file;
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
    if (!text.startsWith("#usda ")) {
      throw wrong("expected '#usda 1.0' at the beginning");
    }
    PrimSpec root = new PrimSpec("");
    if (peek() == '(') {
      metadata(root.fields, "");
    }
    while (peek() != 0) {
      if (peek() == ';') {
        at++;
        continue;
      }
      String word = word();
      if (word.equals("reorder")) {
        order(root);
      } else if (SPECIFIERS.contains(word)) {
        prim(root, word, "", 0);
      } else {
        throw wrong("expected def, over or class, found '%s'".formatted(word));
      }
    }
    return root;
  }

  /** Reads what follows {@code reorder}: names of children or of properties. */
  private void order(PrimSpec prim) throws InputException {
    String what = word();
    expect('=');
    if (value(0) instanceof List<?> names) {
      prim.fields.put(what.equals("properties") ? "propertyOrder" : "primOrder", names);
    }
  }

  private void prim(PrimSpec parent, String specifier, String above, int depth)
      throws InputException {
    if (depth > MAX_DEPTH || ++prims > MAX_PRIMS) {
      throw wrong("too many prims, or nested too deep");
    }
    String type = peek() == '"' || peek() == '\'' ? "" : word();
    String name = string();
    if (name.isEmpty() || name.indexOf('/') >= 0 || name.indexOf('{') >= 0) {
      throw wrong("expected the name of a prim, found '%s'".formatted(name));
    }
    PrimSpec prim = new PrimSpec(name);
    prim.type = type;
    prim.specifier = PrimSpec.Specifier.valueOf(specifier.toUpperCase(java.util.Locale.ROOT));
    if (parent.children.putIfAbsent(name, prim) != null) {
      throw wrong("a second '%s' in one place".formatted(name));
    }
    String path = above + "/" + name;
    if (peek() == '(') {
      metadata(prim.fields, path);
    }
    body(prim, path, depth);
  }

  private void body(PrimSpec prim, String path, int depth) throws InputException {
    expect('{');
    while (peek() != '}') {
      if (peek() == ';') {
        at++;
        continue;
      }
      String word = word();
      if (SPECIFIERS.contains(word)) {
        prim(prim, word, path, depth + 1);
      } else if (word.equals("variantSet")) {
        variants(prim, path, depth);
      } else if (word.equals("reorder") && (peek() == 'n' || peek() == 'p') && orders()) {
        order(prim);
      } else {
        property(prim, path, word);
      }
    }
    expect('}');
  }

  /** Whether names of children or properties come next. */
  private boolean orders() {
    return text.startsWith("nameChildren", at) || text.startsWith("properties", at);
  }

  private void variants(PrimSpec prim, String path, int depth) throws InputException {
    if (depth + 1 > MAX_DEPTH) {
      throw wrong("too many prims, or nested too deep");
    }
    String set = string();
    Map<String, PrimSpec> all = prim.variants.computeIfAbsent(set, k -> new LinkedHashMap<>());
    expect('=');
    expect('{');
    while (peek() != '}') {
      PrimSpec variant = new PrimSpec(string());
      if (++prims > MAX_PRIMS) {
        throw wrong("too many prims");
      }
      all.put(variant.name, variant);
      if (peek() == '(') {
        metadata(variant.fields, path);
      }
      body(variant, path, depth + 1);
    }
    expect('}');
  }

  private void property(PrimSpec prim, String path, String first) throws InputException {
    String edit = "";
    String type = first;
    while (EDITS.contains(type) || QUALIFIERS.contains(type)) {
      edit = EDITS.contains(type) ? type : edit;
      type = word();
    }
    boolean relationship = type.equals("rel");
    if (peek() == '[') {
      at++;
      expect(']');
      type += "[]";
    }
    String name = word();
    if (peek() == '[') {
      throw wrong("targets with values of their own are not read");
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
    if (peek() == '=') {
      at++;
      switch (part) {
        case ".timeSamples" -> samples(spec, type);
        case ".connect" -> targets(spec, edit, path);
        case ".spline" -> {
          skipBlock();
          spec.fields.put("spline", true);
        }
        default -> {
          if (relationship) {
            targets(spec, edit, path);
          } else {
            spec.value = typed(value(0), type);
          }
        }
      }
    }
    if (peek() == '(') {
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
    for (Object o : many(value(0))) {
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
    expect('{');
    while (peek() != '}') {
      double time = number();
      expect(':');
      spec.samples.put(time, typed(value(0), type));
      if (peek() == ',') {
        at++;
      }
    }
    expect('}');
  }

  private void metadata(Map<String, Object> into, String path) throws InputException {
    expect('(');
    while (peek() != ')') {
      char c = peek();
      if (c == ';' || c == ',') {
        at++;
      } else if (c == '"' || c == '\'') {
        into.put("comment", string());
      } else {
        String edit = "";
        String key = word();
        while (EDITS.contains(key)) {
          edit = key;
          key = word();
        }
        expect('=');
        field(into, NAMES.getOrDefault(key, key), edit, path);
      }
    }
    expect(')');
  }

  private void field(Map<String, Object> into, String key, String edit, String path)
      throws InputException {
    switch (key) {
      case "references", "payload" -> edit(into, key, edit, references(path));
      case "subLayers" -> into.put(key, subLayers());
      case "relocates" -> {
        skipBlock();
        into.put(key, true);
      }
      case "clips" -> {
        skipBlock();
        into.put(key, true);
      }
      default -> {
        Object value = value(0);
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
    if (peek() != '[') {
      if (text.startsWith("None", at)) {
        at += 4;
      } else {
        out.add(reference(prim));
      }
      return out;
    }
    expect('[');
    while (peek() != ']') {
      out.add(reference(prim));
      if (peek() == ',') {
        at++;
      }
    }
    expect(']');
    return out;
  }

  private Reference reference(String prim) throws InputException {
    char c = peek();
    if (c != '@' && c != '<') {
      throw wrong("expected @file@ or <path>, found '%s'".formatted(found(at)));
    }
    String asset = c == '@' ? asset() : "";
    String path = peek() == '<' ? path() : "";
    Map<String, Object> more = new LinkedHashMap<>();
    if (peek() == '(') {
      metadata(more, prim);
    }
    double offset = more.get("offset") instanceof Double d ? d : 0;
    double scale = more.get("scale") instanceof Double d && d != 0 ? d : 1;
    return new Reference(
        asset, path.isEmpty() ? "" : Paths.absolute(prim, path), new LayerOffset(offset, scale));
  }

  // ---- values

  private @Nullable Object value(int depth) throws InputException {
    if (depth > MAX_DEPTH) {
      throw wrong("values nested too deep");
    }
    char c = peek();
    switch (c) {
      case '"', '\'' -> {
        return string();
      }
      case '@' -> {
        return new AssetPath(asset(), "");
      }
      case '<' -> {
        return path();
      }
      case '[' -> {
        return list(depth);
      }
      case '(' -> {
        Growing out = new Growing();
        tuple(out, 0);
        return Numbers.of(out.done(), Math.max(1, out.count));
      }
      case '{' -> {
        return dictionary(depth);
      }
      default -> {
        if (c == '-' || c == '+' || c == '.' || Character.isDigit(c)) {
          return number();
        }
        String word = word();
        return switch (word) {
          case "true", "True" -> Boolean.TRUE;
          case "false", "False" -> Boolean.FALSE;
          case "None" -> null;
          case "inf" -> Double.POSITIVE_INFINITY;
          case "nan" -> Double.NaN;
          default -> word;
        };
      }
    }
  }

  /** A growing list of numbers. */
  private static final class Growing {
    double[] values = new double[16];
    int count;

    void add(double value) {
      if (count == values.length) {
        values = Arrays.copyOf(values, 2 * count);
      }
      values[count++] = value;
    }

    double[] done() {
      return Arrays.copyOf(values, count);
    }
  }

  private Object list(int depth) throws InputException {
    expect('[');
    Growing numbers = new Growing();
    List<Object> others = new ArrayList<>();
    int each = 0;
    while (peek() != ']') {
      char c = peek();
      if (c == '(') {
        int before = numbers.count;
        tuple(numbers, 0);
        int own = numbers.count - before;
        if (each != 0 && each != own) {
          throw wrong("tuples of %d and of %d numbers in one list".formatted(each, own));
        }
        each = own;
      } else if (c == '-' || c == '+' || c == '.' || Character.isDigit(c)) {
        numbers.add(number());
        each = 1;
      } else {
        Object value = value(depth + 1);
        if (value != null) {
          others.add(value);
        }
      }
      if (peek() == ',') {
        at++;
      }
    }
    expect(']');
    return others.isEmpty() ? Numbers.of(numbers.done(), Math.max(1, each)) : others;
  }

  private void tuple(Growing into, int depth) throws InputException {
    if (depth > 3) {
      throw wrong("a tuple nested too deep");
    }
    expect('(');
    while (peek() != ')') {
      if (peek() == '(') {
        tuple(into, depth + 1);
      } else {
        into.add(number());
      }
      if (peek() == ',') {
        at++;
      }
    }
    expect(')');
  }

  private Map<String, Object> dictionary(int depth) throws InputException {
    Map<String, Object> out = new LinkedHashMap<>();
    expect('{');
    while (peek() != '}') {
      String type = word();
      if (peek() == '[') {
        at++;
        expect(']');
      }
      String key = peek() == '"' || peek() == '\'' ? string() : peek() == '=' ? type : word();
      expect('=');
      Object value = value(depth + 1);
      if (value != null) {
        out.put(key, value);
      }
      if (peek() == ';' || peek() == ',') {
        at++;
      }
    }
    expect('}');
    return out;
  }

  private double number() throws InputException {
    skipSpace();
    int start = at;
    while (at < text.length() && "+-.0123456789eE".indexOf(text.charAt(at)) >= 0) {
      at++;
    }
    String word = text.substring(start, at);
    if (word.length() <= 1 && text.startsWith("inf", at)) {
      at += 3;
      return word.equals("-") ? Double.NEGATIVE_INFINITY : Double.POSITIVE_INFINITY;
    }
    if (word.length() <= 1 && text.startsWith("nan", at)) {
      at += 3;
      return Double.NaN;
    }
    try {
      return Double.parseDouble(word);
    } catch (NumberFormatException e) {
      throw new InputException(
          file, "line " + line, "expected a number, found '%s'".formatted(found(start)), e);
    }
  }

  private String found(int from) {
    return text.substring(from, Math.min(text.length(), from + 20))
        .lines()
        .findFirst()
        .orElse("the end");
  }

  private String asset() throws InputException {
    String mark = text.startsWith("@@@", at) ? "@@@" : "@";
    int end = text.indexOf(mark, at + mark.length());
    if (end < 0) {
      throw wrong("an asset path is not closed");
    }
    String out = text.substring(at + mark.length(), end);
    at = end + mark.length();
    return out;
  }

  private String path() throws InputException {
    int end = text.indexOf('>', at);
    if (end < 0) {
      throw wrong("a path is not closed");
    }
    String out = text.substring(at + 1, end);
    at = end + 1;
    return out;
  }

  private String string() throws InputException {
    skipSpace();
    if (at >= text.length() || (text.charAt(at) != '"' && text.charAt(at) != '\'')) {
      throw wrong("expected a name in quotes");
    }
    char quote = text.charAt(at);
    String three = String.valueOf(quote).repeat(3);
    boolean many = text.startsWith(three, at);
    at += many ? 3 : 1;
    StringBuilder out = new StringBuilder();
    while (at < text.length()) {
      char c = text.charAt(at);
      if (many ? text.startsWith(three, at) : c == quote) {
        at += many ? 3 : 1;
        return out.toString();
      }
      if (c == '\\' && at + 1 < text.length()) {
        at++;
        c =
            switch (text.charAt(at)) {
              case 'n' -> '\n';
              case 't' -> '\t';
              default -> text.charAt(at);
            };
      } else if (c == '\n') {
        line++;
        if (!many) {
          break;
        }
      }
      out.append(c);
      at++;
    }
    throw wrong("a quote is not closed");
  }

  // ---- tokens

  private String word() throws InputException {
    skipSpace();
    int start = at;
    while (at < text.length() && isWord(text.charAt(at))) {
      at++;
    }
    if (at == start) {
      throw wrong(
          at >= text.length()
              ? "the file ends too early"
              : "expected a word, found '%c'".formatted(text.charAt(at)));
    }
    return text.substring(start, at);
  }

  private static boolean isWord(char c) {
    return Character.isLetterOrDigit(c) || c == '_' || c == ':' || c == '.' || c == '!' || c == '|';
  }

  /** Returns the next character that is not white space or a comment; 0 at the end. */
  private char peek() {
    skipSpace();
    return at < text.length() ? text.charAt(at) : 0;
  }

  private void expect(char wanted) throws InputException {
    char c = peek();
    if (c != wanted) {
      throw wrong(
          c == 0
              ? "the file ends too early; expected '%c'".formatted(wanted)
              : "expected '%c', found '%c'".formatted(wanted, c));
    }
    at++;
  }

  private void skipSpace() {
    while (at < text.length()) {
      char c = text.charAt(at);
      if (c == '\n') {
        line++;
      }
      if (c == '#') {
        int end = text.indexOf('\n', at);
        at = end < 0 ? text.length() : end;
      } else if (Character.isWhitespace(c)) {
        at++;
      } else {
        return;
      }
    }
  }

  private void skipBlock() throws InputException {
    expect('{');
    int depth = 1;
    while (depth > 0) {
      char c = peek();
      if (c == 0) {
        throw wrong("the file ends too early; expected '}'");
      }
      if (c == '"' || c == '\'') {
        string();
        continue;
      }
      depth += c == '{' ? 1 : c == '}' ? -1 : 0;
      at++;
    }
  }

  private InputException wrong(String problem) {
    return new InputException(file, "line " + line, problem);
  }
}
