package org.wedgecutter.app.sheet;

import java.util.List;
import javafx.geometry.VPos;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.text.Font;
import javafx.scene.text.TextAlignment;
import org.wedgecutter.app.theme.Theme;

/** Draws the sheet: only what is visible, so that its size does not matter. */
final class SheetPainter {
  private final TextFit texts = new TextFit();
  private Look look = Look.NONE;
  private Theme theme = Theme.DARK;
  private List<Row> rows = List.of();
  private List<Column> columns = List.of();
  private SheetRows source = Look.NONE.source;

  /**
   * Everything that the drawing of the sheet depends on.
   *
   * @param solo name of the layer that is solo, or empty
   * @param drop row that something is being dragged to; -1 if nothing is
   * @param between whether it would be dropped above that row instead of into it
   * @param dragged what is being dragged
   */
  record Look(
      Theme theme,
      List<Row> rows,
      List<Column> columns,
      SheetRows source,
      SheetGeometry geometry,
      SheetSelection selection,
      boolean focused,
      String solo,
      int drop,
      boolean between,
      String dragged) {
    static final Look NONE =
        new Look(
            Theme.DARK,
            List.of(),
            List.of(),
            SheetRows.NONE,
            new SheetGeometry(1, 1, 0, 0, 0, 0),
            new SheetSelection(),
            false,
            "",
            -1,
            false,
            "");

    boolean selected(int r, int c) {
      return selection.contains(r, c);
    }

    int row() {
      return selection.row();
    }

    int column() {
      return selection.column();
    }

    double down() {
      return geometry.down();
    }

    double across() {
      return geometry.across();
    }
  }

  /** Draws the sheet as it is now. */
  void paint(GraphicsContext g, Look look) {
    this.look = look;
    theme = look.theme;
    rows = look.rows;
    columns = look.columns;
    source = look.source;
    double width = look.geometry.width();
    double height = look.geometry.height();
    g.setFill(theme.panel);
    g.fillRect(0, 0, width, height);
    g.setTextBaseline(VPos.CENTER);
    double w = look.geometry.columnWidth();
    int first = (int) Math.floor(look.down());
    g.save();
    g.beginPath();
    g.rect(0, SheetGeometry.HEAD, width, Math.max(0, height - SheetGeometry.HEAD));
    g.clip();
    int last = first;
    double right = Math.min(width, SheetGeometry.LABEL + columns.size() * w - look.across());
    g.setFill(theme.raised);
    for (int r = first; r < rows.size(); r++) {
      double y = SheetGeometry.HEAD + (r - look.down()) * SheetGeometry.ROW;
      if (y > height) {
        break;
      }
      last = r + 1;
      Row.Sort sort = rows.get(r).sort();
      if (sort == Row.Sort.MAIN || sort == Row.Sort.SETTING) {
        g.fillRect(SheetGeometry.LABEL, y + 1, right - SheetGeometry.LABEL, SheetGeometry.ROW - 2);
      }
    }
    g.setFill(theme.panel);
    for (int c = 0; c <= columns.size(); c++) {
      double x = SheetGeometry.LABEL + c * w - look.across();
      if (x >= SheetGeometry.LABEL && x <= width) {
        g.fillRect(x - 1, SheetGeometry.HEAD, 2, height - SheetGeometry.HEAD);
      }
    }
    for (int r = first; r < last; r++) {
      paintRow(g, r, SheetGeometry.HEAD + (r - look.down()) * SheetGeometry.ROW, w, width);
    }
    double below = SheetGeometry.HEAD + (rows.size() - look.down()) * SheetGeometry.ROW;
    List<String> advice = source.advice();
    advice(g, advice, below);
    g.restore();
    for (int c = 0; c < columns.size(); c++) {
      double x = SheetGeometry.LABEL + c * w - look.across();
      if (x > SheetGeometry.LABEL - w && x < width) {
        paintHeader(g, c, x, w);
      }
    }
    g.setFill(theme.panel);
    g.fillRect(0, 0, SheetGeometry.LABEL, SheetGeometry.HEAD);
    caption(g);
    paintDrag(g, width);
    g.setStroke(theme.line);
    g.setLineWidth(1);
    g.strokeLine(0, SheetGeometry.HEAD - 0.5, width, SheetGeometry.HEAD - 0.5);
    double end = advice.isEmpty() ? height : below;
    g.strokeLine(SheetGeometry.LABEL - 0.5, 0, SheetGeometry.LABEL - 0.5, end);
  }

