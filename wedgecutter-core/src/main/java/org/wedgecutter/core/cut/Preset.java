package org.wedgecutter.core.cut;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.TimeDigest;

/**
 * Starting points: each rebuilds the layers of a plan from its collections. Every one rejoins
 * exactly, or says in {@link #why} where it does not.
 */
public enum Preset {
  FRONT_OVER_BACK(
      "Front over back",
      "what is in front",
      "The front over a complete background. Quick to change; exact except on edge pixels."),
  INTERLOCKING_HERO(
      "Interlocking hero",
      "the hero",
      "The hero and the rest hold each other out and are joined by plus. Exact, whichever is in front."),
  SHADOW_APART(
      "Separate shadow",
      "what casts the shadow",
      "Its shadow and bounced light on everything else in a layer of their own. Reflections stay."),
  REFLECTION_APART(
      "Separate reflection",
      "what is reflected",
      "Its reflection in everything else in a layer of its own. Shadows stay."),
  HAZE_APART(
      "Separate haze",
      "the haze",
      "The haze over layers that are lit without it. Its effect on their light is lost."),
  ANY_BACKGROUND(
      "For any background",
      "what casts the shadow",
      "The object, its shadow and its reflection as transparent pictures, each with an alpha of its own, over the ground without them. Near, not exact: one alpha darkens all colours alike."),
  PLATE_INSERT(
      "Plate insert",
      "what is inserted",
      "Catches its shadow and reflection, and holds it out, for a photographed plate."),
  ONE_SURFACE(
      "One surface only",
      "the surface",
      "One object on its own, held out by everything else, so that it can be changed later."),
  STILL_AND_MOVING(
      "Still and moving",
      null,
      "Still objects are rendered once and held. Moving objects, with shadow and reflection, are rendered at every frame.");

  private final String title;
  private final @Nullable String asks;
  private final String why;

  Preset(String title, @Nullable String asks, String why) {
    this.title = title;
    this.asks = asks;
    this.why = why;
  }

  /** Returns its name. */
  public String title() {
    return title;
  }

  /** Returns the part that the chosen collections play, or null if it needs none. */
  public @Nullable String asks() {
    return asks;
  }

  /** Returns what it is good for. */
  public String why() {
    return why;
  }

  /**
   * Rebuilds the layers of a plan.
   *
   * @param chosen names of the collections that the preset applies to, as {@link #asks} says; they
   *     are put above the other rows, so that they decide
   * @throws IllegalArgumentException if it needs a collection and none was chosen
   */
  public Plan apply(Plan plan, Members members, Set<String> chosen) {
    if (this == STILL_AND_MOVING) {
      return stillAndMoving(plan, members.scene());
    }
    if (chosen.isEmpty()) {
      throw new IllegalArgumentException("Choose the collections: " + asks);
    }
    List<CollectionDef> rows = new ArrayList<>();
    plan.collections().stream().filter(c -> chosen.contains(c.name())).forEach(rows::add);
    plan.collections().stream().filter(c -> !chosen.contains(c.name())).forEach(rows::add);
    return new Builder(plan.withCollections(rows), chosen).build(this);
  }

  private static final List<Property> LIGHT =
      List.of(
          Property.VISIBLE_REFLECTION,
          Property.VISIBLE_BOUNCE,
          Property.VISIBLE_TRANSMISSION,
          Property.SHADOW_CASTS);

  /** Collects layers. */
  private static final class Builder {
    private final Set<String> chosen;
    private final String name;
    private Plan plan;

    Builder(Plan before, Set<String> chosen) {
      this.chosen = new LinkedHashSet<>(chosen);
      name = String.join(" + ", chosen);
      plan =
          before.withLayers(List.of()).withRecipe(new Recipe(List.of(), before.recipe().extra()));
    }

    private void layer(String title, Join join, Cell part, Cell rest) {
      Map<String, Cell> cells = new LinkedHashMap<>();
      chosen.forEach(c -> cells.put(c, part));
      plan = LayerEdits.add(plan, plan.layers().size(), LayerDef.of(title, 0, cells, rest), join);
    }

    private static Cell off(Role role, List<Property> properties) {
      return Cell.of(role)
          .withOverrides(properties.stream().map(p -> CellOverride.of(p, false)).toList());
    }

    private static Cell catching(CatcherOptions.Part... leftOut) {
      CatcherOptions options = CatcherOptions.NONE;
      for (CatcherOptions.Part part : leftOut) {
        options = options.with(part, false);
      }
      return Cell.of(Role.CATCHER).withCatcher(options);
    }

    /** A catch for dark, middle and light backgrounds. */
    private static Cell transparent(Cell catcher) {
      CatcherOptions options = catcher.catching().withOutput(CatcherOutput.CATCH);
      return catcher.withCatcher(
          options.withTuning(options.tuning().withBackgrounds(CatcherTuning.LIKELY)));
    }

