package org.wedgecutter.core.proof;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.function.IntPredicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.Subjects;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;

/**
 * The causes found so far, and what they are found in: shares of the residual, which layers are
 * joined, names for messages.
 */
final class Causes {
  final Plan plan;
  final Scene scene;
  final ResolvedShot shot;

  /** The layers that the recipe joins, in its order. */
  final @Nullable ResolvedLayer[] joined;

  /** Everything that emits light. */
  final EntitySet emitters;

  private final double @Nullable [] residual;
  private final List<Cause> found = new ArrayList<>();

  Causes(Plan plan, Scene scene, ResolvedShot shot, double @Nullable [] residualByEntity) {
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

  /** Returns all causes, first those with most of the residual on them; none is measured yet. */
  List<Cause> sorted() {
    found.sort(Comparator.comparingDouble((Cause c) -> Double.isNaN(c.share()) ? 0 : -c.share()));
    return found.stream().map(c -> c.withShare(Double.NaN)).toList();
  }

  /** Returns all causes in the order in which they were found. */
  List<Cause> inOrder() {
    return List.copyOf(found);
  }

  /** Adds a cause. */
  void add(Cause cause) {
    found.add(cause);
  }

  double share(IntPredicate entities) {
    if (residual == null) {
      return Double.NaN;
    }
    double sum = 0;
    for (int e = 0; e < residual.length; e++) {
      sum += entities.test(e) ? residual[e] : 0;
    }
    return sum;
  }

  boolean isJoined(String layer) {
    return plan.join(layer).isPresent();
  }

  static String parent(Entity e) {
    int end = e.path().indexOf('/', 1);
    return end < 0 ? e.path() : e.path().substring(0, end);
  }

  static List<String> paths(List<Entity> list) {
    return list.stream().map(Entity::path).toList();
  }

  void add(Message message, String layer, List<Entity> list) {
    List<Integer> indices = list.stream().map(Entity::index).toList();
    double part = residual == null ? Double.NaN : share(new HashSet<>(indices)::contains);
    found.add(new Cause(message, layer, list.getFirst().path(), indices, part));
  }

  void addLayer(Message message, ResolvedLayer layer) {
    found.add(new Cause(message, layer.name(), share(layer.subject()::contains)));
  }

  /** Returns those of some entities that the camera meets. */
  EntitySet seen(EntitySet of) {
    return EntitySet.where(
        shot.entities(), e -> of.contains(e) && scene.entities().get(e).kind().isSeen());
  }

  /** Returns those of some entities that hide what is behind them. */
  EntitySet stopping(EntitySet of) {
    return EntitySet.where(
        shot.entities(), e -> of.contains(e) && scene.entities().get(e).kind().stopsLight());
  }

  List<Entity> entities(EntitySet set) {
    return scene.entities().stream().filter(e -> set.contains(e.index())).toList();
  }
}
