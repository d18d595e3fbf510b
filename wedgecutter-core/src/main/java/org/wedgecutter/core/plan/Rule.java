package org.wedgecutter.core.plan;

import java.util.Locale;
import org.wedgecutter.core.scene.Entity;

/**
 * A rule that takes entities, as read by {@link RuleParser}.
 *
 * @param text as written
 * @param root what it means
 */
public record Rule(String text, Term root) {
  /** Part of a rule. */
  public sealed interface Term {
    /** Says whether the part takes an entity. */
    boolean takes(Entity entity);
  }

  /** Both parts. */
  record And(Term a, Term b) implements Term {
    @Override
    public boolean takes(Entity entity) {
      return a.takes(entity) && b.takes(entity);
    }
  }

  /** Either part. */
  record Or(Term a, Term b) implements Term {
    @Override
    public boolean takes(Entity entity) {
      return a.takes(entity) || b.takes(entity);
    }
  }

  /** Not the part. */
  record Not(Term a) implements Term {
    @Override
    public boolean takes(Entity entity) {
      return !a.takes(entity);
    }
  }

  /** Nothing. */
  record Nothing() implements Term {
    @Override
    public boolean takes(Entity entity) {
      return false;
    }
  }

  /** What a pattern is held against. */
  enum Key {
    NAME,
    PATH,
    KIND,
    MATERIAL,
    TAG,
    MOVES
  }

  /** A pattern on one property. */
  record Match(Key key, Glob glob) implements Term {
    @Override
    public boolean takes(Entity entity) {
      return switch (key) {
        case NAME -> glob.matches(entity.name());
        case PATH -> glob.matches(entity.path());
        case KIND -> glob.matches(entity.kind().word());
        case MATERIAL -> entity.materials().stream().anyMatch(glob::matches);
        case TAG -> entity.tags().stream().anyMatch(glob::matches);
        case MOVES -> glob.matches(entity.moves() ? "yes" : "no");
      };
    }
  }

  /**
   * A pattern: {@code *} is any part of a name, {@code **} any part of a path, {@code ?} one
   * character.
   *
   * @param pattern as written, without quotes
   * @param literal whether the signs are plain characters
   * @param anyCase whether case does not matter
   */
  record Glob(String pattern, boolean literal, boolean anyCase) {
    boolean matches(String text) {
      String p = anyCase ? pattern.toLowerCase(Locale.ROOT) : pattern;
      String t = anyCase ? text.toLowerCase(Locale.ROOT) : text;
      int first = literal ? -1 : wildcard(p, 0);
      if (first < 0) {
        return p.equals(t);
      }
      if (!t.regionMatches(0, p, 0, first)) {
        return false;
      }
      int end = first;
      while (end < p.length() && p.charAt(end) == '*') {
        end++;
      }
      if (end > first && wildcard(p, end) < 0) {
        // one run of stars: what is before and behind it must fit, and be apart
        int tail = p.length() - end;
        return t.length() >= first + tail
            && t.endsWith(p.substring(end))
            && (end - first > 1
                || t.indexOf('/', first) < 0
                || t.indexOf('/', first) >= t.length() - tail);
      }
      return matches(p, t);
    }

    private static int wildcard(String p, int from) {
      for (int i = from; i < p.length(); i++) {
        if (p.charAt(i) == '*' || p.charAt(i) == '?') {
          return i;
        }
      }
      return -1;
    }

    /**
     * One line of the table at a time: whether the pattern so far matches each beginning of the
     * text.
     */
    private static boolean matches(String p, String t) {
      boolean[] now = new boolean[t.length() + 1];
      now[0] = true;
      for (int i = 0; i < p.length(); i++) {
        boolean[] next = new boolean[t.length() + 1];
        char c = p.charAt(i);
        boolean levels = c == '*' && i + 1 < p.length() && p.charAt(i + 1) == '*';
        if (c == '*') {
          next[0] = now[0];
          for (int k = 1; k <= t.length(); k++) {
            next[k] = now[k] || (next[k - 1] && (levels || t.charAt(k - 1) != '/'));
          }
          i += levels ? 1 : 0;
        } else {
          for (int k = 1; k <= t.length(); k++) {
            char d = t.charAt(k - 1);
            next[k] = now[k - 1] && (c == d || (c == '?' && d != '/'));
          }
        }
        now = next;
      }
      return now[t.length()];
    }
  }

  /** Says whether the rule takes an entity. */
  public boolean takes(Entity entity) {
    return root.takes(entity);
  }
}
