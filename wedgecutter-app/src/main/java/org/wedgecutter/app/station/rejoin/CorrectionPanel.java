package org.wedgecutter.app.station.rejoin;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Typed;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.rejoin.Expression;

/** The corrections or effects of one type on a layer, or on all that is rejoined. */
final class CorrectionPanel extends VBox {
  private final Editor editor;
  private final Plan plan;
  private final int frame;
  private final Correction.Type type;
  private final String layer;
  private final CorrectionForm form;
  private final Consumer<Boolean> hold;
  private final Consumer<BiFunction<Plan, String, Plan>> choose;
  private final Label trouble = Entry.trouble("correction-trouble");

  /**
   * @param frame the current one, at which values of a correction with keys are shown and changed
   * @param layer name of the layer; empty for the rejoined picture
   * @param hold receives true when a drag begins, false when it ends
   * @param choose asks for a picture, and runs an edit with its path
   */
  CorrectionPanel(
      Editor editor,
      Plan plan,
      int frame,
      Correction.Type type,
      String layer,
      Consumer<Boolean> hold,
      Consumer<BiFunction<Plan, String, Plan>> choose) {
    super(6);
    this.choose = choose;
    this.editor = editor;
    this.plan = plan;
    this.frame = frame;
    this.type = type;
    this.layer = layer;
    this.hold = hold;
    form = CorrectionForm.of(type);
    List<Integer> own = new ArrayList<>();
    List<Correction> all = plan.recipe().corrections();
    for (int k = 0; k < all.size(); k++) {
      Correction c = all.get(k);
      if (c.type() == type && c.layer().equals(layer) && c.pass().isEmpty()) {
        own.add(k);
      }
    }
    if (type == Correction.Type.SHADOW && layer.isEmpty()) {
      getChildren()
          .add(DetailPanel.note("Select the cell of a layer that darkens what is behind."));
      return;
    }
    if (type.needsPicture() && layer.isEmpty()) {
      getChildren().add(DetailPanel.note("Select the cell of a layer: its UV pass is read."));
      return;
    }
    if (own.isEmpty()) {
      getChildren()
          .add(block(-1, Correction.of(layer, "", type, form.usual().toArray(Double[]::new)), ""));
    }
    for (int k = 0; k < own.size(); k++) {
      getChildren().add(block(own.get(k), all.get(own.get(k)), k == 0 ? "" : "-" + (k + 1)));
    }
    if (!own.isEmpty()) {
      Button more = new Button("Add another");
      more.setId("correction-add");
      more.setOnAction(e -> edit("add " + name(), p -> RecipeEdits.add(p, fresh())));
      getChildren().add(more);
    }
    getChildren().addAll(trouble, DetailPanel.note(about(type)));
  }

  private Correction fresh() {
    return Correction.of(layer, "", type, form.usual().toArray(Double[]::new));
  }

  private String name() {
    return CorrectionForm.title(type) + (layer.isEmpty() ? "" : " of " + layer);
  }

  private void edit(String title, UnaryOperator<Plan> change) {
    editor.edit(title, p -> Expression.written(change.apply(p)));
  }

  /**
   * @param at number of the correction in the recipe; -1 for one that is not there yet
   */
  private Node block(int at, Correction c, String suffix) {
    FlowPane out = new FlowPane(12, 5);
    out.setAlignment(Pos.CENTER_LEFT);
    CheckBox on = new CheckBox("on");
    on.setId("correction-on" + suffix);
    on.setSelected(at >= 0 && c.on());
    on.setOnAction(e ->
        edit(
            name() + (on.isSelected() ? " on" : " off"),
            p -> put(p, at, c.switched(on.isSelected()))));
    out.getChildren().add(on);
    List<Double> shown = c.at(frame).values();
    double now = form.shown(shown);
    List<Entry> entries = new ArrayList<>();
    out.getChildren()
        .add(
            Adjuster.slider(
                "correction-slider" + suffix,
                CorrectionForm.title(type),
                form.least(),
                form.most(),
                now,
                hold,
                (gesture, v) -> {
                  List<Double> next = form.moved(shown, v);
                  if (type.wrong(next).isEmpty()) {
                    on.setSelected(true);
                    for (int k = 0; k < entries.size(); k++) {
                      entries.get(k).follow(Typed.text(next.get(k)));
                    }
                    editor.adjust(
                        name(),
                        gesture,
                        p ->
                            Expression.written(
                                put(p, at, c.withValues(frame, next).switched(true))));
                  }
                }));
    if (type.needsPicture()) {
      out.getChildren().add(picture(at, c, suffix));
    }
    if (type == Correction.Type.CURVE) {
      out.getChildren().add(points(at, c, suffix));
    } else {
      for (int k = 0; k < shown.size(); k++) {
        Entry entry = value(at, c, k, suffix);
        entries.add(entry);
        out.getChildren().add(Entry.named(form.captions().get(k), entry));
      }
    }
    if (at >= 0) {
      out.getChildren().add(matte(at, c, suffix));
      if (!layer.isEmpty() && type != Correction.Type.SHADOW) {
        out.getChildren().add(reach(at, c, suffix));
      }
      out.getChildren().addAll(keys(at, c, suffix));
      Button remove = new Button("Delete");
      remove.setId("correction-delete" + suffix);
      remove.setOnAction(e -> edit("delete " + name(), p -> RecipeEdits.remove(p, at)));
      out.getChildren().add(remove);
    }
    return out;
  }

