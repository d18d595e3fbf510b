package org.wedgecutter.app.station.cut;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.ByTab;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Typed;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.fragment.CatchFit;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Value;

/** What a catcher catches, how strongly, where, and how it is delivered. */
public final class CatcherPanel extends VBox {
  /** Makes an edit of the catcher's options. */
  interface Editor {
    void edit(String what, UnaryOperator<CatcherOptions> edit);
  }

  private static final int MOST_BACKGROUNDS = 16;

  private final Editor editor;
  private final CatcherOptions now;
  private final Label trouble = Entry.trouble("catcher-trouble");
  private final Label fit = DetailPanel.dim("");

  /**
   * @param lamps names of the collections that hold emitters
   */
  CatcherPanel(Editor editor, CatcherOptions now, List<String> lamps) {
    super(4);
    this.editor = editor;
    this.now = now;
    getChildren().addAll(parts(), strength(), reach());
    if (now.output() == CatcherOutput.CATCH) {
      getChildren().addAll(backgrounds(), fit);
    }
    if (!lamps.isEmpty()) {
      getChildren().add(lights(lamps));
    }
    getChildren().add(trouble);
  }

  private FlowPane backgrounds() {
    fit.setId("catcher-fit");
    fit.setWrapText(true);
    return line(
        Entry.named(
            "fit to backgrounds",
            new Entry(
                "catcher-backgrounds",
                now.tuning().backgrounds().stream()
                    .map(Typed::text)
                    .collect(Collectors.joining(" ")),
                14,
                "scene-linear levels, for example 0.02 0.18 0.8; empty: the surface's own light",
                trouble,
                x -> {
                  List<Double> levels = levels(x);
                  tuned("backgrounds", at -> at.withBackgrounds(levels));
                })));
  }

  private static List<Double> levels(String text) {
    if (text.isBlank()) {
      return List.of();
    }
    String[] parts = text.trim().split("\\s+", -1);
    if (parts.length > MOST_BACKGROUNDS) {
      throw new IllegalArgumentException(
          "expected at most %d backgrounds".formatted(MOST_BACKGROUNDS));
    }
    List<Double> out = new ArrayList<>();
    for (String part : parts) {
      out.add(Typed.number(part, 0, 65504));
    }
    return out;
  }

  /** Shows how well the picture fits; null while that is not known. */
  void tell(@Nullable CatchFit now) {
    fit.setText(now == null ? "" : "Differs from the surface by " + now.line());
  }

  private static FlowPane line(Node... parts) {
    FlowPane out = new FlowPane(14, 4, parts);
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }

  private FlowPane parts() {
    ChoiceBox<CatcherOutput> choice = new ChoiceBox<>();
    choice.setId("catcher-output");
    choice.getItems().setAll(CatcherOutput.values());
    choice.setConverter(Words.of(CatcherOutput::word));
    CatcherOutput output = now.output();
    choice.setValue(output == null ? CatcherOutput.DIFFERENCE : output);
    choice.setOnAction(e ->
        editor.edit(
            "delivered as " + choice.getValue().word(), c -> c.withOutput(choice.getValue())));
    FlowPane out = line(Entry.named("delivered as", choice), DetailPanel.dim("catches"));
    for (CatcherOptions.Part part : CatcherOptions.Part.values()) {
      CheckBox box = new CheckBox(part.word());
      box.setId("catches-" + part.word());
      ByTab.only(box);
      box.setSelected(!now.leftOut().contains(part));
      box.setOnAction(e -> editor.edit(part.word(), c -> c.with(part, box.isSelected())));
      out.getChildren().add(box);
    }
    return out;
  }

  private void tuned(String what, UnaryOperator<CatcherTuning> edit) {
    editor.edit(what, c -> c.withTuning(edit.apply(c.tuning())));
  }

  private FlowPane strength() {
    CatcherTuning t = now.tuning();
    return line(
        Entry.named(
            "shadow density",
            Entry.number(
                "catcher-opacity",
                t.opacity(),
                0,
                1,
                "density of the caught shadows",
                trouble,
                x -> tuned("shadows", at -> at.withOpacity(x)))),
        Entry.named(
            "shadow tint",
            new Entry(
                "catcher-tint",
                t.tint().text(),
                9,
                "colour of a full shadow: red, green, blue, 0 (unchanged) to 1 (no shadow)",
                trouble,
                x -> {
                  Value.Colour tint =
                      (Value.Colour) Value.parse(Property.BASE_COLOR, Property.Verb.SET, x);
                  tuned("tint", at -> at.withTint(tint));
                })),
        Entry.named(
            "reflection gain",
            Entry.number(
                "catcher-reflection",
                t.reflection(),
                0,
                100,
                "factor on caught reflections",
                trouble,
                x -> tuned("reflections", at -> at.withReflection(x)))));
  }