    private static Cell caster(List<Property> off) {
      return off(Role.HOLDOUT, off).withCatcher(CatcherOptions.NONE.withCaster(true));
    }

    Plan build(Preset preset) {
      Cell seen = Cell.of(Role.SEEN);
      Cell holdout = Cell.of(Role.HOLDOUT);
      switch (preset) {
        case FRONT_OVER_BACK -> {
          layer("Back", Join.PLUS, Cell.of(Role.UNSEEN), seen);
          layer(name, Join.OVER, seen, Cell.of(Role.UNSEEN));
        }
        case INTERLOCKING_HERO -> {
          layer("Everything else", Join.PLUS, holdout, seen);
          layer(name, Join.PLUS, seen, holdout);
        }
        case ONE_SURFACE -> {
          layer("Everything else", Join.PLUS, holdout, seen);
          layer(name + " only", Join.PLUS, seen, holdout);
        }
        case SHADOW_APART -> {
          List<Property> shadows = List.of(Property.VISIBLE_BOUNCE, Property.SHADOW_CASTS);
          layer("Everything else", Join.PLUS, off(Role.HOLDOUT, shadows), seen);
          layer(
              name + " shadow",
              Join.PLUS,
              caster(List.of()),
              catching(CatcherOptions.Part.REFLECTIONS));
          layer(name, Join.PLUS, seen, holdout);
        }
        case REFLECTION_APART -> {
          layer(
              "Everything else",
              Join.PLUS,
              off(
                  Role.HOLDOUT,
                  List.of(Property.VISIBLE_REFLECTION, Property.VISIBLE_TRANSMISSION)),
              seen);
          layer(
              name + " reflection",
              Join.PLUS,
              caster(List.of()),
              catching(CatcherOptions.Part.SHADOWS, CatcherOptions.Part.BOUNCE));
          layer(name, Join.PLUS, seen, holdout);
        }
        case HAZE_APART -> {
          layer("Clear", Join.PLUS, Cell.of(Role.ABSENT), seen);
          layer(name, Join.OVER, seen, holdout);
        }
        case ANY_BACKGROUND -> {
          layer("Background", Join.PLUS, Cell.of(Role.ABSENT), seen);
          layer(
              name + " shadow",
              Join.CATCH,
              off(Role.UNSEEN, List.of(Property.VISIBLE_REFLECTION, Property.VISIBLE_TRANSMISSION)),
              transparent(catching()));
          layer(
              name + " reflection",
              Join.CATCH,
              Cell.of(Role.UNSEEN),
              transparent(catching(CatcherOptions.Part.SHADOWS, CatcherOptions.Part.BOUNCE)));
          layer(name, Join.OVER, seen, holdout);
        }
        case PLATE_INSERT -> {
          layer("Plate stand-in", Join.PLUS, off(Role.HOLDOUT, LIGHT), seen);
          layer(
              name + " shadow and reflection",
              Join.PLUS,
              caster(List.of()),
              Cell.of(Role.CATCHER)
                  .withCatcher(CatcherOptions.NONE.withOutput(CatcherOutput.DIFFERENCE)));
          layer(name, Join.PLUS, seen, holdout);
        }
        case STILL_AND_MOVING -> throw new IllegalStateException("made elsewhere");
      }
      return plan;
    }
  }

  private static Plan stillAndMoving(Plan plan, Scene scene) {
    String name = CollectionEdits.freeName(plan, "Moving");
    Plan with;
    try {
      CollectionDef moving =
          new CollectionDef(name, RuleParser.parse("moves:yes"), List.of(), List.of(), Extra.NONE);
      with = CollectionEdits.add(plan, 0, moving);
    } catch (RuleException e) {
      throw new IllegalStateException(e);
    }
    if (scene.entities().stream().noneMatch(e -> e.moves())) {
      throw new IllegalArgumentException("Nothing moves in this scene.");
    }
    Builder builder = new Builder(with, Set.of(name));
    builder.layer("Still", Join.PLUS, Cell.of(Role.ABSENT), Cell.of(Role.SEEN));
    builder.layer(
        "Moving objects shadow and reflection",
        Join.PLUS,
        Cell.of(Role.UNSEEN),
        Cell.of(Role.CATCHER));
    builder.layer(name, Join.OVER, Cell.of(Role.SEEN), Cell.of(Role.HOLDOUT));
    Plan out = builder.plan;
    if (!plan.requireShot().plate().isNumbered()
        && !new TimeDigest(scene)
            .nodeChanges(plan.requireShot().cameraIn(scene).node(), -1e12, 1e12)) {
      out =
          LayerEdits.setting(
              out,
              "Still",
              CellOverride.of(
                  Property.FRAMES,
                  Property.Verb.SET,
                  new org.wedgecutter.core.plan.Value.Text(
                      String.valueOf(plan.requireShot().frames().first()))));
    }
    return out;
  }
}