  /** What to do first, below the last row. */
  private void advice(GraphicsContext g, List<String> advice, double y) {
    g.setFill(theme.dim);
    g.setFont(Theme.sans(13));
    g.setTextAlign(TextAlignment.LEFT);
    double at = y + 26;
    for (String line : advice) {
      g.fillText(line, 14, at, look.geometry.width() - 28);
      at += 20;
    }
  }

  private void caption(GraphicsContext g) {
    g.setFill(theme.dim);
    g.setFont(Theme.sans(12));
    g.setTextAlign(TextAlignment.LEFT);
    g.fillText("back", 14, SheetGeometry.HEAD / 2 + 9);
    g.fillText("front", 108, SheetGeometry.HEAD / 2 + 9);
    double y = SheetGeometry.HEAD / 2 + 9;
    g.setStroke(theme.dim);
    g.setLineWidth(1.2);
    g.strokeLine(48, y, 100, y);
    g.strokeLine(95, y - 4, 100, y);
    g.strokeLine(95, y + 4, 100, y);
  }

  private void paintRow(GraphicsContext g, int r, double y, double w, double width) {
    Row line = rows.get(r);
    for (int c = 0; c < columns.size(); c++) {
      double x = SheetGeometry.LABEL + c * w - look.across();
      if (x <= SheetGeometry.LABEL - w || x >= width) {
        continue;
      }
      if (look.selected(r, c)) {
        g.setFill(theme.accent.deriveColor(0, 1, 1, 0.20));
        g.fillRect(x + 1, y + 1, w - 2, SheetGeometry.ROW - 2);
      }
      g.save();
      source.paint(g, r, c, x, y, w, SheetGeometry.ROW);
      g.restore();
    }
    g.setFill(theme.panel);
    g.fillRect(0, y, SheetGeometry.LABEL, SheetGeometry.ROW);
    if (look.selected(r, -1)) {
      g.setFill(theme.accent.deriveColor(0, 1, 1, 0.20));
      g.fillRect(1, y + 1, SheetGeometry.LABEL - 2, SheetGeometry.ROW - 2);
    }
    paintLabel(g, line, y);
    if (r == look.row() && (look.column() >= 0 || look.focused)) {
      double x = look.column() < 0 ? 0 : SheetGeometry.LABEL + look.column() * w - look.across();
      double wide = look.column() < 0 ? SheetGeometry.LABEL : w;
      if (look.column() < 0 || x > SheetGeometry.LABEL - 2) {
        g.setStroke(look.focused ? theme.accent : theme.dim);
        g.setLineWidth(look.focused ? 2 : 1);
        g.strokeRect(x + 1.5, y + 1.5, wide - 3, SheetGeometry.ROW - 3);
      }
    }
  }

  private void paintLabel(GraphicsContext g, Row line, double y) {
    double x = 8 + line.depth() * 14;
    double middle = y + SheetGeometry.ROW / 2;
    if (line.members()) {
      g.setFill(theme.dim);
      if (line.open()) {
        g.fillPolygon(
            new double[] {x, x + 8, x + 4}, new double[] {middle - 3, middle - 3, middle + 4}, 3);
      } else {
        g.fillPolygon(
            new double[] {x + 1, x + 1, x + 7}, new double[] {middle - 4, middle + 4, middle}, 3);
      }
    }
    boolean strong = line.sort() == Row.Sort.MAIN;
    Font font = strong ? Theme.medium(13) : Theme.sans(12.5);
    g.setFont(font);
    g.setFill(strong ? theme.text : theme.dim);
    g.setTextAlign(TextAlignment.LEFT);
    double room = SheetGeometry.LABEL - x - 22;
    if (line.motion().length > 0) {
      room -= 44;
      paintMotion(g, line.motion(), SheetGeometry.LABEL - 50, y);
    } else if (!line.detail().isEmpty()) {
      g.setFont(Theme.mono(12));
      g.setTextAlign(TextAlignment.RIGHT);
      g.setFill(theme.dim);
      g.fillText(line.detail(), SheetGeometry.LABEL - 10, middle);
      room -= line.detail().length() * 7.3;
    }
    g.setFont(font);
    g.setFill(strong ? theme.text : theme.dim);
    g.setTextAlign(TextAlignment.LEFT);
    g.fillText(texts.fit(line.label(), font, room), x + 14, middle);
  }

  private void paintMotion(GraphicsContext g, double[] motion, double x, double y) {
    double w = 40;
    double step = w / motion.length;
    g.setFill(theme.line);
    g.fillRect(x, y + SheetGeometry.ROW - 8, w, 1);
    g.setFill(theme.dim);
    for (int f = 0; f < motion.length; f++) {
      double h = motion[f] <= 0 ? 0 : 2 + 9 * motion[f];
      g.fillRect(x + f * step, y + SheetGeometry.ROW - 8 - h, Math.max(0.8, step - 0.3), h);
    }
  }

