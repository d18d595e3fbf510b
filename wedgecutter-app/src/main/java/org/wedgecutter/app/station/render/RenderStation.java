package org.wedgecutter.app.station.render;

import java.util.List;
import javafx.scene.Node;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.station.Station;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.resolve.HeldFrames;

/** The Render station: frames as rows, and the delivery that fills them. */
public final class RenderStation implements Station {
  private final Workbench bench;
  private final RenderRows rows;
  private final RenderPanel panel;

  public RenderStation(Workbench bench) {
    this.bench = bench;
    rows = new RenderRows(bench::theme);
    panel = new RenderPanel(new RenderBoard(rows, bench));
  }

  @Override
  public String id() {
    return "render";
  }

  @Override
  public String title() {
    return "Render";
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
  public void held(HeldFrames frames) {
    rows.setHeld(frames);
  }

  @Override
  public void planChanged(Session s) {
    List<LayerDef> layers = s.plan().layers();
    rows.setLayers(
        layers.stream().map(LayerDef::render).toList(),
        layers.stream().map(LayerDef::hue).toList());
    panel.setShot(s.shot());
  }

  @Override
  public void solo(String layer) {
    panel.setSolo(layer);
  }

  @Override
  public void shown() {
    if (!panel.busy()) {
      rows.setFrames(panel.frames());
      bench.sheet().refresh();
    }
  }

  @Override
  public void selected(Session s, int row, @Nullable LayerDef layer) {
    // the panel is about the whole delivery
  }

  @Override
  public String atWork() {
    return panel.busy() ? "A delivery is being rendered; closing stops it." : "";
  }

  @Override
  public void close() {
    panel.stop();
  }
}
