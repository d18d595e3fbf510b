package org.wedgecutter.app.sheet;

import java.util.List;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.IntConsumer;
import javafx.geometry.Orientation;
import javafx.geometry.VPos;
import javafx.scene.AccessibleRole;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.control.ScrollBar;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.Region;
import javafx.scene.paint.Color;
import javafx.scene.text.Font;
import javafx.scene.text.TextAlignment;
import org.wedgecutter.app.theme.Glyphs;
import org.wedgecutter.app.theme.Theme;

/**
 * The sheet: layers as columns from the back of the picture to the front, rows by station. Drawn on
 * one canvas, only what is visible, so that its size does not matter.
 *
 * <p>Arrows move, Shift extends, Page Up and Page Down jump, Enter opens a row's members. Keys that
 * mean something for cells are handed on.
 */
public final class SheetView extends Region {
  /** Height of a row. */
  public static final double ROW = 26;

  /** Height of the columns' headers. */
  public static final double HEAD = 128;

  private static final double LABEL = 168;
  private static final double MIN_COLUMN = 78;
  private static final double BAR = 12;

  private final Canvas canvas = new Canvas();
  private final ScrollBar down = new ScrollBar();
  private final ScrollBar across = new ScrollBar();
  private final Tooltip hint = new Tooltip();
  private Theme theme = Theme.DARK;
  private List<Column> columns = List.of();
  private SheetRows source;
  private List<Row> rows = List.of();
  private int row;
  private int column;
  private int anchorRow;
  private int anchorColumn;
  private Runnable onSelect = () -> {};
  private IntConsumer onJoin = c -> {};
  private IntConsumer onRender = c -> {};
  private IntConsumer onRename = c -> {};
  private BiConsumer<KeyEvent, SheetView> onKey = (e, s) -> {};
  private Consumer<Throwable> onTrouble = t -> {};

  /** An empty sheet. */
  public SheetView(SheetRows source) {
    this.source = source;
    down.setOrientation(Orientation.VERTICAL);
    across.setOrientation(Orientation.HORIZONTAL);
    getChildren().addAll(canvas, down, across);
    getStyleClass().add("sheet-focus");
    setFocusTraversable(true);
    setAccessibleRole(AccessibleRole.TABLE_VIEW);
    setMinSize(LABEL + 2 * MIN_COLUMN, HEAD + 4 * ROW);
    down.valueProperty().addListener(o -> paint());
    across.valueProperty().addListener(o -> paint());
    focusedProperty().addListener(o -> paint());
    addEventHandler(KeyEvent.KEY_PRESSED, this::key);
    canvas.setOnMousePressed(this::pressed);
    canvas.setOnMouseDragged(this::dragged);
    canvas.setOnMouseMoved(this::hover);
    canvas.setOnScroll(e -> {
      move(down, -e.getDeltaY() / ROW / 2);
      move(across, -e.getDeltaX());
    });
    Tooltip.install(canvas, hint);
  }

  private static void move(ScrollBar bar, double by) {
    if (bar.isVisible()) {
      bar.setValue(Math.max(bar.getMin(), Math.min(bar.getMax(), bar.getValue() + by)));
    }
  }

  // ---- what it shows

  /** Shows other rows; the selection stays on its column. */
  public void setRows(SheetRows next) {
    source = next;
    row = anchorRow = 0;
    down.setValue(0);
    refresh();
  }

  /** Shows other columns. */
  public void setColumns(List<Column> next) {
    columns = List.copyOf(next);
    refresh();
  }

  /** Dresses the sheet. */
  public void setTheme(Theme next) {
    theme = next;
    paint();
  }

  /** Takes up what changed behind rows and cells. */
  public void refresh() {
    rows = source.rows();
    row = Math.max(0, Math.min(row, rows.size() - 1));
    anchorRow = Math.max(0, Math.min(anchorRow, rows.size() - 1));
    column = Math.max(-1, Math.min(column, columns.size() - 1));
    anchorColumn = Math.max(-1, Math.min(anchorColumn, columns.size() - 1));
    requestLayout();
    paint();
  }