  private FlowPane reach() {
    CatcherTuning.Reach r = now.tuning().reach();
    FlowPane out =
        line(
            Entry.named(
                "reach (m)",
                new Entry(
                    "catcher-reach",
                    r == null ? "" : Typed.text(r.across()) + " x " + Typed.text(r.along()),
                    9,
                    "radii of an ellipse, for example 1.5 x 0.8; empty: everywhere",
                    trouble,
                    x -> {
                      CatcherTuning.Reach next = radii(x, r);
                      tuned("reach", at -> at.withReach(next));
                    })));
    if (r == null) {
      return out;
    }
    CatcherTuning.Place centre = r.centre();
    out.getChildren()
        .addAll(
            Entry.named(
                "about",
                new Entry(
                    "catcher-centre",
                    centre == null
                        ? ""
                        : "%s %s %s"
                            .formatted(
                                Typed.text(centre.x()),
                                Typed.text(centre.y()),
                                Typed.text(centre.z())),
                    9,
                    "centre of the ellipse: x y z in metres; empty: below the casters",
                    trouble,
                    x -> {
                      CatcherTuning.Place next = place(x);
                      tuned("reach", at -> at.withReach(r.withCentre(next)));
                    })),
            Entry.named(
                "rotation (°)",
                Entry.number(
                    "catcher-turn",
                    r.turn(),
                    -360,
                    360,
                    "rotation of the ellipse about the vertical",
                    trouble,
                    x -> tuned("reach", at -> at.withReach(r.withTurn(x))))),
            Entry.named(
                "soft edge",
                Entry.number(
                    "catcher-soft",
                    r.soft(),
                    0,
                    1,
                    "share of the radius over which the reach fades",
                    trouble,
                    x -> tuned("reach", at -> at.withReach(r.withSoft(x))))));
    return out;
  }

  private static CatcherTuning.@Nullable Reach radii(
      String text, CatcherTuning.@Nullable Reach before) {
    if (text.isBlank()) {
      return null;
    }
    String[] parts = text.split("[x×]", -1);
    double across = Typed.number(parts[0], 0.001, 1e6);
    double along = parts.length > 1 ? Typed.number(parts[1], 0.001, 1e6) : across;
    return before == null
        ? new CatcherTuning.Reach(null, across, along, 0, 0.3)
        : new CatcherTuning.Reach(before.centre(), across, along, before.turn(), before.soft());
  }

  private static CatcherTuning.@Nullable Place place(String text) {
    if (text.isBlank()) {
      return null;
    }
    String[] parts = text.trim().split("[ ,]+", -1);
    if (parts.length != 3) {
      throw new IllegalArgumentException("'%s': expected x y z in metres".formatted(text));
    }
    double[] out = new double[3];
    for (int i = 0; i < 3; i++) {
      out[i] = Typed.number(parts[i], -1e6, 1e6);
    }
    return new CatcherTuning.Place(out[0], out[1], out[2]);
  }

  private FlowPane lights(List<String> lamps) {
    List<String> chosen = now.tuning().lights();
    FlowPane out = line(DetailPanel.dim("shadows of lights"));
    CheckBox all = new CheckBox("all");
    all.setId("catcher-lights-all");
    all.setSelected(chosen.isEmpty());
    all.setDisable(chosen.isEmpty());
    all.setOnAction(e -> tuned("lights", at -> at.withLights(List.of())));
    out.getChildren().add(all);
    for (String lamp : lamps) {
      CheckBox box = new CheckBox(lamp);
      box.setId("catcher-lights-" + lamp);
      box.setSelected(chosen.contains(lamp));
      box.setOnAction(e -> {
        List<String> next = new ArrayList<>(chosen);
        next.remove(lamp);
        if (box.isSelected()) {
          next.add(lamp);
        }
        tuned("lights", at -> at.withLights(next));
      });
      out.getChildren().add(box);
    }
    return out;
  }
}
