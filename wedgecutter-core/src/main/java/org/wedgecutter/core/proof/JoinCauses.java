package org.wedgecutter.core.proof;

import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Entity;

/** Why joins of a recipe cannot be exact. */
final class JoinCauses {
  private final Causes all;
  private final LightCauses light;

  JoinCauses(Causes all, LightCauses light) {
    this.all = all;
    this.light = light;
  }

  /** Finds what is wrong with every step of the recipe. */
  void steps() {
    for (LayerDef layer : all.plan.layers()) {
      if (!all.isJoined(layer.name())) {
        ResolvedLayer r = all.shot.layers().get(all.plan.layerIndex(layer.name()));
        if (layer.render() && !r.subject().isEmpty()) {
          all.addLayer(Message.of(Sentence.LAYER_NOT_JOINED, "layer", layer.name()), r);
        }
      }
    }
    boolean first = true;
    for (Recipe.Step step : all.plan.recipe().joins()) {
      ResolvedLayer layer = all.shot.layers().get(all.plan.layerIndex(step.layer()));
      if (!all.plan.layers().get(all.plan.layerIndex(step.layer())).render()) {
        all.addLayer(Message.of(Sentence.LAYER_NOT_RENDERED, "layer", step.layer()), layer);
      }
      light.filter(layer);
      if (!layer.shown().isEmpty()) {
        light.light(layer);
        if (!first) {
          joinOfSeen(layer, step.join());
        }
      }
      if (step.join().isForLooks() || step.opacity() < 1) {
        String word =
            step.opacity() < 1
                ? "%s at %.0f %%".formatted(step.join().word(), 100 * step.opacity())
                : step.join().word();
        all.addLayer(
            Message.of(Sentence.JOIN_FOR_LOOKS, "layer", step.layer(), "join", word), layer);
      }
      CatcherSpec catcher = layer.catcher();
      if (catcher != null) {
        light.caught(layer, catcher);
        joinOfCatcher(layer, catcher, step);
      }
      first = false;
    }
    light.hazeIsApart();
    light.overrides();
    notCaught();
    plusOnComplete();
    order();
    doubledShadows();
  }

  /** Layers that are joined in another order than they stand in, where order counts. */
  private void order() {
    int behind = -1;
    for (Recipe.Step step : all.plan.recipe().joins()) {
      int at = all.plan.layerIndex(step.layer());
      if (at < behind && !step.join().adds()) {
        all.addLayer(
            Message.of(Sentence.JOIN_ORDER, "layer", step.layer(), "join", step.join().word()),
            all.shot.layers().get(at));
      }
      behind = Math.max(behind, at);
    }
  }

  /** What is set into a plate does something to its surfaces, which a layer has to catch. */
  private void notCaught() {
    CatcherSpec plate = all.shot.asked().plate();
    if (plate == null || plate.surfaces().isEmpty()) {
      return;
    }
    EntitySet shown = EntitySet.NONE;
    boolean caught = false;
    for (ResolvedLayer layer : all.joined) {
      if (layer != null) {
        CatcherSpec catcher = layer.catcher();
        caught |= catcher != null && catcher.surfaces().meets(plate.surfaces());
        shown = shown.or(layer.shown());
      }
    }
    List<Entity> things = all.entities(plate.casters().and(shown));
    if (!caught && !things.isEmpty()) {
      all.add(Message.of(Sentence.NOT_CAUGHT, "entities", Causes.paths(things)), "", things);
    }
  }

  /** Two layers that catch on one surface, neither of which leaves out what the other catches. */
  private void doubledShadows() {
    for (int i = 0; i < all.joined.length; i++) {
      for (int k = i + 1; k < all.joined.length; k++) {
        ResolvedLayer a = all.joined[i];
        ResolvedLayer b = all.joined[k];
        CatcherSpec first = a == null ? null : a.catcher();
        CatcherSpec second = b == null ? null : b.catcher();
        if (a != null
            && b != null
            && first != null
            && second != null
            && first.surfaces().meets(second.surfaces())
            && !areDifferentParts(first.output(), second.output())
            && !follows(first, b, first.surfaces())
            && !follows(second, a, first.surfaces())) {
          List<Entity> on = all.entities(first.surfaces().and(second.surfaces()));
          all.add(
              Message.of(
                  Sentence.DOUBLED_SHADOW,
                  "layers",
                  List.of(a.name(), b.name()),
                  "entities",
                  Causes.paths(on)),
              b.name(),
              on);
        }
      }
    }
  }

  /**
   * Whether one catcher goes on where another one ends, through others that catch on the same
   * surfaces: each leaves out what the next one catches.
   */
  private boolean follows(CatcherSpec last, ResolvedLayer first, EntitySet surfaces) {
    TransportClass at = last.without();
    for (int steps = 0; steps < all.joined.length; steps++) {
      if (at.equals(first.transport())) {
        return true;
      }
      TransportClass before = at;
      for (ResolvedLayer other : all.joined) {
        CatcherSpec catcher = other == null ? null : other.catcher();
        if (other != null
            && catcher != null
            && catcher.surfaces().containsAll(surfaces)
            && other.transport().equals(before)
            && !catcher.without().equals(before)) {
          at = catcher.without();
        }
      }
      if (at.equals(before)) {
        return false;
      }
    }
    return false;
  }

  /** Whether both are effects that add up: neither holds what the other does. */
  private static boolean areDifferentParts(CatcherOutput a, CatcherOutput b) {
    return a.isPart() && b.isPart() && a != b;
  }