  /** Is called after the selection changed. */
  public void setOnSelect(Runnable action) {
    onSelect = action;
  }

  /** Is called when the join in front of a column is clicked. */
  public void setOnJoin(IntConsumer action) {
    onJoin = action;
  }

  /** Is called when a column's render mark is clicked. */
  public void setOnRender(IntConsumer action) {
    onRender = action;
  }

  /** Is called when a column's name is clicked twice. */
  public void setOnRename(IntConsumer action) {
    onRename = action;
  }

  /** Is given keys that are not about moving. */
  public void setOnKey(BiConsumer<KeyEvent, SheetView> action) {
    onKey = action;
  }

  /** Is given what goes wrong while drawing. */
  public void setOnTrouble(Consumer<Throwable> action) {
    onTrouble = action;
  }

  // ---- selection

  /** Returns the row of the cursor. */
  public int row() {
    return row;
  }

  /** Returns the column of the cursor; -1 is the rows' names. */
  public int column() {
    return column;
  }

  /** Returns the rows that are shown. */
  public List<Row> rows() {
    return rows;
  }

  /** Moves the cursor. */
  public void select(int toRow, int toColumn, boolean extend) {
    row = Math.max(0, Math.min(toRow, rows.size() - 1));
    column = Math.max(-1, Math.min(toColumn, columns.size() - 1));
    if (!extend) {
      anchorRow = row;
      anchorColumn = column;
    }
    reveal();
    setAccessibleText(rows.isEmpty() ? "empty sheet" : source.describe(row, column));
    onSelect.run();
    paint();
  }

  /** Calls an action with every selected row and column. */
  public void forEachSelected(BiConsumer<Integer, Integer> action) {
    for (int r = Math.min(row, anchorRow); r <= Math.max(row, anchorRow); r++) {
      for (int c = Math.min(column, anchorColumn); c <= Math.max(column, anchorColumn); c++) {
        action.accept(r, c);
      }
    }
  }

  private boolean selected(int r, int c) {
    return r >= Math.min(row, anchorRow)
        && r <= Math.max(row, anchorRow)
        && c >= Math.min(column, anchorColumn)
        && c <= Math.max(column, anchorColumn);
  }

  private void reveal() {
    double visible = Math.floor((canvas.getHeight() - HEAD) / ROW);
    if (row < down.getValue()) {
      down.setValue(row);
    } else if (row >= down.getValue() + visible) {
      down.setValue(Math.min(down.getMax(), row - visible + 1));
    }
    if (column >= 0) {
      double left = column * columnWidth();
      double room = canvas.getWidth() - LABEL;
      if (left < across.getValue()) {
        across.setValue(left);
      } else if (left + columnWidth() > across.getValue() + room) {
        across.setValue(Math.min(across.getMax(), left + columnWidth() - room));
      }
    }
  }

  // ---- places

  private double columnWidth() {
    double room = canvas.getWidth() - LABEL;
    return columns.isEmpty() ? room : Math.max(MIN_COLUMN, Math.min(168, room / columns.size()));
  }

  /**
   * Returns the middle of a cell in this control; column -1 is the row's name, row -1 the header.
   */
  public double[] centre(int ofRow, int ofColumn) {
    double x =
        ofColumn < 0 ? LABEL / 2 : LABEL + (ofColumn + 0.5) * columnWidth() - across.getValue();
    double y = ofRow < 0 ? HEAD / 2 : HEAD + (ofRow - down.getValue() + 0.5) * ROW;
    return new double[] {x, y};
  }

  private int columnAt(double x) {
    if (x < LABEL) {
      return -1;
    }
    int c = (int) ((x - LABEL + across.getValue()) / columnWidth());
    return c < columns.size() ? c : -2;
  }

  private int rowAt(double y) {
    int r = (int) Math.floor((y - HEAD) / ROW + down.getValue());
    return y < HEAD ? -1 : r < rows.size() ? r : -2;
  }

