package org.wedgecutter.core.check;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;

/** The plan that is checked, and what was found so far. */
final class Checked {
  final Plan plan;
  final Members members;
  final Scene scene;
  final ResolvedShot resolved;
  final Shot shot;
  final List<Finding> findings = new ArrayList<>();

  Checked(Plan plan, Members members, ResolvedShot resolved) {
    this.plan = plan;
    this.members = members;
    this.scene = members.scene();
    this.resolved = resolved;
    this.shot = plan.requireShot();
  }

  ResolvedLayer layer(String name) {
    return resolved.layers().get(plan.layerIndex(name));
  }

  EntitySet all() {
    return resolved.all();
  }

  /** Returns the paths of a few entities. */
  String names(EntitySet entities) {
    return names(entities.indices());
  }

  String names(int[] entities) {
    String first = scene.entities().get(entities[0]).path();
    return entities.length == 1
        ? first
        : entities.length == 2
            ? first + " and " + scene.entities().get(entities[1]).path()
            : "%s and %d more".formatted(first, entities.length - 1);
  }

  Entity entity(int index) {
    return scene.entities().get(index);
  }

  void add(
      Kind kind,
      String layer,
      String entity,
      EntitySet entities,
      String text,
      String advice,
      @Nullable UnaryOperator<Plan> fix) {
    List<Integer> indices = new ArrayList<>();
    for (int e : entities.indices()) {
      indices.add(e);
    }
    findings.add(
        new Finding(
            kind,
            layer,
            entity,
            indices,
            text,
            advice,
            fix == null
                ? null
                : new Finding.Fix("fix: " + kind.title().toLowerCase(java.util.Locale.ROOT), fix)));
  }

  void add(
      Kind kind,
      String layer,
      String entity,
      String text,
      String advice,
      @Nullable UnaryOperator<Plan> fix) {
    add(kind, layer, entity, EntitySet.NONE, text, advice, fix);
  }
}
