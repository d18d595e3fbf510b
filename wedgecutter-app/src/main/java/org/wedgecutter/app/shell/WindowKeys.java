package org.wedgecutter.app.shell;

import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import javafx.scene.Scene;
import javafx.scene.control.TextInputControl;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import org.wedgecutter.app.viewer.Look;
import org.wedgecutter.app.viewer.ViewerPane;

/**
 * Keys without a modifier that work wherever the focus is, except while text is typed; Escape; and
 * undo in text fields that have nothing of their own to undo. All other shortcuts belong to menus.
 */
final class WindowKeys {
  private final Scene scene;
  private final ViewerPane viewer;
  private final BooleanSupplier open;
  private final BooleanSupplier escape;
  private final Runnable undo;
  private final Runnable redo;

  /** Goes to the next frame that matters, or to the one before. */
  private final Consumer<Boolean> step;

  private final Runnable play;

  /**
   * @param open whether a shot is open
   * @param play begins or ends playback
   * @param escape closes what Escape closes; returns whether there was anything
   */
  WindowKeys(
      Scene scene,
      ViewerPane viewer,
      BooleanSupplier open,
      BooleanSupplier escape,
      Runnable undo,
      Runnable redo,
      Consumer<Boolean> step,
      Runnable play) {
    this.scene = scene;
    this.viewer = viewer;
    this.open = open;
    this.escape = escape;
    this.undo = undo;
    this.redo = redo;
    this.step = step;
    this.play = play;
  }

  void pressed(KeyEvent e) {
    if (e.getCode() == KeyCode.ESCAPE) {
      if (!typingName() && escape.getAsBoolean()) {
        e.consume();
      }
      return;
    }
    if (e.isShortcutDown()) {
      undoFromField(e);
      return;
    }
    if (!open.getAsBoolean() || e.isAltDown() || typing()) {
      return;
    }
    switch (e.getCode()) {
      case DIGIT1, DIGIT2, DIGIT3, DIGIT4, DIGIT5, DIGIT6, DIGIT7 -> {
        Look look = Look.values()[e.getCode().ordinal() - KeyCode.DIGIT1.ordinal()];
        if (!viewer.offers(look)) {
          return;
        }
        viewer.look(look);
      }
      case F -> viewer.flip();
      case W -> viewer.toggleWipe();
      case PERIOD -> step.accept(true);
      case COMMA -> step.accept(false);
      case L -> play.run();
      default -> {
        return;
      }
    }
    e.consume();
  }

  private boolean typing() {
    return scene.getFocusOwner() instanceof TextInputControl;
  }

  private boolean typingName() {
    return scene.getFocusOwner() != null && "name-editor".equals(scene.getFocusOwner().getId());
  }

  /** A text field takes Ctrl+Z for itself; once it has nothing to undo, the plan is meant. */
  private void undoFromField(KeyEvent e) {
    boolean again = e.getCode() == KeyCode.Y || (e.getCode() == KeyCode.Z && e.isShiftDown());
    boolean back = e.getCode() == KeyCode.Z && !e.isShiftDown();
    if (e.getCode() == KeyCode.Y && !typing()) {
      redo.run();
      e.consume();
    } else if (scene.getFocusOwner() instanceof TextInputControl text) {
      if (again && !text.isRedoable()) {
        redo.run();
        e.consume();
      } else if (back && !text.isUndoable()) {
        undo.run();
        e.consume();
      }
    }
  }
}
