package org.wedgecutter.core.propose;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Rule;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;

/**
 * Finds rules for sets of entities: by what they have in common, not by a list of paths.
 *
 * <p>Tried in this order, the first that matches just the set is taken: a tag; a kind other than
 * mesh; a name, or the stem of names that differ in their numbers; a group of the hierarchy; a
 * material; all meshes; each of these among what moves or is still; several of these joined by
 * {@code |}.
 */
public final class RuleMaker {
  private static final int MOST_TERMS = 40;

  private final Members members;

  public RuleMaker(Members members) {
    this.members = members;
  }

  /** Returns a rule that matches a set and nothing else, if there is a short one. */
  public Optional<Rule> ruleFor(EntitySet set) {
    return ruleFor(set, EntitySet.NONE);
  }

  /**
   * Returns a rule that matches a set, if there is a short one.
   *
   * @param taken what it may match too, because rows above decide for that
   */
  public Optional<Rule> ruleFor(EntitySet set, EntitySet taken) {
    if (set.isEmpty()) {
      return Optional.empty();
    }
    Optional<Rule> one = exact(terms(set), set, taken);
    if (one.isPresent()) {
      return one;
    }
    String moves = moves(set);
    if (!moves.isEmpty()) {
      for (String term : terms(set)) {
        Optional<Rule> both = exact(List.of(term + " & " + moves), set, taken);
        if (both.isPresent()) {
          return both;
        }
      }
    }
    return exact(List.of(String.join(" | ", union(set, taken))), set, taken);
  }

  /**
   * Returns a collection of a set: by a rule, or by hand where no short rule matches.
   *
   * @param taken what its rule may match too, because rows above decide for that
   */
  public CollectionDef collection(String name, EntitySet set, EntitySet taken) {
    return ruleFor(set, taken)
        .map(rule -> CollectionDef.of(name, rule))
        .orElseGet(() -> CollectionDef.of(name, entities(set).stream().map(Entity::path).toList()));
  }

  private Optional<Rule> exact(List<String> texts, EntitySet set, EntitySet taken) {
    EntitySet most = set.or(taken);
    for (String text : texts) {
      try {
        Rule rule = RuleParser.parse(text);
        EntitySet matched = members.of(rule);
        if (matched.containsAll(set) && most.containsAll(matched)) {
          return Optional.of(rule);
        }
      } catch (RuleException e) {
        // too long, or a name that no rule can hold: another will do
        continue;
      }
    }
    return Optional.empty();
  }

  /** "moves:yes" or "moves:no" if it holds for all of a set, else empty. */
  private String moves(EntitySet set) {
    boolean all = true;
    boolean none = true;
    for (Entity e : entities(set)) {
      all &= e.moves();
      none &= !e.moves();
    }
    return all ? "moves:yes" : none ? "moves:no" : "";
  }

  private List<Entity> entities(EntitySet set) {
    List<Entity> out = new ArrayList<>();
    for (int e : set.indices()) {
      out.add(members.scene().entities().get(e));
    }
    return out;
  }

  /** Single terms that match all of a set; whether they match more is not looked at. */
  private List<String> terms(EntitySet set) {
    List<Entity> all = entities(set);
    Set<String> out = new LinkedHashSet<>();
    Set<String> tags = new LinkedHashSet<>(all.getFirst().tags());
    Set<String> materials = new LinkedHashSet<>(all.getFirst().materials());
    all.forEach(e -> {
      tags.retainAll(e.tags());
      materials.retainAll(e.materials());
    });
    tags.forEach(tag -> out.add("tag:" + quoted(tag)));
    EntityKind kind = all.getFirst().kind();
    boolean alike = all.stream().allMatch(e -> e.kind() == kind);
    if (alike && kind != EntityKind.MESH) {
      out.add("kind:" + kind.word());
    }
    if (kind == EntityKind.ENVIRONMENT) {
      return List.copyOf(out);
    }
    Set<String> stems = new TreeSet<>();
    Set<String> names = new TreeSet<>();
    all.forEach(e -> {
      names.add(e.name());
      stems.add(stem(e.name()));
    });
    if (names.size() == 1) {
      out.add("name:" + quoted(names.iterator().next()));
    } else if (stems.size() == 1 && isPlain(stems.iterator().next())) {
      out.add("name:" + stems.iterator().next() + "*");
    }
    String group = group(all);
    if (!group.isEmpty() && isPlain(group.replace("/", ""))) {
      out.add("path:" + group + "/**");
      out.add("path:" + group + " | path:" + group + "/**");
    } else if (!group.isEmpty()) {
      out.add("path:" + quoted(group));
    }
    materials.forEach(material -> out.add("material:" + quoted(material)));
    if (alike) {
      out.add("kind:" + kind.word());
    }
    return List.copyOf(out);
  }

  /** The deepest path that a set lies at or below; empty for the root. */
  private static String group(List<Entity> all) {
    String common = all.getFirst().path();
    for (Entity e : all) {
      while (!e.path().equals(common) && !e.path().startsWith(common + "/")) {
        common = common.substring(0, Math.max(0, common.lastIndexOf('/')));
      }
    }
    return common;
  }

  /** Terms for the parts of a set, by the groups that are wholly in it. */
  private List<String> union(EntitySet set, EntitySet taken) {
    List<String> out = new ArrayList<>();
    EntitySet left = set;
    while (!left.isEmpty() && out.size() < MOST_TERMS) {
      EntitySet part = largest(left, set.or(taken)).and(set);
      Optional<Rule> rule = exact(terms(part), part, taken);
      out.add(
          rule.map(Rule::text)
              .orElse("path:" + quoted(members.scene().entities().get(part.first()).path())));
      left = left.minus(part);
    }
    return out;
  }

  /** The largest group about the first entity left that holds nothing outside a set. */
  private EntitySet largest(EntitySet left, EntitySet set) {
    Entity first = members.scene().entities().get(left.first());
    EntitySet best = EntitySet.of(List.of(first.index()));
    for (int end = first.path().indexOf('/', 1);
        end > 0;
        end = first.path().indexOf('/', end + 1)) {
      String group = first.path().substring(0, end) + "/";
      EntitySet all =
          EntitySet.where(
              members.scene().entities().size(),
              e -> members.scene().entities().get(e).path().startsWith(group));
      if (set.containsAll(all)) {
        return all;
      }
    }
    return best;
  }

  /** A name without the number at its end. */
  static String stem(String name) {
    return name.replaceAll("[0-9]+$", "");
  }

  private static boolean isPlain(String word) {
    return !word.isEmpty() && word.matches("[A-Za-z0-9_./-]+");
  }

  private static String quoted(String word) {
    return isPlain(word) ? word : '"' + word.replace("\"", "") + '"';
  }
}
