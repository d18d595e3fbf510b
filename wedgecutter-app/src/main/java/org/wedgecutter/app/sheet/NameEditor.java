package org.wedgecutter.app.sheet;

import java.util.function.Consumer;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import org.wedgecutter.app.typing.HalfTyped;

/**
 * A field laid over a name in the sheet while it is edited. Enter, Tab and losing the focus apply
 * the name; Escape keeps the old one.
 */
final class NameEditor extends TextField {
  private final Consumer<String> take;
  private final Runnable closed;
  private boolean done;

  /**
   * @param take is given the new name, if it is not blank and not the old one
   * @param after is run after Enter or Tab applied the name
   * @param closed is run when the field closes, in whatever way
   */
  NameEditor(String name, Consumer<String> take, Runnable after, Runnable closed) {
    super(name);
    this.take = take;
    this.closed = closed;
    setId("name-editor");
    setAccessibleText("name");
    getStyleClass().add("name-editor");
    addEventFilter(
        KeyEvent.KEY_PRESSED,
        e -> {
          if (e.getCode() == KeyCode.ESCAPE) {
            e.consume();
            finish(false);
          } else if (e.getCode() == KeyCode.ENTER || e.getCode() == KeyCode.TAB) {
            e.consume();
            finish(true);
            after.run();
          }
        });
    HalfTyped.by(this, () -> finish(true));
    focusedProperty()
        .addListener((o, was, is) -> {
          if (!is) {
            finish(true);
          }
        });
  }

  private void finish(boolean takeOver) {
    if (done) {
      return;
    }
    done = true;
    closed.run();
    String name = getText().strip();
    if (takeOver && !name.isEmpty()) {
      take.accept(name);
    }
  }
}
