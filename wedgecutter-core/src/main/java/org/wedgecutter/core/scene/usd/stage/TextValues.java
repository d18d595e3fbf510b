package org.wedgecutter.core.scene.usd.stage;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;

/** Words, signs and values of OpenUSD's text form, one after another. */
final class TextValues {
  private static final int MAX_DEPTH = 256;

  private final String text;
  private final Path file;
  private int at;
  private int line = 1;

  TextValues(String text, Path file) {
    this.text = text;
    this.file = file;
  }

  /** Whether a text comes next, as it is. */
  boolean isNext(String wanted) {
    return text.startsWith(wanted, at);
  }

  /** Whether a sign comes next, which is then behind. */
  boolean takes(char sign) {
    boolean out = peek() == sign;
    at += out ? 1 : 0;
    return out;
  }

  /** Goes on behind some letters, which are next. */
  void skip(int count) {
    at += count;
  }

  /** Returns the beginning of what comes next, for messages. */
  String next() {
    return found(at);
  }

  @Nullable Object value(int depth) throws InputException {
    if (depth > MAX_DEPTH) {
      throw wrong("values nested too deep");
    }
    char c = peek();
    switch (c) {
      case '"', '\'' -> {
        return string();
      }
      case '@' -> {
        return AssetPath.of(asset());
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

  double number() throws InputException {
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

  String asset() throws InputException {
    String mark = text.startsWith("@@@", at) ? "@@@" : "@";
    int end = text.indexOf(mark, at + mark.length());
    if (end < 0) {
      throw wrong("an asset path is not closed");
    }
    String out = text.substring(at + mark.length(), end);
    at = end + mark.length();
    return out;
  }

  String path() throws InputException {
    int end = text.indexOf('>', at);
    if (end < 0) {
      throw wrong("a path is not closed");
    }
    String out = text.substring(at + 1, end);
    at = end + 1;
    return out;
  }

  String string() throws InputException {
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

  String word() throws InputException {
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
  char peek() {
    skipSpace();
    return at < text.length() ? text.charAt(at) : 0;
  }

  void expect(char wanted) throws InputException {
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

  void skipBlock() throws InputException {
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

  InputException wrong(String problem) {
    return new InputException(file, "line " + line, problem);
  }
}
