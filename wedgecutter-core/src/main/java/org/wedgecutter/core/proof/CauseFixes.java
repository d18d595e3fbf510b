package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Entity;

/** The edits that mend causes: functions from plan to plan. */
public final class CauseFixes {
  private final Plan plan;
  private final Members members;
  private final ResolvedShot resolved;

  /**
   * @param resolved the plan's layers at the frame of the causes
   */
  public CauseFixes(Plan plan, Members members, ResolvedShot resolved) {
    this.plan = plan;
    this.members = members;
    this.resolved = resolved;
  }

  private ResolvedLayer layer(String name) {
    return resolved.layers().get(plan.layerIndex(name));
  }

  private Entity entity(int index) {
    return members.scene().entities().get(index);
  }

  /** Returns the edit that removes a cause, or null if the TD must decide. */
  public @Nullable UnaryOperator<Plan> fix(Cause cause) {
    EntitySet entities = EntitySet.of(cause.entities());
    String layer = cause.layer();
    return switch (cause.kind()) {
      case SEEN_NOWHERE -> seenSomewhere(entities);
      case SEEN_TWICE -> seenOnce(entities);
      case LIGHT_TWICE -> p -> Cuts.role(p, members, layer, entities, Role.ABSENT);
      case LIGHT_DIFFERS -> lit(layer, entities);
      case OVERRIDE_DIFFERS ->
          layer.isEmpty() ? p -> offEverywhere(p, entities) : p -> off(p, layer, entities, false);
      case SEEN_IN_RATIO ->
          isShownElsewhere(layer, entities)
              ? p -> Cuts.role(p, members, layer, entities, Role.HOLDOUT)
              : p -> difference(p, layer);
      case ALPHA_COUNT ->
          p ->
              LayerEdits.join(
                  p,
                  layer,
                  cause.message().sentence() == Sentence.ALPHA_TWICE ? Join.LIGHT : Join.PLUS);
      case CATCHER_IDLE ->
          layer(layer).decisions().of(Role.CATCHER).meets(entities) || entities.isEmpty()
              ? p -> heldOutAsCasters(p, layer)
              : casting(layer, entities, layer(layer).decisions().of(Role.ABSENT).and(entities));
      case NOT_CAUGHT -> this::caughtOnPlate;
      case HALF_RANGE -> p -> p.withOutput(p.output().withFloats(Output.BEAUTY, true));
      case SETTINGS_DIFFER -> p -> LayerEdits.layer(p, layer, CauseFixes::plainSettings);
      case HELD_NOT_STILL -> p -> LayerEdits.removeSetting(p, layer, Property.FRAMES);
      case OVER_ON_HELD_OUT -> p -> LayerEdits.join(p, layer, Join.PLUS);
      case JOIN_FOR_LOOKS ->
          p ->
              LayerEdits.opacity(
                  p.join(layer).filter(Join::isForLooks).isPresent()
                      ? LayerEdits.join(p, layer, Join.PLUS)
                      : p,
                  layer,
                  1);
      case PLUS_ON_COMPLETE -> p -> Cuts.role(p, members, layer, entities, Role.HOLDOUT);
      case WRONG_JOIN -> {
        CatcherSpec catcher = layer(layer).catcher();
        yield catcher == null ? null : p -> LayerEdits.join(p, layer, catcher.output().join());
      }
      case JOIN_ORDER -> LayerEdits::ordered;
      case DOUBLED_SHADOW -> p -> oneCatcher(p, layer, entities);
      case RATIO_AT_EDGES -> surfaceFirst(layer);
      case GREY_CATCH, RATIO_ON_SPECULAR, CATCH_TUNED -> p -> difference(p, layer);
      case LAYER_NOT_RENDERED -> p -> LayerEdits.layer(p, layer, l -> l.withRender(true));
      case LAYER_NOT_JOINED -> p -> LayerEdits.join(p, layer, Join.PLUS);
      default -> null;
    };
  }

  /**
   * Returns an edit that undoes a cause, by which it is measured: its fix, or where the TD must
   * decide, the exact form of what the plan approximates; null if there is none.
   */
  public @Nullable UnaryOperator<Plan> without(Cause cause) {
    UnaryOperator<Plan> fix = fix(cause);
    if (fix != null) {
      return fix;
    }
    return switch (cause.kind()) {
      case EDGE_COVARIANCE -> p -> heldOutBehind(p, cause.layer());
      case HAZE_APART -> p -> mediaHeldOut(p, EntitySet.of(cause.entities()));
      default -> null;
    };
  }

