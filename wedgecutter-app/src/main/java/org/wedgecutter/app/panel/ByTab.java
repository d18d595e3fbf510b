package org.wedgecutter.app.panel;

import javafx.scene.Node;
import javafx.scene.input.MouseEvent;

/**
 * Controls that Tab focuses but a click does not, so that keys right after a click still go to the
 * sheet.
 */
public final class ByTab {
  private ByTab() {}

  /** Makes a control one of those, and returns it. */
  public static <T extends Node> T only(T control) {
    control.addEventFilter(MouseEvent.MOUSE_PRESSED, e -> control.setFocusTraversable(false));
    control.addEventFilter(MouseEvent.MOUSE_RELEASED, e -> control.setFocusTraversable(true));
    return control;
  }
}
