package org.wedgecutter.core.check;

import java.util.List;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseFixes;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.LayerFrames;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.resolve.Subjects;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.TimeDigest;

/** What single layers show, catch and are lit by. */
final class LayerChecks {
  private final Checked c;
  private final EntitySet emitters;
  private final EntitySet meshes;
  private final boolean around;

  /** Most frames of a layer that are compared with the one it holds. */
  private static final int MOST_HELD = 200;

  private LayerChecks(Checked c) {
    this.c = c;
    around = !c.shot.environment().image().isEmpty();
    emitters = Subjects.emitters(c.shot, c.scene);
    meshes = EntitySet.where(c.resolved.entities(), e -> c.entity(e).kind() == EntityKind.MESH);
  }

  static void run(Checked checked) {
    LayerChecks checks = new LayerChecks(checked);
    for (int l = 0; l < checked.plan.layers().size(); l++) {
      LayerDef def = checked.plan.layers().get(l);
      if (def.render()) {
        checks.layer(def, checked.resolved.layers().get(l));
      }
    }
  }

  /** Whether a layer shows everything that can be seen. */
  static boolean whole(Checked c, ResolvedLayer layer) {
    return layer
        .shown()
        .containsAll(EntitySet.where(c.resolved.entities(), e -> c.entity(e).kind().isSeen()));
  }

  private void layer(LayerDef def, ResolvedLayer layer) {
    String name = def.name();
    CatcherSpec catcher = layer.catcher();
    if (layer.seen().isEmpty() && catcher == null) {
      c.add(
          Message.of(Sentence.LAYER_EMPTY, "layer", name),
          name,
          "",
          p -> LayerEdits.unjoin(LayerEdits.layer(p, name, l -> l.withRender(false)), name));
      return;
    }
    dark(layer);
    if (whole(c, layer) && c.plan.join(name).isEmpty()) {
      c.add(
          Message.of(Sentence.LAYER_WHOLE, "layer", name),
          name,
          "",
          p -> LayerEdits.layer(p, name, l -> l.withRender(false)));
    }
    still(def, layer);
    if (catcher != null) {
      catcher(layer, catcher);
    } else {
      casters(def);
    }
    selfShadow(layer);
    medium(layer);
  }

  private void dark(ResolvedLayer layer) {
    boolean shines = false;
    for (int e : emitters.indices()) {
      shines |= layer.transport().reach(e).emits() || layer.seen().contains(e);
    }
    if (!shines && !emitters.isEmpty()) {
      EntitySet absent = layer.decisions().of(Role.ABSENT).and(emitters);
      c.add(
          Message.of(Sentence.LAYER_DARK, "layer", layer.name(), "entities", c.paths(emitters)),
          layer.name(),
          c.entity(emitters.first()).path(),
          emitters,
          absent.isEmpty()
              ? null
              : p -> Cuts.role(p, c.members, layer.name(), absent, Role.UNSEEN));
    }
  }

  private void still(LayerDef def, ResolvedLayer layer) {
    List<Integer> frames = c.shot.frames().frames();
    if (LayerFrames.of(def, c.shot).own()) {
      held(def, frames);
      return;
    }
    boolean moves = frames.size() < 2 || keyed(def);
    double half = c.shot.shutter() / 2 / c.shot.fps();
    double from = c.shot.time(frames.getFirst()) - half;
    double to = c.shot.time(frames.getLast()) + half;
    TimeDigest time = c.members.time();
    moves |= time.nodeChanges(c.shot.cameraIn(c.scene).node(), from, to) || showsFootage(layer);
    for (int e = 0; e < c.resolved.entities() && !moves; e++) {
      moves = layer.decisions().role(e) != Role.ABSENT && time.changes(c.entity(e), from, to);
    }
    if (!moves) {
      c.add(
          Message.of(
              Sentence.LAYER_STILL,
              "layer",
              layer.name(),
              "count",
              frames.size(),
              "frame",
              frames.getFirst()),
          layer.name(),
          "",
          p ->
              LayerEdits.setting(
                  p,
                  layer.name(),
                  CellOverride.of(
                      Property.FRAMES,
                      Property.Verb.SET,
                      new Value.Text(String.valueOf(frames.getFirst())))));
    }
  }

  /** Finds the first frame at which a layer holds another that is not the same. */
  private void held(LayerDef def, List<Integer> frames) {
    LayerFrames own = LayerFrames.of(def, c.shot);
    if (c.plan.join(def.name()).isEmpty()) {
      return;
    }
    int step = Math.max(1, frames.size() / MOST_HELD);
    for (int f = 0; f < frames.size(); f += step) {
      int frame = frames.get(f);
      int from = own.held(frame);
      if (from != frame) {
        ResolvedLayer shown = Resolver.at(c.plan, c.members, def, frame);
        ResolvedLayer kept = Resolver.at(c.plan, c.members, def, from);
        if (showsFootage(shown)
            || !shown.transport().equals(kept.transport())
            || !shown.decisions().equals(kept.decisions())) {
          c.add(
              Message.of(
                  Sentence.HELD_NOT_STILL, "layer", def.name(), "held", from, "frame", frame),
              def.name(),
              "",
              p -> LayerEdits.removeSetting(p, def.name(), Property.FRAMES));
          return;
        }
      }
    }
  }

