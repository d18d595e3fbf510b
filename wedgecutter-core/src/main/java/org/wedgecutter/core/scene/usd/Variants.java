package org.wedgecutter.core.scene.usd;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/**
 * Choices of variants as text: the path of the prim, and in braces the set and the variant, as
 * OpenUSD writes them: {@code /chair{wood=oak}}; several of them apart by spaces.
 */
public final class Variants {
  private static final int MAX = 1000;

  /**
   * A set of variants of a prim.
   *
   * @param path of the prim
   * @param set its name
   * @param names of its variants
   */
  public record Choice(String path, String set, List<String> names) {
    /** Returns what is chosen of it in a text; empty if nothing is. */
    public String in(String text) {
      return parse(text).getOrDefault(path, Map.of()).getOrDefault(set, "");
    }

    /** Returns a text with another variant of it; the empty name takes the choice back. */
    public String in(String text, String name) {
      Map<String, Map<String, String>> all = parse(text);
      Map<String, String> own = all.computeIfAbsent(path, k -> new LinkedHashMap<>());
      own.remove(set);
      if (!name.isEmpty()) {
        own.put(set, name);
      }
      return write(all);
    }
  }

  private Variants() {}

  /** Returns the sets among single choices; what is no choice of a variant is left out. */
  public static List<Choice> sets(List<String> choices) {
    Map<String, Map<String, List<String>>> all = new LinkedHashMap<>();
    for (String one : choices) {
      parse(one)
          .forEach((path, sets) ->
              sets.forEach((set, name) ->
                  all.computeIfAbsent(path, k -> new LinkedHashMap<>())
                      .computeIfAbsent(set, k -> new ArrayList<>())
                      .add(name)));
    }
    List<Choice> out = new ArrayList<>();
    all.forEach((path, sets) ->
        sets.forEach((set, names) -> out.add(new Choice(path, set, List.copyOf(names)))));
    return out;
  }

  /** Reads choices: variants by a prim's path and the set's name. What is none is left out. */
  public static Map<String, Map<String, String>> parse(String text) {
    Map<String, Map<String, String>> out = new LinkedHashMap<>();
    for (String one : text.trim().split("(?<=})\\s+")) {
      int open = one.indexOf('{');
      int equals = one.indexOf('=', open + 1);
      if (open > 0 && equals > open && one.endsWith("}")) {
        out.computeIfAbsent(one.substring(0, open), k -> new LinkedHashMap<>())
            .put(one.substring(open + 1, equals), one.substring(equals + 1, one.length() - 1));
      }
    }
    return out;
  }

  /** Writes choices. */
  public static String write(Map<String, Map<String, String>> choices) {
    StringBuilder out = new StringBuilder();
    choices.forEach((path, sets) ->
        sets.forEach(
            (set, name) -> out.append(out.isEmpty() ? "" : " ").append(one(path, set, name))));
    return out.toString();
  }

  private static String one(String path, String set, String name) {
    return path + "{" + set + "=" + name + "}";
  }

  /** Returns every choice that a stage offers. */
  static List<String> of(StagePrim root) {
    List<String> out = new ArrayList<>();
    collect(root, out);
    return out;
  }

  private static void collect(StagePrim prim, List<String> into) {
    prim.variants()
        .forEach((set, names) ->
            names.forEach(name -> {
              if (into.size() < MAX) {
                into.add(one(prim.path(), set, name));
              }
            }));
    prim.children().forEach(c -> collect(c, into));
  }
}
