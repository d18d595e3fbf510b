package org.wedgecutter.app.stations;

import java.util.function.BooleanSupplier;
import javafx.scene.control.TextInputControl;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.SheetView;

/** Keys that work wherever the keyboard is in the window, but for texts that are typed. */
final class WindowKeys {
  private final Bench bench;
  private final FileDesk files;
  private final ViewerPane viewer;
  private final Drawer drawer;
  private final SheetView sheet;
  private final Runnable planChanged;
  private final BooleanSupplier plate;

  WindowKeys(
      Bench bench,
      FileDesk files,
      ViewerPane viewer,
      Drawer drawer,
      SheetView sheet,
      Runnable planChanged,
      BooleanSupplier plate) {
    this.bench = bench;
    this.files = files;
    this.viewer = viewer;
    this.drawer = drawer;
    this.sheet = sheet;
    this.planChanged = planChanged;
    this.plate = plate;
  }

  private boolean typing() {
    return sheet.getScene().getFocusOwner() instanceof TextInputControl;
  }

  /** What was typed is taken back by the field, until it has nothing more to take back. */
  private boolean isOfText(boolean redo) {
    return sheet.getScene().getFocusOwner() instanceof TextInputControl text
        && (redo ? text.isRedoable() : text.isUndoable());
  }

  void pressed(KeyEvent e) {
    if (e.getCode() == KeyCode.ESCAPE && drawer.open()) {
      drawer.hide();
      sheet.requestFocus();
      e.consume();
      return;
    }
    if (e.isControlDown()) {
      control(e);
      return;
    }
    if (bench.session() == null || e.isAltDown() || typing()) {
      return;
    }
    switch (e.getCode()) {
      case DIGIT1 -> viewer.look(ViewerPane.Look.LAYER);
      case DIGIT2 -> viewer.look(ViewerPane.Look.UNCUT);
      case DIGIT3 -> viewer.look(ViewerPane.Look.REJOINED);
      case DIGIT4 -> viewer.look(ViewerPane.Look.RESIDUAL);
      case DIGIT5 -> {
        if (!plate.getAsBoolean()) {
          return;
        }
        viewer.look(ViewerPane.Look.PLATE);
      }
      case F -> viewer.flip();
      case W -> viewer.toggleWipe();
      default -> {
        return;
      }
    }
    e.consume();
  }

  private void control(KeyEvent e) {
    Session s = bench.session();
    switch (e.getCode()) {
      case O -> files.openAsk();
      case S -> {
        if (e.isShiftDown()) {
          files.saveAs();
        } else {
          files.save();
        }
      }
      case Z, Y -> {
        boolean redo = e.getCode() == KeyCode.Y || e.isShiftDown();
        if (s == null || isOfText(redo) || !(redo ? s.redo() : s.undo())) {
          return;
        }
        planChanged.run();
      }
      default -> {
        return;
      }
    }
    e.consume();
  }
}
