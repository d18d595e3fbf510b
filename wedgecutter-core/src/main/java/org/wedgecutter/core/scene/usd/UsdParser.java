package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;

/**
 * Reads the text form of OpenUSD into prims. It knows the grammar, not the meaning: any prim type
 * and any property is kept. Composition (references, payloads, variants, inherits) is not resolved;
 * what a prim asks for of it stays in its metadata.
 */
final class UsdParser {
  private static final int MAX_DEPTH = 256;
  private static final int MAX_PRIMS = 1_000_000;
  private static final Set<String> SPECIFIERS = Set.of("def", "over", "class");
  private static final Set<String> QUALIFIERS =
      Set.of("custom", "uniform", "varying", "prepend", "append", "delete", "add", "reorder");

  private final String text;
  private final Path file;
  private int at;
  private int line = 1;
  private int prims;

  private UsdParser(String text, Path file) {
    this.text = text;
    this.file = file;
  }

  /** Reads a stage; the returned prim stands for all, and its metadata are the stage's. */
  static Prim parse(String text, Path file) throws InputException {
    return new UsdParser(text, file).stage();
  }

  private Prim stage() throws InputException {
    if (!text.startsWith("#usda ")) {
      throw wrong("expected '#usda 1.0' at the beginning");
    }
    Prim root = new Prim("", "", 1);
    if (peek() == '(') {
      metadata(root.metadata);
    }
    while (peek() != 0) {
      String word = word();
      if (!SPECIFIERS.contains(word)) {
        throw wrong("expected def, over or class, found '%s'".formatted(word));
      }
      prim(root, word, 0);
    }
    return root;
  }

  private void prim(Prim parent, String specifier, int depth) throws InputException {
    if (depth > MAX_DEPTH || ++prims > MAX_PRIMS) {
      throw wrong("too many prims, or nested too deep");
    }
    String type = peek() == '"' || peek() == '\'' ? "" : word();
    int start = line;
    String name = string();
    Prim prim = new Prim(parent.path + "/" + name, type, start);
    if (peek() == '(') {
      metadata(prim.metadata);
    }
    expect('{');
    while (peek() != '}') {
      if (peek() == ';') {
        at++;
        continue;
      }
      String word = word();
      if (SPECIFIERS.contains(word)) {
        prim(prim, word, depth + 1);
      } else if (word.equals("variantSet")) {
        string();
        expect('=');
        skipBlock();
        prim.metadata.put("variantSet", true);
      } else if (word.equals("reorder")) {
        word();
        expect('=');
        value(0);
      } else {
        property(prim, word);
      }
    }
    expect('}');
    if (!specifier.equals("class")) {
      parent.children.add(prim);
    }
  }

  private void property(Prim prim, String first) throws InputException {
    String type = first;
    while (QUALIFIERS.contains(type)) {
      type = word();
    }
    int start = line;
    if (peek() == '[') {
      at++;
      expect(']');
    }
    String name = word();
    boolean samples = name.endsWith(".timeSamples");
    String key = samples ? name.substring(0, name.length() - ".timeSamples".length()) : name;
    Object value = null;
    TreeMap<Double, Object> keyed = new TreeMap<>();
    if (peek() == '=') {
      at++;
      if (samples) {
        samples(keyed);
      } else {
        value = value(0);
      }
    }
    Map<String, Object> metadata = new LinkedHashMap<>();
    if (peek() == '(') {
      metadata(metadata);
    }
    Prim.Property before = prim.properties.get(key);
    if (before != null) {
      keyed.putAll(before.samples());
      before.metadata().forEach(metadata::putIfAbsent);
      value = value == null ? before.value() : value;
    }
    prim.properties.put(key, new Prim.Property(start, value, keyed, metadata));
  }

  private void samples(TreeMap<Double, Object> into) throws InputException {
    expect('{');
    while (peek() != '}') {
      double time = number();
      expect(':');
      Object value = value(0);
      if (value != null) {
        into.put(time, value);
      }
      if (peek() == ',') {
        at++;
      }
    }
    expect('}');
  }

  private void metadata(Map<String, Object> into) throws InputException {
    expect('(');
    while (peek() != ')') {
      char c = peek();
      if (c == ';' || c == ',') {
        at++;
      } else if (c == '"' || c == '\'') {
        string();
      } else {
        String key = word();
        while (QUALIFIERS.contains(key)) {
          key = word();
        }
        expect('=');
        Object value = value(0);
        if (value != null) {
          into.put(key, value);
        }
      }
    }
    expect(')');
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
        return asset();
      }
      case '<' -> {
        return path();
      }
      case '[' -> {
        return list(depth);
      }
      case '(' -> {
        Numbers out = new Numbers();
        tuple(out, 0);
        return new Prim.Numbers(out.done(), Math.max(1, out.count));
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
  private static final class Numbers {
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
    Numbers numbers = new Numbers();
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
    return others.isEmpty() ? new Prim.Numbers(numbers.done(), Math.max(1, each)) : others;
  }

  private void tuple(Numbers into, int depth) throws InputException {
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
      String key = peek() == '"' ? string() : peek() == '=' ? type : word();
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
    if (at < text.length() && word.length() <= 1 && text.startsWith("inf", at)) {
      at += 3;
      return word.equals("-") ? Double.NEGATIVE_INFINITY : Double.POSITIVE_INFINITY;
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
