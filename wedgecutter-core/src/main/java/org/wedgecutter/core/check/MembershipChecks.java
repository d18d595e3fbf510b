package org.wedgecutter.core.check;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.joml.Matrix4f;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/** What collections take and do not take. */
final class MembershipChecks {
  private static final double GREEDY = 0.95;
  private static final int FEW = 8;

  private MembershipChecks() {}

  static void run(Checked c) {
    List<EntitySet> deciding =
        c.resolved.layers().stream().map(l -> l.decisions().deciding()).toList();
    for (int number = 0; number < c.plan.collections().size(); number++) {
      CollectionDef row = c.plan.collections().get(number);
      EntitySet own = c.members.of(row);
      lost(c, row);
      if (own.isEmpty()) {
        c.add(
            Kind.RULE_EMPTY,
            "",
            row.name(),
            "collection %s takes nothing in this scene".formatted(row.name()),
            "change its rule, or take it away",
            p -> CollectionEdits.remove(p, row.name()));
        continue;
      }
      boolean last = row.equals(c.plan.collections().getLast());
      if (c.resolved.entities() >= FEW && own.size() >= GREEDY * c.resolved.entities() && !last) {
        c.add(
            Kind.RULE_GREEDY,
            "",
            row.name(),
            own,
            "collection %s takes %d of %d entities"
                .formatted(row.name(), own.size(), c.resolved.entities()),
            "say more exactly what it takes, or leave it to the rest",
            p -> CollectionEdits.move(p, row.name(), p.collections().size()));
      }
      hidden(c, row, number, own, deciding);
    }
    known(c);
    twins(c);
  }

  private static void lost(Checked c, CollectionDef row) {
    for (String path : row.added()) {
      if (c.scene.entity(path).isEmpty()) {
        c.add(
            Kind.MEMBER_LOST,
            "",
            row.name(),
            "collection %s holds %s by hand, which is not in this scene"
                .formatted(row.name(), path),
            "take it out",
            p -> CollectionEdits.collection(p, row.name(), x -> without(x, path)));
      }
    }
  }

  private static CollectionDef without(CollectionDef row, String path) {
    List<String> added = new ArrayList<>(row.added());
    added.remove(path);
    return new CollectionDef(row.name(), row.rule(), added, row.removed(), row.extra());
  }

  private static void hidden(
      Checked c, CollectionDef row, int number, EntitySet own, List<EntitySet> deciding) {
    boolean speaks = false;
    for (int l = 0; l < c.plan.layers().size(); l++) {
      LayerDef layer = c.plan.layers().get(l);
      if (layer.cells().containsKey(row.name())) {
        speaks = true;
        boolean says = layer.cell(row.name()).role() != null;
        if (!says || deciding.get(l).contains(number)) {
          return;
        }
      }
    }
    if (isUsedElsewhere(c, row.name())) {
      return;
    }
    if (!speaks) {
      c.add(
          Kind.ROW_UNUSED,
          "",
          row.name(),
          "no layer says anything of collection %s".formatted(row.name()),
          "give it a role in a layer, or take it away",
          null);
      return;
    }
    c.add(
        Kind.ROW_HIDDEN,
        "",
        row.name(),
        own,
        "all that collection %s takes is taken by rows above it".formatted(row.name()),
        "move it up",
        p -> CollectionEdits.move(p, row.name(), -p.collections().size()));
  }

  private static void known(Checked c) {
    if (c.shot.known().isEmpty()) {
      return;
    }
    EntitySet fresh = fresh(c.plan, c.scene);
    EntitySet rest = c.members.rows(c.plan).getLast().and(fresh);
    if (!rest.isEmpty()) {
      c.add(
          Kind.ENTITY_NEW,
          "",
          c.entity(rest.first()).path(),
          rest,
          "%s came into the scene since the plan was saved, and fell into the rest"
              .formatted(c.names(rest)),
          "put it into a collection, or leave it there",
          p -> noted(p, c.scene));
    }
    Set<String> now = new HashSet<>();
    c.scene.entities().forEach(e -> now.add(e.path()));
    List<String> gone = c.shot.known().stream().filter(p -> !now.contains(p)).toList();
    if (!gone.isEmpty()) {
      c.add(
          Kind.ENTITY_GONE,
          "",
          gone.getFirst(),
          "%s left the scene since the plan was saved"
              .formatted(
                  gone.size() == 1
                      ? gone.getFirst()
                      : "%s and %d more".formatted(gone.getFirst(), gone.size() - 1)),
          "see whether anything was meant for it",
          p -> noted(p, c.scene));
    }
  }

  /** Returns the plan with the scene's entities as those that are known. */
  static Plan noted(Plan plan, Scene scene) {
    return plan.withShot(
        plan.requireShot().withKnown(scene.entities().stream().map(Entity::path).toList()));
  }

  /** Returns what the scene has that the plan does not know of. */
  static EntitySet fresh(Plan plan, Scene scene) {
    List<String> known = plan.shot() == null ? List.of() : plan.requireShot().known();
    if (known.isEmpty()) {
      return EntitySet.NONE;
    }
    Set<String> old = new HashSet<>(known);
    return EntitySet.where(
        scene.entities().size(), e -> !old.contains(scene.entities().get(e).path()));
  }

  /** The same mesh at the same place twice, at the scene's beginning. */
  private static void twins(Checked c) {
    Matrix4f[] pose = c.members.restPose();
    Map<List<Object>, Entity> first = new HashMap<>();
    for (Entity e : c.scene.entities()) {
      if (e.kind() != EntityKind.MESH) {
        continue;
      }
      float[] at = pose[e.node()].get(new float[16]);
      int[] rounded = new int[16];
      for (int i = 0; i < 16; i++) {
        rounded[i] = Math.round(at[i] * 1e4f);
      }
      Entity twin = first.putIfAbsent(List.of(e.payload(), Arrays.hashCode(rounded)), e);
      if (twin != null && pose[twin.node()].equals(pose[e.node()], 1e-4f)) {
        c.add(
            Kind.TWIN_OBJECTS,
            "",
            e.path(),
            EntitySet.of(List.of(twin.index(), e.index())),
            "%s and %s are the same mesh in the same place".formatted(twin.path(), e.path()),
            "take one out of the scene; a role hides or holds out without a copy",
            null);
      }
    }
  }

  /** Whether the shot or its output speaks of a collection. */
  private static boolean isUsedElsewhere(Checked c, String name) {
    return c.shot.plate().standIns().equals(name)
        || c.shot.links().containsValue(name)
        || c.plan.output().lightGroups().contains(name)
        || c.plan.layers().stream()
            .flatMap(l -> l.cells().values().stream())
            .anyMatch(
                cell -> cell.catcher() != null && cell.catcher().tuning().lights().contains(name));
  }
}
