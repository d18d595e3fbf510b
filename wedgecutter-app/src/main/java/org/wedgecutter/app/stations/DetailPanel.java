package org.wedgecutter.app.stations;

import java.util.ArrayList;
import java.util.List;
import javafx.geometry.Pos;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.scene.shape.Rectangle;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Rule;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.plan.SwitchProperty;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;

/**
 * What the cursor of the Cut sheet is on, and what can be changed about it: a cell for its layer
 * alone, or a collection for all layers. The headline says which.
 */
final class DetailPanel extends VBox {
  /** Makes an edit of the plan. */
  interface Editor {
    void edit(String name, java.util.function.UnaryOperator<Plan> edit);
  }

  private final Editor editor;

  DetailPanel(Editor editor) {
    this.editor = editor;
    getStyleClass().add("detail");
    setSpacing(6);
  }

  /** Shows nothing but a sentence. */
  void showText(String text) {
    Label label = new Label(text);
    label.setWrapText(true);
    label.getStyleClass().add("dim");
    getChildren().setAll(label);
  }

  private static HBox headline(@Nullable LayerDef layer, String text) {
    Label label = new Label(text);
    label.getStyleClass().add("headline");
    label.setId("headline");
    HBox line = new HBox(8);
    line.setAlignment(Pos.CENTER_LEFT);
    if (layer != null) {
      line.getChildren().add(new Rectangle(12, 12, Theme.hue(layer.hue())));
    }
    line.getChildren().add(label);
    return line;
  }

  /** Shows a cell: of a collection, or of the rest (null). */
  void showCell(Plan plan, LayerDef layer, @Nullable CollectionDef collection, String why) {
    String row = collection == null ? "the rest" : collection.name();
    Cell cell =
        collection == null
            ? layer.rest()
            : layer.cells().getOrDefault(collection.name(), Cell.EMPTY);
    Label explanation = new Label(why);
    explanation.getStyleClass().add("dim");
    FlowPane controls = new FlowPane(8, 6);
    controls.setAlignment(Pos.CENTER_LEFT);
    for (Role role : Role.values()) {
      ToggleButton button = new ToggleButton(role.word());
      button.setId("role-" + role.word());
      button.setFocusTraversable(false);
      button.setSelected(cell.role() == role);
      button.setOnAction(
          e -> set(layer, collection, row + " " + role.word(), c -> c.withRole(role)));
      controls.getChildren().add(button);
    }
    if (cell.role() == Role.CATCHER) {
      controls.getChildren().add(output(layer, collection, row, cell));
    }
    FlowPane switches = new FlowPane(14, 4);
    switches.setAlignment(Pos.CENTER_LEFT);
    if (cell.role() != null && cell.role() != Role.ABSENT) {
      switches.getChildren().add(dim("in this layer"));
      for (SwitchProperty property : SwitchProperty.values()) {
        switches.getChildren().add(toggle(layer, collection, row, cell, property));
      }
      if (cell.role() != Role.CATCHER && catches(plan, layer)) {
        switches.getChildren().add(caster(layer, collection, row, cell));
      }
    }
    getChildren()
        .setAll(
            headline(layer, row + " in layer " + layer.name() + " — for this layer only"),
            controls,
            switches,
            explanation);
  }

  private static boolean catches(Plan plan, LayerDef layer) {
    return plan.layers().contains(layer)
        && layer.cells().values().stream().anyMatch(c -> c.role() == Role.CATCHER);
  }

  private static Label dim(String text) {
    Label label = new Label(text);
    label.getStyleClass().add("dim");
    return label;
  }

  private void set(
      LayerDef layer,
      @Nullable CollectionDef collection,
      String name,
      java.util.function.UnaryOperator<Cell> edit) {
    editor.edit(
        name + " in " + layer.name(),
        p -> PlanEdits.cell(p, layer.name(), collection == null ? null : collection.name(), edit));
  }

  private CheckBox toggle(
      LayerDef layer,
      @Nullable CollectionDef collection,
      String row,
      Cell cell,
      SwitchProperty property) {
    boolean on =
        cell.overrides().stream().noneMatch(o -> o.on() && o.property() == property && !o.value());
    CheckBox box =
        new CheckBox(
            switch (property) {
              case VISIBLE_REFLECTION -> "in reflections";
              case VISIBLE_BOUNCE -> "in bounced light";
              case SHADOW_CASTS -> "casts shadows";
            });
    box.setId("switch-" + property.word().replace('.', '-'));
    box.setFocusTraversable(false);
    box.setSelected(on);
    box.setOnAction(e ->
        set(
            layer,
            collection,
            row + " " + property.word(),
            c -> c.withOverrides(switched(c.overrides(), property, box.isSelected()))));
    return box;
  }

  /** On is what everything is anyway, so switching on takes the override away. */
  private static List<CellOverride> switched(
      List<CellOverride> overrides, SwitchProperty property, boolean on) {
    List<CellOverride> next = new ArrayList<>(overrides);
    next.removeIf(o -> o.property() == property);
    if (!on) {
      next.add(new CellOverride(property, false, true, Extra.NONE));
    }
    return next;
  }

