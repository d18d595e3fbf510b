package org.wedgecutter.core.cut;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Rule;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;

/** Edits of a plan that need to know what its rows match. */
public final class Cuts {
  private static final List<Property> WHAT_LIGHT_FEELS =
      List.of(
          Property.VISIBLE_REFLECTION,
          Property.VISIBLE_BOUNCE,
          Property.VISIBLE_TRANSMISSION,
          Property.SHADOW_CASTS);

  private Cuts() {}

  /**
   * Gives entities a role in a layer, and no others. Rows that decide for these entities alone are
   * changed; for entities that share their row with others, a collection of their own is put above
   * it, which only this layer has a cell for.
   */
  public static Plan role(Plan plan, Members members, String layer, EntitySet entities, Role role) {
    LayerDef def = plan.layer(layer).orElse(null);
    if (def == null || entities.isEmpty()) {
      return plan;
    }
    Plan next = plan;
    EntitySet left = entities;
    EntitySet open = EntitySet.where(members.scene().entities().size(), e -> true);
    for (CollectionDef c : plan.collections()) {
      if (def.cell(c.name()).role() != null) {
        EntitySet decides = members.of(c).and(open);
        open = open.minus(decides);
        if (decides.meets(left) && entities.containsAll(decides)) {
          next = PlanEdits.cell(next, layer, c.name(), x -> x.withRole(role));
          left = left.minus(decides);
        }
      }
    }
    if (!open.isEmpty() && entities.containsAll(open)) {
      next = PlanEdits.cell(next, layer, null, x -> x.withRole(role));
      left = left.minus(open);
    }
    if (left.isEmpty()) {
      return next;
    }
    String exact = exactRow(next, members, left);
    if (exact != null && next.collections().getFirst().name().equals(exact)) {
      return PlanEdits.cell(next, layer, exact, x -> x.withRole(role));
    }
    String name = CollectionEdits.freeName(next, nameOf(members, left));
    next = CollectionEdits.add(next, 0, CollectionDef.of(name, paths(members, left)));
    return PlanEdits.cell(next, layer, name, x -> x.withRole(role));
  }

  private static @Nullable String exactRow(Plan plan, Members members, EntitySet entities) {
    return plan.collections().stream()
        .filter(c -> members.of(c).equals(entities))
        .map(CollectionDef::name)
        .findFirst()
        .orElse(null);
  }

  private static List<String> paths(Members members, EntitySet entities) {
    List<String> out = new ArrayList<>();
    for (int e : entities.indices()) {
      out.add(members.scene().entities().get(e).path());
    }
    return out;
  }

  /** A name for a group of entities: that of the only one, or of their common parent. */
  static String nameOf(Members members, EntitySet entities) {
    List<String> paths = paths(members, entities);
    String common = paths.getFirst();
    for (String path : paths) {
      while (!path.equals(common) && !path.startsWith(common + "/")) {
        common = common.substring(0, Math.max(0, common.lastIndexOf('/')));
      }
    }
    return common.isEmpty() ? "selection" : common.substring(common.lastIndexOf('/') + 1);
  }

  /**
   * Makes sure that there is a collection of exactly these entities, above all others that share.
   */
  public static Plan collected(Plan plan, Members members, EntitySet entities, String[] name) {
    String exact = exactRow(plan, members, entities);
    if (exact != null) {
      name[0] = exact;
      return plan;
    }
    name[0] = CollectionEdits.freeName(plan, nameOf(members, entities));
    return inherited(
        CollectionEdits.add(plan, 0, CollectionDef.of(name[0], paths(members, entities))),
        members,
        name[0],
        entities);
  }

  /** Gives a new row the roles that its entities had, where they all had the same. */
  private static Plan inherited(Plan plan, Members members, String row, EntitySet entities) {
    Plan next = plan;
    for (LayerDef layer : plan.layers()) {
      Role common = null;
      boolean same = true;
      for (int e : entities.indices()) {
        Role role = decided(plan, members, layer, e);
        same &= common == null || common == role;
        common = role;
      }
      if (same && common != null) {
        Role role = common;
        next = PlanEdits.cell(next, layer.name(), row, c -> c.withRole(role));
      }
    }
    return next;
  }

