package org.wedgecutter.app.typing;

import javafx.scene.Node;
import javafx.scene.Scene;
import javafx.scene.control.TextField;

/**
 * Text that is typed and not applied yet. What saves, opens, closes or goes elsewhere applies it
 * first, as Enter would, so that it is not lost.
 */
public final class HalfTyped {
  private static final Object KEY = new Object();

  private HalfTyped() {}

  /**
   * Applies the text of a field by Enter and where {@link #apply} is asked for.
   *
   * @param take applies the text as it is then, if it is not applied already
   */
  public static void by(TextField field, Runnable take) {
    field.setOnAction(e -> take.run());
    field.getProperties().put(KEY, take);
  }

  /** Applies what is typed in the field that has the focus. */
  public static void apply(Scene scene) {
    Node owner = scene.getFocusOwner();
    if (owner != null && owner.getProperties().get(KEY) instanceof Runnable take) {
      take.run();
    }
  }
}
