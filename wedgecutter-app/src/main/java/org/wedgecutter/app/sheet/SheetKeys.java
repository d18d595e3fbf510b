package org.wedgecutter.app.sheet;

import javafx.scene.input.KeyEvent;

/** What keys do on the sheet at every station; others are handed on. */
final class SheetKeys {
  private final SheetView sheet;

  SheetKeys(SheetView sheet) {
    this.sheet = sheet;
  }

  void pressed(KeyEvent e) {
    boolean modified = e.isShortcutDown() || e.isControlDown() || e.isAltDown() || e.isMetaDown();
    if ((!modified && (moves(e) || opens(e))) || sheet.handOn(e)) {
      e.consume();
    }
  }

  private boolean moves(KeyEvent e) {
    int row = sheet.row();
    int column = sheet.column();
    boolean extend = e.isShiftDown();
    switch (e.getCode()) {
      case UP -> sheet.select(row - 1, column, extend);
      case DOWN -> sheet.select(row + 1, column, extend);
      case LEFT -> sheet.select(row, column - 1, extend);
      case RIGHT -> sheet.select(row, column + 1, extend);
      case PAGE_UP -> sheet.select(row - sheet.pageRows(), column, extend);
      case PAGE_DOWN -> sheet.select(row + sheet.pageRows(), column, extend);
      case HOME -> sheet.select(row, 0, extend);
      case END -> sheet.select(row, sheet.lastColumn(), extend);
      default -> {
        return false;
      }
    }
    return true;
  }

  private boolean opens(KeyEvent e) {
    HeaderActions header = sheet.headerActions();
    switch (e.getCode()) {
      case ENTER -> sheet.toggleRow();
      case CONTEXT_MENU -> sheet.openMenu();
      case F10 -> {
        if (!e.isShiftDown()) {
          return false;
        }
        sheet.openMenu();
      }
      case J, R -> {
        if (header == null) {
          return false;
        }
        if (e.getCode() == javafx.scene.input.KeyCode.J) {
          header.joins(sheet.column());
        } else {
          header.toggleRender(sheet.column());
        }
      }
      default -> {
        return false;
      }
    }
    return true;
  }
}
