package org.wedgecutter.core.cut;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/** Completions while a rule is typed. */
public final class RuleCompletion {
  private static final int MOST = 12;
  private static final List<String> KEYS =
      List.of("path:", "name:", "kind:", "material:", "tag:", "moves:");

  private RuleCompletion() {}

  /**
   * A completion.
   *
   * @param from first character of the rule that it takes the place of
   * @param to the character behind the last of these
   * @param text what to put there
   * @param matches how many entities the word by itself matches; -1 for a key
   */
  public record Choice(int from, int to, String text, int matches) {}

  /** Returns ways to complete the word before the caret, the most useful first. */
  public static List<Choice> complete(String rule, int caret, Scene scene) {
    int from = caret;
    while (from > 0 && isWord(rule.charAt(from - 1))) {
      from--;
    }
    String word = rule.substring(from, caret);
    int colon = word.indexOf(':');
    if (colon < 0) {
      return bare(word, from, caret, scene);
    }
    String key = word.substring(0, colon);
    return rank(values(key, scene), word.substring(colon + 1), from + colon + 1, caret);
  }

  private static boolean isWord(char c) {
    return !Character.isWhitespace(c) && "&|!()~\"'".indexOf(c) < 0;
  }

  private static List<Choice> bare(String word, int from, int to, Scene scene) {
    List<Choice> out = new ArrayList<>();
    for (String key : KEYS) {
      if (key.startsWith(word)) {
        out.add(new Choice(from, to, key, -1));
      }
    }
    if (!word.isEmpty()) {
      out.addAll(rank(values("name", scene), word, from, to));
    }
    return out.subList(0, Math.min(MOST, out.size()));
  }

  private static Map<String, Integer> values(String key, Scene scene) {
    Map<String, Integer> out = new LinkedHashMap<>();
    switch (key) {
      case "kind" -> {
        for (EntityKind kind : EntityKind.values()) {
          count(out, scene, e -> Set.of(e.kind().word()), Set.of(kind.word()));
        }
      }
      case "moves" -> count(out, scene, e -> Set.of(e.moves() ? "yes" : "no"), null);
      case "material" -> count(out, scene, e -> new LinkedHashSet<>(e.materials()), null);
      case "tag" -> count(out, scene, e -> new LinkedHashSet<>(e.tags()), null);
      case "name" -> count(out, scene, e -> Set.of(e.name()), null);
      case "path" -> count(out, scene, RuleCompletion::groups, null);
      default -> {}
    }
    return out;
  }

  /** The entity's own path, and every group above it with all that is in it. */
  private static Set<String> groups(Entity e) {
    Set<String> out = new LinkedHashSet<>();
    for (int at = e.path().indexOf('/', 1); at > 0; at = e.path().indexOf('/', at + 1)) {
      out.add(e.path().substring(0, at) + "/**");
    }
    out.add(e.path());
    return out;
  }

  private static void count(
      Map<String, Integer> out,
      Scene scene,
      java.util.function.Function<Entity, Set<String>> values,
      @org.jspecify.annotations.Nullable Set<String> only) {
    for (Entity e : scene.entities()) {
      for (String value : values.apply(e)) {
        if (only == null || only.contains(value)) {
          out.merge(value, 1, Integer::sum);
        }
      }
    }
  }

  /** Those that begin with what was typed, then those that hold it; the shortest first. */
  private static List<Choice> rank(Map<String, Integer> values, String typed, int from, int to) {
    String low = typed.toLowerCase(Locale.ROOT);
    List<Choice> begin = new ArrayList<>();
    List<Choice> hold = new ArrayList<>();
    values.forEach((value, takes) -> {
      String v = value.toLowerCase(Locale.ROOT);
      if (v.startsWith(low)) {
        begin.add(new Choice(from, to, quoted(value), takes));
      } else if (v.contains(low)) {
        hold.add(new Choice(from, to, quoted(value), takes));
      }
    });
    begin.sort(java.util.Comparator.comparingInt(c -> c.text().length()));
    hold.sort(java.util.Comparator.comparingInt(c -> c.text().length()));
    begin.addAll(hold);
    return List.copyOf(begin.subList(0, Math.min(MOST, begin.size())));
  }

  private static String quoted(String value) {
    return value.chars().allMatch(c -> isWord((char) c)) ? value : '"' + value + '"';
  }
}
