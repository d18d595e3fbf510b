package org.wedgecutter.app.station.shot;

import java.util.List;
import javafx.scene.Node;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.station.Station;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.scene.Entity;

/** The Shot station: the hierarchy as rows, with motion, coverage and interplay. */
public final class ShotStation implements Station {
  private final Workbench bench;
  private final ShotRows rows;
  private final DetailPanel panel = new DetailPanel();

  public ShotStation(Workbench bench) {
    this.bench = bench;
    rows = new ShotRows(bench::theme);
  }

  @Override
  public String id() {
    return "shot";
  }

  @Override
  public String title() {
    return "Shot";
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
  public void opened(Session s) {
    rows.setScene(s.shot().scene(), s.motion().byEntity());
  }

  @Override
  public void planChanged(Session s) {
    update(s, bench.pictures().latest());
  }

  @Override
  public void picturesComplete(Session s, Pictures pictures) {
    if (pictures.plan().layers().size() == s.resolved().layers().size()) {
      update(s, pictures);
    }
  }

  private void update(Session s, @Nullable Pictures p) {
    List<Integer> hues = s.plan().layers().stream().map(LayerDef::hue).toList();
    rows.update(
        s.resolved(),
        hues,
        p == null ? new double[0] : p.coverage(),
        p == null ? InterplayTable.NONE : p.interplay());
  }

  @Override
  public void selected(Session s, int row, @Nullable LayerDef layer) {
    panel.showText(rows.describe(row, layer == null ? -1 : s.plan().layerIndex(layer.name())));
  }

  @Override
  public int reveal(Entity entity) {
    int row = rows.reveal(entity);
    bench.sheet().refresh();
    return row;
  }
}
