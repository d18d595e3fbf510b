package org.wedgecutter.app.station.rejoin;

import java.util.List;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ColorPicker;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import javafx.scene.paint.Color;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Typed;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.RecipeEdits;

/** Levels and tints of passes of light: of one layer, or of all of them alike. */
final class MixerPanel extends VBox {
  private static final double GAMMA = 2.2;

  private final Editor editor;
  private final Plan plan;
  private final int frame;
  private final List<String> layers;
  private final Consumer<Boolean> hold;
  private final Label trouble = Entry.trouble("mixer-trouble");

  /**
   * @param frame the current one, at which levels with keys are shown and changed
   * @param passes titles of the passes that are mixed, a line each
   * @param layers the layers whose passes are mixed
   * @param write writes the levels back into the plan
   * @param hold receives true when a drag of a level begins, false when it ends
   */
  MixerPanel(
      Editor editor,
      Plan plan,
      int frame,
      List<String> passes,
      List<String> layers,
      Runnable write,
      Consumer<Boolean> hold) {
    super(4);
    this.editor = editor;
    this.plan = plan;
    this.frame = frame;
    this.layers = layers;
    this.hold = hold;
    passes.forEach(p -> getChildren().add(line(p)));
    boolean lights = passes.stream().allMatch(p -> p.startsWith("light."));
    if (lights) {
      Button back = new Button("Apply these levels to the lights");
      back.setId("mixer-write");
      back.setOnAction(e -> write.run());
      back.setDisable(
          plan.recipe().corrections().stream().noneMatch(c -> c.pass().startsWith("light.")));
      getChildren().add(back);
    }
    getChildren()
        .addAll(
            trouble,
            DetailPanel.note(
                lights
                    ? "light of each group times its level and tint; written back, the lights"
                        + " themselves have them in these layers, which are rendered again"
                    : "each component of the beauty times its level and tint"));
  }

  /** The first layer's correction of a type, or one that changes nothing. */
  private Correction current(String pass, Correction.Type type, Double... usual) {
    for (Correction c : plan.recipe().corrections()) {
      if (c.pass().equals(pass)
          && c.type() == type
          && c.matte().isEmpty()
          && layers.contains(c.layer())) {
        return c.at(frame);
      }
    }
    return Correction.of(layers.getFirst(), pass, type, usual).switched(true);
  }

  private Node line(String pass) {
    String title = pass.startsWith("light.") ? pass.substring(6) : pass;
    double level = current(pass, Correction.Type.EXPOSURE, 0.0).values().getFirst();
    List<Double> tint = current(pass, Correction.Type.GAIN, 1.0, 1.0, 1.0).values();
    boolean on =
        plan.recipe().corrections().stream()
            .filter(c -> c.pass().equals(pass) && layers.contains(c.layer()))
            .allMatch(Correction::on);
    CheckBox box = new CheckBox(title);
    box.setId("mixer-on-" + title);
    box.setMinWidth(110);
    box.setSelected(on);
    box.setOnAction(e ->
        edit(
            title + (box.isSelected() ? " on" : " off"), p -> switched(p, pass, box.isSelected())));
    Entry entry =
        Entry.number(
            "mixer-level-" + title,
            level,
            -20,
            20,
            "level of " + title + " in EV",
            trouble,
            v -> edit("level of " + title, p -> set(p, pass, Correction.Type.EXPOSURE, v)));
    ColorPicker colour = new ColorPicker(colour(tint));
    colour.setId("mixer-tint-" + title);
    colour.setAccessibleText("tint of " + title);
    colour.getStyleClass().add("button");
    colour.setStyle("-fx-color-label-visible: false;");
    colour.setOnAction(e -> edit("tint of " + title, p -> tinted(p, pass, colour.getValue())));
    FlowPane out =
        new FlowPane(
            10,
            3,
            box,
            Adjuster.slider(
                "mixer-slider-" + title,
                "level of " + title,
                -6,
                6,
                level,
                hold,
                (gesture, v) -> {
                  double next = Math.round(v * 100) / 100.0;
                  entry.follow(Typed.text(next));
                  editor.adjust(
                      "level of " + title,
                      gesture,
                      p -> written(set(p, pass, Correction.Type.EXPOSURE, next), pass));
                }),
            Entry.named("EV", entry),
            colour);
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }

  private void edit(String title, UnaryOperator<Plan> change) {
    editor.edit(title, change);
  }

  private Plan set(Plan p, String pass, Correction.Type type, Double... values) {
    Plan next = p;
    for (String layer : layers) {
      next = RecipeEdits.set(next, Correction.of(layer, pass, type, values), frame);
    }
    return written(next, pass);
  }

  /** The passes by light are written with the layers. */
  private Plan written(Plan p, String pass) {
    return pass.startsWith("light.")
        ? RecipeEdits.written(p, layers, Set.of(Output.More.LIGHTS))
        : p.output().passes() ? p : p.withOutput(p.output().withPasses(true));
  }

  private Plan tinted(Plan p, String pass, Color c) {
    return set(
        p,
        pass,
        Correction.Type.GAIN,
        linear(c.getRed()),
        linear(c.getGreen()),
        linear(c.getBlue()));
  }

  private static double linear(double shown) {
    return Math.round(1000 * Math.pow(shown, GAMMA)) / 1000.0;
  }

  private static Color colour(List<Double> tint) {
    double most = Math.max(1, tint.stream().mapToDouble(v -> v).max().orElse(1));
    double[] c =
        tint.stream().mapToDouble(v -> Math.pow(Math.max(0, v) / most, 1 / GAMMA)).toArray();
    return Color.color(c[0], c[1], c[2]);
  }

  private Plan switched(Plan p, String pass, boolean on) {
    Plan next = p;
    boolean any = false;
    for (int k = 0; k < p.recipe().corrections().size(); k++) {
      Correction c = p.recipe().corrections().get(k);
      if (c.pass().equals(pass) && layers.contains(c.layer())) {
        any = true;
        next = RecipeEdits.replace(next, k, c.switched(on));
      }
    }
    // a light that nothing is done to yet is switched off by a gain of nothing
    return any || on ? next : set(p, pass, Correction.Type.GAIN, 0.0, 0.0, 0.0);
  }

  /** Returns the names of the layers that are joined. */
  static List<String> joined(Plan plan) {
    return plan.layers().stream()
        .map(LayerDef::name)
        .filter(l -> plan.join(l).isPresent())
        .toList();
  }
}
