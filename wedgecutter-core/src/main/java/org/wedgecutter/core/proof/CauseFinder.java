package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
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
import org.wedgecutter.core.resolve.Reach;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.Subjects;
import org.wedgecutter.core.resolve.TraceSettings;
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

  private final @Nullable ResolvedLayer[] joined;
  private final EntitySet emitters;

  private CauseFinder(
      Plan plan, Scene scene, ResolvedShot shot, double @Nullable [] residualByEntity) {
    this.plan = plan;
    this.scene = scene;
    this.shot = shot;
    this.residual = residualByEntity;
    joined =
        plan.recipe().joins().stream()
            .map(s -> shot.layers().get(plan.layerIndex(s.layer())))
            .toArray(ResolvedLayer[]::new);
    emitters = Subjects.emitters(plan.requireShot(), scene);
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

  /** Finds what is seen in no layer, or in several that do not share out its light. */
  public static List<Cause> partition(Plan plan, Scene scene, ResolvedShot shot) {
    CauseFinder finder = new CauseFinder(plan, scene, shot, null);
    finder.partition();
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
    Map<String, List<ResolvedLayer>> several = new LinkedHashMap<>();
    for (Entity e : scene.entities()) {
      if (e.kind() == EntityKind.LIGHT) {
        continue;
      }
      int times = 0;
      for (ResolvedLayer layer : joined) {
        times += seen(layer, e.index()) ? 1 : 0;
      }
      if (times == 0) {
        nowhere.computeIfAbsent(parent(e), k -> new ArrayList<>()).add(e);
      } else if (times > 1) {
        List<ResolvedLayer> layers = new ArrayList<>();
        for (ResolvedLayer layer : joined) {
          if (layer != null && layer.seen().contains(e.index())) {
            layers.add(layer);
          }
        }
        String names =
            layers.stream()
                .map(ResolvedLayer::name)
                .collect(java.util.stream.Collectors.joining(" and "));
        twice.computeIfAbsent(names, k -> new ArrayList<>()).add(e);
        several.putIfAbsent(names, layers);
      }
    }
    nowhere.forEach((group, list) ->
        add(
            Cause.Kind.SEEN_NOWHERE,
            "",
            list,
            "%s seen in no layer: missing from the rejoined picture".formatted(are(list)),
            "make it Seen in one layer"));
    twice.forEach((names, list) -> seenTwice(names, list, several.getOrDefault(names, List.of())));
  }

  private static boolean seen(@Nullable ResolvedLayer layer, int entity) {
    return layer != null && layer.seen().contains(entity);
  }

  /** Several layers may show the same things if each has lights of its own: light adds up. */
  private void seenTwice(String names, List<Entity> list, List<ResolvedLayer> layers) {
    if (!splitByLight(layers)) {
      add(
          Cause.Kind.SEEN_TWICE,
          layers.getLast().name(),
          list,
          "%s seen in %s: this light is counted twice".formatted(are(list), names),
          "make it Holdout in all but one");
      return;
    }
    for (int i = 0; i < layers.size(); i++) {
      for (int k = 0; k < i; k++) {
        EntitySet both = shining(layers.get(i)).and(shining(layers.get(k)));
        if (!both.isEmpty()) {
          add(
              Cause.Kind.LIGHT_TWICE,
              layers.get(i).name(),
              entities(both),
              "%s on in layer %s and in layer %s, which show the same things: its light is counted twice"
                  .formatted(are(entities(both)), layers.get(k).name(), layers.get(i).name()),
              "make it Absent in one of them");
        }
      }
    }
    EntitySet dark = emitters;
    for (ResolvedLayer layer : layers) {
      dark = dark.minus(shining(layer));
    }
    if (!dark.isEmpty()) {
      add(
          Cause.Kind.LIGHT_DIFFERS,
          layers.getLast().name(),
          entities(dark),
          "%s on in none of %s: its light is missing".formatted(are(entities(dark)), names),
          "switch it on in one of them");
    }
  }

  private EntitySet shining(ResolvedLayer layer) {
    return EntitySet.where(
        shot.entities(),
        e -> emitters.contains(e) && (layer.transport().reach(e) & Reach.SHINES) != 0);
  }

  private boolean splitByLight(List<ResolvedLayer> layers) {
    EntitySet first = shining(layers.getFirst());
    for (ResolvedLayer layer : layers) {
      if (plan.join(layer.name()).orElse(Join.OVER) != Join.PLUS
          || !layer.skipped().minus(emitters).isEmpty()) {
        return false;
      }
    }
    return layers.stream().skip(1).noneMatch(l -> shining(l).equals(first))
        && layers.stream().anyMatch(l -> !shining(l).equals(emitters));
  }

  /** The layers that split the light of what they show with others. */
  private boolean sharesLight(ResolvedLayer layer) {
    List<ResolvedLayer> same = new ArrayList<>();
    for (ResolvedLayer other : joined) {
      if (other != null && other.seen().meets(layer.seen())) {
        same.add(other);
      }
    }
    return same.size() > 1 && splitByLight(same);
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
    double part = residual == null ? Double.NaN : share(new HashSet<>(indices)::contains);
    causes.add(new Cause(kind, layer, list.getFirst().path(), indices, part, text, fix));
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
    hazeIsApart();
    plusOnComplete();
    order();
    doubledShadows();
  }

  private void addLayer(Cause.Kind kind, ResolvedLayer layer, String text, String fix) {
    CatcherSpec catcher = layer.catcher();
    EntitySet own = catcher == null ? layer.seen() : layer.seen().or(catcher.surfaces());
    causes.add(new Cause(kind, layer.name(), "", share(own::contains), text, fix));
  }

  /** Light that differs from the uncut frame's, unless differences or ratios put it right. */
  private void light(ResolvedLayer layer) {
    TransportClass own = layer.transport();
    TransportClass uncut = shot.uncut();
    if (own.equals(uncut)) {
      return;
    }
    if (!own.settings().equals(uncut.settings())) {
      settings(layer);
    }
    EntitySet apart = hazeApart().and(layer.decisions().of(Role.ABSENT));
    hazeLost = hazeLost.or(apart);
    EntitySet open =
        EntitySet.where(
            shot.entities(),
            // the environment is seen as it is, whatever lights the rest
            e ->
                layer.seen().contains(e)
                    && scene.entities().get(e).kind() != EntityKind.ENVIRONMENT
                    && !mended(layer, e));
    if (open.isEmpty()) {
      return;
    }
    List<Entity> looking = entities(EntitySet.where(shot.entities(), e -> own.look(e) != null));
    if (!looking.isEmpty()) {
      add(
          Cause.Kind.OVERRIDE_DIFFERS,
          layer.name(),
          looking,
          "an override changes %s in layer %s alone: what it sends to the others differs too"
              .formatted(names(looking), layer.name()),
          "switch the override off, or change it for the whole shot");
    }
    EntitySet differing =
        EntitySet.where(shot.entities(), e -> own.reach(e) != uncut.reach(e) && !apart.contains(e));
    if (differing.isEmpty() || sharesLight(layer)) {
      return;
    }
    EntitySet absent = differing.and(layer.decisions().of(Role.ABSENT));
    List<Entity> list = entities(absent.isEmpty() ? differing : absent);
    causes.add(
        new Cause(
            Cause.Kind.LIGHT_DIFFERS,
            layer.name(),
            list.getFirst().path(),
            list.stream().map(Entity::index).toList(),
            share(open::contains),
            "%s %s in layer %s: %s missing there"
                .formatted(
                    are(list),
                    absent.isEmpty() ? "switched off" : "Absent",
                    layer.name(),
                    emitters.containsAll(
                            EntitySet.where(shot.entities(), e -> list.getFirst().index() == e))
                        ? "its light is"
                        : "shadow, reflection and bounced light are"),
            absent.isEmpty()
                ? "switch it on, or add a catcher layer"
                : "make it Unseen or Holdout"));
  }

  /** Media that are put over other layers in a layer of their own. */
  private EntitySet hazeApart() {
    EntitySet out = EntitySet.NONE;
    for (Recipe.Step step : plan.recipe().joins()) {
      if (step.join() == Join.OVER) {
        out = out.or(shot.layers().get(plan.layerIndex(step.layer())).seen());
      }
    }
    return out.and(
        EntitySet.where(shot.entities(), e -> scene.entities().get(e).kind() == EntityKind.MEDIUM));
  }

  /** Media that some layer is lit without, though they are put over it. */
  private EntitySet hazeLost = EntitySet.NONE;

  private void hazeIsApart() {
    if (!hazeLost.isEmpty()) {
      List<Entity> list = entities(hazeLost);
      add(
          Cause.Kind.HAZE_APART,
          "",
          list,
          "%s put over layers that are lit without it: how it dims and spreads light there is missing"
              .formatted(list.size() == 1 ? names(list) + " is" : names(list) + " are"),
          "make it Holdout there and join all by plus, if its part in the light must be exact");
    }
  }

  private static void bounces(int own, int uncut, String of, List<String> what) {
    if (own != uncut) {
      what.add("%d %s instead of %d".formatted(own, of, uncut));
    }
  }

  private void settings(ResolvedLayer layer) {
    TraceSettings own = layer.transport().settings();
    TraceSettings uncut = shot.uncut().settings();
    List<String> what = new ArrayList<>();
    bounces(own.bounces().surfaces(), uncut.bounces().surfaces(), "bounces", what);
    bounces(own.bounces().glass(), uncut.bounces().glass(), "passes through glass", what);
    bounces(own.bounces().media(), uncut.bounces().media(), "bounces in media", what);
    if (own.seeThrough() != uncut.seeThrough()) {
      what.add("another way of seeing through glass");
    }
    if (own.blur() != uncut.blur()) {
      what.add("no motion blur");
    }
    if (own.across() != uncut.across() || own.down() != uncut.down()) {
      what.add("another size");
    }
    if (own.samples() != uncut.samples()) {
      what.add("%d samples of its own".formatted(own.samples()));
    }
    if (own.level() != uncut.level() || own.turn() != uncut.turn()) {
      what.add("another environment");
    }
    if (!what.isEmpty()) {
      addLayer(
          Cause.Kind.SETTINGS_DIFFER,
          layer,
          "layer %s has %s: its light is not the uncut frame's"
              .formatted(layer.name(), String.join(", ", what)),
          "take the setting back, if the layers must rejoin exactly");
    }
    if (own.frame() != uncut.frame()) {
      boolean moves =
          scene.cameraMoves(plan.requireShot().camera())
              || scene.entities().stream()
                  .anyMatch(e -> e.moves() && layer.transport().reach(e.index()) != 0);
      if (moves) {
        addLayer(
            Cause.Kind.HELD_NOT_STILL,
            layer,
            "layer %s holds frame %d at frame %d, but what it depends on moves"
                .formatted(layer.name(), own.frame(), uncut.frame()),
            "render it at every frame, or make what moves Absent in it");
      }
    }
  }

  /**
   * Whether catchers bring a surface's light from this layer's class to the uncut frame's, one
   * after another.
   */
  private boolean mended(ResolvedLayer layer, int entity) {
    TransportClass at = layer.transport();
    // haze that is put over all of them later is a cause of its own
    TransportClass whole =
        shot.uncut().without(hazeApart().and(layer.decisions().of(Role.ABSENT)), Reach.ALL);
    for (int steps = 0; steps < joined.length; steps++) {
      if (at.equals(whole)) {
        return true;
      }
      TransportClass before = at;
      for (ResolvedLayer other : joined) {
        CatcherSpec catcher = other == null ? null : other.catcher();
        if (other != null
            && catcher != null
            && catcher.surfaces().contains(entity)
            && catcher.without().equals(before)
            && !other.transport().equals(before)) {
          at = other.transport();
        }
      }
      if (at.equals(before)) {
        return false;
      }
    }
    return at.equals(whole);
  }

  /** Layers that are joined in another order than they stand in, where order counts. */
  private void order() {
    int behind = -1;
    for (Recipe.Step step : plan.recipe().joins()) {
      int at = plan.layerIndex(step.layer());
      if (at < behind && step.join() != Join.PLUS) {
        addLayer(
            Cause.Kind.JOIN_ORDER,
            shot.layers().get(at),
            "layer %s is joined by %s after layers that stand in front of it"
                .formatted(step.layer(), step.join().word()),
            "join the layers from the back to the front");
      }
      behind = Math.max(behind, at);
    }
  }

  /** Two layers that catch on one surface, neither of which leaves out what the other catches. */
  private void doubledShadows() {
    for (int i = 0; i < joined.length; i++) {
      for (int k = i + 1; k < joined.length; k++) {
        ResolvedLayer a = joined[i];
        ResolvedLayer b = joined[k];
        CatcherSpec first = a == null ? null : a.catcher();
        CatcherSpec second = b == null ? null : b.catcher();
        if (a != null
            && b != null
            && first != null
            && second != null
            && first.surfaces().meets(second.surfaces())
            && !first.without().equals(b.transport())
            && !second.without().equals(a.transport())) {
          List<Entity> on = entities(first.surfaces().and(second.surfaces()));
          add(
              Cause.Kind.DOUBLED_SHADOW,
              b.name(),
              on,
              "layers %s and %s both catch on %s, each as if the other were not there: where both block the same light it is darkened twice"
                  .formatted(a.name(), b.name(), names(on)),
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
      addLayer(
          Cause.Kind.OVER_ON_HELD_OUT,
          layer,
          "layer %s and %s, which stands behind it in the recipe, hold each other out: over leaves a dark edge"
              .formatted(layer.name(), names(entities(holdouts))),
          "join it by plus");
    } else {
      addLayer(
          Cause.Kind.EDGE_COVARIANCE,
          layer,
          "layer %s is joined over: inside edge pixels its cover and the light behind are not mixed as in the uncut frame"
              .formatted(layer.name()),
          "hold the layers out of each other and join by plus, if edges must be exact");
    }
  }

  /** Whether any layer behind one is cut around what it shows. */
  private boolean heldOutBehind(ResolvedLayer layer) {
    for (Recipe.Step step : plan.recipe().joins()) {
      if (step.layer().equals(layer.name())) {
        return false;
      }
      ResolvedLayer behind = shot.layers().get(plan.layerIndex(step.layer()));
      if (!behind.seen().isEmpty() && !behind.skipped().containsAll(layer.seen())) {
        return true;
      }
    }
    return false;
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
            layer.decisions().role(e) == Role.HOLDOUT
                && seenBehind.contains(e)
                && scene.entities().get(e).kind() == EntityKind.MESH);
  }

  private void joinOfCatcher(ResolvedLayer layer, CatcherSpec catcher, Join join) {
    Join right = catcher.output().join();
    if (join != right) {
      addLayer(
          Cause.Kind.WRONG_JOIN,
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
    } else if (right == Join.TIMES) {
      addLayer(
          Cause.Kind.RATIO_ON_SPECULAR,
          layer,
          "layer %s scales all light by the ratio of the diffuse light alone"
              .formatted(layer.name()),
          "catch the difference and join it by plus, or join pass by pass");
    }
    boolean part =
        catcher.output() == CatcherOutput.BOUNCE || catcher.output() == CatcherOutput.REFLECTION;
    if (part || !catcher.tuning().isUsual()) {
      addLayer(
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
          List<Entity> list = entities(uncutHere);
          causes.add(
              new Cause(
                  Cause.Kind.PLUS_ON_COMPLETE,
                  layer.name(),
                  list.getFirst().path(),
                  list.stream().map(Entity::index).toList(),
                  share(layer.seen()::contains),
                  "layer %s is whole behind %s, but both are added: light is counted twice"
                      .formatted(layer.name(), names(list)),
                  "make it Holdout there, or join the front by over"));
        }
      }
    }
  }
}
