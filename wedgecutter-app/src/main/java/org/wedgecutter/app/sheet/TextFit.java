package org.wedgecutter.app.sheet;

import java.util.LinkedHashMap;
import java.util.Map;
import javafx.scene.text.Font;
import javafx.scene.text.Text;

/** Shortens texts to a width, and remembers them: measuring a text takes longer than drawing it. */
public final class TextFit {
  private final Text ruler = new Text();
  private static final int KEPT = 4000;
  private final Map<Asked, String> fitted =
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
  public String fit(String text, Font font, double width) {
    return fitted.computeIfAbsent(
        new Asked(text, font, (int) width), a -> fitted(a.text, a.font, a.width));
  }

  private String fitted(String text, Font font, double width) {
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

  private double width(String text, Font font) {
    ruler.setFont(font);
    ruler.setText(text);
    return ruler.getLayoutBounds().getWidth();
  }
}
