package org.wedgecutter.app.sheet;

import java.util.List;
import java.util.function.BiConsumer;
import java.util.function.BiPredicate;
import java.util.function.Consumer;
import javafx.geometry.Orientation;
import javafx.scene.AccessibleAttribute;
import javafx.scene.AccessibleRole;
import javafx.scene.canvas.Canvas;
import javafx.scene.control.ScrollBar;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.Region;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.sheet.SheetGeometry.Part;
import org.wedgecutter.app.sheet.SheetGeometry.Target;
import org.wedgecutter.app.theme.Theme;

/**
 * The sheet: layers as columns, back to front, rows by station. It is drawn on one canvas, only
 * what is visible, so that its size does not matter.
 *
 * <p>Arrows move the cursor, Shift extends the selection, Page Up and Page Down jump, Enter opens a
 * row. J offers the joins of the layer, R switches whether it is rendered, the Menu key or Shift
 * and F10 open the menu of the row. Other keys are handed on.
 */
public final class SheetView extends Region {
  /** Height of a row. */
  public static final double ROW = SheetGeometry.ROW;

  /** Height of the column headers. */
  public static final double HEAD = SheetGeometry.HEAD;

  private static final double BAR = 12;
  private static final double DRAG_FROM = 6;

  private final Canvas canvas = new Canvas();
  private final SheetPainter painter = new SheetPainter();
  private final ScrollBar down = new ScrollBar();
  private final ScrollBar across = new ScrollBar();
  private final Tooltip hint = new Tooltip();
  private final SheetSelection selection = new SheetSelection();
  private final AccessibleCells accessible = new AccessibleCells(this);
  private Theme theme = Theme.DARK;
  private List<Column> columns = List.of();
  private SheetRows source;
  private List<Row> rows = List.of();
  private Runnable onSelect = () -> {};
  private BiPredicate<KeyEvent, SheetView> onKey = (e, s) -> false;
  private Consumer<Throwable> onTrouble = t -> {};
  private @Nullable HeaderActions headers;
  private Menus menus = (r, x, y) -> {};
  private Drops drops = Drops.NONE;
  private @Nullable NameEditor editor;
  private double[] editorBox = new double[4];
  private String solo = "";
  private int dropRow = -1;
  private boolean dropBetween;
  private String dragged = "";
  private int pressedRow = -1;
  private double pressedY;

  /** Opens the menu of a row. */
  public interface Menus {
    /** Opens the menu of a row at a place on the screen. */
    void open(int row, double screenX, double screenY);
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
    setMinSize(SheetGeometry.LABEL + 2 * SheetGeometry.MIN_COLUMN, HEAD + 4 * ROW);
    down.valueProperty().addListener(o -> paint());
    across.valueProperty().addListener(o -> paint());
    focusedProperty().addListener(o -> paint());
    addEventHandler(KeyEvent.KEY_PRESSED, new SheetKeys(this)::pressed);
    canvas.setOnMousePressed(this::pressed);
    canvas.setOnMouseDragged(this::dragged);
    canvas.setOnMouseReleased(this::released);
    canvas.setOnMouseMoved(e -> hover(e.getX(), e.getY()));
    canvas.setOnScroll(e -> {
      move(down, -e.getDeltaY() / ROW / 2);
      move(across, -e.getDeltaX());
      // what is under the pointer now is something else
      hint.hide();
      hover(e.getX(), e.getY());
    });
    Tooltip.install(canvas, hint);
  }

  private static void move(ScrollBar bar, double by) {
    if (bar.isVisible()) {
      bar.setValue(Math.max(bar.getMin(), Math.min(bar.getMax(), bar.getValue() + by)));
    }
  }

  // ---- what it shows

  /** Shows other rows; the cursor stays in its column. */
  public void setRows(SheetRows next) {
    source = next;
    selection.toFirstRow();
    down.setValue(0);
    refresh();
  }

  /** Shows other columns. */
  public void setColumns(List<Column> next) {
    columns = List.copyOf(next);
    refresh();
  }

