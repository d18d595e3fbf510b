package org.wedgecutter.app.sheet;

import java.util.function.BiConsumer;

/**
 * The cursor of the sheet and the rectangle that is selected: from the anchor to the cursor. Rows
 * are numbered from 0; column -1 is the row labels.
 */
public final class SheetSelection {
  private int rows;
  private int columns;
  private int row;
  private int column;
  private int anchorRow;
  private int anchorColumn;

  /** Sets the size of the sheet; cursor and anchor stay within it. */
  void resize(int rowCount, int columnCount) {
    rows = rowCount;
    columns = columnCount;
    row = clampRow(row);
    column = clampColumn(column);
    anchorRow = clampRow(anchorRow);
    anchorColumn = clampColumn(anchorColumn);
  }

  private int clampRow(int r) {
    return Math.max(0, Math.min(r, rows - 1));
  }

  private int clampColumn(int c) {
    return Math.max(-1, Math.min(c, columns - 1));
  }

  /** Moves cursor and anchor to the first row. */
  void toFirstRow() {
    row = 0;
    anchorRow = 0;
  }

  /**
   * Moves the cursor.
   *
   * @param extend whether the anchor stays, so that the selection grows or shrinks
   */
  void move(int toRow, int toColumn, boolean extend) {
    row = clampRow(toRow);
    column = clampColumn(toColumn);
    if (!extend) {
      anchorRow = row;
      anchorColumn = column;
    }
  }

  /** Returns the row of the cursor. */
  public int row() {
    return row;
  }

  /** Returns the column of the cursor; -1 is the row labels. */
  public int column() {
    return column;
  }

  /** Whether a row is selected. */
  public boolean containsRow(int r) {
    return r >= Math.min(row, anchorRow) && r <= Math.max(row, anchorRow);
  }

  /** Whether a cell is selected. */
  public boolean contains(int r, int c) {
    return containsRow(r)
        && c >= Math.min(column, anchorColumn)
        && c <= Math.max(column, anchorColumn);
  }

  /** Calls an action with every selected row and column. */
  public void forEach(BiConsumer<Integer, Integer> action) {
    for (int r = Math.min(row, anchorRow); r <= Math.max(row, anchorRow); r++) {
      for (int c = Math.min(column, anchorColumn); c <= Math.max(column, anchorColumn); c++) {
        action.accept(r, c);
      }
    }
  }
}
