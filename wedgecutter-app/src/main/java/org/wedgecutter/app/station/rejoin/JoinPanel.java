package org.wedgecutter.app.station.rejoin;

import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Typed;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.cut.RightJoins;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.rejoin.Expression;

/** How a layer is joined, how much of it, and which join fits the way it was cut. */
final class JoinPanel extends VBox {
  private static final String LEFT_OUT = "left out";

  private final Editor editor;
  private final String layer;
  private final Label trouble = Entry.trouble("join-trouble");

  /**
   * @param right the join that fits, or null where the layer shows nothing
   * @param plot of the pixel under the pointer, for layers that are joined by depth
   * @param hold receives true when a drag of the opacity begins, false when it ends
   */
  JoinPanel(
      Editor editor,
      Plan plan,
      String layer,
      RightJoins.@Nullable Choice right,
      DeepPlot plot,
      Consumer<Boolean> hold) {
    super(6);
    this.editor = editor;
    this.layer = layer;
    Recipe.Step step =
        plan.recipe().joins().stream()
            .filter(s -> s.layer().equals(layer))
            .findFirst()
            .orElse(null);
    FlowPane line = new FlowPane(12, 5, join(step));
    line.setAlignment(Pos.CENTER_LEFT);
    if (step != null) {
      opacity(line, step, hold);
      if (step.join() == Join.MATTE) {
        line.getChildren().add(matte(plan, step));
      }
      if (step.join() == Join.TIMES) {
        line.getChildren().add(light(step));
      }
    }
    getChildren().add(line);
    if (right != null) {
      fits(step, right);
    }
    if (step != null) {
      if (step.join() == Join.DEEP) {
        getChildren().add(plot);
      }
      getChildren().add(DetailPanel.note(about(step.join())));
    }
    getChildren().add(trouble);
  }

  private javafx.scene.Node join(Recipe.@Nullable Step step) {
    ChoiceBox<String> choice = new ChoiceBox<>();
    choice.setId("join");
    for (Join j : Join.values()) {
      choice.getItems().add(j.word());
    }
    choice.getItems().add(LEFT_OUT);
    choice.setValue(step == null ? LEFT_OUT : step.join().word());
    choice.setAccessibleText("join of layer " + layer);
    choice.setOnAction(e -> {
      String word = choice.getValue();
      if (word.equals(LEFT_OUT)) {
        editor.edit(layer + " removed from the recipe", p -> LayerEdits.unjoin(p, layer));
      } else {
        editor.edit(
            layer + " joined by " + word,
            p -> Expression.written(LayerEdits.join(p, layer, Join.of(word).orElseThrow())));
      }
    });
    return Entry.named("join", choice);
  }

  private void opacity(FlowPane line, Recipe.Step step, Consumer<Boolean> hold) {
    Entry entry =
        Entry.number(
            "opacity",
            Math.round(10000 * step.opacity()) / 100.0,
            0,
            100,
            "strength of the join",
            trouble,
            v -> editor.edit("opacity of " + layer, p -> LayerEdits.opacity(p, layer, v / 100)));
    line.getChildren()
        .addAll(
            Adjuster.slider(
                "opacity-slider",
                "opacity of layer " + layer,
                0,
                1,
                step.opacity(),
                hold,
                (gesture, v) -> {
                  long percent = Math.round(v * 100);
                  entry.follow(Typed.text(percent));
                  editor.adjust(
                      "opacity of " + layer,
                      gesture,
                      p -> LayerEdits.opacity(p, layer, percent / 100.0));
                }),
            Entry.named("opacity (%)", entry));
  }

  private javafx.scene.Node matte(Plan plan, Recipe.Step step) {
    ChoiceBox<String> choice = new ChoiceBox<>();
    choice.setId("join-matte");
    choice.getItems().add("");
    plan.recipe().mattes().forEach(m -> choice.getItems().add(m.name()));
    choice.setConverter(Words.of(m -> m.isEmpty() ? "its alpha" : "matte " + m));
    choice.setValue(step.matte());
    choice.setOnAction(e ->
        editor.edit(
            layer + " cut by " + choice.getValue(),
            p -> RecipeEdits.joinMatte(p, layer, choice.getValue())));
    return Entry.named("cut by", choice);
  }

  private javafx.scene.Node light(Recipe.Step step) {
    ChoiceBox<Recipe.Light> choice = new ChoiceBox<>();
    choice.setId("join-light");
    choice.getItems().setAll(Recipe.Light.values());
    choice.setConverter(
        Words.of(l ->
            switch (l) {
              case ALL -> "all light";
              case DIRECT -> "direct diffuse light";
              case INDIRECT -> "indirect diffuse light";
            }));
    choice.setValue(step.light());
    choice.setAccessibleText("which light of what is behind it scales");
    choice.setOnAction(e ->
        editor.edit(
            "%s scales %s light".formatted(layer, choice.getValue().word()),
            p -> Expression.written(RecipeEdits.joinLight(p, layer, choice.getValue()))));
    return Entry.named("of", choice);
  }

  private void fits(Recipe.@Nullable Step step, RightJoins.Choice right) {
    boolean is = step != null && right.is(step);
    FlowPane line =
        new FlowPane(
            12,
            5,
            new Label(
                is
                    ? "fits the cut: " + right.reason().text()
                    : "%s fits the cut: %s".formatted(right.join().word(), right.reason().text())));
    line.setAlignment(Pos.CENTER_LEFT);
    if (!is) {
      Button use = new Button("Join by " + right.join().word());
      use.setId("join-right");
      use.setOnAction(e ->
          editor.edit(
              layer + " joined by " + right.join().word(),
              p ->
                  Expression.written(
                      RecipeEdits.joinLight(
                          LayerEdits.join(p, layer, right.join()), layer, right.light()))));
      line.getChildren().add(use);
    }
    getChildren().add(line);
  }

  private static String about(Join join) {
    return switch (join) {
      case PLUS -> "R + C, alpha too: exact for layers that are held out of each other";
      case OVER -> "C + (1 − A) R: exact where A is 0 or 1";
      case LIGHT -> "R + C, alpha stays: the same objects under other lights";
      case TIMES -> "R × C: a catcher's ratio";
      case CATCH -> "C + (1 − A) R, alpha stays: a catcher's single RGBA picture";
      case MATTE -> "R + m (C − R): a layer rendered whole, cut by a matte";
      case DEPTH -> "nearest by the depth pass; hard edges";
      case DEEP -> "by the deep files, sample by sample; render these layers without holdouts";
      case SCREEN, MIN, MAX, DIFFERENCE -> "creative only; never exact";
    };
  }
}
