package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;

/**
 * Edits of layers: functions from plan to plan that keep the recipe in step. Names that do not
 * exist leave the plan as it is.
 */
public final class LayerEdits {
  /** Code points of a short name: of any script, files hold it. */
  private static final int SHORT = 24;

  private LayerEdits() {}

  /** Changes a layer. */
  public static Plan layer(Plan plan, String layer, UnaryOperator<LayerDef> edit) {
    List<LayerDef> layers = new ArrayList<>(plan.layers());
    layers.replaceAll(l -> l.name().equals(layer) ? edit.apply(l) : l);
    return plan.withLayers(layers);
  }

  /** Changes how a layer is joined; a layer that was not joined is joined from now on. */
  public static Plan join(Plan plan, String layer, Join join) {
    if (plan.layer(layer).isEmpty()) {
      return plan;
    }
    List<Recipe.Step> steps = new ArrayList<>(plan.recipe().joins());
    if (plan.join(layer).isEmpty()) {
      steps.add(new Recipe.Step(layer, join, Extra.NONE));
      return ordered(plan.withRecipe(plan.recipe().withJoins(steps)));
    }
    steps.replaceAll(s -> s.layer().equals(layer) ? s.withJoin(join) : s);
    return plan.withRecipe(plan.recipe().withJoins(steps));
  }

  /** Takes more or less of a layer's join, 0 to 1. */
  public static Plan opacity(Plan plan, String layer, double opacity) {
    List<Recipe.Step> steps = new ArrayList<>(plan.recipe().joins());
    steps.replaceAll(s -> s.layer().equals(layer) ? s.withOpacity(opacity) : s);
    return plan.withRecipe(plan.recipe().withJoins(steps));
  }

  /** Takes a layer out of the recipe; it stays in the plan. */
  public static Plan unjoin(Plan plan, String layer) {
    List<Recipe.Step> steps = new ArrayList<>(plan.recipe().joins());
    steps.removeIf(s -> s.layer().equals(layer));
    return plan.withRecipe(plan.recipe().withJoins(steps));
  }

  /** Joins the layers in the order in which they stand, from the back to the front. */
  public static Plan ordered(Plan plan) {
    List<Recipe.Step> steps = new ArrayList<>(plan.recipe().joins());
    steps.sort(Comparator.comparingInt(s -> plan.layerIndex(s.layer())));
    return plan.withRecipe(plan.recipe().withJoins(steps));
  }

  /** Renames a layer, also in the recipe; a name that is taken or empty changes nothing. */
  public static Plan rename(Plan plan, String layer, String next) {
    if (next.isBlank() || plan.layer(next).isPresent()) {
      return plan;
    }
    return layer(plan, layer, l -> l.withName(next))
        .withRecipe(plan.recipe().renamed(layer, next))
        .withOutput(
            plan.output()
                .with(o -> {
                  Map<String, Set<String>> left = new LinkedHashMap<>(o.leftOut);
                  Set<String> own = left.remove(layer);
                  if (own != null) {
                    left.put(next, own);
                  }
                  o.leftOut = left;
                }));
  }

  /**
   * Returns a name for a layer, with a number appended if files of the plan have it: on some
   * systems names that differ by case alone are one.
   */
  public static String freeName(Plan plan, String name) {
    Set<String> taken = new HashSet<>(Set.of(FileNames.UNCUT, FileNames.FRAME));
    plan.layers().forEach(l -> taken.add(ofFile(l.name())));
    return Names.free(name, n -> taken.contains(ofFile(n)));
  }

  /** Returns a shorter name for a layer, which the names of files hold. */
  public static String shortName(Plan plan, String name) {
    int length = Math.min(SHORT, name.codePointCount(0, name.length()));
    return freeName(plan, name.substring(0, name.offsetByCodePoints(0, length)).strip());
  }

  private static String ofFile(String layer) {
    return FileNames.safe(layer).toLowerCase(Locale.ROOT);
  }

  /** Puts a new layer at a place, with a name and hue that are free, and joins it. */
  public static Plan add(Plan plan, int at, LayerDef layer, Join join) {
    String name = freeName(plan, layer.name());
    List<LayerDef> layers = new ArrayList<>(plan.layers());
    layers.add(
        Math.max(0, Math.min(at, layers.size())), layer.withName(name).withHue(freeHue(plan)));
    return join(plan.withLayers(layers), name, join);
  }

  private static int freeHue(Plan plan) {
    int hue = 0;
    while (uses(plan, hue)) {
      hue++;
    }
    return hue;
  }

  private static boolean uses(Plan plan, int hue) {
    return plan.layers().stream().anyMatch(l -> l.hue() == hue);
  }

  /** Puts a copy of a layer in front of it, joined as it is, under a name that is free. */
  public static Plan copy(Plan plan, String layer) {
    int at = plan.layerIndex(layer);
    if (at < 0) {
      return plan;
    }
    LayerDef from = plan.layers().get(at);
    return add(plan, at + 1, from.withName(layer + " copy"), plan.join(layer).orElse(Join.PLUS));
  }

  /**
   * Deletes a layer, also from the recipe with its corrections, and from mattes of its luminance.
   */
  public static Plan remove(Plan plan, String layer) {
    List<LayerDef> layers = new ArrayList<>(plan.layers());
    layers.removeIf(l -> l.name().equals(layer));
    Plan without = unjoin(plan, layer).withLayers(layers);
    List<Correction> left = new ArrayList<>(without.recipe().corrections());
    left.removeIf(c -> c.layer().equals(layer));
    return without.withRecipe(without.recipe().withCorrections(left).renamed(layer, ""));
  }

  /** Moves a layer towards the back (negative) or the front by some places; joins follow. */
  public static Plan move(Plan plan, String layer, int by) {
    int at = plan.layerIndex(layer);
    if (at < 0) {
      return plan;
    }
    List<LayerDef> layers = new ArrayList<>(plan.layers());
    LayerDef moved = layers.remove(at);
    layers.add(Math.max(0, Math.min(layers.size(), at + by)), moved);
    return ordered(plan.withLayers(layers));
  }

  /** Adds a setting, or replaces the one of the same property. */
  public static Plan setting(Plan plan, String layer, CellOverride setting) {
    return layer(plan, layer, l -> l.withSettings(PlanEdits.replaced(l.settings(), setting)));
  }

  /** Deletes the setting of a property, so that the shot's applies again. */
  public static Plan removeSetting(Plan plan, String layer, Property property) {
    return layer(
        plan,
        layer,
        l -> l.withSettings(l.settings().stream().filter(o -> o.property() != property).toList()));
  }
}