  /**
   * Moves the layers of a catcher's surfaces, and those that catch on them, to the back: nothing
   * else is behind its ratio then. Layers that are added up may stand in any order; null where that
   * does not help.
   */
  private @Nullable UnaryOperator<Plan> surfaceFirst(String name) {
    CatcherSpec catcher = layer(name).catcher();
    if (catcher == null) {
      return null;
    }
    Set<String> first = new HashSet<>();
    for (ResolvedLayer each : resolved.layers().subList(0, plan.layerIndex(name) + 1)) {
      CatcherSpec other = each.catcher();
      boolean shows = each.seen().meets(catcher.surfaces());
      if (shows || (other != null && other.surfaces().meets(catcher.surfaces()))) {
        first.add(each.name());
      }
      boolean moves = !each.seen().isEmpty();
      if ((moves && plan.join(each.name()).filter(j -> j != Join.PLUS).isPresent())
          || (shows && !catcher.surfaces().containsAll(each.seen()))) {
        return null;
      }
    }
    return p -> {
      List<LayerDef> layers = new ArrayList<>(p.layers());
      layers.sort(Comparator.comparing(l -> !first.contains(l.name())));
      return LayerEdits.ordered(p.withLayers(layers));
    };
  }

  /** Cuts what a layer shows out of all layers behind it, and joins it by plus. */
  private Plan heldOutBehind(Plan plan, String front) {
    EntitySet shown = layer(front).seen();
    Plan next = LayerEdits.join(plan, front, Join.PLUS);
    for (Recipe.Step step : plan.recipe().joins()) {
      if (step.layer().equals(front)) {
        break;
      }
      ResolvedLayer behind = layer(step.layer());
      EntitySet unseen = behind.decisions().of(Role.UNSEEN).and(shown);
      EntitySet absent = behind.decisions().of(Role.ABSENT).and(shown);
      CatcherSpec catcher = behind.catcher();
      boolean cast = catcher != null && catcher.casters().meets(unseen);
      next = Cuts.role(next, members, step.layer(), unseen.or(absent), Role.HOLDOUT);
      for (CollectionDef row : next.collections()) {
        EntitySet own = members.of(row);
        if (next.layer(step.layer()).orElseThrow().cell(row.name()).role() == Role.HOLDOUT) {
          if (cast && own.meets(unseen)) {
            next = PlanEdits.cell(next, step.layer(), row.name(), CauseFixes::asCaster);
          } else if (own.meets(absent)) {
            next = cutOnly(next, step.layer(), row.name());
          }
        }
      }
    }
    return next;
  }

  /** Lets a cell cut the picture and change no light. */
  private static Plan cutOnly(Plan plan, String layer, String row) {
    Plan next = plan;
    for (Property light :
        List.of(
            Property.VISIBLE_REFLECTION,
            Property.VISIBLE_BOUNCE,
            Property.VISIBLE_TRANSMISSION,
            Property.SHADOW_CASTS)) {
      next = PlanEdits.override(next, layer, row, CellOverride.of(light, false));
    }
    return next;
  }

  /** Lets media dim and scatter light where they are absent, held out there and joined by plus. */
  private Plan mediaHeldOut(Plan plan, EntitySet media) {
    Plan next = plan;
    for (Recipe.Step step : plan.recipe().joins()) {
      ResolvedLayer layer = layer(step.layer());
      EntitySet absent = layer.decisions().of(Role.ABSENT).and(media);
      next = Cuts.role(next, members, step.layer(), absent, Role.HOLDOUT);
      if (layer.seen().meets(media)) {
        next = LayerEdits.join(next, step.layer(), Join.PLUS);
      }
    }
    return next;
  }

  /** In the joined layer that shows the most of what has the same parent, or else the first. */
  private @Nullable UnaryOperator<Plan> seenSomewhere(EntitySet entities) {
    String parent = parent(entity(entities.first()).path());
    String best = null;
    long most = -1;
    for (Recipe.Step step : plan.recipe().joins()) {
      ResolvedLayer layer = layer(step.layer());
      if (layer.catcher() == null) {
        long near = 0;
        for (int e : layer.seen().indices()) {
          near += parent(entity(e).path()).equals(parent) ? 1 : 0;
        }
        if (near > most) {
          most = near;
          best = layer.name();
        }
      }
    }
    String layer = best;
    return layer == null ? null : p -> Cuts.role(p, members, layer, entities, Role.SEEN);
  }

