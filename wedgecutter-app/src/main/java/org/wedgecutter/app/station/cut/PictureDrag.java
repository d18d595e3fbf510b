package org.wedgecutter.app.station.cut;

import java.util.List;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.app.viewer.PictureCanvas;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.resolve.EntitySet;

/** An object dragged from the picture onto a row of the sheet. */
final class PictureDrag implements PictureCanvas.DragOut {
  private final Workbench bench;
  private final SheetView sheet;
  private final CutRows rows;
  private final MemberPicks picks;
  private int carried = -1;

  PictureDrag(Workbench bench, CutRows rows, MemberPicks picks) {
    this.bench = bench;
    this.rows = rows;
    this.picks = picks;
    sheet = bench.sheet();
  }

  @Override
  public boolean begins(int x, int y) {
    Pictures p = bench.pictures().latest();
    Session s = bench.session();
    if (p == null || s == null) {
      return false;
    }
    var shot = s.plan().requireShot();
    carried = p.facts().entityAt(x * p.width() / shot.width(), y * p.height() / shot.height());
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
    CollectionDef to = rows.collection(row);
    if (row >= 0 && to != null) {
      picks.pick(to.name(), EntitySet.of(List.of(carried)));
    }
  }
}
