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

  /** Adds an object; in each layer it is what the rows that match it make it. */
  public static Plan add(Plan plan, AddedObject object) {
    List<AddedObject> all = new ArrayList<>(plan.requireShot().added());
    all.add(object);
    return with(plan, all);
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
