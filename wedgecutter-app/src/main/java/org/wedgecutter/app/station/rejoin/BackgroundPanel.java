package org.wedgecutter.app.station.rejoin;

import java.util.List;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Typed;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.plan.Background;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.RecipeEdits;

/** What stands behind all that is rejoined. */
final class BackgroundPanel extends VBox {
  private static final double GREY = 0.18;

  private final Editor editor;
  private final Background now;
  private final Label trouble = Entry.trouble("background-trouble");

  /**
   * @param choose asks for a picture
   * @param renderAtItsSize renders the shot at the size of the picture
   */
  BackgroundPanel(Editor editor, Plan plan, Runnable choose, Runnable renderAtItsSize) {
    super(6);
    this.editor = editor;
    now = plan.recipe().background();
    FlowPane kinds = new FlowPane(8, 5);
    kinds.setAlignment(Pos.CENTER_LEFT);
    kinds
        .getChildren()
        .addAll(
            button("none", "None", () -> put(Background.NONE)),
            button("grey", "Grey", () -> put(Background.colour(GREY, GREY, GREY))),
            button("black", "Black", () -> put(Background.colour(0, 0, 0))),
            button("checker", "Checker", () -> put(Background.checker(GREY))),
            button("picture", "Picture…", choose));
    String plate = plan.requireShot().plate().image();
    if (!plate.isEmpty()) {
      kinds.getChildren().add(button("plate", "The plate", () -> put(Background.picture(plate))));
    }
    getChildren().add(kinds);
    if (now.kind() == Background.Kind.PICTURE) {
      getChildren().add(picture(renderAtItsSize));
    } else if (now.exists()) {
      getChildren().add(colour());
    }
    getChildren()
        .addAll(
            trouble,
            DetailPanel.note(
                "shown where alpha is below 1; ignored by the proof. Colours"
                    + " of 8-bit pictures are linearised. Pick one file of a sequence to use all of"
                    + " it."));
  }

  private static Button button(String id, String text, Runnable action) {
    Button out = new Button(text);
    out.setId("background-" + id);
    out.setOnAction(e -> action.run());
    return out;
  }

  private void put(Background next) {
    editor.edit("background: " + next.kind().word(), p -> RecipeEdits.background(p, next));
  }

  private FlowPane picture(Runnable renderAtItsSize) {
    ChoiceBox<Background.Fit> fit = new ChoiceBox<>();
    fit.setId("background-fit");
    fit.getItems().setAll(Background.Fit.values());
    fit.setConverter(
        Words.of(f ->
            switch (f) {
              case FILL -> "fill the frame";
              case FIT -> "fit into the frame";
              case STRETCH -> "stretch to the frame";
            }));
    fit.setValue(now.fit());
    fit.setAccessibleText("size of the background");
    fit.setOnAction(e -> put(now.withFit(fit.getValue())));
    FlowPane out =
        new FlowPane(
            12,
            5,
            new Label(now.picture()),
            Entry.named("size", fit),
            button("size", "Use its size for the shot", renderAtItsSize));
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }

  private FlowPane colour() {
    String text = String.join(" ", now.colour().stream().map(Typed::text).toList());
    Consumer<String> take =
        typed -> {
          List<Double> next =
              List.of(typed.strip().split("[\\s,]+")).stream()
                  .map(v -> Typed.number(v, 0, 1e6))
                  .toList();
          put(new Background(now.kind(), next, "", now.fit(), now.extra()));
        };
    Entry entry =
        new Entry(
            "background-colour",
            text,
            14,
            "scene-linear red, green and blue",
            trouble,
            take::accept);
    return new FlowPane(Entry.named("red green blue", entry));
  }
}
