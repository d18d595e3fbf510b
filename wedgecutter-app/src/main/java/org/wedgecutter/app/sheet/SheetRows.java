package org.wedgecutter.app.sheet;

import java.util.List;
import javafx.scene.canvas.GraphicsContext;

/** What the rows and cells are at a station. */
public interface SheetRows {
  /** No rows at all. */
  SheetRows NONE =
      new SheetRows() {
        @Override
        public List<Row> rows() {
          return List.of();
        }

        @Override
        public void paint(
            GraphicsContext g, int row, int column, double x, double y, double w, double h) {}

        @Override
        public String describe(int row, int column) {
          return "";
        }

        @Override
        public void toggle(String key) {}
      };

  /** Returns the rows, as they are shown now. */
  List<Row> rows();

  /** Draws a cell; its background is drawn already. */
  void paint(GraphicsContext g, int row, int column, double x, double y, double w, double h);

  /** Returns a cell in words, for the panel, tool tips and screen readers. */
  String describe(int row, int column);

  /** Returns lines that say what to do first, shown below the rows; usually none. */
  default List<String> advice() {
    return List.of();
  }

  /** Opens or closes a row's members. */
  void toggle(String key);
}