  /** Whether it shows a plate that has a picture for each frame. */
  private boolean showsFootage(ResolvedLayer layer) {
    return c.shot.plate().isNumbered() && layer.seen().meets(c.resolved.platePart());
  }

  private static boolean keyed(LayerDef def) {
    return def.settings().stream().anyMatch(CellOverride::keyed)
        || def.rest().overrides().stream().anyMatch(CellOverride::keyed)
        || def.cells().values().stream()
            .anyMatch(x -> x.overrides().stream().anyMatch(CellOverride::keyed));
  }

  private void catcher(ResolvedLayer layer, CatcherSpec catcher) {
    boolean joined = c.plan.join(layer.name()).isPresent();
    if (catcher.casters().isEmpty() && !joined) {
      Message message =
          Message.of(
              Sentence.CATCHER_IDLE,
              "layer",
              layer.name(),
              "entities",
              c.paths(catcher.surfaces()));
      c.add(
          message,
          layer.name(),
          c.entity(catcher.surfaces().first()).path(),
          catcher.surfaces(),
          new CauseFixes(c.plan, c.members, c.resolved)
              .fix(new Cause(message, layer.name(), Double.NaN)));
    }
    int around = c.scene.environment().index();
    if (this.around && layer.decisions().role(around) == Role.ABSENT) {
      c.add(
          Message.of(Sentence.CATCHER_DARK, "layer", layer.name()),
          layer.name(),
          Scenes.ENVIRONMENT,
          EntitySet.of(List.of(around)),
          p -> Cuts.role(p, c.members, layer.name(), EntitySet.of(List.of(around)), Role.UNSEEN));
    }
  }

  private void casters(LayerDef def) {
    def.cells()
        .forEach((row, cell) -> {
          if (cell.catcher() != null && Boolean.TRUE.equals(cell.catching().caster())) {
            c.add(
                Message.of(Sentence.CASTER_IDLE, "layer", def.name(), "collection", row),
                def.name(),
                row,
                p ->
                    PlanEdits.cell(
                        p, def.name(), row, x -> x.withCatcher(x.catching().withCaster(null))));
          }
        });
  }

  /** Only the Seen entities of the layer cast shadows. */
  private void selfShadow(ResolvedLayer layer) {
    EntitySet seen = layer.seen().and(meshes);
    EntitySet others = meshes.minus(seen);
    if (seen.isEmpty() || others.isEmpty()) {
      return;
    }
    for (int e : others.indices()) {
      boolean there = layer.decisions().role(e) != Role.ABSENT;
      if (!there || layer.transport().reach(e).castsShadow()) {
        return;
      }
    }
    EntitySet shadowed =
        EntitySet.where(
            c.resolved.entities(),
            e ->
                seen.contains(e)
                    && layer.transport().reach(e).castsShadow()
                    && !layer.transport().reach(e).castsNoSelfShadow()
                    && !layer.transport().reach(e).receivesNoShadows());
    if (!shadowed.isEmpty()) {
      c.add(
          Message.of(Sentence.SELF_SHADOW, "layer", layer.name(), "entities", c.paths(shadowed)),
          layer.name(),
          c.entity(shadowed.first()).path(),
          shadowed,
          p -> selfOff(p, layer.name(), shadowed));
    }
  }

  private Plan selfOff(Plan plan, String layer, EntitySet entities) {
    Plan next = plan;
    CellOverride off = CellOverride.of(Property.SHADOW_SELF, false);
    LayerDef def = plan.layer(layer).orElseThrow();
    for (CollectionDef row : plan.collections()) {
      if (def.cell(row.name()).role() == Role.SEEN && c.members.of(row).meets(entities)) {
        next = PlanEdits.override(next, layer, row.name(), off);
      }
    }
    return next.equals(plan) ? PlanEdits.override(next, layer, null, off) : next;
  }

  private void medium(ResolvedLayer layer) {
    EntitySet media =
        EntitySet.where(
            c.resolved.entities(),
            e -> c.entity(e).kind() == EntityKind.MEDIUM && layer.seen().contains(e));
    EntitySet open = layer.skipped().and(meshes);
    if (!media.isEmpty()
        && !open.isEmpty()
        && c.plan.join(layer.name()).orElse(Join.PLUS) != Join.TIMES) {
      c.add(
          Message.of(
              Sentence.MEDIUM_NOT_HELD_OUT,
              "layer",
              layer.name(),
              "entities",
              c.paths(media),
              "holders",
              c.paths(open)),
          layer.name(),
          c.entity(media.first()).path(),
          open,
          p -> Cuts.role(p, c.members, layer.name(), open, Role.HOLDOUT));
    }
  }

  private static final class Scenes {
    static final String ENVIRONMENT = org.wedgecutter.core.scene.Scene.ENVIRONMENT_PATH;
  }
}
