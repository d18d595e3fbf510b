package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.IntPredicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/**
 * Reads from plan and scene why layers cannot rejoin exactly. Only what the camera can meet counts:
 * entities of kind mesh, and the environment. Shares of the residual are by {@link #byEntity}.
 */
public final class CauseFinder {
  private final Plan plan;
  private final Scene scene;
  private final ResolvedShot shot;
  private final double @Nullable [] residual;
  private final List<Cause> causes = new ArrayList<>();

  private CauseFinder(
      Plan plan, Scene scene, ResolvedShot shot, double @Nullable [] residualByEntity) {
    this.plan = plan;
    this.scene = scene;
    this.shot = shot;
    this.residual = residualByEntity;
  }

  /**
   * Finds causes, the largest share first.
   *
   * @param residualByEntity share of the residual on each entity, or null if it was not measured
   */
  public static List<Cause> find(
      Plan plan, Scene scene, ResolvedShot shot, double @Nullable [] residualByEntity) {
    CauseFinder finder = new CauseFinder(plan, scene, shot, residualByEntity);
    finder.partition();
    finder.steps();
    finder.causes.sort(
        Comparator.comparingDouble((Cause c) -> Double.isNaN(c.share()) ? 0 : -c.share()));
    return List.copyOf(finder.causes);
  }

  /** Finds causes that a recipe tells by itself, without the scene: joins that approximate. */
  public static List<Cause> ofRecipe(Recipe recipe) {
    List<Cause> out = new ArrayList<>();
    for (int s = 1; s < recipe.joins().size(); s++) {
      Recipe.Step step = recipe.joins().get(s);
      Cause.Kind kind =
          switch (step.join()) {
            case PLUS -> null;
            case OVER -> Cause.Kind.EDGE_COVARIANCE;
            case CATCH -> Cause.Kind.GREY_CATCH;
            case TIMES -> Cause.Kind.RATIO_ON_SPECULAR;
          };
      if (kind != null) {
        out.add(
            new Cause(
                kind,
                step.layer(),
                "",
                Double.NaN,
                "layer %s is joined by %s, which is exact only in part"
                    .formatted(step.layer(), step.join().word()),
                "prove the plan to see how much of the residual is on it"));
      }
    }
    return out;
  }

  /**
   * Returns the share of a residual's light on each entity: of the pixels that it covers most of.
   *
   * @param foremost the entity that covers most of a pixel (x, y), or -1
   */
  public static double[] byEntity(
      Residual residual, int entities, java.util.function.IntBinaryOperator foremost) {
    double[] out = new double[entities];
    double total = 0;
    int width = residual.difference().width();
    float[] d = residual.difference().rgba();
    for (int p = 0; p < d.length / 4; p++) {
      double size = Math.abs(d[4 * p]) + Math.abs(d[4 * p + 1]) + Math.abs(d[4 * p + 2]);
      if (size > 0) {
        int entity = foremost.applyAsInt(p % width, p / width);
        total += size;
        if (entity >= 0) {
          out[entity] += size;
        }
      }
    }
    for (int e = 0; e < entities; e++) {
      out[e] /= Math.max(total, 1e-30);
    }
    return out;
  }

  private double share(IntPredicate entities) {
    if (residual == null) {
      return Double.NaN;
    }
    double sum = 0;
    for (int e = 0; e < residual.length; e++) {
      sum += entities.test(e) ? residual[e] : 0;
    }
    return sum;
  }

  private boolean joined(String layer) {
    return plan.join(layer).isPresent();
  }

  // ---- every entity seen exactly once

  private void partition() {
    Map<String, List<Entity>> nowhere = new LinkedHashMap<>();
    Map<String, List<Entity>> twice = new LinkedHashMap<>();
    for (Entity e : scene.entities()) {
      if (e.kind() == EntityKind.LIGHT) {
        continue;
      }
      List<String> seen =
          shot.layers().stream()
              .filter(l -> joined(l.name()) && l.seen().contains(e.index()))
              .map(ResolvedLayer::name)
              .toList();
      if (seen.isEmpty()) {
        nowhere.computeIfAbsent(parent(e), k -> new ArrayList<>()).add(e);
      } else if (seen.size() > 1) {
        twice.computeIfAbsent(String.join(" and ", seen), k -> new ArrayList<>()).add(e);
      }
    }
    nowhere.forEach((group, list) ->
        add(
            Cause.Kind.SEEN_NOWHERE,
            "",
            list,
            "%s seen in no layer: missing from the rejoined picture".formatted(are(list)),
            "make it Seen in one layer"));
    twice.forEach((layers, list) ->
        add(
            Cause.Kind.SEEN_TWICE,
            "",
            list,
            "%s seen in %s: this light is counted twice".formatted(are(list), layers),
            "make it Holdout in all but one"));
  }

