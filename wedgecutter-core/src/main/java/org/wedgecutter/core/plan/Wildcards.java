package org.wedgecutter.core.plan;

/**
 * Patterns with wildcards, matched in a time that is at most the product of both lengths, whatever
 * they hold: one line of a table at a time, which tells of each beginning of the text whether the
 * pattern so far matches it.
 */
public final class Wildcards {
  private Wildcards() {}

  /**
   * Whether a pattern matches a path: {@code *} stands for any characters but {@code /}, {@code **}
   * for any, {@code ?} for one but {@code /}.
   */
  static boolean matchPath(String pattern, String path) {
    return matches(pattern, path, true);
  }

  /** Whether a pattern matches a name: {@code *} stands for any characters, {@code ?} for one. */
  public static boolean matchName(String pattern, String name) {
    return matches(pattern, name, false);
  }

  private static boolean matches(String p, String t, boolean isPath) {
    boolean[] now = new boolean[t.length() + 1];
    now[0] = true;
    for (int i = 0; i < p.length(); i++) {
      boolean[] next = new boolean[t.length() + 1];
      char c = p.charAt(i);
      boolean isDouble = c == '*' && i + 1 < p.length() && p.charAt(i + 1) == '*';
      boolean levels = isDouble || !isPath;
      if (c == '*') {
        next[0] = now[0];
        for (int k = 1; k <= t.length(); k++) {
          next[k] = now[k] || (next[k - 1] && (levels || t.charAt(k - 1) != '/'));
        }
        i += isDouble ? 1 : 0;
      } else {
        for (int k = 1; k <= t.length(); k++) {
          char d = t.charAt(k - 1);
          next[k] = now[k - 1] && (c == d || (c == '?' && (levels || d != '/')));
        }
      }
      now = next;
    }
    return now[t.length()];
  }
}
