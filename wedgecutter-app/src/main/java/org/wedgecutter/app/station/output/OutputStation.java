package org.wedgecutter.app.station.output;

import java.util.List;
import javafx.scene.Node;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.sheet.SheetRows;
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
    drawRange(pass != null && pass.pass() == Output.More.RAMP);
    if (pass != null) {
      panel.show(
          null,
          "Pass %s — whole shot".formatted(pass.title()),
          new PassPanel(bench, s.plan(), pass, lights(s)));
    } else if (layer == null || rows.property(row) == null) {
      panel.show(
          null, "Settings — whole shot", new ShotPanel(bench, s.plan(), bench.images()::ask));
    } else {
      String why = rows.describe(row, s.plan().layerIndex(layer.name()));
      panel.show(
          layer,
          "Settings of layer " + layer.name() + " — this layer only",
          new SettingPanel(bench, s.plan().requireShot(), layer, s.frame(), why));
    }
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