  private static String parent(String path) {
    return path.substring(0, path.lastIndexOf('/'));
  }

  private UnaryOperator<Plan> seenOnce(EntitySet entities) {
    return p -> {
      Plan next = p;
      String keep = null;
      for (Recipe.Step step : plan.recipe().joins()) {
        ResolvedLayer layer = layer(step.layer());
        if (layer.seen().meets(entities)) {
          // a row says more than the rest
          boolean named = layer.decisions().get(entities.first()).row() != null;
          keep = keep == null || named ? layer.name() : keep;
        }
      }
      for (Recipe.Step step : plan.recipe().joins()) {
        EntitySet own = layer(step.layer()).seen().and(entities);
        if (!own.isEmpty() && !step.layer().equals(keep)) {
          next = Cuts.role(next, members, step.layer(), own, Role.HOLDOUT);
        }
      }
      return next;
    };
  }

  private UnaryOperator<Plan> lit(String layer, EntitySet entities) {
    EntitySet absent = layer(layer).decisions().of(Role.ABSENT).and(entities);
    if (layer(layer).catcher() != null) {
      return casting(layer, entities, absent);
    }
    return absent.isEmpty()
        ? p -> off(p, layer, entities, true)
        : p -> Cuts.role(p, members, layer, absent, Role.UNSEEN);
  }

  /**
   * Brings things back into a catcher layer: as catchers where the layer that shows them is lit
   * otherwise than the uncut frame, else as casters, held out if most of it is, or Unseen.
   */
  private UnaryOperator<Plan> casting(String layer, EntitySet entities, EntitySet absent) {
    ResolvedLayer own = layer(layer);
    boolean heldOut =
        own.decisions().of(Role.HOLDOUT).size() >= own.decisions().of(Role.UNSEEN).size();
    EntitySet catching = absent.and(litOtherwise());
    EntitySet casting = absent.minus(catching);
    return p -> {
      Plan next = off(p, layer, entities, true);
      next = Cuts.role(next, members, layer, catching, Role.CATCHER);
      next = Cuts.role(next, members, layer, casting, heldOut ? Role.HOLDOUT : Role.UNSEEN);
      for (CollectionDef row : next.collections()) {
        Role role = next.layer(layer).orElseThrow().cell(row.name()).role();
        EntitySet matched = members.of(row);
        boolean byRest = role == null && !matched.isEmpty() && entities.containsAll(matched);
        boolean casts = byRest || (role == Role.HOLDOUT && matched.meets(entities));
        if (casts) {
          next = PlanEdits.cell(next, layer, row.name(), CauseFixes::asCaster);
        }
      }
      return next;
    };
  }

  /** What is shown in a joined layer whose light is not the uncut frame's. */
  private EntitySet litOtherwise() {
    EntitySet out = EntitySet.NONE;
    for (Recipe.Step step : plan.recipe().joins()) {
      ResolvedLayer shown = layer(step.layer());
      if (shown.catcher() == null && !shown.transport().equals(resolved.uncut())) {
        out = out.or(shown.seen());
      }
    }
    return out;
  }

  private boolean isShownElsewhere(String layer, EntitySet entities) {
    for (Recipe.Step step : plan.recipe().joins()) {
      if (!step.layer().equals(layer) && layer(step.layer()).shown().containsAll(entities)) {
        return true;
      }
    }
    return false;
  }

  private Plan offEverywhere(Plan plan, EntitySet entities) {
    Plan next = plan;
    for (LayerDef each : plan.layers()) {
      next = off(next, each.name(), entities, false);
    }
    return next;
  }

  /** Lets what is held out in a catcher's layer cast onto the catcher. */
  private Plan heldOutAsCasters(Plan plan, String layer) {
    Plan next = plan;
    LayerDef def = plan.layer(layer).orElseThrow();
    for (CollectionDef row : plan.collections()) {
      if (def.cell(row.name()).role() == Role.HOLDOUT && stops(members.of(row))) {
        next = PlanEdits.cell(next, layer, row.name(), CauseFixes::asCaster);
      }
    }
    boolean rest = def.rest().role() == null || def.rest().role() == Role.HOLDOUT;
    return next.equals(plan) && rest
        ? PlanEdits.cell(next, layer, null, CauseFixes::asCaster)
        : next;
  }

