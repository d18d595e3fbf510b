package org.wedgecutter.app.stations;

import java.util.List;
import java.util.function.BooleanSupplier;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.CutRows;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.viewer.PictureCanvas;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.resolve.EntitySet;

/** A thing that is dragged from the picture to a row of the sheet. */
final class PictureDrag implements PictureCanvas.DragOut {
  private final Bench bench;
  private final SheetView sheet;
  private final CutRows cutRows;
  private final SheetEdits edits;
  private final PicturePipe pipe;
  private final BooleanSupplier cutting;
  private int carried = -1;

  PictureDrag(
      Bench bench,
      SheetView sheet,
      CutRows cutRows,
      SheetEdits edits,
      PicturePipe pipe,
      BooleanSupplier cutting) {
    this.bench = bench;
    this.sheet = sheet;
    this.cutRows = cutRows;
    this.edits = edits;
    this.pipe = pipe;
    this.cutting = cutting;
  }

  @Override
  public boolean begins(int x, int y) {
    Pictures p = pipe.latest();
    Session s = bench.session();
    if (p == null || s == null || !cutting.getAsBoolean()) {
      return false;
    }
    var shot = s.plan().requireShot();
    carried =
        p.entityAt(x * p.uncut().width() / shot.width(), y * p.uncut().height() / shot.height());
    return carried >= 0;
  }

  private int sign(double sceneX, double sceneY) {
    Session s = bench.session();
    var at = sheet.sceneToLocal(sceneX, sceneY);
    boolean over = s != null && sheet.contains(at);
    return sheet.dropSign(
        over ? at.getY() : -1, s == null ? "" : s.shot().scene().entities().get(carried).path());
  }

  @Override
  public void moved(double sceneX, double sceneY) {
    sign(sceneX, sceneY);
  }

  @Override
  public void dropped(double sceneX, double sceneY) {
    int row = sign(sceneX, sceneY);
    sheet.dropSign(-1, "");
    CollectionDef to = cutRows.collection(row);
    if (row >= 0 && to != null) {
      edits.pick(to.name(), EntitySet.of(List.of(carried)));
    }
  }
}
