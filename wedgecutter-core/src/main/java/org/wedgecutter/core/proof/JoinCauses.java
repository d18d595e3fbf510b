package org.wedgecutter.core.proof;

import java.util.List;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;

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
        if (layer.render() && (!r.seen().isEmpty() || r.catcher() != null)) {
          all.addLayer(
              Cause.Kind.LAYER_NOT_JOINED,
              r,
              "the recipe does not join layer " + layer.name(),
              "add it to the recipe, or switch it off");
        }
      }
    }
    boolean first = true;
    for (Recipe.Step step : all.plan.recipe().joins()) {
      ResolvedLayer layer = all.shot.layers().get(all.plan.layerIndex(step.layer()));
      if (!all.plan.layers().get(all.plan.layerIndex(step.layer())).render()) {
        all.addLayer(
            Cause.Kind.LAYER_NOT_RENDERED,
            layer,
            "layer %s is all.joined but not rendered".formatted(step.layer()),
            "switch it on");
      }
      if (!layer.seen().isEmpty()) {
        light.light(layer);
        if (!first) {
          joinOfSeen(layer, step.join());
        }
      }
      CatcherSpec catcher = layer.catcher();
      if (catcher != null) {
        joinOfCatcher(layer, catcher, step.join());
      }
      first = false;
    }
    light.hazeIsApart();
    plusOnComplete();
    order();
    doubledShadows();
  }

  /** Layers that are all.joined in another order than they stand in, where order counts. */
  private void order() {
    int behind = -1;
    for (Recipe.Step step : all.plan.recipe().joins()) {
      int at = all.plan.layerIndex(step.layer());
      if (at < behind && step.join() != Join.PLUS) {
        all.addLayer(
            Cause.Kind.JOIN_ORDER,
            all.shot.layers().get(at),
            "layer %s is all.joined by %s after layers that stand in front of it"
                .formatted(step.layer(), step.join().word()),
            "join the layers from the back to the front");
      }
      behind = Math.max(behind, at);
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
            && !first.without().equals(b.transport())
            && !second.without().equals(a.transport())) {
          List<Entity> on = all.entities(first.surfaces().and(second.surfaces()));
          all.add(
              Cause.Kind.DOUBLED_SHADOW,
              b.name(),
              on,
              "layers %s and %s both catch on %s, each as if the other were not there: where both block the same light it is darkened twice"
                  .formatted(a.name(), b.name(), Causes.names(on)),
              "let one layer hold both casters, or make the first one's casters Absent in the second's");
        }
      }
    }
  }

  private void joinOfSeen(ResolvedLayer layer, Join join) {
    if (join != Join.OVER) {
      return;
    }
    EntitySet holdouts = holdoutsSeenBefore(layer);
    if (!holdouts.isEmpty() && heldOutBehind(layer)) {
      all.addLayer(
          Cause.Kind.OVER_ON_HELD_OUT,
          layer,
          "layer %s and %s, which stands behind it in the recipe, hold each other out: over leaves a dark edge"
              .formatted(layer.name(), Causes.names(all.entities(holdouts))),
          "join it by plus");
    } else {
      all.addLayer(
          Cause.Kind.EDGE_COVARIANCE,
          layer,
          "layer %s is all.joined over: inside edge pixels its cover and the light behind are not mixed as in the uncut frame"
              .formatted(layer.name()),
          "hold the layers out of each other and join by plus, if edges must be exact");
    }
  }

  /** Whether any layer behind one is cut around what it shows. */
  private boolean heldOutBehind(ResolvedLayer layer) {
    for (Recipe.Step step : all.plan.recipe().joins()) {
      if (step.layer().equals(layer.name())) {
        return false;
      }
      ResolvedLayer behind = all.shot.layers().get(all.plan.layerIndex(step.layer()));
      if (!behind.seen().isEmpty() && !behind.skipped().containsAll(layer.seen())) {
        return true;
      }
    }
    return false;
  }

  /** Entities that hold this layer out and are seen in a layer behind it. */
  private EntitySet holdoutsSeenBefore(ResolvedLayer layer) {
    EntitySet behind = EntitySet.NONE;
    for (Recipe.Step step : all.plan.recipe().joins()) {
      if (step.layer().equals(layer.name())) {
        break;
      }
      behind = behind.or(all.shot.layers().get(all.plan.layerIndex(step.layer())).seen());
    }
    EntitySet seenBehind = behind;
    return EntitySet.where(
        all.shot.entities(),
        e ->
            layer.decisions().role(e) == Role.HOLDOUT
                && seenBehind.contains(e)
                && all.scene.entities().get(e).kind() == EntityKind.MESH);
  }

  private void joinOfCatcher(ResolvedLayer layer, CatcherSpec catcher, Join join) {
    Join right = catcher.output().join();
    if (join != right) {
      all.addLayer(
          Cause.Kind.WRONG_JOIN,
          layer,
          "layer %s is caught as %s but all.joined by %s"
              .formatted(layer.name(), catcher.output().word(), join.word()),
          "join it by " + right.word());
    } else if (catcher.output() == CatcherOutput.CATCH) {
      all.addLayer(
          Cause.Kind.GREY_CATCH,
          layer,
          "layer %s is one grey darkening for all colours, and cannot take away reflected light"
              .formatted(layer.name()),
          "catch the difference and join it by plus, if colours must be exact");
    } else if (right == Join.TIMES) {
      all.addLayer(
          Cause.Kind.RATIO_ON_SPECULAR,
          layer,
          "layer %s scales all light by the ratio of the diffuse light alone"
              .formatted(layer.name()),
          "catch the difference and join it by plus, or join pass by pass");
    }
    boolean part =
        catcher.output() == CatcherOutput.BOUNCE || catcher.output() == CatcherOutput.REFLECTION;
    if (part || !catcher.tuning().isUsual()) {
      all.addLayer(
          Cause.Kind.CATCH_TUNED,
          layer,
          part
              ? "layer %s holds the %s alone of what is caught"
                  .formatted(layer.name(), catcher.output().word())
              : "layer %s catches not all as it is: opacity, tint, reflection, lights or reach say less"
                  .formatted(layer.name()),
          "catch the difference as it is, if the layers must rejoin exactly");
    }
  }

  /**
   * A layer all.joined by plus that is not cut where another layer's things stand in front of it.
   */
  private void plusOnComplete() {
    for (Recipe.Step step : all.plan.recipe().joins()) {
      ResolvedLayer layer = all.shot.layers().get(all.plan.layerIndex(step.layer()));
      if (step.join() == Join.PLUS && !layer.seen().isEmpty()) {
        EntitySet others = EntitySet.NONE;
        for (Recipe.Step other : all.plan.recipe().joins()) {
          if (!other.layer().equals(step.layer()) && other.join() == Join.PLUS) {
            others = others.or(all.shot.layers().get(all.plan.layerIndex(other.layer())).seen());
          }
        }
        EntitySet seenElsewhere = others;
        EntitySet uncutHere =
            EntitySet.where(
                all.shot.entities(),
                e ->
                    layer.skipped().contains(e)
                        && seenElsewhere.contains(e)
                        && all.scene.entities().get(e).kind() == EntityKind.MESH);
        if (!uncutHere.isEmpty()) {
          List<Entity> list = all.entities(uncutHere);
          all.add(
              new Cause(
                  Cause.Kind.PLUS_ON_COMPLETE,
                  layer.name(),
                  list.getFirst().path(),
                  list.stream().map(Entity::index).toList(),
                  all.share(layer.seen()::contains),
                  "layer %s is whole behind %s, but both are added: light is counted twice"
                      .formatted(layer.name(), Causes.names(list)),
                  "make it Holdout there, or join the front by over"));
        }
      }
    }
  }
}