  /** Sets the colours. */
  public void setTheme(Theme next) {
    theme = next;
    paint();
  }

  /** Redraws rows and cells after they changed. */
  public void refresh() {
    rows = source.rows();
    setAccessibleHelp(String.join(" ", source.advice()));
    selection.resize(rows.size(), columns.size());
    requestLayout();
    paint();
  }

  /** Sets what is called after the selection changed. */
  public void setOnSelect(Runnable action) {
    onSelect = action;
  }

  /** Sets the actions of column headers. */
  public void setHeaderActions(HeaderActions actions) {
    headers = actions;
  }

  /** Sets the handler of keys that do not move the cursor; it returns whether it used the key. */
  public void setOnKey(BiPredicate<KeyEvent, SheetView> action) {
    onKey = action;
  }

  /** Sets the handler that opens menus of rows. */
  public void setMenus(Menus next) {
    menus = next;
  }

  /** Sets what can be dragged from row to row. */
  public void setDrops(Drops next) {
    drops = next;
  }

  /** Sets the handler of exceptions while drawing. */
  public void setOnTrouble(Consumer<Throwable> action) {
    onTrouble = action;
  }

  /** Marks a layer as solo; the empty name marks none. */
  public void setSolo(String layer) {
    solo = layer;
    paint();
  }

  /**
   * Shows where something dragged from elsewhere would be dropped.
   *
   * @param y in this control; negative removes the mark
   * @return the row, or -1
   */
  public int dropSign(double y, String what) {
    int r = y < 0 ? -1 : geometry().rowAt(y);
    dropRow = r;
    dropBetween = false;
    dragged = what;
    paint();
    return r;
  }

  // ---- selection

  /** Returns the selection. */
  public SheetSelection selection() {
    return selection;
  }

  /** Returns the row of the cursor. */
  public int row() {
    return selection.row();
  }

  /** Returns the column of the cursor; -1 is the row labels. */
  public int column() {
    return selection.column();
  }

  /** Returns the rows that are shown. */
  public List<Row> rows() {
    return rows;
  }

  /** Moves the cursor. */
  public void select(int toRow, int toColumn, boolean extend) {
    selection.move(toRow, toColumn, extend);
    reveal();
    setAccessibleText(words());
    notifyAccessibleAttributeChanged(AccessibleAttribute.FOCUS_ITEM);
    onSelect.run();
    paint();
  }

  private String words() {
    return rows.isEmpty() ? "empty sheet" : source.describe(row(), column());
  }

  @Override
  public @Nullable Object queryAccessibleAttribute(
      AccessibleAttribute attribute, Object... parameters) {
    return switch (attribute) {
      case ROW_COUNT -> rows.size();
      // the row labels are the first column
      case COLUMN_COUNT -> columns.size() + 1;
      case FOCUS_ITEM -> accessible.cell(row(), column() + 1, words());
      case CELL_AT_ROW_COLUMN -> {
        int r = (Integer) parameters[0];
        int c = (Integer) parameters[1];
        yield r < 0 || r >= rows.size() || c < 0 || c > columns.size()
            ? null
            : accessible.cell(r, c, source.describe(r, c - 1));
      }
      default -> super.queryAccessibleAttribute(attribute, parameters);
    };
  }

  /** Scrolls to a row, and to pixels across. */
  public void scrollTo(double toRow, double toX) {
    down.setValue(Math.max(0, Math.min(down.getMax(), toRow)));
    across.setValue(Math.max(0, Math.min(across.getMax(), toX)));
  }

  /** Calls an action with every selected row and column. */
  public void forEachSelected(BiConsumer<Integer, Integer> action) {
    selection.forEach(action);
  }

