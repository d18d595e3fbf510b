package org.wedgecutter.core.check;

import java.util.List;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseFinder;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;

/** What keeps the layers from rejoining, and the fixes. */
final class RejoinChecks {
  private final Checked c;

  private RejoinChecks(Checked c) {
    this.c = c;
  }

  static void run(Checked checked) {
    RejoinChecks checks = new RejoinChecks(checked);
    List<SeenTable.Span> spans = SeenTable.of(checked.plan, checked.members, checked.resolved);
    for (SeenTable.Span span : spans) {
      for (Cause cause : span.causes()) {
        Message told = cause.message();
        checks.add(cause, spans.size() == 1 ? told : told.during(span.first(), span.last()));
      }
    }
    for (Cause cause : CauseFinder.find(checked.plan, checked.scene, checked.resolved, null)) {
      boolean told = cause.kind() == Mistake.SEEN_NOWHERE || cause.kind() == Mistake.SEEN_TWICE;
      if (!told && !(cause.kind() == Mistake.LAYER_NOT_JOINED && checks.whole(cause.layer()))) {
        checks.add(cause, cause.message());
      }
    }
    checks.firstJoin();
  }

  /** Returns the edit that removes a cause, or null if the TD must decide. */
  static Finding.@Nullable Fix fix(Checked checked, Cause cause) {
    UnaryOperator<Plan> edit = new RejoinChecks(checked).fix(cause, EntitySet.of(cause.entities()));
    return edit == null ? null : new Finding.Fix(Checked.fixName(cause.kind()), edit);
  }

  private void add(Cause cause, Message message) {
    EntitySet entities = EntitySet.of(cause.entities());
    c.add(message, cause.layer(), cause.entity(), entities, fix(cause, entities));
  }

  /** Whether a layer shows everything. */
  private boolean whole(String layer) {
    return LayerChecks.whole(c, c.layer(layer));
  }

  private @Nullable UnaryOperator<Plan> fix(Cause cause, EntitySet entities) {
    String layer = cause.layer();
    return switch (cause.kind()) {
      case SEEN_NOWHERE -> seenSomewhere(entities);
      case SEEN_TWICE -> seenOnce(entities);
      case LIGHT_TWICE -> p -> Cuts.role(p, c.members, layer, entities, Role.ABSENT);
      case LIGHT_DIFFERS -> lit(layer, entities);
      case OVERRIDE_DIFFERS -> p -> off(p, layer, entities, false);
      case SETTINGS_DIFFER -> p -> LayerEdits.layer(p, layer, RejoinChecks::plainSettings);
      case HELD_NOT_STILL -> p -> LayerEdits.removeSetting(p, layer, Property.FRAMES);
      case OVER_ON_HELD_OUT -> p -> LayerEdits.join(p, layer, Join.PLUS);
      case PLUS_ON_COMPLETE -> p -> Cuts.role(p, c.members, layer, entities, Role.HOLDOUT);
      case WRONG_JOIN -> {
        CatcherSpec catcher = c.layer(layer).catcher();
        yield catcher == null ? null : p -> LayerEdits.join(p, layer, catcher.output().join());
      }
      case JOIN_ORDER -> LayerEdits::ordered;
      case DOUBLED_SHADOW -> p -> oneCatcher(p, layer, entities);
      case GREY_CATCH, RATIO_ON_SPECULAR, CATCH_TUNED -> p -> difference(p, layer);
      case LAYER_NOT_RENDERED -> p -> LayerEdits.layer(p, layer, l -> l.withRender(true));
      case LAYER_NOT_JOINED -> p -> LayerEdits.join(p, layer, Join.PLUS);
      default -> null;
    };
  }