  @Override
  protected void layoutChildren() {
    double width = getWidth();
    double height = getHeight();
    double contentWidth = LABEL + columns.size() * MIN_COLUMN;
    boolean wide = contentWidth > width;
    boolean tall = HEAD + rows.size() * ROW > height - (wide ? BAR : 0);
    double innerWidth = Math.max(1, width - (tall ? BAR : 0));
    double innerHeight = Math.max(1, height - (wide ? BAR : 0));
    canvas.setWidth(innerWidth);
    canvas.setHeight(innerHeight);
    down.setVisible(tall);
    across.setVisible(wide);
    double visibleRows = Math.floor((innerHeight - HEAD) / ROW);
    down.setMax(Math.max(0, rows.size() - visibleRows));
    down.setVisibleAmount(down.getMax() * visibleRows / Math.max(1, rows.size()));
    down.setValue(tall ? Math.min(down.getValue(), down.getMax()) : 0);
    down.resizeRelocate(innerWidth, HEAD, BAR, Math.max(0, innerHeight - HEAD));
    double over = columns.size() * columnWidth() - (innerWidth - LABEL);
    across.setMax(Math.max(0, over));
    across.setVisibleAmount(across.getMax() * 0.5);
    across.setValue(wide ? Math.min(across.getValue(), across.getMax()) : 0);
    across.resizeRelocate(LABEL, innerHeight, Math.max(0, innerWidth - LABEL), BAR);
    paint();
  }

  @Override
  protected double computePrefWidth(double height) {
    return LABEL + 6 * 92;
  }

  @Override
  protected double computePrefHeight(double width) {
    return 500;
  }

  // ---- hands

  private void pressed(MouseEvent e) {
    requestFocus();
    int c = columnAt(e.getX());
    int r = rowAt(e.getY());
    if (r == -1 && c >= 0) {
      double inColumn = e.getX() - (LABEL + c * columnWidth() - across.getValue());
      if (e.getY() > HEAD - 24) {
        // the join's plate lies across the line between two columns
        boolean next = inColumn > columnWidth() - 20 && c + 1 < columns.size();
        onJoin.accept(next ? c + 1 : c);
      } else if (inColumn > columnWidth() - 26 && e.getY() > HEAD - 44) {
        onRender.accept(c);
      } else if (e.getClickCount() == 2 && e.getY() < 28) {
        onRename.accept(c);
      } else {
        select(row, c, false);
      }
    } else if (r >= 0 && c >= -1) {
      Row hit = rows.get(r);
      double arrow = 8 + hit.depth() * 14;
      if (c == -1 && hit.members() && (e.getX() < arrow + 16 || e.getClickCount() == 2)) {
        source.toggle(hit.key());
        refresh();
      }
      select(r, c, e.isShiftDown());
    }
  }

  private void dragged(MouseEvent e) {
    int c = columnAt(e.getX());
    int r = rowAt(e.getY());
    if (r >= 0 && c >= 0) {
      select(r, c, true);
    }
  }

  private void hover(MouseEvent e) {
    int c = columnAt(e.getX());
    int r = rowAt(e.getY());
    if (r >= 0 && c >= -1) {
      hint.setText(source.describe(r, c));
    } else if (r == -1 && c >= 0) {
      hint.setText(columns.get(c).name() + ": click to look at it; twice on the name to rename it");
    } else {
      hint.setText("Layers from the back of the picture (left) to the front (right)");
    }
  }

  private void key(KeyEvent e) {
    KeyCode code = e.getCode();
    boolean extend = e.isShiftDown();
    if (e.isControlDown() || e.isAltDown()) {
      onKey.accept(e, this);
      return;
    }
    int page = (int) Math.max(1, (canvas.getHeight() - HEAD) / ROW - 1);
    switch (code) {
      case UP -> select(row - 1, column, extend);
      case DOWN -> select(row + 1, column, extend);
      case LEFT -> select(row, column - 1, extend);
      case RIGHT -> select(row, column + 1, extend);
      case PAGE_UP -> select(row - page, column, extend);
      case PAGE_DOWN -> select(row + page, column, extend);
      case HOME -> select(row, 0, extend);
      case END -> select(row, columns.size() - 1, extend);
      case ENTER -> {
        if (!rows.isEmpty() && rows.get(row).members()) {
          source.toggle(rows.get(row).key());
          refresh();
        }
      }
      default -> {
        onKey.accept(e, this);
        return;
      }
    }
    e.consume();
  }