  private void reveal() {
    SheetGeometry g = geometry();
    double visible = g.visibleRows();
    if (row() < down.getValue()) {
      down.setValue(row());
    } else if (row() >= down.getValue() + visible) {
      down.setValue(Math.min(down.getMax(), row() - visible + 1));
    }
    if (column() >= 0) {
      double left = column() * g.columnWidth();
      double room = canvas.getWidth() - SheetGeometry.LABEL;
      if (left < across.getValue()) {
        across.setValue(left);
      } else if (left + g.columnWidth() > across.getValue() + room) {
        across.setValue(Math.min(across.getMax(), left + g.columnWidth() - room));
      }
    }
  }

  // ---- names edited in place

  /**
   * Edits a name in place.
   *
   * @param atRow row of the name; -1 edits the layer name of a column
   * @param atColumn column of the header; -1 edits the label of a row
   * @param take is given the new name
   * @param after is run after Enter or Tab applied the name
   */
  public void editName(
      int atRow, int atColumn, String name, Consumer<String> take, Runnable after) {
    layout();
    SheetGeometry g = geometry();
    editorBox =
        atRow < 0
            ? new double[] {g.left(atColumn) + 2, 5, g.columnWidth() - 4, 26}
            : new double[] {4, g.top(atRow), SheetGeometry.LABEL - 8, ROW};
    NameEditor next = new NameEditor(name, take, after, this::closeEditor);
    editor = next;
    getChildren().add(next);
    requestLayout();
    layout();
    next.requestFocus();
    next.selectAll();
  }

  private void closeEditor() {
    NameEditor open = editor;
    editor = null;
    if (open != null) {
      boolean had = open.isFocused();
      getChildren().remove(open);
      if (had) {
        requestFocus();
      }
    }
  }

  // ---- for the keys

  /** Returns how many rows a page has. */
  int pageRows() {
    return (int) Math.max(1, geometry().visibleRows() - 1);
  }

  /** Opens or closes the row of the cursor, if it has members. */
  void toggleRow() {
    if (!rows.isEmpty() && rows.get(row()).members()) {
      source.toggle(rows.get(row()).key());
      refresh();
    }
  }

  @Nullable HeaderActions headerActions() {
    return column() < 0 ? null : headers;
  }

  int lastColumn() {
    return columns.size() - 1;
  }

  /** Opens the menu of the cursor's row below the cursor. */
  void openMenu() {
    double[] at = centre(row(), column());
    var screen = localToScreen(at[0], Math.min(at[1], getHeight()) + ROW / 2);
    if (screen != null && !rows.isEmpty()) {
      menus.open(row(), screen.getX(), screen.getY());
    }
  }

  /** Hands a key on; returns whether it was used. */
  boolean handOn(KeyEvent e) {
    return onKey.test(e, this);
  }

  // ---- places

  private SheetGeometry geometry() {
    return new SheetGeometry(
        canvas.getWidth(),
        canvas.getHeight(),
        rows.size(),
        columns.size(),
        down.getValue(),
        across.getValue());
  }

  /** Returns the centre of a cell; column -1 is the row label, row -1 the header. */
  public double[] centre(int ofRow, int ofColumn) {
    return geometry().centre(ofRow, ofColumn);
  }

  @Override
  protected void layoutChildren() {
    double width = getWidth();
    double height = getHeight();
    boolean wide = SheetGeometry.LABEL + columns.size() * SheetGeometry.MIN_COLUMN > width;
    boolean tall = HEAD + rows.size() * ROW > height - (wide ? BAR : 0);
    double innerWidth = Math.max(1, width - (tall ? BAR : 0));
    double innerHeight = Math.max(1, height - (wide ? BAR : 0));
    canvas.setWidth(innerWidth);
    canvas.setHeight(innerHeight);
    down.setVisible(tall);
    across.setVisible(wide);
    SheetGeometry g = geometry();
    down.setMax(Math.max(0, rows.size() - g.visibleRows()));
    down.setVisibleAmount(down.getMax() * g.visibleRows() / Math.max(1, rows.size()));
    down.setValue(tall ? Math.min(down.getValue(), down.getMax()) : 0);
    down.resizeRelocate(innerWidth, HEAD, BAR, Math.max(0, innerHeight - HEAD));
    double over = columns.size() * g.columnWidth() - (innerWidth - SheetGeometry.LABEL);
    across.setMax(Math.max(0, over));
    across.setVisibleAmount(across.getMax() * 0.5);
    across.setValue(wide ? Math.min(across.getValue(), across.getMax()) : 0);
    double label = SheetGeometry.LABEL;
    across.resizeRelocate(label, innerHeight, Math.max(0, innerWidth - label), BAR);
    if (editor != null) {
      editor.resizeRelocate(editorBox[0], editorBox[1], editorBox[2], editorBox[3]);
    }
    paint();
  }

