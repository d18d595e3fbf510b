package org.wedgecutter.app.station.render;

import java.util.List;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.core.render.RenderedFrame;

/**
 * Fills the frame board: a row for each frame, and in the headers the render time of each layer.
 */
record RenderBoard(RenderRows rows, Workbench bench) implements RenderPanel.Board {
  @Override
  public void begins(List<Integer> frames) {
    rows.setFrames(frames);
    bench.sheet().refresh();
  }

  @Override
  public void at(int frame, double share, boolean failed, double took) {
    rows.setState(frame, new RenderRows.State(share, failed, took));
    bench.sheet().refresh();
  }

  @Override
  public void ends(List<RenderedFrame.ClassTime> classes, int frames) {
    Session s = bench.session();
    bench.headers().times(classes, frames);
    if (s != null) {
      bench.headers().show(s.plan());
    }
  }
}
