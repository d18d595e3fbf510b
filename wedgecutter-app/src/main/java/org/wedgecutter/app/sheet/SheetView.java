package org.wedgecutter.app.sheet;

import java.util.List;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.IntConsumer;
import javafx.geometry.Orientation;
import javafx.scene.AccessibleRole;
import javafx.scene.canvas.Canvas;
import javafx.scene.control.ScrollBar;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.Region;
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

  static final double LABEL = 168;
  private static final double MIN_COLUMN = 78;
  private static final double BAR = 12;

  private static final double DRAG_FROM = 6;

  private final Canvas canvas = new Canvas();
  private final SheetPainter painter = new SheetPainter();
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
  private Menus menus = (r, c, x, y) -> {};
  private Drops drops = Drops.NONE;
  private String solo = "";
  private int dropRow = -1;
  private boolean dropBetween;
  private String dragged = "";
  private int pressedRow = -1;
  private double pressedY;

  /** Opens menus. */
  public interface Menus {
    /**
     * Opens the menu of a row (column -1) or of a column (row -1).
     *
     * @param screenX where on the screen
     * @param screenY where on the screen
     */
    void open(int row, int column, double screenX, double screenY);
  }

  /** What can be dragged from row to row. */
  public interface Drops {
    /** Nothing. */
    Drops NONE =
        new Drops() {
          @Override
          public String dragged(int row) {
            return "";
          }

          @Override
          public boolean between(int row, int target) {
            return false;
          }

          @Override
          public void drop(int row, int target) {}
        };

    /** Returns what dragging a row would drag, in words; empty if it cannot be dragged. */
    String dragged(int row);

    /** Says whether it would come to lie above the target row, instead of in it. */
    boolean between(int row, int target);

    /** Drops it. */
    void drop(int row, int target);
  }

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
    canvas.setOnMouseReleased(this::released);
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

  /** Opens menus on a right click. */
  public void setMenus(Menus next) {
    menus = next;
  }

  /** Says what can be dragged. */
  public void setDrops(Drops next) {
    drops = next;
  }

  /** Marks a layer as alone; the empty name marks none. */
  public void setSolo(String layer) {
    solo = layer;
    paint();
  }

  /**
   * Shows where something that comes from elsewhere would be dropped.
   *
   * @param y in this control; negative takes the sign away
   * @return the row, or -1
   */
  public int dropSign(double y, String what) {
    int r = y < 0 ? -1 : rowAt(y);
    dropRow = r;
    dropBetween = false;
    dragged = what;
    paint();
    return r;
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

  /** Scrolls to a row and to pixels across. */
  public void scrollTo(double toRow, double toX) {
    down.setValue(Math.max(0, Math.min(down.getMax(), toRow)));
    across.setValue(Math.max(0, Math.min(across.getMax(), toX)));
  }

  /** Calls an action with every selected row and column. */
  public void forEachSelected(BiConsumer<Integer, Integer> action) {
    for (int r = Math.min(row, anchorRow); r <= Math.max(row, anchorRow); r++) {
      for (int c = Math.min(column, anchorColumn); c <= Math.max(column, anchorColumn); c++) {
        action.accept(r, c);
      }
    }
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
    pressedRow = c == -1 && e.isPrimaryButtonDown() ? r : -1;
    pressedY = e.getY();
    if (e.isSecondaryButtonDown()) {
      if (r == -1 && c >= 0) {
        select(row, c, false);
        menus.open(-1, c, e.getScreenX(), e.getScreenY());
      } else if (r >= 0 && c >= -1) {
        if (!isSelected(r)) {
          select(r, c, false);
        }
        menus.open(r, -1, e.getScreenX(), e.getScreenY());
      }
      return;
    }
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

  private boolean isSelected(int r) {
    return r >= Math.min(row, anchorRow) && r <= Math.max(row, anchorRow);
  }

  private void released(MouseEvent e) {
    if (dropRow >= 0) {
      int target = dropRow;
      dropRow = -1;
      drops.drop(pressedRow, target);
    }
    pressedRow = -1;
    paint();
  }

  private void dragged(MouseEvent e) {
    int c = columnAt(e.getX());
    int r = rowAt(e.getY());
    if (pressedRow >= 0) {
      dragged = drops.dragged(pressedRow);
      boolean far = Math.abs(e.getY() - pressedY) > DRAG_FROM || dropRow >= 0;
      dropRow = far && !dragged.isEmpty() ? r : -1;
      dropBetween = dropRow >= 0 && drops.between(pressedRow, dropRow);
      paint();
      return;
    }
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
      painter.paint(
          canvas.getGraphicsContext2D(),
          new SheetPainter.Look(
              theme,
              rows,
              columns,
              source,
              row,
              column,
              anchorRow,
              anchorColumn,
              isFocused(),
              down.getValue(),
              across.getValue(),
              columnWidth(),
              canvas.getWidth(),
              canvas.getHeight(),
              solo,
              dropRow,
              dropBetween,
              dragged));
    } catch (RuntimeException e) {
      onTrouble.accept(e);
    }
  }

  /** Draws the wedge in a cell. */
  static void wedge(
      javafx.scene.canvas.GraphicsContext g, Theme theme, double x, double y, double w) {
    Glyphs.wedge(g, x + w - 1, y + 1, 9, theme.accent);
  }
}