  private CheckBox caster(
      LayerDef layer, @Nullable CollectionDef collection, String row, Cell cell) {
    Role role = cell.role();
    CatcherOptions options = cell.catcher();
    boolean byRole = role == Role.SEEN || role == Role.UNSEEN;
    Boolean own = options == null ? null : options.caster();
    CheckBox box = new CheckBox("is caught by the catcher");
    box.setId("caster");
    box.setFocusTraversable(false);
    box.setSelected(own == null ? byRole : own);
    box.setOnAction(e ->
        set(
            layer,
            collection,
            row + " caster",
            c ->
                new Cell(
                    c.role(),
                    new CatcherOptions(
                        c.catcher() == null ? null : c.catcher().output(),
                        box.isSelected(),
                        c.catcher() == null ? Extra.NONE : c.catcher().extra()),
                    c.overrides(),
                    c.note(),
                    c.extra())));
    return box;
  }

  private ChoiceBox<CatcherOutput> output(
      LayerDef layer, @Nullable CollectionDef collection, String row, Cell cell) {
    ChoiceBox<CatcherOutput> choice = new ChoiceBox<>();
    choice.setId("catcher-output");
    choice.getItems().setAll(CatcherOutput.values());
    choice.setConverter(Words.of(CatcherOutput::word));
    CatcherOutput now = cell.catcher() == null ? null : cell.catcher().output();
    choice.setValue(now == null ? CatcherOutput.DIFFERENCE : now);
    choice.setOnAction(e ->
        set(
            layer,
            collection,
            row + " delivered as " + choice.getValue().word(),
            c ->
                new Cell(
                    c.role(),
                    new CatcherOptions(choice.getValue(), null, Extra.NONE),
                    c.overrides(),
                    c.note(),
                    c.extra())));
    return choice;
  }

  /** Shows a collection, whose rule holds for all layers. */
  void showCollection(CollectionDef collection, Scene scene) {
    TextField rule = new TextField(collection.rule().text());
    rule.setId("rule");
    rule.setPromptText("path:/room/** | kind:environment");
    Label count = new Label();
    count.setId("rule-count");
    count.getStyleClass().add("number");
    count.setMinWidth(210);
    rule.textProperty().addListener(o -> judge(rule, count, collection, scene));
    judge(rule, count, collection, scene);
    rule.setOnAction(e -> {
      try {
        Rule next = RuleParser.parse(rule.getText());
        editor.edit(
            "rule of " + collection.name(), p -> PlanEdits.rule(p, collection.name(), next));
      } catch (RuleException wrong) {
        count.setText(String.valueOf(wrong.getMessage()));
      }
    });
    HBox line = new HBox(8, dim("takes"), rule, count);
    line.setAlignment(Pos.CENTER_LEFT);
    HBox.setHgrow(rule, Priority.ALWAYS);
    String hands =
        (collection.added().isEmpty()
                ? ""
                : "by hand: " + String.join(", ", collection.added()) + "   ")
            + (collection.removed().isEmpty()
                ? ""
                : "left out: " + String.join(", ", collection.removed()));
    Label byHand =
        dim(
            hands.isEmpty()
                ? "Enter takes the rule over. An entity's row, P: into the collection above."
                : hands);
    byHand.setWrapText(true);
    getChildren()
        .setAll(
            headline(null, "Collection " + collection.name() + " — for the whole shot"),
            line,
            byHand);
  }

  private static void judge(TextField field, Label count, CollectionDef collection, Scene scene) {
    field.getStyleClass().remove("wrong");
    try {
      Rule rule = RuleParser.parse(field.getText());
      long takes = scene.entities().stream().filter(rule::takes).count();
      count.setText(
          "%d of %d%s"
              .formatted(
                  takes,
                  scene.entities().size(),
                  rule.text().equals(collection.rule().text()) ? "" : "  (Enter)"));
    } catch (RuleException e) {
      field.getStyleClass().add("wrong");
      count.setText(String.valueOf(e.getMessage()));
    }
  }

  /** Shows an entity in a layer, and how to put it into another collection by hand. */
  void showEntity(Plan plan, @Nullable LayerDef layer, Entity entity, String why) {
    FlowPane into = new FlowPane(8, 6);
    into.setAlignment(Pos.CENTER_LEFT);
    into.getChildren().add(dim("put into"));
    for (CollectionDef c : plan.collections()) {
      ToggleButton button = new ToggleButton(c.name());
      button.setId("pick-" + c.name());
      button.setFocusTraversable(false);
      button.setSelected(
          plan.collections().stream()
              .filter(x -> x.takes(entity))
              .findFirst()
              .map(x -> x.equals(c))
              .orElse(false));
      button.setOnAction(e ->
          editor.edit(
              entity.name() + " into " + c.name(), p -> PlanEdits.pick(p, c.name(), entity)));
      into.getChildren().add(button);
    }
    String facts =
        "%s   materials: %s%s"
            .formatted(
                entity.kind().word(),
                entity.materials().isEmpty() ? "none" : String.join(", ", entity.materials()),
                entity.tags().isEmpty() ? "" : "   tags: " + String.join(" ", entity.tags()));
    getChildren()
        .setAll(
            headline(layer, entity.path() + " — for the whole shot"), into, dim(why), dim(facts));
  }
}
