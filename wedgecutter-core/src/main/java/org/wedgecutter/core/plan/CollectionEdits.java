package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.wedgecutter.core.scene.Entity;

/** Edits of collections: functions from plan to plan. They apply to all layers. */
public final class CollectionEdits {
  private CollectionEdits() {}

  /** Changes a collection. */
  public static Plan collection(Plan plan, String name, UnaryOperator<CollectionDef> edit) {
    List<CollectionDef> collections = new ArrayList<>(plan.collections());
    collections.replaceAll(c -> c.name().equals(name) ? edit.apply(c) : c);
    return plan.withCollections(collections);
  }

  /** Gives a collection another rule. */
  public static Plan rule(Plan plan, String collection, Rule rule) {
    return collection(plan, collection, c -> c.withRule(rule));
  }

  /** Puts a new collection at a place, under a unique name; no layer has a cell for it. */
  public static Plan add(Plan plan, int at, CollectionDef collection) {
    List<CollectionDef> collections = new ArrayList<>(plan.collections());
    collections.add(
        Math.max(0, Math.min(at, collections.size())),
        collection.withName(freeName(plan, collection.name())));
    return plan.withCollections(collections);
  }

  /** Returns the name that {@link #add} would give to a collection. */
  public static String freeName(Plan plan, String name) {
    return Names.free(name, n -> plan.collection(n).isPresent());
  }

  /**
   * Returns a name for what a rule matches: its first name or word without wildcards, empty if it
   * has none.
   */
  public static String nameFor(Rule rule) {
    java.util.regex.Matcher word =
        java.util.regex.Pattern.compile("(?:\\w+:)?/?(?:[^|&!()]*/)?([\\p{L}\\p{N}_ -]+)")
            .matcher(rule.text().replace("/**", "").replace("\"", "").replace("*", ""));
    return word.find() ? word.group(1).strip() : "";
  }

  /** Deletes a collection, with its cells in all layers. */
  public static Plan remove(Plan plan, String name) {
    List<CollectionDef> collections = new ArrayList<>(plan.collections());
    collections.removeIf(c -> c.name().equals(name));
    return recelled(
        named(plan.withCollections(collections), n -> n.equals(name) ? "" : n),
        (key, cells, cell) -> {
          if (!key.equals(name)) {
            cells.put(key, cell);
          }
        });
  }

  /** Gives a collection another name, in all layers; one that is taken or empty does nothing. */
  public static Plan rename(Plan plan, String name, String next) {
    if (next.isBlank() || plan.collection(next).isPresent()) {
      return plan;
    }
    return recelled(
        named(collection(plan, name, c -> c.withName(next)), n -> n.equals(name) ? next : n),
        (key, cells, cell) -> cells.put(key.equals(name) ? next : key, cell));
  }

  /**
   * Changes a collection's name wherever the shot, the output or a catcher names it.
   *
   * @param names an empty name takes it out
   */
  private static Plan named(Plan plan, UnaryOperator<String> names) {
    List<LayerDef> layers = new ArrayList<>(plan.layers());
    layers.replaceAll(l -> {
      Map<String, Cell> cells = new LinkedHashMap<>(l.cells());
      cells.replaceAll((key, cell) -> named(cell, names));
      return l.withCells(cells).withRest(named(l.rest(), names));
    });
    Plan next =
        plan.withLayers(layers)
            .withOutput(
                plan.output()
                    .with(o -> {
                      o.lightGroups = named(o.lightGroups, names);
                      o.limits = named(o.limits, names);
                    }));
    Shot shot = plan.shot();
    return shot == null
        ? next
        : next.withShot(
            shot.with(s -> {
              s.plate =
                  new Shot.PlateDef(
                      s.plate.image(), names.apply(s.plate.standIns()), s.plate.extra());
              s.links = named(s.links, names);
            }));
  }

  private static Cell named(Cell cell, UnaryOperator<String> names) {
    CatcherOptions catcher = cell.catcher();
    if (catcher == null || catcher.tuning().lights().isEmpty()) {
      return cell;
    }
    CatcherTuning tuning = catcher.tuning();
    List<String> next = named(tuning.lights(), names);
    // none would mean all lights: a name of nothing is the lesser change
    return next.isEmpty() ? cell : cell.withCatcher(catcher.withTuning(tuning.withLights(next)));
  }

  private static List<String> named(List<String> of, UnaryOperator<String> names) {
    return of.stream().map(names).filter(n -> !n.isEmpty()).distinct().toList();
  }

  private static Map<String, String> named(Map<String, String> of, UnaryOperator<String> names) {
    Map<String, String> out = new LinkedHashMap<>();
    of.forEach((key, name) -> {
      String next = names.apply(name);
      if (!next.isEmpty()) {
        out.put(key, next);
      }
    });
    return out;
  }

  private interface Keeper {
    void keep(String key, Map<String, Cell> cells, Cell cell);
  }

  private static Plan recelled(Plan plan, Keeper keeper) {
    List<LayerDef> layers = new ArrayList<>(plan.layers());
    layers.replaceAll(l -> {
      Map<String, Cell> cells = new LinkedHashMap<>();
      l.cells().forEach((key, cell) -> keeper.keep(key, cells, cell));
      return l.withCells(cells);
    });
    return plan.withLayers(layers);
  }

  /** Moves a collection up (negative) or down by some rows: it decides before those below. */
  public static Plan move(Plan plan, String name, int by) {
    List<CollectionDef> collections = new ArrayList<>(plan.collections());
    for (int i = 0; i < collections.size(); i++) {
      if (collections.get(i).name().equals(name)) {
        CollectionDef moved = collections.remove(i);
        collections.add(Math.max(0, Math.min(collections.size(), i + by)), moved);
        return plan.withCollections(collections);
      }
    }
    return plan;
  }

  /**
   * Picks an entity into a collection: out of the hand-picked members of all others, and excluded
   * from the rows above that would match it first.
   */
  public static Plan pick(Plan plan, String collection, Entity entity) {
    if (plan.collection(collection).isEmpty()) {
      return plan;
    }
    List<CollectionDef> collections = new ArrayList<>();
    boolean above = true;
    for (CollectionDef c : plan.collections()) {
      List<String> added = new ArrayList<>(c.added());
      List<String> removed = new ArrayList<>(c.removed());
      added.remove(entity.path());
      removed.remove(entity.path());
      boolean target = c.name().equals(collection);
      above &= !target;
      boolean byRule = c.rule().matches(entity);
      if (target && !byRule) {
        added.add(entity.path());
      } else if (above && byRule) {
        removed.add(entity.path());
      }
      collections.add(new CollectionDef(c.name(), c.rule(), added, removed, c.extra()));
    }
    return plan.withCollections(collections);
  }

  /** Excludes an entity from a collection. */
  public static Plan leaveOut(Plan plan, String collection, Entity entity) {
    return collection(
        plan,
        collection,
        c -> {
          List<String> added = new ArrayList<>(c.added());
          List<String> removed = new ArrayList<>(c.removed());
          added.remove(entity.path());
          if (c.rule().matches(entity) && !removed.contains(entity.path())) {
            removed.add(entity.path());
          }
          return new CollectionDef(c.name(), c.rule(), added, removed, c.extra());
        });
  }
}
