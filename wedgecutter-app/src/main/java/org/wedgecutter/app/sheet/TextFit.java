package org.wedgecutter.app.sheet;

import java.util.LinkedHashMap;
import java.util.Map;
import javafx.scene.text.Font;
import javafx.scene.text.Text;

/** Shortens text to a width. */
public final class TextFit {
  private static final Text RULER = new Text();

  private TextFit() {}

  private static final int KEPT = 4000;
  private static final Map<Asked, String> FITTED =
      new LinkedHashMap<>(64, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Asked, String> eldest) {
          return size() > KEPT;
        }
      };

  /** What was asked for: measuring text takes longer than drawing it. */
  private record Asked(String text, Font font, int width) {}

  /** Returns the text, or its beginning and an ellipsis. For the interface thread. */
  public static String fit(String text, Font font, double width) {
    return FITTED.computeIfAbsent(
        new Asked(text, font, (int) width), a -> fitted(a.text, a.font, a.width));
  }

  private static String fitted(String text, Font font, double width) {
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