  private static String parent(Entity e) {
    int end = e.path().indexOf('/', 1);
    return end < 0 ? e.path() : e.path().substring(0, end);
  }

  private static String names(List<Entity> list) {
    return list.size() == 1
        ? list.getFirst().path()
        : "%s and %d more".formatted(list.getFirst().path(), list.size() - 1);
  }

  private static String are(List<Entity> list) {
    return names(list) + (list.size() == 1 ? " is" : " are");
  }

  private void add(Cause.Kind kind, String layer, List<Entity> list, String text, String fix) {
    List<Integer> indices = list.stream().map(Entity::index).toList();
    causes.add(new Cause(kind, layer, list.getFirst().path(), share(indices::contains), text, fix));
  }

  // ---- every step of the recipe

  private void steps() {
    for (LayerDef layer : plan.layers()) {
      if (!joined(layer.name())) {
        ResolvedLayer r = shot.layers().get(plan.layerIndex(layer.name()));
        if (layer.render() && (!r.seen().isEmpty() || r.catcher() != null)) {
          addLayer(
              Cause.Kind.LAYER_NOT_JOINED,
              r,
              "the recipe does not join layer " + layer.name(),
              "add it to the recipe, or switch it off");
        }
      }
    }
    boolean first = true;
    for (Recipe.Step step : plan.recipe().joins()) {
      ResolvedLayer layer = shot.layers().get(plan.layerIndex(step.layer()));
      if (!plan.layers().get(plan.layerIndex(step.layer())).render()) {
        addLayer(
            Cause.Kind.LAYER_NOT_RENDERED,
            layer,
            "layer %s is joined but not rendered".formatted(step.layer()),
            "switch it on");
      }
      if (!layer.seen().isEmpty()) {
        light(layer);
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
    plusOnComplete();
  }

  private void addLayer(Cause.Kind kind, ResolvedLayer layer, String text, String fix) {
    CatcherSpec catcher = layer.catcher();
    EntitySet own = catcher == null ? layer.seen() : layer.seen().or(catcher.surfaces());
    causes.add(new Cause(kind, layer.name(), "", share(own::contains), text, fix));
  }

  /** Light that differs from the uncut frame's, unless a difference or ratio puts it right. */
  private void light(ResolvedLayer layer) {
    if (layer.transport().equals(shot.uncut())) {
      return;
    }
    EntitySet open =
        EntitySet.where(shot.entities(), e -> layer.seen().contains(e) && !mended(layer, e));
    if (open.isEmpty()) {
      return;
    }
    List<Entity> differing = new ArrayList<>();
    TransportClass uncut = shot.uncut();
    for (Entity e : scene.entities()) {
      if (layer.transport().reach(e.index()) != uncut.reach(e.index())) {
        differing.add(e);
      }
    }
    if (differing.isEmpty()) {
      return;
    }
    boolean absent =
        differing.stream().anyMatch(e -> layer.decisions().get(e.index()).role() == Role.ABSENT);
    causes.add(
        new Cause(
            Cause.Kind.LIGHT_DIFFERS,
            layer.name(),
            differing.getFirst().path(),
            share(open::contains),
            "%s %s in layer %s: shadow, reflection and bounced light are missing there"
                .formatted(are(differing), absent ? "Absent" : "switched off", layer.name()),
            absent ? "make it Unseen or Holdout" : "switch it on, or add a catcher layer"));
  }

  /** Whether a catcher brings a surface's light from this layer's class to the uncut frame's. */
  private boolean mended(ResolvedLayer layer, int entity) {
    for (Recipe.Step step : plan.recipe().joins()) {
      CatcherSpec catcher = shot.layers().get(plan.layerIndex(step.layer())).catcher();
      if (catcher != null
          && catcher.surfaces().contains(entity)
          && catcher.without().equals(layer.transport())
          && shot.layers().get(plan.layerIndex(step.layer())).transport().equals(shot.uncut())) {
        return true;
      }
    }
    return false;
  }

  private void joinOfSeen(ResolvedLayer layer, Join join) {
    if (join != Join.OVER) {
      return;
    }
    EntitySet holdouts = holdoutsSeenBefore(layer);
    if (holdouts.isEmpty()) {
      addLayer(
          Cause.Kind.EDGE_COVARIANCE,
          layer,
          "layer %s is joined over: inside edge pixels its cover and the light behind are not mixed as in the uncut frame"
              .formatted(layer.name()),
          "hold the layers out of each other and join by plus, if edges must be exact");
    } else {
      addLayer(
          Cause.Kind.OVER_ON_HELD_OUT,
          layer,
          "layer %s is held out by %s, which stands behind it in the recipe: over darkens or brightens that edge"
              .formatted(layer.name(), names(entities(holdouts))),
          "join it by plus over a background that it holds out");
    }
  }

  private List<Entity> entities(EntitySet set) {
    return scene.entities().stream().filter(e -> set.contains(e.index())).toList();
  }

  /** Entities that hold this layer out and are seen in a layer behind it. */
  private EntitySet holdoutsSeenBefore(ResolvedLayer layer) {
    EntitySet behind = EntitySet.NONE;
    for (Recipe.Step step : plan.recipe().joins()) {
      if (step.layer().equals(layer.name())) {
        break;
      }
      behind = behind.or(shot.layers().get(plan.layerIndex(step.layer())).seen());
    }
    EntitySet seenBehind = behind;
    return EntitySet.where(
        shot.entities(),
        e ->
            layer.decisions().get(e).role() == Role.HOLDOUT
                && seenBehind.contains(e)
                && scene.entities().get(e).kind() == EntityKind.MESH);
  }

  private void joinOfCatcher(ResolvedLayer layer, CatcherSpec catcher, Join join) {
    Join right =
        switch (catcher.output()) {
          case DIFFERENCE -> Join.PLUS;
          case RATIO -> Join.TIMES;
          case CATCH -> Join.CATCH;
        };
    if (join != right) {
      addLayer(
          Cause.Kind.PLUS_ON_COMPLETE,
          layer,
          "layer %s is caught as %s but joined by %s"
              .formatted(layer.name(), catcher.output().word(), join.word()),
          "join it by " + right.word());
    } else if (catcher.output() == CatcherOutput.CATCH) {
      addLayer(
          Cause.Kind.GREY_CATCH,
          layer,
          "layer %s is one grey darkening for all colours, and cannot take away reflected light"
              .formatted(layer.name()),
          "catch the difference and join it by plus, if colours must be exact");
    } else if (catcher.output() == CatcherOutput.RATIO) {
      addLayer(
          Cause.Kind.RATIO_ON_SPECULAR,
          layer,
          "layer %s scales all light by the ratio of the diffuse light alone"
              .formatted(layer.name()),
          "catch the difference and join it by plus, or join pass by pass");
    }
  }

  /** A layer joined by plus that is not cut where another layer's things stand in front of it. */
  private void plusOnComplete() {
    for (Recipe.Step step : plan.recipe().joins()) {
      ResolvedLayer layer = shot.layers().get(plan.layerIndex(step.layer()));
      if (step.join() == Join.PLUS && !layer.seen().isEmpty()) {
        EntitySet others = EntitySet.NONE;
        for (Recipe.Step other : plan.recipe().joins()) {
          if (!other.layer().equals(step.layer()) && other.join() == Join.PLUS) {
            others = others.or(shot.layers().get(plan.layerIndex(other.layer())).seen());
          }
        }
        EntitySet seenElsewhere = others;
        EntitySet uncutHere =
            EntitySet.where(
                shot.entities(),
                e ->
                    layer.skipped().contains(e)
                        && seenElsewhere.contains(e)
                        && scene.entities().get(e).kind() == EntityKind.MESH);
        if (!uncutHere.isEmpty()) {
          addLayer(
              Cause.Kind.PLUS_ON_COMPLETE,
              layer,
              "layer %s is whole behind %s, but both are added: light is counted twice"
                  .formatted(layer.name(), names(entities(uncutHere))),
              "make it Holdout there, or join the front by over");
        }
      }
    }
  }
}