  private static Role decided(Plan plan, Members members, LayerDef layer, int entity) {
    for (CollectionDef c : plan.collections()) {
      Role role = layer.cell(c.name()).role();
      if (role != null && members.of(c).contains(entity)) {
        return role;
      }
    }
    Role rest = layer.rest().role();
    return rest == null ? Role.HOLDOUT : rest;
  }

  /**
   * Cuts a selection out of the layers that show it: seen in a layer of its own, held out
   * everywhere else. With {@code shadow} also what it does to all else (shadow, reflection, bounced
   * light) goes into a layer of its own: the others are lit as if it were not there, and a catcher
   * adds the difference. Everything is joined by plus, exactly.
   */
  public static Plan apart(Plan plan, Members members, EntitySet chosen, boolean shadow) {
    // lights are not seen; the environment throws no shadow, and stays where it is seen
    EntitySet selection =
        EntitySet.where(
            members.scene().entities().size(),
            e -> {
              var kind = members.scene().entities().get(e).kind();
              return chosen.contains(e)
                  && kind != EntityKind.LIGHT
                  && !(shadow && kind == EntityKind.ENVIRONMENT);
            });
    if (selection.isEmpty()) {
      return plan;
    }
    String[] row = new String[1];
    Plan next = collected(plan, members, selection, row);
    String name = row[0];
    int at = next.layers().size();
    boolean alone = false;
    EntitySet receivers = EntitySet.NONE;
    for (LayerDef layer : next.layers()) {
      EntitySet shown = seen(next, members, layer);
      boolean holds = decided(next, members, layer, selection.first()) == Role.HOLDOUT;
      EntitySet whole = seen(next, members, layer, k -> k != EntityKind.LIGHT);
      if (whole.meets(selection)) {
        at = next.layerIndex(layer.name()) + 1;
      }
      if (whole.equals(selection)) {
        // it has a layer already
        alone = true;
      } else if (whole.meets(selection) || (shadow && holds && !shown.isEmpty())) {
        receivers = receivers.or(shown.minus(selection));
        next = PlanEdits.cell(next, layer.name(), name, c -> heldOut(c, shadow));
      }
    }
    if (!alone) {
      next =
          LayerEdits.add(
              next,
              at,
              LayerDef.of(name, 0, Map.of(name, Cell.of(Role.SEEN)), Cell.of(Role.HOLDOUT)),
              Join.PLUS);
    }
    return shadow && !receivers.isEmpty()
        ? withCatcher(next, members, receivers, name + " shadow and reflection", at, List.of(name))
        : next;
  }

  private static Cell heldOut(Cell cell, boolean shadow) {
    Cell next = cell.withRole(Role.HOLDOUT);
    for (Property p : shadow ? WHAT_LIGHT_FEELS : List.<Property>of()) {
      next = next.withOverrides(PlanEdits.replaced(next.overrides(), CellOverride.of(p, false)));
    }
    return next;
  }

  /** Returns the meshes that a layer shows: what can be caught on. */
  static EntitySet seen(Plan plan, Members members, LayerDef layer) {
    return seen(plan, members, layer, k -> k == EntityKind.MESH);
  }

  private static EntitySet seen(
      Plan plan, Members members, LayerDef layer, Predicate<EntityKind> kinds) {
    return EntitySet.where(
        members.scene().entities().size(),
        e ->
            kinds.test(members.scene().entities().get(e).kind())
                && decided(plan, members, layer, e) == Role.SEEN);
  }

  /**
   * Lets the rows of a layer that hold nothing but receivers catch. What rows above decide in the
   * layer is not a row's own.
   *
   * @param cells of the layer by row; those that catch are added
   * @return the receivers that no row holds
   */
  public static EntitySet catching(
      Plan plan, Members members, Map<String, Cell> cells, EntitySet receivers) {
    EntitySet left = receivers;
    EntitySet decided = EntitySet.NONE;
    for (CollectionDef c : plan.collections()) {
      EntitySet own = members.of(c).minus(decided);
      if (cells.containsKey(c.name())) {
        decided = decided.or(own);
      } else if (!own.isEmpty() && receivers.containsAll(own)) {
        cells.put(c.name(), Cell.of(Role.CATCHER));
        decided = decided.or(own);
        left = left.minus(own);
      }
    }
    return left;
  }