  private void joinOfSeen(ResolvedLayer layer, Join join) {
    if (join == Join.MATTE || join == Join.DEPTH || join == Join.DEEP) {
      all.addLayer(
          Message.of(Sentence.JOIN_APPROXIMATES, "layer", layer.name(), "join", join.word()),
          layer);
    }
    if (join != Join.OVER) {
      return;
    }
    EntitySet holdouts = holdoutsSeenBefore(layer);
    if (!holdouts.isEmpty() && heldOutBehind(layer)) {
      all.addLayer(
          Message.of(
              Sentence.OVER_ON_HELD_OUT,
              "layer",
              layer.name(),
              "entities",
              Causes.paths(all.entities(holdouts))),
          layer);
    } else {
      all.addLayer(Message.of(Sentence.EDGE_COVARIANCE, "layer", layer.name()), layer);
    }
  }

  /** Whether any layer behind one is cut around what it shows. */
  private boolean heldOutBehind(ResolvedLayer layer) {
    for (Recipe.Step step : all.plan.recipe().joins()) {
      if (step.layer().equals(layer.name())) {
        return false;
      }
      ResolvedLayer behind = all.shot.layers().get(all.plan.layerIndex(step.layer()));
      if (!behind.shown().isEmpty() && !behind.skipped().containsAll(layer.shown())) {
        return true;
      }
    }
    return false;
  }

  /** Returns the entities that are Seen in layers joined before this one. */
  private EntitySet seenBehind(ResolvedLayer layer) {
    EntitySet behind = EntitySet.NONE;
    for (Recipe.Step step : all.plan.recipe().joins()) {
      if (step.layer().equals(layer.name())) {
        break;
      }
      behind = behind.or(all.shot.layers().get(all.plan.layerIndex(step.layer())).shown());
    }
    return behind;
  }

  /** Entities that hold this layer out and are seen in a layer behind it. */
  private EntitySet holdoutsSeenBefore(ResolvedLayer layer) {
    EntitySet seenBehind = seenBehind(layer);
    return EntitySet.where(
        all.shot.entities(),
        e ->
            layer.decisions().role(e) == Role.HOLDOUT
                && seenBehind.contains(e)
                && all.scene.entities().get(e).kind().stopsLight());
  }

  private void joinOfCatcher(ResolvedLayer layer, CatcherSpec catcher, Recipe.Step step) {
    Join join = step.join();
    Join right = catcher.output().join();
    if (join != right) {
      all.addLayer(
          Message.of(
              Sentence.WRONG_JOIN,
              "layer",
              layer.name(),
              "form",
              catcher.output().word(),
              "join",
              join.word(),
              "right",
              right.word()),
          layer);
    } else if (catcher.output() == CatcherOutput.CATCH) {
      all.addLayer(Message.of(Sentence.GREY_CATCH, "layer", layer.name()), layer);
    } else if (right == Join.TIMES && !scalesItsOwnLight(catcher, step)) {
      all.addLayer(Message.of(Sentence.RATIO_ON_SPECULAR, "layer", layer.name()), layer);
    } else if (right == Join.TIMES && !catcher.surfaces().containsAll(seenBehind(layer))) {
      all.addLayer(Message.of(Sentence.RATIO_AT_EDGES, "layer", layer.name()), layer);
    }
    boolean part =
        catcher.output().isPart()
            && (right != Join.TIMES || scalesItsOwnLight(catcher, step))
            && !areAllPartsJoined(catcher);
    if (part || !catcher.tuning().isUsual()) {
      all.addLayer(
          Message.of(
              part ? Sentence.CATCH_PART : Sentence.CATCH_TUNED,
              "layer",
              layer.name(),
              "form",
              catcher.output().word()),
          layer);
    }
  }

  private static boolean scalesItsOwnLight(CatcherSpec catcher, Recipe.Step step) {
    Recipe.Light own = catcher.output().light();
    return own != Recipe.Light.ALL && step.light() == own;
  }

  /** Whether each effect of the same casters on the same surfaces is joined. */
  private boolean areAllPartsJoined(CatcherSpec one) {
    Set<CatcherOutput> there = EnumSet.noneOf(CatcherOutput.class);
    for (ResolvedLayer layer : all.joined) {
      CatcherSpec other = layer == null ? null : layer.catcher();
      if (other != null
          && other.without().equals(one.without())
          && other.surfaces().containsAll(one.surfaces())) {
        there.add(other.output());
      }
    }
    return Arrays.stream(CatcherOutput.values())
        .filter(CatcherOutput::isPart)
        .allMatch(there::contains);
  }

  /**
   * A layer joined by plus without holdouts where objects of another layer stand in front of it.
   */
  private void plusOnComplete() {
    for (Recipe.Step step : all.plan.recipe().joins()) {
      ResolvedLayer layer = all.shot.layers().get(all.plan.layerIndex(step.layer()));
      if (step.join().adds() && !layer.shown().isEmpty()) {
        EntitySet others = EntitySet.NONE;
        for (Recipe.Step other : all.plan.recipe().joins()) {
          if (!other.layer().equals(step.layer()) && other.join().adds()) {
            others = others.or(all.shot.layers().get(all.plan.layerIndex(other.layer())).shown());
          }
        }
        EntitySet seenElsewhere = others;
        EntitySet uncutHere = all.stopping(layer.skipped().and(seenElsewhere));
        if (!uncutHere.isEmpty()) {
          List<Entity> list = all.entities(uncutHere);
          all.add(
              new Cause(
                  Message.of(
                      Sentence.PLUS_ON_COMPLETE,
                      "layer",
                      layer.name(),
                      "entities",
                      Causes.paths(list)),
                  layer.name(),
                  list.getFirst().path(),
                  list.stream().map(Entity::index).toList(),
                  all.share(layer.seen()::contains)));
        }
      }
    }
  }
}
