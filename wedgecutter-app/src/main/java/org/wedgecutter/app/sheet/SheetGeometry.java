package org.wedgecutter.app.sheet;

/**
 * Where rows, columns and the parts of headers are, in pixels of the sheet.
 *
 * @param width room that is drawn on
 * @param height room that is drawn on
 * @param rows number of rows
 * @param columns how many there are
 * @param down rows scrolled out of view at the top; may be fractional
 * @param across pixels scrolled out of view at the left
 */
record SheetGeometry(
    double width, double height, int rows, int columns, double down, double across) {
  /** Height of a row. */
  static final double ROW = 26;

  /** Height of the column headers. */
  static final double HEAD = 128;

  /** Width of the row labels. */
  static final double LABEL = 168;

  /** Least width of a column. */
  static final double MIN_COLUMN = 78;

  private static final double MAX_COLUMN = 168;
  private static final double JOIN = 24;
  private static final double JOIN_OVERLAP = 20;
  private static final double RENDER_MARK = 26;
  private static final double RENDER_MARK_TOP = 44;
  private static final double NAME = 28;

  /** What a pointer can be on. */
  enum Part {
    /** The corner above the row labels, or beyond all rows and columns. */
    NONE,
    /** A header, but none of its parts. */
    HEADER,
    /** The layer name in a header. */
    NAME,
    /** The join in front of a column. */
    JOIN,
    /** The mark that tells whether a layer is rendered. */
    RENDER_MARK,
    /** The label of a row. */
    LABEL,
    /** A cell. */
    CELL
  }

  /**
   * What is at a place.
   *
   * @param row row, or -1 in the headers
   * @param column column, or -1 in the labels
   */
  record Target(Part part, int row, int column) {}

  /** Returns the width of a column. */
  double columnWidth() {
    double room = width - LABEL;
    return columns == 0 ? room : Math.max(MIN_COLUMN, Math.min(MAX_COLUMN, room / columns));
  }

  /** Returns the left edge of a column. */
  double left(int column) {
    return LABEL + column * columnWidth() - across;
  }

  /** Returns the top edge of a row. */
  double top(int row) {
    return HEAD + (row - down) * ROW;
  }

  /** Returns the centre of a cell; column -1 is the row label, row -1 the header. */
  double[] centre(int row, int column) {
    double x = column < 0 ? LABEL / 2 : left(column) + columnWidth() / 2;
    double y = row < 0 ? HEAD / 2 : top(row) + ROW / 2;
    return new double[] {x, y};
  }

  /** Returns how many whole rows are visible. */
  double visibleRows() {
    return Math.floor((height - HEAD) / ROW);
  }

  /** Returns the row at a height, -1 in the headers, -2 below the last row. */
  int rowAt(double y) {
    if (y < HEAD) {
      return -1;
    }
    int r = (int) Math.floor((y - HEAD) / ROW + down);
    return r < rows ? r : -2;
  }

  private int columnAt(double x) {
    if (x < LABEL) {
      return -1;
    }
    int c = (int) ((x - LABEL + across) / columnWidth());
    return c < columns ? c : -2;
  }

  /** Returns what is at a place. */
  Target at(double x, double y) {
    int r = rowAt(y);
    int c = columnAt(x);
    if (r == -2 || c == -2 || (r == -1 && c == -1)) {
      return new Target(Part.NONE, r, c);
    }
    if (r >= 0) {
      return new Target(c < 0 ? Part.LABEL : Part.CELL, r, c);
    }
    double in = x - left(c);
    if (y > HEAD - JOIN) {
      // the plate of a join lies across the line between two columns
      boolean next = in > columnWidth() - JOIN_OVERLAP && c + 1 < columns;
      return new Target(Part.JOIN, r, next ? c + 1 : c);
    }
    if (in > columnWidth() - RENDER_MARK && y > HEAD - RENDER_MARK_TOP) {
      return new Target(Part.RENDER_MARK, r, c);
    }
    return new Target(y < NAME ? Part.NAME : Part.HEADER, r, c);
  }
}
