package org.wedgecutter.core.check;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Mistake;
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

  /** Returns the paths of entities. */
  List<String> paths(EntitySet entities) {
    return Arrays.stream(entities.indices()).mapToObj(e -> entity(e).path()).toList();
  }

  Entity entity(int index) {
    return scene.entities().get(index);
  }

  /** Returns the name that the fix of a mistake has in the edit history. */
  static String fixName(Mistake mistake) {
    return "fix: " + mistake.title().toLowerCase(Locale.ROOT);
  }

  void add(
      Message message,
      String layer,
      String entity,
      EntitySet entities,
      @Nullable UnaryOperator<Plan> fix) {
    List<Integer> indices = Arrays.stream(entities.indices()).boxed().toList();
    String name = fixName(message.mistake());
    findings.add(
        new Finding(
            message, layer, entity, indices, fix == null ? null : new Finding.Fix(name, fix)));
  }

  void add(Message message, String layer, String entity, @Nullable UnaryOperator<Plan> fix) {
    add(message, layer, entity, EntitySet.NONE, fix);
  }
}
