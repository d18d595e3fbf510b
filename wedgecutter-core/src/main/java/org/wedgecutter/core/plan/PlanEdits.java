package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.wedgecutter.core.scene.Entity;

/** Edits: functions from plan to plan. Names that do not exist leave the plan as it is. */
public final class PlanEdits {
  private PlanEdits() {}

  /**
   * Changes a cell.
   *
   * @param collection name of the row, or null for the rest
   * @param edit gets the cell, or an empty one; a result without any content takes the cell away
   *     (the rest always has one)
   */
  public static Plan cell(
      Plan plan,
      String layer,
      @org.jspecify.annotations.Nullable String collection,
      UnaryOperator<Cell> edit) {
    return layer(
        plan,
        layer,
        l -> {
          if (collection == null) {
            return l.withRest(edit.apply(l.rest()));
          }
          if (plan.collections().stream().noneMatch(c -> c.name().equals(collection))) {
            return l;
          }
          Map<String, Cell> cells = new LinkedHashMap<>(l.cells());
          Cell next = edit.apply(cells.getOrDefault(collection, Cell.EMPTY));
          if (next.equals(Cell.EMPTY)) {
            cells.remove(collection);
          } else {
            cells.put(collection, next);
          }
          return l.withCells(cells);
        });
  }

  /** Changes a layer. */
  public static Plan layer(Plan plan, String layer, UnaryOperator<LayerDef> edit) {
    List<LayerDef> layers = new ArrayList<>(plan.layers());
    layers.replaceAll(l -> l.name().equals(layer) ? edit.apply(l) : l);
    return plan.withLayers(layers);
  }

  /** Changes how a layer is joined. */
  public static Plan join(Plan plan, String layer, Join join) {
    List<Recipe.Step> steps = new ArrayList<>(plan.recipe().joins());
    steps.replaceAll(s -> s.layer().equals(layer) ? new Recipe.Step(layer, join, s.extra()) : s);
    return plan.withRecipe(plan.recipe().withJoins(steps));
  }

  /**
   * Gives a layer another name, in the recipe too; a name that is taken or empty changes nothing.
   */
  public static Plan renameLayer(Plan plan, String layer, String next) {
    if (next.isBlank() || plan.layer(next).isPresent()) {
      return plan;
    }
    List<Recipe.Step> steps = new ArrayList<>(plan.recipe().joins());
    steps.replaceAll(s -> s.layer().equals(layer) ? new Recipe.Step(next, s.join(), s.extra()) : s);
    return layer(plan, layer, l -> l.withName(next)).withRecipe(plan.recipe().withJoins(steps));
  }

  /** Puts a copy of a layer in front of it, joined by plus, under a name that is free. */
  public static Plan copyLayer(Plan plan, String layer) {
    int at = plan.layerIndex(layer);
    if (at < 0) {
      return plan;
    }
    String name = layer + " copy";
    for (int k = 2; plan.layer(name).isPresent(); k++) {
      name = layer + " copy " + k;
    }
    LayerDef from = plan.layers().get(at);
    int hue = plan.layers().stream().mapToInt(LayerDef::hue).max().orElse(0) + 1;
    List<LayerDef> layers = new ArrayList<>(plan.layers());
    layers.add(
        at + 1, new LayerDef(name, from.render(), hue, from.cells(), from.rest(), from.extra()));
    return plan.withLayers(layers).withRecipe(withStep(plan, layer, name));
  }

  private static Recipe withStep(Plan plan, String after, String layer) {
    List<Recipe.Step> steps = new ArrayList<>(plan.recipe().joins());
    int at = steps.size();
    for (int i = 0; i < steps.size(); i++) {
      if (steps.get(i).layer().equals(after)) {
        at = i + 1;
      }
    }
    Join join = plan.join(after).orElse(Join.PLUS);
    steps.add(at, new Recipe.Step(layer, join, Extra.NONE));
    return plan.recipe().withJoins(steps);
  }

  /** Takes a layer away, from the recipe too. */
  public static Plan removeLayer(Plan plan, String layer) {
    List<LayerDef> layers = new ArrayList<>(plan.layers());
    layers.removeIf(l -> l.name().equals(layer));
    List<Recipe.Step> steps = new ArrayList<>(plan.recipe().joins());
    steps.removeIf(s -> s.layer().equals(layer));
    return plan.withLayers(layers).withRecipe(plan.recipe().withJoins(steps));
  }

  /**
   * Makes a collection seen in one layer alone: there Seen, and Holdout wherever it was Seen
   * before. This is how a thing moves from layer to layer.
   */
  public static Plan seenOnlyIn(Plan plan, String layer, String collection) {
    Plan next = plan;
    for (LayerDef l : plan.layers()) {
      Cell cell = l.cells().get(collection);
      if (l.name().equals(layer)) {
        next = cell(next, l.name(), collection, c -> c.withRole(Role.SEEN));
      } else if (cell != null && cell.role() == Role.SEEN) {
        next = cell(next, l.name(), collection, c -> c.withRole(Role.HOLDOUT));
      }
    }
    return next;
  }

  /** Changes a collection. */
  public static Plan collection(Plan plan, String name, UnaryOperator<CollectionDef> edit) {
    List<CollectionDef> collections = new ArrayList<>(plan.collections());
    collections.replaceAll(c -> c.name().equals(name) ? edit.apply(c) : c);
    return plan.withCollections(collections);
  }

  /** Gives a collection another rule. */
  public static Plan rule(Plan plan, String collection, Rule rule) {
    return collection(
        plan,
        collection,
        c -> new CollectionDef(c.name(), rule, c.added(), c.removed(), c.extra()));
  }

  /**
   * Takes an entity into a collection by hand: out of the hand-picked members of all others, and
   * left out of the rows above that would take it first.
   */
  public static Plan pick(Plan plan, String collection, Entity entity) {
    List<CollectionDef> collections = new ArrayList<>();
    boolean above = true;
    for (CollectionDef c : plan.collections()) {
      List<String> added = new ArrayList<>(c.added());
      List<String> removed = new ArrayList<>(c.removed());
      added.remove(entity.path());
      removed.remove(entity.path());
      boolean target = c.name().equals(collection);
      above &= !target;
      boolean byRule = c.rule().takes(entity);
      if (target && !byRule) {
        added.add(entity.path());
      } else if (above && byRule) {
        removed.add(entity.path());
      }
      collections.add(new CollectionDef(c.name(), c.rule(), added, removed, c.extra()));
    }
    return plan.withCollections(collections);
  }
}
