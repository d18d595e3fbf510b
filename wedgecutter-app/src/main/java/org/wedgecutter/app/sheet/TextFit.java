package org.wedgecutter.app.sheet;

import javafx.scene.text.Font;
import javafx.scene.text.Text;

/** Shortens text to a width. */
public final class TextFit {
  private static final Text RULER = new Text();

  private TextFit() {}

  /** Returns the text, or its beginning and an ellipsis. For the interface thread. */
  public static String fit(String text, Font font, double width) {
    if (width(text, font) <= width) {
      return text;
    }
    int low = 0;
    int high = text.length();
    while (low < high) {
      int middle = (low + high + 1) / 2;
      if (width(text.substring(0, middle) + "…", font) <= width) {
        low = middle;
      } else {
        high = middle - 1;
      }
    }
    return low == 0 ? "" : text.substring(0, low) + "…";
  }

  private static double width(String text, Font font) {
    RULER.setFont(font);
    RULER.setText(text);
    return RULER.getLayoutBounds().getWidth();
  }
}
