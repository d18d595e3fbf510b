package org.wedgecutter.core.plan;

import java.util.Locale;
import org.wedgecutter.core.scene.Entity;

/**
 * A rule that matches entities, as read by {@link RuleParser}.
 *
 * @param text as written
 * @param root what it means
 */
public record Rule(String text, Term root) {
  /** Part of a rule. */
  public sealed interface Term {
    /** Whether the part matches an entity. */
    boolean matches(Entity entity);
  }

  /**
   * Whether the rule matches an entity for some of its materials alone: given one of the others, it
   * would not.
   */
  public boolean matchesInPart(Entity entity) {
    return entity.materials().size() > 1
        && root.matches(entity)
        && entity.materials().stream().anyMatch(m -> !root.matches(entity.withMaterial(m)));
  }

  /** Both parts. */
  record And(Term a, Term b) implements Term {
    @Override
    public boolean matches(Entity entity) {
      return a.matches(entity) && b.matches(entity);
    }
  }

  /** Either part. */
  record Or(Term a, Term b) implements Term {
    @Override
    public boolean matches(Entity entity) {
      return a.matches(entity) || b.matches(entity);
    }
  }

  /** Not the part. */
  record Not(Term a) implements Term {
    @Override
    public boolean matches(Entity entity) {
      return !a.matches(entity);
    }
  }

  /** Nothing. */
  record Nothing() implements Term {
    @Override
    public boolean matches(Entity entity) {
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
    public boolean matches(Entity entity) {
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
   * @param first place of the first wildcard, or -1
   * @param end place behind the run of stars there
   * @param one whether that run is the only wildcard
   */
  record Glob(String pattern, boolean literal, boolean anyCase, int first, int end, boolean one) {
    /** A pattern as written; with {@code anyCase} in lower case. */
    static Glob of(String written, boolean literal, boolean anyCase) {
      String p = anyCase ? written.toLowerCase(Locale.ROOT) : written;
      int first = literal ? -1 : wildcard(p, 0);
      int end = Math.max(0, first);
      while (first >= 0 && end < p.length() && p.charAt(end) == '*') {
        end++;
      }
      return new Glob(p, literal, anyCase, first, end, end > first && wildcard(p, end) < 0);
    }

    boolean matches(String text) {
      String t = anyCase ? text.toLowerCase(Locale.ROOT) : text;
      if (first < 0) {
        return pattern.equals(t);
      }
      if (!begins(t)) {
        return false;
      }
      if (one) {
        // one run of stars: what is before and behind it must fit, and be apart
        int tail = pattern.length() - end;
        int slash = end - first > 1 ? -1 : t.indexOf('/', first);
        return t.length() >= first + tail
            && t.regionMatches(t.length() - tail, pattern, end, tail)
            && (slash < 0 || slash >= t.length() - tail);
      }
      return Wildcards.matchPath(pattern, t);
    }

    /** The ends of paths differ more often than their beginnings. */
    private boolean begins(String t) {
      if (t.length() < first) {
        return false;
      }
      for (int i = first - 1; i >= 0; i--) {
        if (t.charAt(i) != pattern.charAt(i)) {
          return false;
        }
      }
      return true;
    }

    private static int wildcard(String p, int from) {
      for (int i = from; i < p.length(); i++) {
        if (p.charAt(i) == '*' || p.charAt(i) == '?') {
          return i;
        }
      }
      return -1;
    }
  }

  /** Whether the rule matches an entity. */
  public boolean matches(Entity entity) {
    return root.matches(entity);
  }
}
