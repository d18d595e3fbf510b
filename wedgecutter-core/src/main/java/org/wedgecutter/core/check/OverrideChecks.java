package org.wedgecutter.core.check;

import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.cut.Explanation;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.BuiltInMaterial;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.LayerSettings;
import org.wedgecutter.core.resolve.Subjects;

/** Overrides that do nothing, or not what was meant. */
final class OverrideChecks {
  private static final int ALL_FROM = 3;
  private final Checked c;
  private final Set<String> materials = new HashSet<>(BuiltInMaterial.words());

  private OverrideChecks(Checked c) {
    this.c = c;
    c.scene.materials().forEach(m -> materials.add(m.name()));
  }

  static void run(Checked checked) {
    OverrideChecks checks = new OverrideChecks(checked);
    for (LayerDef layer : checked.plan.layers()) {
      for (CollectionDef row : checked.plan.collections()) {
        checks.cell(layer, row.name(), layer.cell(row.name()), checked.members.of(row));
      }
      checks.cell(layer, null, layer.rest(), checked.all());
      for (CellOverride o : layer.settings()) {
        if (o.on()) {
          checks.setting(layer, o);
        }
      }
    }
    checks.everywhere();
  }

  private void cell(LayerDef layer, @Nullable String row, Cell cell, EntitySet members) {
    for (CellOverride o : cell.overrides()) {
      if (o.on()) {
        override(layer, row, cell, o, members);
        keys(o, layer.name(), row == null ? "the rest" : row);
      }
    }
  }

  private void override(
      LayerDef layer, @Nullable String row, Cell cell, CellOverride o, EntitySet members) {
    String name = row == null ? "the rest" : row;
    if (o.property() == Property.MATERIAL
        && o.at(0) instanceof Value.Text t
        && !materials.contains(t.word())) {
      c.add(
          Message.of(
              Sentence.MATERIAL_UNKNOWN,
              "layer",
              layer.name(),
              "collection",
              name,
              "property",
              o.property().word(),
              "material",
              t.word()),
          layer.name(),
          name,
          p -> PlanEdits.removeOverride(p, layer.name(), row, o.property()));
      return;
    }
    boolean has = false;
    boolean changes = o.keyed();
    for (int e : members.indices()) {
      if (Subjects.has(c.scene, c.entity(e), o.property())) {
        has = true;
        if (!changes) {
          Value before = Explanation.before(c.scene, c.entity(e), o.property());
          changes =
              before == null
                  || !Value.apply(o.property(), o.verb(), before, o.at(0)).equals(before);
        }
        if (changes) {
          break;
        }
      }
    }
    if (!has || cell.role() == Role.ABSENT) {
      c.add(
          Message.of(
              has ? Sentence.OVERRIDE_ON_ABSENT : Sentence.OVERRIDE_ON_NOTHING,
              "layer",
              layer.name(),
              "collection",
              name,
              "property",
              o.property().word()),
          layer.name(),
          name,
          p -> PlanEdits.removeOverride(p, layer.name(), row, o.property()));
    } else if (!changes && !switchesOverBelow(layer, row, o)) {
      c.add(
          Message.of(
              Sentence.OVERRIDE_SAME,
              "layer",
              layer.name(),
              "collection",
              name,
              "property",
              o.property().word(),
              "value",
              o.at(0).text()),
          layer.name(),
          name,
          p -> PlanEdits.removeOverride(p, layer.name(), row, o.property()));
    }
  }

  /** Whether a row below says otherwise, so that the override is an exception to it. */
  private static boolean switchesOverBelow(LayerDef layer, @Nullable String row, CellOverride o) {
    if (row == null) {
      return false;
    }
    return layer.cells().entrySet().stream()
            .filter(e -> !e.getKey().equals(row))
            .anyMatch(e -> says(e.getValue(), o.property()))
        || says(layer.rest(), o.property());
  }

  private static boolean says(Cell cell, Property property) {
    return cell.overrides().stream().anyMatch(o -> o.on() && o.property() == property);
  }

  private void setting(LayerDef layer, CellOverride o) {
    keys(o, layer.name(), "");
    if (!o.keyed()
        && LayerSettings.at(layer, c.shot, o.property(), 0)
            .equals(LayerSettings.before(c.shot, o.property()))) {
      c.add(
          Message.of(
              Sentence.SETTING_SAME,
              "layer",
              layer.name(),
              "property",
              o.property().word(),
              "value",
              o.at(0).text()),
          layer.name(),
          "",
          p -> LayerEdits.removeSetting(p, layer.name(), o.property()));
    }
  }

  private void keys(CellOverride o, String layer, String row) {
    if (o.keyed()
        && (o.keys().getFirst().frame() > c.shot.frames().last()
            || o.keys().getLast().frame() < c.shot.frames().first())) {
      c.add(
          Message.of(
              Sentence.KEYS_OUTSIDE,
              "layer",
              layer,
              "property",
              o.property().word(),
              "first",
              o.keys().getFirst().frame(),
              "last",
              o.keys().getLast().frame(),
              "shotFirst",
              c.shot.frames().first(),
              "shotLast",
              c.shot.frames().last()),
          layer,
          row,
          null);
    }
  }

  /** An override of a row, as it is said. */
  private record Said(String row, String override) {}

  private void everywhere() {
    int layers = c.plan.layers().size();
    if (layers < ALL_FROM) {
      return;
    }
    Map<Said, Integer> counts = new HashMap<>();
    for (LayerDef layer : c.plan.layers()) {
      layer
          .cells()
          .forEach((row, cell) -> {
            for (CellOverride o : cell.overrides()) {
              if (o.on()) {
                counts.merge(new Said(row, o.text()), 1, Integer::sum);
              }
            }
          });
    }
    counts.forEach((what, count) -> {
      if (count == layers) {
        c.add(
            Message.of(
                Sentence.OVERRIDE_EVERYWHERE, "override", what.override, "collection", what.row),
            "",
            what.row,
            null);
      }
    });
  }
}
