package org.wedgecutter.app.station.cut;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import javafx.geometry.Pos;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.ByTab;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.app.panel.OverrideEditor;
import org.wedgecutter.core.cut.Explanation;
import org.wedgecutter.core.fragment.CatchFit;
import org.wedgecutter.core.plan.BuiltInMaterial;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.Subjects;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Material;

/** A cell: its role, its options of catching, and its overrides. For its layer alone. */
public final class CellPanel extends VBox {
  private static final List<Property> QUICK =
      List.of(
          Property.VISIBLE_REFLECTION,
          Property.VISIBLE_BOUNCE,
          Property.VISIBLE_TRANSMISSION,
          Property.SHADOW_CASTS);

  private final Editor editor;
  private final LayerDef layer;
  private final @Nullable String row;
  private final Cell cell;
  private final List<Entity> entities = new ArrayList<>();
  private final Members members;
  private @Nullable CatcherPanel catching;

  /**
   * @param row name of the collection; null is the rest
   * @param own what the row matches
   */
  public CellPanel(
      Editor editor,
      Plan plan,
      LayerDef layer,
      @Nullable String row,
      EntitySet own,
      Members members,
      int frame,
      String why) {
    this.editor = editor;
    this.layer = layer;
    this.row = row;
    this.members = members;
    cell = layer.cell(row);
    for (int e : own.indices()) {
      entities.add(members.scene().entities().get(e));
    }
    setSpacing(6);
    FlowPane controls = new FlowPane(8, 6);
    controls.setAlignment(Pos.CENTER_LEFT);
    for (Role role : Role.values()) {
      ToggleButton button = new ToggleButton(role.word());
      button.setId("role-" + role.word());
      ByTab.only(button);
      button.setSelected(cell.role() == role);
      button.setOnAction(e -> set(rowName() + " " + role.word(), c -> c.withRole(role)));
      controls.getChildren().add(button);
    }
    getChildren().add(controls);
    if (cell.role() == Role.CATCHER) {
      CatcherPanel made = catching(plan);
      catching = made;
      getChildren().add(made);
    }
    if (cell.role() != null && cell.role() != Role.ABSENT) {
      getChildren().add(switches(plan));
    }
    getChildren().addAll(new OverrideEditor(new Overrides(), frame), DetailPanel.dim(why));
  }

  private String rowName() {
    return row == null ? "the rest" : row;
  }

  private void set(String name, UnaryOperator<Cell> edit) {
    editor.edit(name + " in " + layer.name(), p -> PlanEdits.cell(p, layer.name(), row, edit));
  }

  private CatcherPanel catching(Plan plan) {
    EntitySet emitters = Subjects.emitters(plan.requireShot(), members.scene());
    List<String> lamps =
        plan.collections().stream()
            .filter(c -> members.of(c).meets(emitters))
            .map(CollectionDef::name)
            .toList();
    return new CatcherPanel(
        (what, edit) -> set(rowName() + " " + what, c -> c.withCatcher(edit.apply(c.catching()))),
        cell.catching(),
        lamps);
  }

  /** Shows how well a catch fits backgrounds, where the cell is one. */
  void tell(Map<String, CatchFit> catches) {
    if (catching != null) {
      catching.tell(catches.get(layer.name()));
    }
  }

  private FlowPane switches(Plan plan) {
    FlowPane out = new FlowPane(14, 4);
    out.setAlignment(Pos.CENTER_LEFT);
    out.getChildren().add(DetailPanel.dim("in this layer:"));
    for (Property property : QUICK) {
      CheckBox box =
          new CheckBox(
              switch (property) {
                case VISIBLE_REFLECTION -> "seen in reflections";
                case VISIBLE_BOUNCE -> "seen in bounced light";
                case VISIBLE_TRANSMISSION -> "seen through glass";
                default -> "casts shadows";
              });
      box.setId("switch-" + property.word().replace('.', '-'));
      ByTab.only(box);
      box.setSelected(
          cell.overrides().stream()
              .noneMatch(o ->
                  o.on() && o.property() == property && o.at(0).equals(new Value.Switch(false))));
      box.setOnAction(e ->
          editor.edit(
              rowName() + " " + property.word() + " in " + layer.name(),
              p ->
                  box.isSelected()
                      ? PlanEdits.removeOverride(p, layer.name(), row, property)
                      : PlanEdits.override(
                          p, layer.name(), row, CellOverride.of(property, false))));
      out.getChildren().add(box);
    }
    boolean catches =
        plan.layer(layer.name())
            .map(l ->
                l.rest().role() == Role.CATCHER
                    || l.cells().values().stream().anyMatch(c -> c.role() == Role.CATCHER))
            .orElse(false);
    if (cell.role() != Role.CATCHER && catches) {
      out.getChildren().add(caster());
    }
    return out;
  }

  private CheckBox caster() {
    Role role = cell.role();
    boolean byRole = role == Role.SEEN || role == Role.UNSEEN;
    Boolean own = cell.catching().caster();
    CheckBox box = new CheckBox("casts onto the catcher");
    box.setId("caster");
    ByTab.only(box);
    box.setSelected(own == null ? byRole : own);
    box.setOnAction(e ->
        set(
            rowName() + " casts onto the catcher",
            c -> c.withCatcher(c.catching().withCaster(box.isSelected()))));
    return box;
  }

  private final class Overrides implements OverrideEditor.Target {
    @Override
    public List<CellOverride> overrides() {
      return cell.overrides();
    }

    @Override
    public List<Property> possible() {
      return Arrays.stream(Property.values())
          .filter(p ->
              !p.ofLayer() && entities.stream().anyMatch(e -> Subjects.has(members.scene(), e, p)))
          .toList();
    }

    @Override
    public @Nullable Value before(Property property) {
      Value common = null;
      for (Entity e : entities) {
        if (Subjects.has(members.scene(), e, property)) {
          Value own = Explanation.before(members.scene(), e, property);
          if (own == null || (common != null && !common.equals(own))) {
            return null;
          }
          common = own;
        }
      }
      return common;
    }

    @Override
    public List<String> names(Property property) {
      if (property.sort() != Property.Sort.MATERIAL) {
        return List.of();
      }
      List<String> out = new ArrayList<>(BuiltInMaterial.words());
      members.scene().materials().stream().map(Material::name).sorted().forEach(out::add);
      return out;
    }

    @Override
    public void put(CellOverride o) {
      editor.edit(
          "%s of %s in %s".formatted(o.text(), rowName(), layer.name()),
          p -> PlanEdits.override(p, layer.name(), row, o));
    }

    @Override
    public void remove(Property property) {
      editor.edit(
          "%s of %s in %s reset".formatted(property.word(), rowName(), layer.name()),
          p -> PlanEdits.removeOverride(p, layer.name(), row, property));
    }
  }
}
