package org.wedgecutter.app.station.cut;

import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Role;

/** What keys mean on the sheet of the Cut station. */
final class CutKeys {
  private final Workbench bench;
  private final SheetView sheet;
  private final CutRows rows;
  private final CellEdits cells;
  private final MemberPicks picks;
  private final CollectionActions collections;

  CutKeys(
      Workbench bench,
      CutRows rows,
      CellEdits cells,
      MemberPicks picks,
      CollectionActions collections) {
    this.bench = bench;
    this.rows = rows;
    this.cells = cells;
    this.picks = picks;
    this.collections = collections;
    sheet = bench.sheet();
  }

  /** Handles a key; returns whether it means anything here. */
  boolean pressed(KeyEvent e) {
    if (bench.session() == null) {
      return false;
    }
    if (e.isShortcutDown()) {
      return control(e.getCode());
    }
    if (e.isControlDown() || e.isMetaDown()) {
      // the other platform's modifier means nothing
      return false;
    }
    if (e.isAltDown()) {
      return alt(e.getCode());
    }
    if (e.getCode() == KeyCode.F2 && sheet.column() < 0) {
      collections.rename(sheet.row());
      return true;
    }
    return plain(e);
  }

  private boolean control(KeyCode code) {
    switch (code) {
      case C -> cells.copy();
      case X -> {
        cells.copy();
        cells.clear();
      }
      case V -> cells.paste();
      case D -> cells.fill(true);
      case R -> cells.fill(false);
      default -> {
        return false;
      }
    }
    return true;
  }

  private boolean alt(KeyCode code) {
    CollectionDef c = rows.collection(sheet.row());
    if (c == null || (code != KeyCode.UP && code != KeyCode.DOWN)) {
      return false;
    }
    picks.moveCollection(c.name(), code == KeyCode.UP ? -1 : 1);
    return true;
  }

  private boolean plain(KeyEvent e) {
    switch (e.getCode()) {
      case DELETE, BACK_SPACE -> cells.clear();
      case O -> cells.seenOnlyHere();
      case P -> picks.pickAbove();
      default -> {
        for (Role role : Role.values()) {
          if (e.getText().length() == 1
              && Character.toUpperCase(e.getText().charAt(0)) == role.key()) {
            cells.setRoles(role);
            return true;
          }
        }
        return false;
      }
    }
    return true;
  }
}
