package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Edits of cells: functions from plan to plan. Names that do not exist leave the plan as it is. A
 * row is named by its collection; null is the rest.
 */
public final class PlanEdits {
  private PlanEdits() {}

  /**
   * Changes a cell.
   *
   * @param edit gets the cell, or an empty one; an empty result deletes the cell (the rest always
   *     has one)
   */
  public static Plan cell(
      Plan plan, String layer, @Nullable String collection, UnaryOperator<Cell> edit) {
    return LayerEdits.layer(
        plan,
        layer,
        l -> {
          if (collection == null) {
            return l.withRest(edit.apply(l.rest()));
          }
          if (plan.collection(collection).isEmpty()) {
            return l;
          }
          Map<String, Cell> cells = new LinkedHashMap<>(l.cells());
          Cell next = edit.apply(l.cell(collection));
          if (next.equals(Cell.EMPTY)) {
            cells.remove(collection);
          } else {
            cells.put(collection, next);
          }
          return l.withCells(cells);
        });
  }

  /**
   * Makes a collection seen in one layer only: there Seen, and Holdout wherever it was Seen before.
   * This is how an object moves from layer to layer.
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

  /** Adds an override to a cell, or replaces the one of the same property. */
  public static Plan override(
      Plan plan, String layer, @Nullable String collection, CellOverride override) {
    return cell(plan, layer, collection, c -> c.withOverrides(replaced(c.overrides(), override)));
  }

  /** Deletes the overrides of a property from a cell. */
  public static Plan removeOverride(
      Plan plan, String layer, @Nullable String collection, Property property) {
    return cell(
        plan,
        layer,
        collection,
        c ->
            c.withOverrides(c.overrides().stream().filter(o -> o.property() != property).toList()));
  }

  /** Returns overrides with one in the place of the first of the same property, or at the end. */
  public static List<CellOverride> replaced(List<CellOverride> list, CellOverride next) {
    List<CellOverride> out = new ArrayList<>();
    boolean placed = false;
    for (CellOverride o : list) {
      if (o.property() != next.property()) {
        out.add(o);
      } else if (!placed) {
        out.add(next);
        placed = true;
      }
    }
    if (!placed) {
      out.add(next);
    }
    return out;
  }
}
