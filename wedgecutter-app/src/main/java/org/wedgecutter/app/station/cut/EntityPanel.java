package org.wedgecutter.app.station.cut;

import java.util.LinkedHashMap;
import java.util.Map;
import javafx.geometry.Pos;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.ByTab;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.cut.Explanation;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.Subjects;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;

/** An entity: its collection, for the whole shot, and its role in the layer and why. */
public final class EntityPanel extends VBox {
  public EntityPanel(
      Editor editor,
      Plan plan,
      Members members,
      @Nullable LayerDef layer,
      Entity entity,
      int frame) {
    setSpacing(5);
    FlowPane into = new FlowPane(8, 6);
    into.setAlignment(Pos.CENTER_LEFT);
    into.getChildren().add(DetailPanel.dim("collection"));
    String first =
        plan.collections().stream()
            .filter(c -> members.of(c).contains(entity.index()))
            .findFirst()
            .map(CollectionDef::name)
            .orElse("");
    plan.collections().stream()
        .limit(40)
        .forEach(c -> {
          ToggleButton button = new ToggleButton(c.name());
          button.setId("pick-" + c.name());
          ByTab.only(button);
          button.setSelected(c.name().equals(first));
          button.setOnAction(e ->
              editor.edit(
                  "add " + entity.name() + " to " + c.name(),
                  p -> CollectionEdits.pick(p, c.name(), entity)));
          into.getChildren().add(button);
        });
    getChildren().add(into);
    // what glows in the air is met by chance: no link keeps its light from a surface
    if (entity.kind() != EntityKind.MEDIUM
        && Subjects.emitters(plan.requireShot(), members.scene()).contains(entity.index())) {
      getChildren().add(link(editor, plan, entity));
    }
    if (layer != null) {
      explain(Explanation.of(plan, members, layer, entity, frame), layer);
    }
    getChildren()
        .add(
            DetailPanel.dim(
                "%s   materials: %s%s"
                    .formatted(
                        entity.kind().word(),
                        entity.materials().isEmpty()
                            ? "none"
                            : String.join(", ", entity.materials()),
                        entity.tags().isEmpty()
                            ? ""
                            : "   tags: " + String.join(" ", entity.tags()))));
  }

  /** What an emitter illuminates: everything, or one collection (light linking). */
  private static FlowPane link(Editor editor, Plan plan, Entity entity) {
    FlowPane out = new FlowPane(8, 6);
    out.setAlignment(Pos.CENTER_LEFT);
    ChoiceBox<String> box = new ChoiceBox<>();
    box.setId("link");
    box.getItems().add("");
    plan.collections().forEach(c -> box.getItems().add(c.name()));
    box.setConverter(Words.of(n -> n.isEmpty() ? "everything" : n + " only"));
    box.setValue(plan.requireShot().links().getOrDefault(entity.path(), ""));
    box.setOnAction(e ->
        editor.edit(
            entity.name() + " illuminates " + box.getConverter().toString(box.getValue()),
            p ->
                p.withShot(
                    p.requireShot()
                        .with(s -> {
                          Map<String, String> next = new LinkedHashMap<>(s.links);
                          next.remove(entity.path());
                          if (!box.getValue().isEmpty()) {
                            next.put(entity.path(), box.getValue());
                          }
                          s.links = next;
                        }))));
    out.getChildren().addAll(DetailPanel.dim("illuminates"), box);
    return out;
  }

  private void explain(Explanation e, LayerDef layer) {
    Label role =
        new Label("%s in layer %s, decided by %s".formatted(e.role().word(), layer.name(), e.by()));
    role.setId("explain-role");
    getChildren().add(role);
    StringBuilder text = new StringBuilder();
    for (Explanation.RowSays row : e.rows()) {
      text.append("   ")
          .append(row.row())
          .append(row.role() == null ? ": no role" : ": " + row.role().word())
          .append(row.why().isEmpty() ? "" : "   (" + row.why() + ")")
          .append('\n');
    }
    for (Explanation.PropertySays p : e.properties()) {
      boolean changed = p.override() != null;
      text.append("   ")
          .append(p.property().word())
          .append(": ")
          .append(p.before().isEmpty() ? "mixed" : p.before());
      if (changed) {
        text.append(" → ").append(p.after()).append("   by ").append(p.by());
      }
      text.append('\n');
    }
    Label why = DetailPanel.dim(text.toString().stripTrailing());
    why.setId("explain");
    getChildren().add(why);
  }
}