  /** Adds a layer in which rows that show the receivers catch what the casters do. */
  private static Plan withCatcher(
      Plan plan, Members members, EntitySet receivers, String name, int at, List<String> casters) {
    Map<String, Cell> cells = new LinkedHashMap<>();
    for (String caster : casters) {
      cells.put(caster, caster(Role.HOLDOUT));
    }
    EntitySet left = catching(plan, members, cells, receivers);
    Plan next = plan;
    if (!left.isEmpty()) {
      String[] row = new String[1];
      next = collected(next, members, left, row);
      cells.put(row[0], Cell.of(Role.CATCHER));
    }
    return LayerEdits.add(
        next,
        at < 0 ? next.layers().size() : at,
        LayerDef.of(name, 0, cells, Cell.of(Role.HOLDOUT)),
        Join.PLUS);
  }

  /** A cell whose entities are caught, whatever their role. */
  static Cell caster(Role role) {
    Cell cell = Cell.of(role);
    return cell.withCatcher(cell.catching().withCaster(true).withOutput(null));
  }

  /** By what a selection is split. */
  public enum By {
    /** One layer for each group at the top of the hierarchy, below what all have in common. */
    TOP_GROUP,
    /** One layer for each object. */
    OBJECT,
    /** One layer for each material. */
    MATERIAL
  }

  /** Most layers that one split makes. */
  public static final int MOST_PARTS = 60;

  /**
   * Splits a selection into layers: each part seen in one of its own, held out everywhere else.
   *
   * @throws IllegalArgumentException if that would be more than {@link #MOST_PARTS} layers
   */
  public static Plan split(Plan plan, Members members, EntitySet selection, By by) {
    Map<String, EntitySet> parts = new LinkedHashMap<>();
    Function<Entity, String> key = key(members, selection, by);
    for (int e : selection.indices()) {
      parts.merge(
          key.apply(members.scene().entities().get(e)),
          EntitySet.where(e + 1, x -> x == e),
          EntitySet::or);
    }
    if (parts.size() > MOST_PARTS) {
      throw new IllegalArgumentException(
          "this would make %d layers; at most %d at once".formatted(parts.size(), MOST_PARTS));
    }
    Plan next = plan;
    for (Map.Entry<String, EntitySet> part : parts.entrySet()) {
      if (by == By.MATERIAL && exactRow(next, members, part.getValue()) == null) {
        next = named(next, members, part.getKey(), part.getValue());
      }
      next = apart(next, members, part.getValue(), false);
    }
    return next;
  }

  /** A collection by its material, if that rule takes just these entities. */
  private static Plan named(Plan plan, Members members, String material, EntitySet entities) {
    try {
      Rule rule = RuleParser.parse("material:\"" + material.replace("\"", "") + "\"");
      if (members.of(rule).equals(entities)) {
        String name = CollectionEdits.freeName(plan, material);
        return inherited(
            CollectionEdits.add(plan, 0, CollectionDef.of(name, rule)), members, name, entities);
      }
    } catch (RuleException e) {
      return plan;
    }
    return plan;
  }

  private static Function<Entity, String> key(Members members, EntitySet selection, By by) {
    return switch (by) {
      case OBJECT -> Entity::path;
      case MATERIAL -> e -> e.materials().isEmpty() ? e.kind().word() : e.materials().getFirst();
      case TOP_GROUP -> {
        String common = commonPath(members, selection);
        yield e -> {
          int end = e.path().indexOf('/', Math.min(e.path().length(), common.length() + 1));
          return end < 0 ? e.path() : e.path().substring(0, end);
        };
      }
    };
  }

  private static String commonPath(Members members, EntitySet selection) {
    String common = null;
    for (String path : paths(members, selection)) {
      String parent = path.substring(0, path.lastIndexOf('/'));
      common = common == null ? parent : common;
      while (!parent.equals(common) && !parent.startsWith(common + "/")) {
        common = common.isEmpty() ? "" : common.substring(0, common.lastIndexOf('/'));
      }
    }
    return common == null ? "" : common;
  }
}
