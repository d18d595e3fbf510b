package org.wedgecutter.core.check;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.joml.Matrix4f;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;

/** What collections match and do not match. */
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
            Message.of(Sentence.RULE_EMPTY, "collection", row.name()),
            "",
            row.name(),
            p -> CollectionEdits.remove(p, row.name()));
        continue;
      }
      boolean last = row.equals(c.plan.collections().getLast());
      if (c.resolved.entities() >= FEW && own.size() >= GREEDY * c.resolved.entities() && !last) {
        c.add(
            Message.of(
                Sentence.RULE_GREEDY,
                "collection",
                row.name(),
                "count",
                own.size(),
                "total",
                c.resolved.entities()),
            "",
            row.name(),
            own,
            p -> CollectionEdits.move(p, row.name(), p.collections().size()));
      }
      hidden(c, row, number, own, deciding);
      inPart(c, row, own);
    }
    known(c);
    twins(c);
  }

  /** A role is of a whole object: a rule by material takes its other materials with it. */
  private static void inPart(Checked c, CollectionDef row, EntitySet own) {
    EntitySet part =
        EntitySet.where(
            c.resolved.entities(),
            e ->
                own.contains(e)
                    && !row.added().contains(c.entity(e).path())
                    && row.rule().matchesInPart(c.entity(e)));
    if (!part.isEmpty()) {
      c.add(
          Message.of(
              Sentence.MATERIAL_IN_PART, "collection", row.name(), "entities", c.paths(part)),
          "",
          row.name(),
          part,
          null);
    }
  }

  private static void lost(Checked c, CollectionDef row) {
    for (String path : row.added()) {
      if (c.scene.entity(path).isEmpty()) {
        c.add(
            Message.of(Sentence.MEMBER_LOST, "collection", row.name(), "path", path),
            "",
            row.name(),
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
      c.add(Message.of(Sentence.ROW_UNUSED, "collection", row.name()), "", row.name(), null);
      return;
    }
    c.add(
        Message.of(Sentence.ROW_HIDDEN, "collection", row.name()),
        "",
        row.name(),
        own,
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
          Message.of(Sentence.ENTITY_NEW, "entities", c.paths(rest)),
          "",
          c.entity(rest.first()).path(),
          rest,
          p -> noted(p, c.scene));
    }
    Set<String> now = new HashSet<>();
    c.scene.entities().forEach(e -> now.add(e.path()));
    List<String> gone = c.shot.known().stream().filter(p -> !now.contains(p)).toList();
    if (!gone.isEmpty()) {
      c.add(
          Message.of(Sentence.ENTITY_GONE, "entities", gone),
          "",
          gone.getFirst(),
          p -> noted(p, c.scene));
    }
  }

  /** Returns the plan with all entities of the scene listed as known. */
  static Plan noted(Plan plan, Scene scene) {
    return plan.withShot(
        plan.requireShot().withKnown(scene.entities().stream().map(Entity::path).toList()));
  }

  /** Returns the entities of the scene that the plan does not know. */
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
            Message.of(Sentence.TWIN_OBJECTS, "path", twin.path(), "other", e.path()),
            "",
            e.path(),
            EntitySet.of(List.of(twin.index(), e.index())),
            null);
      }
    }
  }

  /** Whether the shot or its output uses a collection. */
  private static boolean isUsedElsewhere(Checked c, String name) {
    return c.shot.plate().standIns().equals(name)
        || c.shot.links().containsValue(name)
        || c.plan.output().lightGroups().contains(name)
        || c.plan.output().limits().containsValue(name)
        || c.plan.layers().stream()
            .flatMap(l -> l.cells().values().stream())
            .anyMatch(
                cell -> cell.catcher() != null && cell.catcher().tuning().lights().contains(name));
  }
}