  /** The button that sets or removes a key at the current frame. */
  private List<Node> keys(int at, Correction c, String suffix) {
    boolean here = c.keys().stream().anyMatch(k -> k.frame() == frame);
    Button key = new Button(here ? "Delete key" : "Set key at frame " + frame);
    key.setId("correction-key" + suffix);
    key.setTooltip(
        new Tooltip(
            "with keys, values move in a line from frame to frame; a change is a key at the current frame"));
    key.setOnAction(e ->
        edit(
            (here ? "delete key of " : "key of ") + name(),
            p -> put(p, at, here ? c.withoutKey(frame) : c.withKey(frame, c.at(frame).values()))));
    if (!c.isKeyed()) {
      return List.of(key);
    }
    Label told =
        DetailPanel.dim(
            "keys at "
                + String.join(
                    ", ", c.keys().stream().map(k -> String.valueOf(k.frame())).toList()));
    told.setId("correction-keys" + suffix);
    return List.of(key, told);
  }

  private Plan put(Plan p, int at, Correction c) {
    if (at < 0) {
      // while a slider is dragged for the first time, the one that it has added is changed
      return RecipeEdits.set(p, c, frame);
    }
    return at < p.recipe().corrections().size() ? RecipeEdits.replace(p, at, c) : p;
  }

  private Entry value(int at, Correction c, int k, String suffix) {
    return new Entry(
        "correction-value-" + k + suffix,
        Typed.text(c.at(frame).values().get(k)),
        5,
        form.captions().get(k),
        trouble,
        text -> {
          List<Double> next = new ArrayList<>(c.at(frame).values());
          next.set(k, Typed.number(text, -1e9, 1e9));
          take(at, c, next);
        });
  }

  private Node points(int at, Correction c, String suffix) {
    String text = String.join(" ", c.at(frame).values().stream().map(Typed::text).toList());
    return Entry.named(
        form.captions().getFirst(),
        new Entry(
            "correction-value-0" + suffix,
            text,
            22,
            "x and y of each point, x ascending",
            trouble,
            t ->
                take(
                    at,
                    c,
                    Arrays.stream(t.strip().split("[\\s,]+"))
                        .map(v -> Typed.number(v, -1e6, 1e6))
                        .toList())));
  }

  private void take(int at, Correction c, List<Double> next) {
    String wrong = type.wrong(next);
    if (!wrong.isEmpty()) {
      throw new IllegalArgumentException(wrong);
    }
    edit(name(), p -> put(p, at, c.withValues(frame, next).switched(true)));
  }

  private Node picture(int at, Correction c, String suffix) {
    String shown = c.picture().isEmpty() ? "Choose picture…" : c.picture();
    Button out = new Button(shown);
    out.setId("correction-picture" + suffix);
    out.setTooltip(new Tooltip("a picture beside the plan; a numbered file is read as a sequence"));
    out.setOnAction(e ->
        choose.accept((p, path) -> Expression.written(put(p, at, c.showing(path).switched(true)))));
    return out;
  }

  private Node matte(int at, Correction c, String suffix) {
    ChoiceBox<String> choice = new ChoiceBox<>();
    choice.setId("correction-matte" + suffix);
    choice.getItems().add("");
    plan.recipe().mattes().forEach(m -> choice.getItems().add(m.name()));
    choice.setConverter(Words.of(m -> m.isEmpty() ? "everywhere" : "matte " + m));
    choice.setValue(c.matte());
    choice.setAccessibleText("through a matte");
    choice.setOnAction(e ->
        edit(
            name() + " through " + (choice.getValue().isEmpty() ? "nothing" : choice.getValue()),
            p -> put(p, at, c.through(choice.getValue()))));
    return Entry.named("through", choice);
  }

  private Node reach(int at, Correction c, String suffix) {
    ChoiceBox<Correction.Reach> choice = new ChoiceBox<>();
    choice.setId("correction-reach" + suffix);
    choice.getItems().setAll(Correction.Reach.values());
    choice.setConverter(
        Words.of(r ->
            r == Correction.Reach.LAYER ? "this layer" : "this layer and everything behind it"));
    choice.setValue(c.reach());
    choice.setAccessibleText("of how much of the picture");
    choice.setOnAction(e ->
        edit(
            name() + ", " + choice.getValue().word(),
            p -> put(p, at, c.withReach(choice.getValue()))));
    return Entry.named("of", choice);
  }

  private static String about(Correction.Type type) {
    return switch (type) {
      case EXPOSURE -> "light times 2^EV";
      case GAIN -> "light times a factor for each channel; the slider keeps the tint";
      case OFFSET -> "added to each channel, where alpha is";
      case GAMMA -> "light to the power of 1/gamma, without premultiplied alpha";
      case SATURATION -> "distance from grey of the same luminance";
      case HUE -> "rotation around the axis of greys";
      case CONTRAST -> "power about the pivot, without premultiplied alpha";
      case TEMPERATURE -> "white point; 6504 K is neutral";
      case CURVE -> "a smooth curve through points x, y; the slider lifts the second point";
      case SOFT_CLIP -> "light above the threshold approaches the ceiling";
      case FADE ->
          "light and alpha times this; what is behind shows through where it is joined over";
      case SHADOW ->
          "of a layer that darkens what is behind it: how dense its shadow is, and the colour to"
              + " which it is lifted, 0 (as it is) to 1 (no shadow). Its softness is the row blur;"
              + " what a reflection adds is the row gain.";
      case BLUR -> "Gaussian, light and alpha. Edges are no longer those that were rendered.";
      case GLOW -> "light above the threshold spreads, without alpha: creative; not exact";
      case DEFOCUS ->
          "by the pass of depth. What a layer hides is not there to spread: edges differ from a"
              + " render with this lens.";
      case SURFACE ->
          "a picture in the place of the base colour, placed by the UV pass and lit as the surface"
              + " is; nothing else is lit by it, so it is not what would be rendered";
      case DISTORTION -> "r' = r (1 + k1 r² + k2 r⁴) of the half diagonal; corners may lie outside";
    };
  }
}
