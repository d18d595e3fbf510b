package org.wedgecutter.app.stations;

import java.util.List;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.sheet.RenderRows;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.render.RenderedFrame;

/**
 * Fills the board of the Render station: a cell for each frame, and what each layer took.
 *
 * @param plan the plan under edit, or null
 */
record RenderBoard(RenderRows rows, SheetView sheet, Headers headers, Supplier<@Nullable Plan> plan)
    implements RenderPanel.Board {
  @Override
  public void begins(List<Integer> frames) {
    rows.setFrames(frames);
    sheet.refresh();
  }

  @Override
  public void at(int frame, double share, boolean failed, double took) {
    rows.setState(frame, new RenderRows.State(share, failed, took));
    sheet.refresh();
  }

  @Override
  public void ends(List<RenderedFrame.ClassTime> classes, int frames) {
    Plan now = plan.get();
    headers.times(classes, frames);
    if (now != null) {
      headers.show(now);
    }
  }
}