  // ---- drawing

  private void paint() {
    try {
      paintAll();
    } catch (RuntimeException e) {
      onTrouble.accept(e);
    }
  }

  private void paintAll() {
    GraphicsContext g = canvas.getGraphicsContext2D();
    double width = canvas.getWidth();
    double height = canvas.getHeight();
    g.setFill(theme.panel);
    g.fillRect(0, 0, width, height);
    g.setTextBaseline(VPos.CENTER);
    double w = columnWidth();
    int first = (int) Math.floor(down.getValue());
    g.save();
    g.beginPath();
    g.rect(0, HEAD, width, Math.max(0, height - HEAD));
    g.clip();
    for (int r = first; r < rows.size(); r++) {
      double y = HEAD + (r - down.getValue()) * ROW;
      if (y > height) {
        break;
      }
      paintRow(g, r, y, w, width);
    }
    g.restore();
    for (int c = 0; c < columns.size(); c++) {
      double x = LABEL + c * w - across.getValue();
      if (x > LABEL - w && x < width) {
        paintHeader(g, c, x, w);
      }
    }
    g.setFill(theme.panel);
    g.fillRect(0, 0, LABEL, HEAD);
    caption(g);
    g.setStroke(theme.line);
    g.setLineWidth(1);
    g.strokeLine(0, HEAD - 0.5, width, HEAD - 0.5);
    g.strokeLine(LABEL - 0.5, 0, LABEL - 0.5, height);
  }

  private void caption(GraphicsContext g) {
    g.setFill(theme.dim);
    g.setFont(Theme.sans(12));
    g.setTextAlign(TextAlignment.LEFT);
    g.fillText("back of the picture", 14, HEAD / 2 - 9);
    g.fillText("to the front", 14, HEAD / 2 + 9);
    double y = HEAD / 2 + 9;
    g.setStroke(theme.dim);
    g.setLineWidth(1.2);
    g.strokeLine(88, y, 148, y);
    g.strokeLine(143, y - 4, 148, y);
    g.strokeLine(143, y + 4, 148, y);
  }

  private void paintRow(GraphicsContext g, int r, double y, double w, double width) {
    Row line = rows.get(r);
    boolean strong = line.sort() == Row.Sort.MAIN;
    for (int c = 0; c < columns.size(); c++) {
      double x = LABEL + c * w - across.getValue();
      if (x <= LABEL - w || x >= width) {
        continue;
      }
      g.setFill(strong ? theme.raised : theme.panel);
      g.fillRect(x + 1, y + 1, w - 2, ROW - 2);
      if (selected(r, c)) {
        g.setFill(theme.accent.deriveColor(0, 1, 1, 0.20));
        g.fillRect(x + 1, y + 1, w - 2, ROW - 2);
      }
      g.save();
      source.paint(g, r, c, x, y, w, ROW);
      g.restore();
    }
    g.setFill(theme.panel);
    g.fillRect(0, y, LABEL, ROW);
    if (selected(r, -1)) {
      g.setFill(theme.accent.deriveColor(0, 1, 1, 0.20));
      g.fillRect(1, y + 1, LABEL - 2, ROW - 2);
    }
    paintLabel(g, line, y);
    if (r == row && (column >= 0 || isFocused())) {
      double x = column < 0 ? 0 : LABEL + column * w - across.getValue();
      double wide = column < 0 ? LABEL : w;
      if (column < 0 || x > LABEL - 2) {
        g.setStroke(isFocused() ? theme.accent : theme.dim);
        g.setLineWidth(isFocused() ? 2 : 1);
        g.strokeRect(x + 1.5, y + 1.5, wide - 3, ROW - 3);
      }
    }
  }

