package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.Locale;

/**
 * Reads rules.
 *
 * <pre>
 * rule   = ["~"] either
 * either = both { "|" both }
 * both   = term { "&amp;" term }
 * term   = "!" term | "(" either ")" | [key ":"] value
 * key    = "name" | "path" | "kind" | "material" | "tag" | "moves"
 * value  = word | "'" characters "'" | '"' characters '"'
 * </pre>
 *
 * A word ends at white space or one of {@code & | ! ( )}; in it {@code *}, {@code **} and {@code ?}
 * are patterns. Within quotes every character is itself. A value without a key is a name. A rule
 * that begins with {@code ~} ignores case. The empty rule matches nothing.
 */
public final class RuleParser {
  private static final int MAX_LENGTH = 2000;
  private static final int MAX_DEPTH = 100;

  private final String text;
  private int at;
  private int depth;
  private boolean anyCase;

  private RuleParser(String text) {
    this.text = text;
  }

  /** Reads a rule. */
  public static Rule parse(String text) throws RuleException {
    if (text.length() > MAX_LENGTH) {
      throw new RuleException(MAX_LENGTH, "a rule has at most %d characters".formatted(MAX_LENGTH));
    }
    return new Rule(text, new RuleParser(text).whole());
  }

  /** The rule that matches nothing. */
  public static Rule nothing() {
    return new Rule("", new Rule.Nothing());
  }

  private Rule.Term whole() throws RuleException {
    skipSpace();
    if (at == text.length()) {
      return new Rule.Nothing();
    }
    if (text.charAt(at) == '~') {
      anyCase = true;
      at++;
    }
    Rule.Term term = either();
    if (at < text.length()) {
      throw new RuleException(
          at, "expected &, | or the end, found '%c'".formatted(text.charAt(at)));
    }
    return term;
  }

  private Rule.Term either() throws RuleException {
    Rule.Term term = both();
    while (next('|')) {
      term = new Rule.Or(term, both());
    }
    return term;
  }

  private Rule.Term both() throws RuleException {
    Rule.Term term = term();
    while (next('&')) {
      term = new Rule.And(term, term());
    }
    return term;
  }

  private Rule.Term term() throws RuleException {
    if (++depth > MAX_DEPTH) {
      throw new RuleException(at, "nested more than %d deep".formatted(MAX_DEPTH));
    }
    try {
      if (next('!')) {
        return new Rule.Not(term());
      }
      if (next('(')) {
        Rule.Term inner = either();
        if (!next(')')) {
          throw new RuleException(at, "expected )");
        }
        return inner;
      }
      return match();
    } finally {
      depth--;
    }
  }

  private Rule.Term match() throws RuleException {
    int start = at;
    if (at < text.length() && isQuote(text.charAt(at))) {
      return new Rule.Match(Rule.Key.NAME, quoted());
    }
    String word = word();
    int colon = word.indexOf(':');
    if (colon < 0) {
      if (word.isEmpty()) {
        throw new RuleException(at, "expected a name, a key such as path:, ! or (");
      }
      return new Rule.Match(Rule.Key.NAME, Rule.Glob.of(word, false, anyCase));
    }
    Rule.Key key = key(word.substring(0, colon), start);
    at = start + colon + 1;
    if (at < text.length() && isQuote(text.charAt(at))) {
      return new Rule.Match(key, quoted());
    }
    String value = word();
    if (value.isEmpty()) {
      throw new RuleException(at, "expected a value after %s:".formatted(word.substring(0, colon)));
    }
    if (key == Rule.Key.MOVES && !value.equals("yes") && !value.equals("no")) {
      throw new RuleException(start + colon + 1, "moves: is yes or no");
    }
    return new Rule.Match(key, Rule.Glob.of(value, false, anyCase));
  }

  private static Rule.Key key(String word, int start) throws RuleException {
    return Arrays.stream(Rule.Key.values())
        .filter(k -> k.name().toLowerCase(Locale.ROOT).equals(word))
        .findFirst()
        .orElseThrow(() ->
            new RuleException(
                start,
                "unknown key '%s'; expected name, path, kind, material, tag or moves"
                    .formatted(word)));
  }

  private Rule.Glob quoted() throws RuleException {
    char quote = text.charAt(at);
    int end = text.indexOf(quote, at + 1);
    if (end < 0) {
      throw new RuleException(at, "the quote is not closed");
    }
    String value = text.substring(at + 1, end);
    at = end + 1;
    skipSpace();
    return Rule.Glob.of(value, true, anyCase);
  }

  private String word() {
    int start = at;
    while (at < text.length()
        && !Character.isWhitespace(text.charAt(at))
        && !isQuote(text.charAt(at))
        && "&|!()".indexOf(text.charAt(at)) < 0) {
      at++;
    }
    String word = text.substring(start, at);
    skipSpace();
    return word;
  }

  private static boolean isQuote(char c) {
    return c == '"' || c == '\'';
  }

  private boolean next(char wanted) {
    skipSpace();
    if (at < text.length() && text.charAt(at) == wanted) {
      at++;
      skipSpace();
      return true;
    }
    return false;
  }

  private void skipSpace() {
    while (at < text.length() && Character.isWhitespace(text.charAt(at))) {
      at++;
    }
  }
}
