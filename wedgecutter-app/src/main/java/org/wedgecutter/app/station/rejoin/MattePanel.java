package org.wedgecutter.app.station.rejoin;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;

/** A matte: what it is made of, and its shape. */
final class MattePanel extends VBox {
  /** By which names a click picks. */
  enum By {
    OBJECT("object"),
    MATERIAL("material"),
    COLLECTION("collection");

    final String word;

    By(String word) {
      this.word = word;
    }
  }

  private final Editor editor;
  private final Plan plan;
  private final MatteDef matte;
  private final Label trouble = Entry.trouble("matte-trouble");

  /**
   * @param plan of the matte
   */
  MattePanel(Editor editor, Plan plan, MatteDef matte) {
    super(6);
    this.plan = plan;
    this.editor = editor;
    this.matte = matte;
    FlowPane first = new FlowPane(12, 5, name(), source());
    first.setAlignment(Pos.CENTER_LEFT);
    FlowPane second = new FlowPane(12, 5);
    second.setAlignment(Pos.CENTER_LEFT);
    if (matte.source() == MatteDef.Source.IDS) {
      first.getChildren().add(by());
      getChildren().addAll(first, picks(), second);
    } else if (matte.source().combines()) {
      getChildren().addAll(first, others(), second);
    } else if (matte.source() == MatteDef.Source.SHAPE) {
      first.getChildren().add(form());
      second.getChildren().addAll(turn(), soft());
      getChildren().addAll(first, second);
    } else {
      if (matte.source() == MatteDef.Source.LUMA) {
        first.getChildren().add(of());
      }
      second.getChildren().addAll(end(true), end(false), curve());
      getChildren().addAll(first, second);
    }
    second.getChildren().addAll(grow(), invert());
    Button delete = new Button("Delete matte");
    delete.setId("matte-delete");
    delete.setOnAction(e ->
        editor.edit("delete matte " + matte.name(), p -> RecipeEdits.removeMatte(p, matte.name())));
    second.getChildren().add(delete);
    getChildren().addAll(trouble, DetailPanel.note(about()));
  }

  private void edit(String title, UnaryOperator<MatteDef> change) {
    editor.edit(title, p -> needs(RecipeEdits.matte(p, matte.name(), change), matte.name()));
  }

  /** What a matte reads is written with all layers. */
  static Plan needs(Plan p, String matte) {
    List<String> layers = p.layers().stream().map(LayerDef::name).toList();
    Plan out = p;
    for (MatteDef each : p.recipe().madeOf(matte)) {
      out = RecipeEdits.written(out, layers, each.reads());
    }
    return out;
  }

  private Node name() {
    return Entry.named(
        "name",
        new Entry(
            "matte-name",
            matte.name(),
            10,
            "name of the matte",
            trouble,
            t -> {
              if (t.isBlank()) {
                throw new IllegalArgumentException("expected a name");
              }
              if (plan.recipe().matte(t).isPresent()) {
                throw new IllegalArgumentException("there is a matte '%s' already".formatted(t));
              }
              editor.edit(
                  "rename matte " + matte.name(), p -> RecipeEdits.renameMatte(p, matte.name(), t));
            }));
  }

  private Node source() {
    ChoiceBox<MatteDef.Source> choice = new ChoiceBox<>();
    choice.setId("matte-source");
    choice.getItems().setAll(MatteDef.Source.values());
    choice.setConverter(
        Words.of(s ->
            switch (s) {
              case IDS -> "ID mattes";
              case DEPTH -> "depth";
              case LUMA -> "luminance";
              case SHAPE -> "a shape";
              case AND -> "all of other mattes";
              case OR -> "any of other mattes";
              case MINUS -> "one matte less others";
            }));
    choice.setValue(matte.source());
    choice.setOnAction(e ->
        edit(
            matte.name() + " from " + choice.getValue().word(), m -> became(m, choice.getValue())));
    return Entry.named("from", choice);
  }

  /** Names of objects are no names of mattes: what is picked goes where the source has others. */
  private static MatteDef became(MatteDef m, MatteDef.Source next) {
    boolean keeps =
        m.source().combines() == next.combines() && (m.source() == next || m.source().combines());
    MatteDef out = m.withSource(next);
    return keeps ? out : out.withPicks(List.of()).withBy("");
  }

  /** The other mattes, to be taken in or left out; the first one taken counts as the first. */
  private Node others() {
    FlowPane out = new FlowPane(8, 5, DetailPanel.dim("made of"));
    out.setAlignment(Pos.CENTER_LEFT);
    Map<String, Integer> parts = plan.recipe().matteParts();
    int own = parts.getOrDefault(matte.name(), 1);
    for (MatteDef other : plan.recipe().mattes()) {
      boolean isPart = matte.picks().contains(other.name());
      boolean fits = own + parts.getOrDefault(other.name(), 1) <= Recipe.MOST_PARTS;
      // taking it out is always possible; taking it in where neither is made of the other
      if (!isPart && (!fits || plan.recipe().madeOf(other.name()).contains(matte))) {
        continue;
      }
      ToggleButton button = new ToggleButton(other.name());
      button.setId("matte-of-" + other.name().replaceAll("\\W", "-"));
      button.setSelected(isPart);
      button.setOnAction(e ->
          edit(
              "%s %s %s"
                  .formatted(other.name(), button.isSelected() ? "into" : "out of", matte.name()),
              m -> {
                List<String> next = new ArrayList<>(m.picks());
                next.remove(other.name());
                if (button.isSelected()) {
                  next.add(other.name());
                }
                return m.withPicks(next);
              }));
      out.getChildren().add(button);
    }
    String word = " %s ".formatted(matte.source().word());
    Label made = new Label(String.join(word, matte.picks()));
    made.setId("matte-made-of");
    out.getChildren().add(made);
    return out;
  }

