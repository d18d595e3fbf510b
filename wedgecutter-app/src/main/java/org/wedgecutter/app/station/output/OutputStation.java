package org.wedgecutter.app.station.output;

import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.station.ShotForm;
import org.wedgecutter.app.station.Station;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Subjects;

/** The Output station: settings and passes as rows. */
public final class OutputStation implements Station {
  private final Workbench bench;
  private final OutputRows rows;
  private final DetailPanel panel = new DetailPanel();
  private boolean ranging;

  public OutputStation(Workbench bench) {
    this.bench = bench;
    rows = new OutputRows(bench::theme);
  }

  @Override
  public String id() {
    return "output";
  }

  @Override
  public String title() {
    return "Output";
  }

  @Override
  public SheetRows rows() {
    return rows;
  }

  @Override
  public Node below() {
    return panel;
  }

  @Override
  public void planChanged(Session s) {
    rows.update(s.plan(), s.frame());
  }

  @Override
  public void picturesComplete(Session s, Pictures pictures) {
    if (ranging) {
      bench.pictures().depthRange();
    }
  }

  @Override
  public void selected(Session s, int row, @Nullable LayerDef layer) {
    OutputRows.PassRow pass = rows.pass(row);
    OutputRows.CopyRow copy = rows.copy(row);
    drawRange(pass != null && pass.pass() == Output.More.RAMP);
    if (pass != null) {
      panel.show(
          null,
          "Pass %s — whole shot".formatted(pass.title()),
          new PassPanel(bench, s.plan(), pass, lights(s), layer));
    } else if (copy != null) {
      panel.show(null, "Copies: %s — whole shot".formatted(copy.title()), copyPanel(s, copy));
    } else if (rows.isFiles(row)) {
      panel.show(null, "Files — whole shot", new FilesPanel(bench, s));
    } else if (layer == null || rows.property(row) == null) {
      panel.show(null, "Settings — whole shot", new ShotForm(bench, s));
    } else {
      String why = rows.describe(row, s.plan().layerIndex(layer.name()));
      panel.show(
          layer,
          "Settings of layer " + layer.name() + " — this layer only",
          new SettingPanel(bench, s.plan().requireShot(), layer, s.frame(), why));
    }
  }

  private Node copyPanel(Session s, OutputRows.CopyRow copy) {
    CheckBox box = new CheckBox("also write this format");
    box.setId("copy-on");
    box.setSelected(s.plan().output().copies().contains(copy.copy()));
    box.setOnAction(e ->
        bench.edit(
            copy.title() + (box.isSelected() ? " on" : " off"),
            p -> p.withOutput(copy.with(p.output(), box.isSelected()))));
    return new VBox(6, box, DetailPanel.dim(about(copy.copy())));
  }

  private static String about(Output.Copy copy) {
    return switch (copy) {
      case PASSES -> "one OpenEXR file for each pass, with its channels alone";
      case FRAME -> "all layers of a frame as parts of one OpenEXR file";
      case TIFF32 -> "the beauty, scene-linear, as 32-bit floats";
      case HDR -> "the beauty's colours, scene-linear, without alpha";
      case TIFF16, PNG16, PNG8 ->
          "the beauty as a screen shows it: sRGB, clipped at 1; not for compositing";
    };
  }

  @Override
  public Node above() {
    HBox out = new HBox(6, DetailPanel.dim("passes for"));
    out.getStyleClass().add("cut-bar");
    for (OutputPreset preset : OutputPreset.values()) {
      Button button = new Button(preset.title());
      button.setId("preset-" + preset.name().toLowerCase(Locale.ROOT));
      button.setTooltip(new Tooltip(preset.about()));
      button.setOnAction(e ->
          bench.edit("passes for " + preset.title(), p -> p.withOutput(preset.of(p.output()))));
      out.getChildren().add(button);
    }
    return out;
  }

  /** Space writes a pass with the selected layers, or leaves it out. */
  @Override
  public boolean key(KeyEvent e) {
    Session s = bench.session();
    OutputRows.PassRow pass = rows.pass(bench.sheet().row());
    int column = bench.sheet().column();
    if (e.getCode() != KeyCode.SPACE
        || s == null
        || pass == null
        || column < 0
        || column >= s.plan().layers().size()) {
      return false;
    }
    List<String> all = s.plan().layers().stream().map(LayerDef::name).toList();
    Set<String> chosen = new TreeSet<>();
    bench
        .sheet()
        .selection()
        .forEach((row, c) -> {
          if (c >= 0 && c < all.size()) {
            chosen.add(all.get(c));
          }
        });
    boolean on = !pass.on(s.plan().output(), all.get(column));
    bench.edit(
        pass.title() + (on ? " on in " : " off in ") + String.join(", ", chosen),
        p -> p.withOutput(pass.with(p.output(), List.copyOf(chosen), all, on)));
    return true;
  }

  /** The ends of the depth ramp are hatched while its row is selected. */
  private void drawRange(boolean draw) {
    if (draw) {
      bench.pictures().depthRange();
    } else if (ranging) {
      bench.pictures().highlight(EntitySet.NONE);
    }
    ranging = draw;
  }

  private static List<String> lights(Session s) {
    EntitySet emitters = Subjects.emitters(s.plan().requireShot(), s.shot().scene());
    return s.plan().collections().stream()
        .filter(c -> s.shot().members().of(c).meets(emitters))
        .map(CollectionDef::name)
        .toList();
  }
}
