package org.wedgecutter.core.cut;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedShot;

/**
 * Relighting by light passes, written back: what a recipe multiplies a light's pass by, the light
 * itself is multiplied by in that layer. Light is linear, so the layer is the same but for noise.
 */
public final class LightLevels {
  private static final String PREFIX = "light.";

  private LightLevels() {}

  /** Returns the factors by which a recipe multiplies a pass of a layer: red, green, blue. */
  public static double[] factors(Plan plan, String layer, String pass) {
    double[] out = {1, 1, 1};
    for (Correction c : levels(plan, layer, pass)) {
      for (int k = 0; k < 3; k++) {
        out[k] *=
            c.type() == Correction.Type.EXPOSURE
                ? Math.pow(2, c.values().getFirst())
                : c.values().get(k);
      }
    }
    return out;
  }

  /** The corrections that are nothing but factors on a pass, alike at all frames. */
  private static List<Correction> levels(Plan plan, String layer, String pass) {
    return plan.recipe().corrections().stream()
        .filter(c -> c.on() && c.layer().equals(layer) && c.pass().equals(pass))
        .filter(c -> c.matte().isEmpty() && !c.isKeyed())
        .filter(c -> c.type() == Correction.Type.EXPOSURE || c.type() == Correction.Type.GAIN)
        .toList();
  }

  /**
   * Returns a plan in which lights have the levels and tints that the recipe gave to their passes,
   * which are not corrected any more.
   *
   * @param emitters the light groups by their names, as passes are named
   */
  public static Plan written(Plan plan, Members members, List<ResolvedShot.Group> emitters) {
    Map<String, EntitySet> groups = new LinkedHashMap<>();
    emitters.forEach(g -> groups.merge(PREFIX + g.name(), g.entities(), EntitySet::or));
    Plan next = plan;
    for (LayerDef layer : plan.layers()) {
      for (Map.Entry<String, EntitySet> group : groups.entrySet()) {
        List<Correction> levels = levels(plan, layer.name(), group.getKey());
        if (!levels.isEmpty()) {
          double[] f = factors(plan, layer.name(), group.getKey());
          String[] row = new String[1];
          next = Cuts.collected(next, members, group.getValue(), row);
          next = scaled(next, layer.name(), row[0], f);
          next = RecipeEdits.remove(next, new ArrayList<>(levels));
        }
      }
    }
    return next;
  }

  private static Plan scaled(Plan plan, String layer, String row, double[] f) {
    double most = Math.max(f[0], Math.max(f[1], f[2]));
    Plan next = multiplied(plan, layer, row, Property.LIGHT_INTENSITY, new Value.Num(most));
    boolean grey = f[0] == most && f[1] == most && f[2] == most;
    return grey || most == 0
        ? next
        : multiplied(
            next,
            layer,
            row,
            Property.LIGHT_COLOR,
            new Value.Colour(f[0] / most, f[1] / most, f[2] / most));
  }

  /** Scales a property, on top of what the cell does to it already. */
  private static Plan multiplied(
      Plan plan, String layer, String row, Property property, Value factor) {
    CellOverride own =
        plan.layer(layer).orElseThrow().cell(row).overrides().stream()
            .filter(o -> o.on() && o.property() == property)
            .findFirst()
            .orElse(null);
    if (own == null) {
      return PlanEdits.override(
          plan, layer, row, CellOverride.of(property, Property.Verb.SCALE, factor));
    }
    List<CellOverride.Key> keys =
        own.keys().stream()
            .map(k -> new CellOverride.Key(k.frame(), times(k.value(), factor)))
            .toList();
    return PlanEdits.override(plan, layer, row, own.with(own.verb(), keys, own.step()));
  }

  private static Value times(Value a, Value b) {
    if (a instanceof Value.Num x && b instanceof Value.Num y) {
      return new Value.Num(x.number() * y.number());
    }
    if (a instanceof Value.Colour x && b instanceof Value.Colour y) {
      return new Value.Colour(x.r() * y.r(), x.g() * y.g(), x.b() * y.b());
    }
    return b;
  }
}