  @Override
  protected double computePrefWidth(double height) {
    return SheetGeometry.LABEL + 6 * 92;
  }

  @Override
  protected double computePrefHeight(double width) {
    return 500;
  }

  // ---- pointer

  private void pressed(MouseEvent e) {
    requestFocus();
    Target t = geometry().at(e.getX(), e.getY());
    pressedRow = t.part() == Part.LABEL && e.isPrimaryButtonDown() ? t.row() : -1;
    pressedY = e.getY();
    if (e.isSecondaryButtonDown()) {
      menu(t, e);
      return;
    }
    HeaderActions h = headers;
    switch (t.part()) {
      case JOIN -> {
        if (h != null) {
          h.joins(t.column());
        }
      }
      case RENDER_MARK -> {
        if (h != null) {
          h.toggleRender(t.column());
        }
      }
      case NAME, HEADER -> {
        if (h != null && t.part() == Part.NAME && e.getClickCount() == 2) {
          h.rename(t.column());
        } else {
          select(row(), t.column(), false);
        }
      }
      case LABEL, CELL -> {
        Row hit = rows.get(t.row());
        double arrow = 8 + hit.depth() * 14;
        if (t.part() == Part.LABEL
            && hit.members()
            && (e.getX() < arrow + 16 || e.getClickCount() == 2)) {
          source.toggle(hit.key());
          refresh();
        }
        select(t.row(), t.column(), e.isShiftDown());
      }
      case NONE -> {
        // nothing there can be clicked
      }
    }
  }

  private void menu(Target t, MouseEvent e) {
    if (t.row() == -1 && t.column() >= 0 && headers != null) {
      select(row(), t.column(), false);
      headers.menu(t.column(), e.getScreenX(), e.getScreenY());
    } else if (t.row() >= 0 && t.column() >= -1) {
      if (!selection.containsRow(t.row())) {
        select(t.row(), t.column(), false);
      }
      menus.open(t.row(), e.getScreenX(), e.getScreenY());
    }
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
    Target t = geometry().at(e.getX(), e.getY());
    if (pressedRow >= 0) {
      dragged = drops.dragged(pressedRow);
      boolean far = Math.abs(e.getY() - pressedY) > DRAG_FROM || dropRow >= 0;
      dropRow = far && !dragged.isEmpty() ? t.row() : -1;
      dropBetween = dropRow >= 0 && drops.between(pressedRow, dropRow);
      paint();
      return;
    }
    if (t.part() == Part.CELL) {
      select(t.row(), t.column(), true);
    }
  }

  private void hover(double x, double y) {
    Target t = geometry().at(x, y);
    String layer = t.column() >= 0 ? columns.get(t.column()).name() : "";
    hint.setText(
        switch (t.part()) {
          case LABEL, CELL -> source.describe(t.row(), t.column());
          case NAME, HEADER -> layer + ": click to view it, double-click the name to rename";
          case JOIN -> "how " + layer + " joins what is behind it (J)";
          case RENDER_MARK -> "enable or disable " + layer + " for render (R)";
          case NONE -> "layers, back → front";
        });
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
              geometry(),
              selection,
              isFocused(),
              solo,
              dropRow,
              dropBetween,
              dragged));
    } catch (RuntimeException e) {
      onTrouble.accept(e);
    }
  }
}
