package org.wedgecutter.core.cut;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;

/** Which join fits each layer, by how it was cut: see the table of joins in the algebra. */
public final class RightJoins {
  private RightJoins() {}

  /** Why a join fits. */
  public enum Reason {
    /** Nothing is behind it. */
    FIRST("the picture begins with it"),
    /** It is a catcher's. */
    CATCHER("a catcher delivers its light in this form"),
    /** What is behind has a hole in its shape. */
    HELD_OUT("what is behind is held out by it: adding up is exact"),
    /** What is behind goes on behind it. */
    COMPLETE("what is behind goes on behind it: only laying it over hides that"),
    /** What is behind shows the same objects under other lights. */
    LIGHTS("what is behind shows the same objects under other lights and counts their alpha");

    private final String text;

    Reason(String text) {
      this.text = text;
    }

    /** Returns the reason in words. */
    public String text() {
      return text;
    }
  }

  /**
   * A layer, its join and why.
   *
   * @param light which light of what is behind it scales, if the join is a ratio
   */
  public record Choice(String layer, Join join, Recipe.Light light, Reason reason) {
    /** A choice that is of all light. */
    public Choice(String layer, Join join, Reason reason) {
      this(layer, join, Recipe.Light.ALL, reason);
    }

    /** Whether a step is joined so. */
    public boolean is(Recipe.Step step) {
      return step.join() == join && step.light() == light;
    }
  }

  /**
   * Returns the joins that fit, from the back to the front, of layers that show or catch anything.
   */
  public static List<Choice> of(Plan plan, ResolvedShot shot) {
    List<Choice> out = new ArrayList<>();
    List<ResolvedLayer> behind = new ArrayList<>();
    for (LayerDef def : plan.layers()) {
      ResolvedLayer layer = shot.layers().get(plan.layerIndex(def.name()));
      CatcherSpec catcher = layer.catcher();
      if (catcher != null && layer.shown().isEmpty()) {
        out.add(
            new Choice(def.name(), catcher.output().join(), light(catcher, shot), Reason.CATCHER));
      } else if (!layer.shown().isEmpty()) {
        Reason reason =
            behind.isEmpty()
                ? Reason.FIRST
                : relights(layer, behind, shot)
                    ? Reason.LIGHTS
                    : goesOn(layer, behind) ? Reason.COMPLETE : Reason.HELD_OUT;
        Join join =
            switch (reason) {
              case COMPLETE -> Join.OVER;
              case LIGHTS -> Join.LIGHT;
              default -> Join.PLUS;
            };
        out.add(new Choice(def.name(), join, reason));
        behind.add(layer);
      }
    }
    return out;
  }

  /** A plate has no passes: all of it is scaled. */
  private static Recipe.Light light(CatcherSpec catcher, ResolvedShot shot) {
    CatcherSpec plate = shot.asked().plate();
    return plate != null && plate.surfaces().meets(catcher.surfaces())
        ? Recipe.Light.ALL
        : catcher.output().light();
  }

  /** Whether layers behind one show all of its objects, under other lights. */
  private static boolean relights(
      ResolvedLayer layer, List<ResolvedLayer> behind, ResolvedShot shot) {
    EntitySet lights = EntitySet.NONE;
    for (ResolvedShot.Group g : shot.asked().emitters()) {
      lights = lights.or(g.entities());
    }
    EntitySet own = layer.shown().minus(lights);
    EntitySet shown = EntitySet.NONE;
    for (ResolvedLayer b : behind) {
      if (b.shown().meets(own) && shining(b, lights).equals(shining(layer, lights))) {
        return false;
      }
      shown = shown.or(b.shown());
    }
    return !own.isEmpty() && shown.containsAll(own);
  }

  private static EntitySet shining(ResolvedLayer layer, EntitySet lights) {
    return EntitySet.where(
        layer.transport().entities(),
        e -> lights.contains(e) && layer.transport().reach(e).emits());
  }

  /** Whether all layers behind one show what is behind its objects, too. */
  private static boolean goesOn(ResolvedLayer layer, List<ResolvedLayer> behind) {
    EntitySet own = layer.seen();
    return behind.stream().allMatch(b -> b.skipped().containsAll(own));
  }

  /** Returns a plan whose layers are joined as they were cut, all of each. */
  public static Plan applied(Plan plan, ResolvedShot shot) {
    return applied(plan, shot, l -> true);
  }

  /**
   * Returns a plan some of whose layers are joined as they were cut.
   *
   * @param layers tells them by their names
   */
  static Plan applied(Plan plan, ResolvedShot shot, Predicate<String> layers) {
    Plan next = plan;
    for (Choice c : of(plan, shot)) {
      if (!layers.test(c.layer())) {
        continue;
      }
      next = LayerEdits.opacity(LayerEdits.join(next, c.layer(), c.join()), c.layer(), 1);
      next = RecipeEdits.joinLight(next, c.layer(), c.light());
    }
    return LayerEdits.ordered(next);
  }
}
