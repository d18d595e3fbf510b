package org.wedgecutter.app.station.output;

import java.util.ArrayList;
import java.util.List;
import javafx.geometry.Pos;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;

/** A pass: whether it is written with every layer, and its settings. */
public final class PassPanel extends VBox {
  private final Editor editor;
  private final Label trouble = Entry.trouble("pass-trouble");

  /**
   * @param lamps names of the collections that hold emitters
   * @param layer the layer under the cursor, in which it can be left out; or null
   */
  public PassPanel(
      Editor editor,
      Plan plan,
      OutputRows.PassRow row,
      List<String> lamps,
      @Nullable LayerDef layer) {
    super(6);
    this.editor = editor;
    Output output = plan.output();
    List<String> all = plan.layers().stream().map(LayerDef::name).toList();
    CheckBox box = new CheckBox("written with every layer");
    box.setId("pass-on");
    box.setSelected(all.isEmpty() ? row.on(output) : all.stream().allMatch(l -> row.on(output, l)));
    box.setOnAction(e ->
        editor.edit(
            row.title() + (box.isSelected() ? " on" : " off"),
            p ->
                p.withOutput(
                    box.isSelected()
                        ? row.with(p.output(), all, all, true)
                        : row.with(p.output(), false))));
    getChildren().add(box);
    if (layer != null) {
      String name = layer.name();
      CheckBox own = new CheckBox("written with layer " + name);
      own.setId("pass-on-layer");
      own.setSelected(row.on(output, name));
      own.setOnAction(e ->
          editor.edit(
              row.title() + (own.isSelected() ? " on in " : " off in ") + name,
              p -> p.withOutput(row.with(p.output(), List.of(name), all, own.isSelected()))));
      getChildren().add(own);
    }
    Output.More pass = row.pass();
    if (pass == Output.More.OCCLUSION) {
      getChildren()
          .add(
              Entry.named(
                  "ambient occlusion distance (m)",
                  Entry.number(
                      "pass-occlusion",
                      output.occlusion(),
                      0.001,
                      1e6,
                      "distance up to which geometry occludes",
                      trouble,
                      x ->
                          editor.edit(
                              "ambient occlusion distance",
                              p -> p.withOutput(p.output().withOcclusion(x))))));
    } else if (pass == Output.More.RAMP) {
      getChildren().add(ramp(output));
    } else if (pass == Output.More.LIGHTS) {
      getChildren().add(groups(output, lamps));
    }
    if (pass != null && pass.canBeLimited()) {
      getChildren().add(limit(plan, pass));
    }
    getChildren().addAll(trouble, DetailPanel.dim(about(pass)));
  }

  /** Whose light or data is in a pass, and by how many bits. */
  private FlowPane limit(Plan plan, Output.More pass) {
    Output output = plan.output();
    ChoiceBox<String> only = new ChoiceBox<>();
    only.setId("pass-limit");
    only.getItems().add("");
    plan.collections().forEach(c -> only.getItems().add(c.name()));
    only.setConverter(Words.of(name -> name.isEmpty() ? "all objects" : name));
    only.setValue(output.limits().getOrDefault(pass.word(), ""));
    only.setOnAction(e ->
        editor.edit(
            "objects in " + pass.word(),
            p -> p.withOutput(p.output().withLimit(pass, only.getValue()))));
    FlowPane out = new FlowPane(14, 4, Entry.named("objects", only));
    out.setAlignment(Pos.CENTER_LEFT);
    if (output.half() && pass != Output.More.IDS && pass != Output.More.DEPTH) {
      CheckBox exact = new CheckBox("32-bit floats");
      exact.setId("pass-float");
      exact.setSelected(output.floats().contains(pass.word()));
      exact.setOnAction(e ->
          editor.edit(
              pass.word() + (exact.isSelected() ? " in 32 bits" : " in 16 bits"),
              p -> p.withOutput(p.output().withFloats(pass.word(), exact.isSelected()))));
      out.getChildren().add(exact);
    }
    return out;
  }

  private FlowPane ramp(Output output) {
    FlowPane out =
        new FlowPane(
            14,
            4,
            Entry.named(
                "depth near (m)",
                Entry.number(
                    "pass-near",
                    output.near(),
                    0,
                    1e6,
                    "distance at which the depth ramp is 0",
                    trouble,
                    x ->
                        editor.edit(
                            "depth near",
                            p -> p.withOutput(p.output().withRange(x, p.output().far()))))),
            Entry.named(
                "depth far (m)",
                Entry.number(
                    "pass-far",
                    output.far(),
                    0.001,
                    1e6,
                    "distance at which the depth ramp is 1",
                    trouble,
                    x ->
                        editor.edit(
                            "depth far",
                            p -> p.withOutput(p.output().withRange(p.output().near(), x))))));
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }

  private FlowPane groups(Output output, List<String> lamps) {
    FlowPane out = new FlowPane(14, 4, DetailPanel.dim("light groups"));
    out.setAlignment(Pos.CENTER_LEFT);
    if (lamps.isEmpty()) {
      out.getChildren().add(DetailPanel.dim("none: no collection contains lights"));
    }
    for (String lamp : lamps) {
      CheckBox box = new CheckBox(lamp);
      box.setId("light-group-" + lamp);
      box.setSelected(output.lightGroups().contains(lamp));
      box.setOnAction(e ->
          editor.edit(
              "light group " + lamp,
              p -> {
                List<String> next = new ArrayList<>(p.output().lightGroups());
                next.remove(lamp);
                if (box.isSelected()) {
                  next.add(lamp);
                }
                return p.withOutput(p.output().withLightGroups(next));
              }));
      out.getChildren().add(box);
    }
    return out;
  }

  private static String about(Output.@Nullable More pass) {
    if (pass == null) {
      return "diffuse, specular and transmission, each direct and indirect, emission and medium;"
          + " they add up to the beauty";
    }
    return switch (pass) {
      case LIGHTS -> "one per light or light group; they add up to the beauty";
      case UNSHADOWED -> "direct diffuse light without shadows";
      case SHADOW -> "direct diffuse with shadows ÷ without";
      case ENVIRONMENT -> "direct diffuse light of the environment: a part of diffuse.direct";
      case OCCLUSION -> "ambient occlusion, 0 (closed) to 1 (open)";
      case ALBEDO -> "base colour";
      case DEPTH -> "distance along the camera axis (m), unfiltered";
      case RAMP -> "depth from near (0) to far (1)";
      case NORMAL -> "shading normals in world space, unfiltered";
      case POSITION -> "positions in world space (m), unfiltered";
      case UV -> "texture coordinates, unfiltered";
      case MOTION -> "motion in pixels, to the next frame and from the previous one";
      case IDS -> "ID mattes (Cryptomatte) by object, material and collection";
      case DEEP -> "a deep file beside it: colour and alpha by depth (m), without the noise filter";
    };
  }
}
