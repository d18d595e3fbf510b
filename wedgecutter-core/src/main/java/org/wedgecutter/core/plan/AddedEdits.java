package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;

/** Edits of what a plan adds to its scene. */
public final class AddedEdits {
  private AddedEdits() {}

  /** Returns a name for another object. */
  public static String freeName(Plan plan, String name) {
    return Names.free(
        name, n -> plan.requireShot().added().stream().anyMatch(a -> a.name().equals(n)));
  }

  /**
   * Adds an object, in a row of its own above the others: Seen in the layer at the back, so that it
   * is seen once, and in the others as they have what no row names, but held out where that would
   * be Seen. In a plan without rows it belongs to what is there.
   */
  public static Plan add(Plan plan, AddedObject object) {
    List<AddedObject> all = new ArrayList<>(plan.requireShot().added());
    all.add(object);
    Plan next = with(plan, all);
    if (plan.collections().isEmpty() && plan.layers().size() == 1) {
      return next;
    }
    String row = CollectionEdits.freeName(plan, object.name());
    next =
        CollectionEdits.add(
            next,
            0,
            new CollectionDef(
                row, RuleParser.nothing(), List.of(object.path()), List.of(), Extra.NONE));
    String back = back(plan);
    for (LayerDef layer : plan.layers()) {
      if (layer.name().equals(back)) {
        next = PlanEdits.cell(next, back, row, c -> c.withRole(Role.SEEN));
      } else if (layer.rest().role() == Role.SEEN) {
        next = PlanEdits.cell(next, layer.name(), row, c -> c.withRole(Role.HOLDOUT));
      }
    }
    return next;
  }

  private static String back(Plan plan) {
    return plan.recipe().joins().isEmpty()
        ? plan.layers().isEmpty() ? "" : plan.layers().getFirst().name()
        : plan.recipe().joins().getFirst().layer();
  }

  /** Changes an object; its name stays, since rules name its path. */
  public static Plan edit(Plan plan, String name, UnaryOperator<AddedObject> change) {
    return with(
        plan,
        plan.requireShot().added().stream()
            .map(a -> a.name().equals(name) ? change.apply(a) : a)
            .toList());
  }

  /** Takes an object away; rows that name it stay, and match nothing. */
  public static Plan remove(Plan plan, String name) {
    return with(
        plan, plan.requireShot().added().stream().filter(a -> !a.name().equals(name)).toList());
  }

  private static Plan with(Plan plan, List<AddedObject> next) {
    return plan.withShot(plan.requireShot().with(s -> s.added = next));
  }
}