  private void paintHeader(GraphicsContext g, int c, double x, double w) {
    Column layer = columns.get(c);
    boolean current = c == look.column();
    Color hue = Theme.hue(layer.hue());
    g.setFill(current ? theme.raised : theme.panel);
    g.fillRect(x, 0, w, SheetGeometry.HEAD);
    g.setFill(hue);
    g.fillRect(x + 3, 3, w - 6, current ? 5 : 3);
    g.setFill(layer.render() ? theme.text : theme.dim);
    Font font = Theme.medium(12.5);
    g.setFont(font);
    g.setTextAlign(TextAlignment.LEFT);
    g.fillText(texts.fit(layer.name(), font, w - 10), x + 5, 18);
    double top = 30;
    double room = SheetGeometry.HEAD - top - 44;
    double picture = w - 8;
    double high = Math.min(room, picture * 9 / 16);
    g.setFill(Color.grayRgb(22));
    g.fillRect(x + 4, top, picture, high);
    if (layer.picture() != null) {
      double ratio = layer.picture().getWidth() / layer.picture().getHeight();
      double wide = Math.min(picture, high * ratio);
      g.drawImage(layer.picture(), x + 4 + (picture - wide) / 2, top, wide, high);
    }
    double y = SheetGeometry.HEAD - 13;
    g.setFont(Theme.sans(12));
    if (!layer.join().isEmpty()) {
      g.setFill(theme.ground);
      double wide = 12 + layer.join().length() * 6.5;
      g.fillRoundRect(x - (c == 0 ? -4 : wide / 2), y - 8, wide, 16, 6, 6);
      g.setFill(theme.text);
      g.setTextAlign(TextAlignment.CENTER);
      g.fillText(layer.join(), x + (c == 0 ? 4 + wide / 2 : 0), y);
    }
    String cost = Double.isFinite(layer.seconds()) ? "%.1f s ".formatted(layer.seconds()) : "";
    if (!cost.isEmpty() || !layer.held().isEmpty()) {
      g.setFont(Theme.mono(12));
      g.setFill(theme.dim);
      g.setTextAlign(TextAlignment.LEFT);
      g.fillText((cost + layer.held()).strip(), x + 5, SheetGeometry.HEAD - 33, w - 28);
    }
    if (layer.name().equals(look.solo)) {
      g.setFill(theme.accent);
      g.fillRoundRect(x + w - 42, 10, 36, 16, 5, 5);
      g.setFill(theme.ground);
      g.setFont(Theme.medium(12));
      g.setTextAlign(TextAlignment.CENTER);
      g.fillText("solo", x + w - 24, 18);
    } else if (!look.solo.isEmpty()) {
      g.setFill(theme.panel.deriveColor(0, 1, 1, 0.55));
      g.fillRect(x, 8, w, SheetGeometry.HEAD - 36);
    }
    paintRenderMark(g, x + w - 14, SheetGeometry.HEAD - 33, layer.render());
    g.setStroke(theme.line);
    g.setLineWidth(1);
    g.strokeLine(x + w - 0.5, 6, x + w - 0.5, SheetGeometry.HEAD - 26);
  }

  /** A square that is filled by the wedge if the layer is rendered. */
  private void paintRenderMark(GraphicsContext g, double cx, double cy, boolean on) {
    g.setStroke(on ? theme.text : theme.dim);
    g.setLineWidth(1.2);
    g.strokeRect(cx - 5.5, cy - 5.5, 11, 11);
    if (on) {
      g.setFill(theme.text);
      g.fillPolygon(
          new double[] {cx - 3, cx + 4, cx - 3}, new double[] {cy - 3.5, cy, cy + 3.5}, 3);
    }
  }

  /** Where what is dragged would come to lie. */
  private void paintDrag(GraphicsContext g, double width) {
    if (look.drop < 0) {
      return;
    }
    double y = SheetGeometry.HEAD + (look.drop - look.down()) * SheetGeometry.ROW;
    g.setStroke(theme.accent);
    g.setLineWidth(2);
    if (look.between) {
      g.strokeLine(0, y, width, y);
    } else {
      g.strokeRect(1, y + 1, width - 2, SheetGeometry.ROW - 2);
    }
    g.setFill(theme.accent);
    g.setFont(Theme.medium(12));
    g.setTextAlign(TextAlignment.RIGHT);
    g.fillText(look.dragged, width - 12, y + (look.between ? -9 : SheetGeometry.ROW / 2));
  }
}