  /** In the joined layer that shows the most of what has the same parent, or else the first. */
  private @Nullable UnaryOperator<Plan> seenSomewhere(EntitySet entities) {
    String parent = parent(c.entity(entities.first()).path());
    String best = null;
    long most = -1;
    for (Recipe.Step step : c.plan.recipe().joins()) {
      ResolvedLayer layer = c.layer(step.layer());
      if (layer.catcher() == null) {
        long near = 0;
        for (int e : layer.seen().indices()) {
          near += parent(c.entity(e).path()).equals(parent) ? 1 : 0;
        }
        if (near > most) {
          most = near;
          best = layer.name();
        }
      }
    }
    String layer = best;
    return layer == null ? null : p -> Cuts.role(p, c.members, layer, entities, Role.SEEN);
  }

  private static String parent(String path) {
    return path.substring(0, path.lastIndexOf('/'));
  }

  private UnaryOperator<Plan> seenOnce(EntitySet entities) {
    return p -> {
      Plan next = p;
      String keep = null;
      for (Recipe.Step step : c.plan.recipe().joins()) {
        ResolvedLayer layer = c.layer(step.layer());
        if (layer.seen().meets(entities)) {
          // a row says more than the rest
          boolean named = layer.decisions().get(entities.first()).row() != null;
          keep = keep == null || named ? layer.name() : keep;
        }
      }
      for (Recipe.Step step : c.plan.recipe().joins()) {
        EntitySet own = c.layer(step.layer()).seen().and(entities);
        if (!own.isEmpty() && !step.layer().equals(keep)) {
          next = Cuts.role(next, c.members, step.layer(), own, Role.HOLDOUT);
        }
      }
      return next;
    };
  }

  private UnaryOperator<Plan> lit(String layer, EntitySet entities) {
    EntitySet absent = c.layer(layer).decisions().of(Role.ABSENT).and(entities);
    return absent.isEmpty()
        ? p -> off(p, layer, entities, true)
        : p -> Cuts.role(p, c.members, layer, absent, Role.UNSEEN);
  }

  /** Switches off a layer's overrides on some entities. */
  private Plan off(Plan plan, String layer, EntitySet entities, boolean switches) {
    Plan next = plan;
    LayerDef def = plan.layer(layer).orElseThrow();
    for (CollectionDef row : plan.collections()) {
      if (def.cells().containsKey(row.name()) && c.members.of(row).meets(entities)) {
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
    CatcherSpec lost = c.layer(second).catcher();
    for (Recipe.Step step : c.plan.recipe().joins()) {
      ResolvedLayer first = c.layer(step.layer());
      CatcherSpec catcher = first.catcher();
      if (lost != null
          && catcher != null
          && !first.name().equals(second)
          && catcher.surfaces().meets(surfaces)) {
        Plan next = plan;
        for (CollectionDef row : plan.collections()) {
          EntitySet own = c.members.of(row);
          if (!own.isEmpty() && lost.casters().containsAll(own)) {
            next = PlanEdits.cell(next, first.name(), row.name(), RejoinChecks::asCaster);
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
        next = PlanEdits.cell(next, layer, row, RejoinChecks::asItIs);
      }
    }
    if (def.rest().role() == Role.CATCHER) {
      next = PlanEdits.cell(next, layer, null, RejoinChecks::asItIs);
    }
    return LayerEdits.join(next, layer, Join.PLUS);
  }

  /** A cell that catches the difference as it is. */
  private static Cell asItIs(Cell cell) {
    return cell.withCatcher(cell.catching().withOutput(null).withTuning(CatcherTuning.USUAL));
  }

  private void firstJoin() {
    if (c.plan.recipe().joins().isEmpty()) {
      return;
    }
    Recipe.Step first = c.plan.recipe().joins().getFirst();
    if (first.join() == Join.TIMES || first.join() == Join.CATCH) {
      c.add(
          Message.of(Sentence.FIRST_JOIN, "layer", first.layer(), "join", first.join().word()),
          first.layer(),
          "",
          p -> LayerEdits.move(p, first.layer(), p.layers().size()));
    }
  }
}