  private void paintLabel(GraphicsContext g, Row line, double y) {
    double x = 8 + line.depth() * 14;
    double middle = y + ROW / 2;
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
    double room = LABEL - x - 22;
    if (line.motion().length > 0) {
      room -= 44;
      paintMotion(g, line.motion(), LABEL - 50, y);
    } else if (!line.detail().isEmpty()) {
      g.setFont(Theme.mono(11));
      g.setTextAlign(TextAlignment.RIGHT);
      g.setFill(theme.dim);
      g.fillText(line.detail(), LABEL - 10, middle);
      room -= line.detail().length() * 7;
    }
    g.setFont(font);
    g.setFill(strong ? theme.text : theme.dim);
    g.setTextAlign(TextAlignment.LEFT);
    g.fillText(TextFit.fit(line.label(), font, room), x + 14, middle);
  }

  private void paintMotion(GraphicsContext g, double[] motion, double x, double y) {
    double w = 40;
    double step = w / motion.length;
    g.setFill(theme.line);
    g.fillRect(x, y + ROW - 8, w, 1);
    g.setFill(theme.dim);
    for (int f = 0; f < motion.length; f++) {
      double h = motion[f] <= 0 ? 0 : 2 + 9 * motion[f];
      g.fillRect(x + f * step, y + ROW - 8 - h, Math.max(0.8, step - 0.3), h);
    }
  }

  private void paintHeader(GraphicsContext g, int c, double x, double w) {
    Column layer = columns.get(c);
    boolean current = c == column;
    Color hue = Theme.hue(layer.hue());
    g.setFill(current ? theme.raised : theme.panel);
    g.fillRect(x, 0, w, HEAD);
    g.setFill(hue);
    g.fillRect(x + 3, 3, w - 6, current ? 5 : 3);
    g.setFill(layer.render() ? theme.text : theme.dim);
    Font font = Theme.medium(12.5);
    g.setFont(font);
    g.setTextAlign(TextAlignment.LEFT);
    g.fillText(TextFit.fit(layer.name(), font, w - 10), x + 5, 18);
    double top = 30;
    double room = HEAD - top - 44;
    double picture = w - 8;
    double high = Math.min(room, picture * 9 / 16);
    g.setFill(Color.grayRgb(22));
    g.fillRect(x + 4, top, picture, high);
    if (layer.picture() != null) {
      double ratio = layer.picture().getWidth() / layer.picture().getHeight();
      double wide = Math.min(picture, high * ratio);
      g.drawImage(layer.picture(), x + 4 + (picture - wide) / 2, top, wide, high);
    }
    double y = HEAD - 13;
    g.setFont(Theme.sans(11.5));
    if (!layer.join().isEmpty()) {
      g.setFill(theme.ground);
      double wide = 12 + layer.join().length() * 6.2;
      g.fillRoundRect(x - (c == 0 ? -4 : wide / 2), y - 8, wide, 16, 6, 6);
      g.setFill(theme.text);
      g.setTextAlign(TextAlignment.CENTER);
      g.fillText(layer.join(), x + (c == 0 ? 4 + wide / 2 : 0), y);
    }
    if (Double.isFinite(layer.seconds())) {
      g.setFont(Theme.mono(10.5));
      g.setFill(theme.dim);
      g.setTextAlign(TextAlignment.LEFT);
      g.fillText("%.1f s".formatted(layer.seconds()), x + 5, HEAD - 33);
    }
    paintRenderMark(g, x + w - 14, HEAD - 33, layer.render());
    g.setStroke(theme.line);
    g.setLineWidth(1);
    g.strokeLine(x + w - 0.5, 6, x + w - 0.5, HEAD - 26);
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

  /** Draws the wedge in a cell. */
  static void wedge(GraphicsContext g, Theme theme, double x, double y, double w) {
    Glyphs.wedge(g, x + w - 1, y + 1, 9, theme.accent);
  }
}
