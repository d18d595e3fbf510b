package org.wedgecutter.app.sheet;

import java.util.LinkedHashMap;
import java.util.Map;
import javafx.scene.AccessibleAttribute;
import javafx.scene.AccessibleRole;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.layout.Region;

/**
 * Stand-ins for the cells of the sheet, which is one drawing, so that assistive technology can ask
 * for rows, columns, cells and their values.
 */
final class AccessibleCells {
  private static final int KEPT = 256;
  private final Parent sheet;
  private final Map<Long, Cell> cells =
      new LinkedHashMap<>(64, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Long, Cell> eldest) {
          return size() > KEPT;
        }
      };

  AccessibleCells(Parent sheet) {
    this.sheet = sheet;
  }

  /** Returns the stand-in of a cell with its present words. */
  Node cell(int row, int column, String words) {
    Cell cell =
        cells.computeIfAbsent(
            (long) row << 32 | (column & 0xffffffffL), k -> new Cell(sheet, row, column));
    cell.setAccessibleText(words);
    return cell;
  }

  private static final class Cell extends Region {
    private final Parent sheet;
    private final int row;
    private final int column;

    Cell(Parent sheet, int row, int column) {
      this.sheet = sheet;
      this.row = row;
      this.column = column;
      setAccessibleRole(AccessibleRole.TABLE_CELL);
    }

    @Override
    public Object queryAccessibleAttribute(AccessibleAttribute attribute, Object... parameters) {
      return switch (attribute) {
        case ROW_INDEX -> row;
        case COLUMN_INDEX -> column;
        case PARENT -> sheet;
        default -> super.queryAccessibleAttribute(attribute, parameters);
      };
    }
  }
}