  private boolean stops(EntitySet of) {
    for (int e : of.indices()) {
      if (entity(e).kind().stopsLight()) {
        return true;
      }
    }
    return false;
  }

  /** Adds a layer in front of the plate's in which its stand-ins catch what all else does. */
  private Plan caughtOnPlate(Plan plan) {
    CatcherSpec plate = resolved.asked().plate();
    if (plate == null) {
      return plan;
    }
    Map<String, Cell> cells = new LinkedHashMap<>();
    EntitySet left = Cuts.catching(plan, members, cells, plate.surfaces());
    int at = 0;
    for (ResolvedLayer each : resolved.layers()) {
      if (each.shown().meets(resolved.platePart())) {
        at = plan.layerIndex(each.name()) + 1;
      }
    }
    String name = "Caught";
    for (int k = 2; plan.layer(name).isPresent(); k++) {
      name = "Caught " + k;
    }
    Plan next =
        LayerEdits.add(
            plan, at, LayerDef.of(name, 0, cells, asCaster(Cell.of(Role.HOLDOUT))), Join.PLUS);
    return left.isEmpty() ? next : Cuts.role(next, members, name, left, Role.CATCHER);
  }

  /** Switches off a layer's overrides on some entities. */
  private Plan off(Plan plan, String layer, EntitySet entities, boolean switches) {
    Plan next = plan;
    LayerDef def = plan.layer(layer).orElseThrow();
    for (CollectionDef row : plan.collections()) {
      if (def.cells().containsKey(row.name()) && members.of(row).meets(entities)) {
        next = PlanEdits.cell(next, layer, row.name(), cell -> off(cell, switches));
      }
    }
    return PlanEdits.cell(next, layer, null, cell -> off(cell, switches));
  }

  private static Cell off(Cell cell, boolean switches) {
    return cell.withOverrides(
        cell.overrides().stream()
            .map(o ->
                (o.property().sort() == Property.Sort.SWITCH) == switches
                        && o.property() != Property.VISIBLE_CAMERA
                    ? o.withOn(false)
                    : o)
            .toList());
  }

  private static LayerDef plainSettings(LayerDef layer) {
    return layer.withSettings(
        layer.settings().stream()
            .map(o -> o.property() == Property.FRAMES ? o : o.withOn(false))
            .toList());
  }

  /** Lets the first of two layers that catch on the same surfaces catch what the second does. */
  private Plan oneCatcher(Plan plan, String second, EntitySet surfaces) {
    CatcherSpec lost = layer(second).catcher();
    for (Recipe.Step step : plan.recipe().joins()) {
      ResolvedLayer first = layer(step.layer());
      CatcherSpec catcher = first.catcher();
      if (lost != null
          && catcher != null
          && !first.name().equals(second)
          && catcher.surfaces().meets(surfaces)) {
        Plan next = plan;
        for (CollectionDef row : plan.collections()) {
          EntitySet own = members.of(row);
          if (!own.isEmpty() && lost.casters().containsAll(own)) {
            next = PlanEdits.cell(next, first.name(), row.name(), CauseFixes::asCaster);
            // what was cut out without its light has to have it now
            next = PlanEdits.cell(next, first.name(), row.name(), c -> off(c, true));
          }
        }
        next = LayerEdits.layer(next, second, l -> l.withRender(false));
        return LayerEdits.unjoin(next, second);
      }
    }
    return plan;
  }

  private static Cell asCaster(Cell cell) {
    Cell with = cell.role() == null ? cell.withRole(Role.HOLDOUT) : cell;
    return with.withCatcher(with.catching().withCaster(true));
  }

  private Plan difference(Plan plan, String layer) {
    Plan next = plan;
    LayerDef def = plan.layer(layer).orElseThrow();
    for (String row : def.cells().keySet()) {
      if (def.cell(row).role() == Role.CATCHER) {
        next = PlanEdits.cell(next, layer, row, CauseFixes::asItIs);
      }
    }
    if (def.rest().role() == Role.CATCHER) {
      next = PlanEdits.cell(next, layer, null, CauseFixes::asItIs);
    }
    return LayerEdits.join(next, layer, Join.PLUS);
  }

  /** A cell that catches the difference as it is. */
  private static Cell asItIs(Cell cell) {
    return cell.withCatcher(cell.catching().withOutput(null).withTuning(CatcherTuning.USUAL));
  }
}
