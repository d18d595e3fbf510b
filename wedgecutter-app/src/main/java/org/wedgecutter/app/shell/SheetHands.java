package org.wedgecutter.app.shell;

import java.util.ArrayList;
import java.util.List;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuItem;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.viewer.Look;
import org.wedgecutter.core.resolve.EntitySet;

/** Keys, menus, clicks and jumps: the ways between sheet, picture and findings. */
final class SheetHands {
  private final MainWindow window;

  SheetHands(MainWindow window) {
    this.window = window;
  }

  boolean key(KeyEvent e) {
    if (window.session() == null) {
      return false;
    }
    if (window.station().key(e)) {
      return true;
    }
    int column = window.sheet().column();
    if (e.getCode() == KeyCode.F2 && column >= 0) {
      window.layers().rename(column);
      return true;
    }
    if (e.isAltDown() && (e.getCode() == KeyCode.LEFT || e.getCode() == KeyCode.RIGHT)) {
      window.layers().move(column, e.getCode() == KeyCode.LEFT ? -1 : 1);
      return true;
    }
    return false;
  }

  void rowMenu(int row, double screenX, double screenY) {
    if (window.session() == null) {
      return;
    }
    List<MenuItem> items = new ArrayList<>(window.station().menu(row));
    List<MenuItem> ofLayer = window.layers().items(window.sheet().column());
    if (!ofLayer.isEmpty()) {
      Menu layer = new Menu("Layer " + window.layers().name(window.sheet().column()));
      layer.getItems().addAll(ofLayer);
      items.add(layer);
    }
    window.layers().show(items, screenX, screenY);
  }

  void jump(FindingsBar.Place place) {
    Session s = window.session();
    if (s == null) {
      return;
    }
    int column =
        place.layer().isEmpty() ? window.sheet().column() : s.plan().layerIndex(place.layer());
    if (!window.station().equals(window.home())) {
      window.goTo(window.home());
    }
    int row = window.home().rowOf(place.entity());
    if (row < 0 && !place.entities().isEmpty()) {
      row = window.home().reveal(s.shot().scene().entities().get(place.entities().getFirst()));
    }
    window.sheet().select(row < 0 ? window.sheet().row() : row, column, false);
    window.sheet().requestFocus();
    window.pictures().highlight(EntitySet.of(place.entities()));
    if (!place.layer().isEmpty()) {
      window.viewer().look(Look.LAYER);
    }
  }

  void picked(int x, int y) {
    Session s = window.session();
    Pictures p = window.pictures().latest();
    int index = p == null ? -1 : p.facts().entityAt(x, y);
    if (s == null || p == null || index < 0) {
      return;
    }
    int row = window.station().reveal(s.shot().scene().entities().get(index));
    if (row >= 0) {
      window.sheet().select(row, window.sheet().column(), false);
    }
    var shot = s.plan().requireShot();
    window.station().picked(s, x * shot.width() / p.width(), y * shot.height() / p.height());
  }
}
