package org.wedgecutter.app.panel;

import javafx.scene.control.Button;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.Region;

/** Buttons of the bars above the sheet, whose text is never cut. */
public final class BarButton {
  private BarButton() {}

  /** Returns a button that does something at once, or opens a choice of more. */
  public static Button of(String id, String text, String hint, Runnable action) {
    Button out = new Button(text);
    out.setId(id);
    out.setMinWidth(Region.USE_PREF_SIZE);
    out.setTooltip(new Tooltip(hint));
    out.setOnAction(e -> action.run());
    return out;
  }
}
