package org.wedgecutter.core.propose;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.proof.Tolerance;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.survey.ShotSurvey;
import org.wedgecutter.core.survey.TimeEstimate;

/**
 * A layer that shows only still entities but is not itself still, because something that moves is
 * held out in it, casts shadows on it or shows in it: what that is, what it does, what holding the
 * layer would save, and the cut that allows it.
 *
 * @param layer number of the layer
 * @param movers what keeps it from being still
 * @param share what these do to its light, by interplay: light via them, and light that they block,
 *     as a share
 * @param saved seconds that holding its first frame would save over the shot
 */
public record StillBut(int layer, EntitySet movers, double share, double saved) {
  /** Finds the layers of a plan that are still but for something. */
  public static List<StillBut> of(
      LoadedShot shot, ShotSurvey survey, HeldFrames held, TimeEstimate time) {
    List<StillBut> out = new ArrayList<>();
    if (!survey.changes().camera().isEmpty()) {
      return out;
    }
    int first = held.frames().getFirst();
    List<ResolvedLayer> layers = shot.resolve(first).layers();
    EntitySet footage =
        shot.plan().requireShot().plate().isNumbered()
            ? shot.resolve(first).platePart()
            : EntitySet.NONE;
    for (int l = 0; l < layers.size(); l++) {
      int layer = l;
      if (time.rendered(l).size() < 2) {
        continue;
      }
      ResolvedLayer resolved = layers.get(l);
      EntitySet shown = shown(resolved);
      EntitySet changing =
          EntitySet.where(
              shot.scene().entities().size(),
              e ->
                  !survey.changes().moves().get(e).isEmpty()
                      && !resolved.transport().reach(e).isNone());
      boolean keyed =
          survey.changes().keyed().stream()
              .anyMatch(k -> k.layer().equals(shot.plan().layers().get(layer).name()));
      // a catcher's layer is about what moves
      boolean catches = resolved.catcher() != null;
      if (!changing.isEmpty()
          && !changing.meets(shown)
          && !footage.meets(shown)
          && !keyed
          && !catches) {
        double saved = time.layer(l).middle() - time.heldThroughout(l).middle();
        out.add(new StillBut(l, changing, survey.share(shown, changing), saved));
      }
    }
    return out;
  }

  private static EntitySet shown(ResolvedLayer layer) {
    return layer.catcher() == null ? layer.seen() : layer.seen().or(layer.catcher().surfaces());
  }

  /**
   * What holding one frame at another costs, by a trace of both.
   *
   * @param max largest difference, scene-linear light
   * @param beyond share of the pixels that differ beyond the tolerance of a proof
   */
  public record Loss(double max, double beyond) {}

  /**
   * Traces the layer at two frames and compares: what holding the first at the second costs. Both
   * have the same random numbers, so noise is no difference.
   *
   * @param renderer of the shot; stopping it ends this
   */
  public Loss loss(FrameRenderer renderer, int first, int second) {
    Picture a = picture(renderer, first);
    Picture b = picture(renderer, second);
    Tolerance allowed = Tolerance.of(b);
    double max = 0;
    int beyond = 0;
    for (int p = 0; p < a.rgba().length; p += 4) {
      boolean differs = false;
      for (int c = 0; c < 4; c++) {
        max = Math.max(max, Math.abs(a.rgba()[p + c] - b.rgba()[p + c]));
        differs |= !allowed.allows(p + c, a.rgba()[p + c], 0);
      }
      beyond += differs ? 1 : 0;
    }
    return new Loss(max, beyond / (a.rgba().length / 4.0));
  }

  private Picture picture(FrameRenderer renderer, int frame) {
    return renderer.render(frame, l -> l == layer, false, p -> {}).layer(layer);
  }

  /**
   * Returns the plan in which the layer is still: what moves is Absent in it and Unseen in the
   * others behind; a catcher's layer adds what it does to the layer; its own layers are joined by
   * over, at the end. Exact but for edge pixels.
   */
  public Plan allow(Plan plan, Members members) {
    String name = plan.layers().get(layer).name();
    String[] row = new String[1];
    Plan next = collected(plan, members, row);
    List<String> moving = new ArrayList<>();
    for (LayerDef def : plan.layers()) {
      ResolvedLayer own = Resolver.at(plan, members, def, plan.requireShot().frames().first());
      if (own.seen().meets(movers)) {
        moving.add(def.name());
      } else if (def.name().equals(name)) {
        next = Cuts.role(next, members, def.name(), movers, Role.ABSENT);
      } else if (own.catcher() == null) {
        next = Cuts.role(next, members, def.name(), movers, Role.UNSEEN);
      }
    }
    next = withCatcher(next, members, name, row[0]);
    for (String layerName : moving) {
      next = toEnd(next, layerName);
    }
    return next;
  }

  /** A collection of what moves, by a rule if there is one, above all others. */
  private Plan collected(Plan plan, Members members, String[] row) {
    for (CollectionDef c : plan.collections()) {
      if (members.of(c).equals(movers)) {
        row[0] = c.name();
        return plan;
      }
    }
    row[0] = CollectionEdits.freeName(plan, "Moving");
    return CollectionEdits.add(
        plan, 0, new RuleMaker(members).collection(row[0], movers, EntitySet.NONE));
  }

  /** Adds the layer that catches what moves on what the layer shows, right in front of it. */
  private Plan withCatcher(Plan plan, Members members, String name, String row) {
    ResolvedLayer own =
        Resolver.at(
            plan, members, plan.layer(name).orElseThrow(), plan.requireShot().frames().first());
    Map<String, Cell> cells = new LinkedHashMap<>();
    Cell unseen = Cell.of(Role.UNSEEN);
    cells.put(row, unseen.withCatcher(unseen.catching().withCaster(true)));
    boolean all = Cuts.catching(plan, members, cells, own.seen()).isEmpty();
    Cell rest = Cell.of(all ? Role.HOLDOUT : Role.CATCHER);
    return LayerEdits.add(
        plan, plan.layerIndex(name) + 1, LayerDef.of(name + " shadows", 0, cells, rest), Join.PLUS);
  }

  private static Plan toEnd(Plan plan, String layerName) {
    Plan next = plan;
    while (next.layerIndex(layerName) < next.layers().size() - 1) {
      next = LayerEdits.move(next, layerName, 1);
    }
    List<Recipe.Step> steps = new ArrayList<>();
    for (Recipe.Step step : next.recipe().joins()) {
      if (!step.layer().equals(layerName)) {
        steps.add(step);
      }
    }
    next = next.withRecipe(next.recipe().withJoins(steps));
    return LayerEdits.join(next, layerName, Join.OVER);
  }
}