  /** Whose luminance it is. */
  private Node of() {
    ChoiceBox<String> choice = new ChoiceBox<>();
    choice.setId("matte-luma-of");
    choice.getItems().add("");
    plan.layers().stream().map(LayerDef::name).forEach(choice.getItems()::add);
    choice.setConverter(Words.of(n -> n.isEmpty() ? "what is corrected" : n));
    choice.setValue(matte.by());
    choice.setOnAction(e -> edit("luminance of " + matte.name(), m -> m.withBy(choice.getValue())));
    return Entry.named("of", choice);
  }

  private Node form() {
    ChoiceBox<MatteDef.Outline.Form> choice = new ChoiceBox<>();
    choice.setId("matte-form");
    choice.getItems().setAll(MatteDef.Outline.Form.values());
    choice.setConverter(Words.of(MatteDef.Outline.Form::word));
    choice.setValue(matte.outline().form());
    choice.setOnAction(e ->
        edit(
            matte.name() + " as " + choice.getValue().word(),
            m -> m.withOutline(m.outline().as(choice.getValue()))));
    return Entry.named("form", choice);
  }

  private Node turn() {
    return Entry.named(
        "turn (°)",
        Entry.number(
            "matte-turn",
            matte.outline().turn(),
            -3600,
            3600,
            "degrees, clockwise",
            trouble,
            v -> edit("turn " + matte.name(), m -> m.withOutline(m.outline().turned(v)))));
  }

  private Node soft() {
    return Entry.named(
        "softness",
        Entry.number(
            "matte-soft",
            matte.outline().soft(),
            0,
            1,
            "share of its size over which it fades",
            trouble,
            v -> edit("softness of " + matte.name(), m -> m.withOutline(m.outline().softened(v)))));
  }

  private Node by() {
    ChoiceBox<By> choice = new ChoiceBox<>();
    choice.setId("matte-by");
    choice.getItems().setAll(By.values());
    choice.setConverter(Words.of(b -> b.word));
    choice.setValue(by(matte));
    choice.setOnAction(e ->
        edit(
            matte.name() + " by " + choice.getValue().word,
            m ->
                m.withPicks(List.of())
                    .withBy(choice.getValue() == By.OBJECT ? "" : choice.getValue().word)));
    return Entry.named("pick by", choice);
  }

  /** Returns by which names a matte picks. */
  static By by(MatteDef matte) {
    return Arrays.stream(By.values())
        .filter(b -> matte.by().equals(b.word))
        .findFirst()
        .orElse(By.OBJECT);
  }

  private Node picks() {
    Entry entry =
        new Entry(
            "matte-picks",
            String.join(", ", matte.picks()),
            34,
            "names, separated by commas; * for any letters, ? for one",
            trouble,
            t ->
                edit(
                    "picks of " + matte.name(),
                    m ->
                        m.withPicks(
                            Arrays.stream(t.split(","))
                                .map(String::strip)
                                .filter(s -> !s.isEmpty())
                                .distinct()
                                .toList())));
    return Entry.named("picked", entry);
  }

  private Node end(boolean from) {
    boolean depth = matte.source() == MatteDef.Source.DEPTH;
    MatteDef.Range r = matte.range();
    String caption =
        from ? (depth ? "0 at (m)" : "0 at luminance") : depth ? "1 at (m)" : "1 at luminance";
    return Entry.named(
        caption,
        Entry.number(
            from ? "matte-from" : "matte-to",
            from ? r.from() : r.to(),
            -1e6,
            1e6,
            caption,
            trouble,
            v -> {
              MatteDef.Range next =
                  new MatteDef.Range(from ? v : r.from(), from ? r.to() : v, r.curve());
              edit("range of " + matte.name(), m -> m.withRange(next));
            }));
  }

  private Node curve() {
    MatteDef.Range r = matte.range();
    return Entry.named(
        "curve",
        Entry.number(
            "matte-curve",
            r.curve(),
            0.01,
            100,
            "exponent of the ramp",
            trouble,
            v ->
                edit(
                    "curve of " + matte.name(),
                    m -> m.withRange(new MatteDef.Range(r.from(), r.to(), v)))));
  }

  private Node grow() {
    return Entry.named(
        "grow (px)",
        Entry.whole(
            "matte-grow",
            matte.grow(),
            -MatteDef.MOST_GROW,
            MatteDef.MOST_GROW,
            "pixels by which it grows; negative shrinks",
            trouble,
            v -> edit("grow " + matte.name(), m -> m.withGrow(Math.toIntExact(v)))));
  }

  private Node invert() {
    CheckBox box = new CheckBox("invert");
    box.setId("matte-invert");
    box.setSelected(matte.invert());
    box.setOnAction(e -> edit("invert " + matte.name(), m -> m.withInvert(box.isSelected())));
    return box;
  }

  private String about() {
    return switch (matte.source()) {
      case IDS -> "click in the picture to add, click again to remove; the matte is overlaid";
      case DEPTH ->
          "a ramp over the distance from the camera; set '1 at' below '0 at' to select near objects";
      case LUMA -> "a ramp over luminance, without alpha";
      case SHAPE -> "drag its middle and its ends in the picture";
      case AND, OR, MINUS -> "the matte is overlaid; click those that it is made of";
    };
  }
}
