package org.wedgecutter.app.panel;

import java.util.List;
import java.util.function.BiConsumer;
import javafx.geometry.VPos;
import javafx.scene.AccessibleAttribute;
import javafx.scene.AccessibleRole;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.Region;
import javafx.scene.paint.Color;
import javafx.scene.text.TextAlignment;
import org.wedgecutter.app.theme.Theme;

/**
 * A small table of facts to be read, with one cell selected: names of rows and columns, a short
 * text in each cell, and behind it a bar as long as its number is large. Arrows and clicks select.
 */
public final class FactGrid extends Region {
  private static final double LINE = 24;
  private static final double HEAD = 26;
  private static final double NAMES = 124;
  private static final double WIDEST = 150;

  private final Canvas canvas = new Canvas();
  private Facts facts = Facts.NONE;
  private Theme theme = Theme.DARK;
  private int row;
  private int column;
  private BiConsumer<Integer, Integer> onSelect = (r, c) -> {};

  /**
   * What is shown.
   *
   * @param corner what the names of the rows mean, and those of the columns
   * @param rows names of the rows
   * @param columns names of the columns
   * @param cells row by row; as many as there are columns in each
   */
  public record Facts(
      String corner, List<String> rows, List<String> columns, List<List<Cell>> cells) {
    /** Nothing. */
    public static final Facts NONE = new Facts("", List.of(), List.of(), List.of());

    public Facts {
      rows = List.copyOf(rows);
      columns = List.copyOf(columns);
      cells = cells.stream().map(List::copyOf).toList();
    }
  }

  /**
   * A cell.
   *
   * @param text short
   * @param bar length of the bar behind it, 0 to 1
   * @param sentence what it says, whole
   */
  public record Cell(String text, double bar, String sentence) {
    /** Where there is nothing to tell. */
    public static final Cell EMPTY = new Cell("", 0, "");
  }

  public FactGrid(String id) {
    setId(id);
    getChildren().add(canvas);
    setFocusTraversable(true);
    setAccessibleRole(AccessibleRole.TABLE_VIEW);
    addEventHandler(MouseEvent.MOUSE_PRESSED, this::clicked);
    addEventHandler(KeyEvent.KEY_PRESSED, this::key);
    focusedProperty().addListener(o -> paint());
  }

  /** Shows facts; the selection stays where it is if there is such a cell. */
  public void show(Facts next, Theme colours) {
    facts = next;
    theme = colours;
    row = Math.max(0, Math.min(row, next.rows.size() - 1));
    column = Math.max(0, Math.min(column, next.columns.size() - 1));
    if (sentence().isEmpty()) {
      toFirst();
    }
    setMinHeight(HEAD + LINE * next.rows.size());
    setPrefHeight(HEAD + LINE * next.rows.size());
    setMinWidth(NAMES + 56 * next.columns.size());
    told();
    requestLayout();
  }

  /** Selects the first cell that says anything. */
  private void toFirst() {
    for (int r = 0; r < facts.rows.size(); r++) {
      for (int c = 0; c < facts.columns.size(); c++) {
        if (!facts.cells.get(r).get(c).sentence.isEmpty()) {
          row = r;
          column = c;
          return;
        }
      }
    }
  }

  /** Sets what is run when another cell is selected: row and column. */
  public void setOnSelect(BiConsumer<Integer, Integer> action) {
    onSelect = action;
  }

  /** Selects a cell. */
  public void select(int nextRow, int nextColumn) {
    if (nextRow >= 0
        && nextRow < facts.rows.size()
        && nextColumn >= 0
        && nextColumn < facts.columns.size()) {
      row = nextRow;
      column = nextColumn;
      told();
      paint();
      onSelect.accept(row, column);
    }
  }

  /** Returns the row of the selected cell. */
  public int row() {
    return row;
  }

  /** Returns the column of the selected cell. */
  public int column() {
    return column;
  }

  /** Returns what the selected cell says; empty if there is none. */
  public String sentence() {
    return row < facts.cells.size() && column < facts.cells.get(row).size()
        ? facts.cells.get(row).get(column).sentence
        : "";
  }

  /** Returns what is shown. */
  public Facts facts() {
    return facts;
  }

  private void told() {
    setAccessibleText(sentence());
    notifyAccessibleAttributeChanged(AccessibleAttribute.TEXT);
  }

  private double width() {
    int columns = Math.max(1, facts.columns.size());
    return Math.min(WIDEST, Math.max(56, (getWidth() - NAMES) / columns));
  }

  private void clicked(MouseEvent e) {
    requestFocus();
    select(
        (int) Math.floor((e.getY() - HEAD) / LINE), (int) Math.floor((e.getX() - NAMES) / width()));
  }

  private void key(KeyEvent e) {
    int nextRow = row;
    int nextColumn = column;
    switch (e.getCode()) {
      case UP -> nextRow--;
      case DOWN -> nextRow++;
      case LEFT -> nextColumn--;
      case RIGHT -> nextColumn++;
      default -> {
        return;
      }
    }
    select(nextRow, nextColumn);
    e.consume();
  }

  @Override
  protected void layoutChildren() {
    canvas.setWidth(Math.max(1, getWidth()));
    canvas.setHeight(Math.max(1, HEAD + LINE * facts.rows.size()));
    paint();
  }

  private void paint() {
    GraphicsContext g = canvas.getGraphicsContext2D();
    g.clearRect(0, 0, canvas.getWidth(), canvas.getHeight());
    double w = width();
    g.setTextBaseline(VPos.CENTER);
    g.setFont(Theme.sans(12));
    g.setFill(theme.dim);
    g.setTextAlign(TextAlignment.LEFT);
    g.fillText(facts.corner, 0, HEAD / 2, NAMES - 8);
    g.setTextAlign(TextAlignment.RIGHT);
    for (int c = 0; c < facts.columns.size(); c++) {
      g.setFill(c == column ? theme.text : theme.dim);
      g.fillText(facts.columns.get(c), NAMES + (c + 1) * w - 8, HEAD / 2, w - 12);
    }
    for (int r = 0; r < facts.rows.size(); r++) {
      double y = HEAD + r * LINE;
      g.setFill(r == row ? theme.text : theme.dim);
      g.setFont(Theme.sans(13));
      g.setTextAlign(TextAlignment.LEFT);
      g.fillText(facts.rows.get(r), 0, y + LINE / 2, NAMES - 8);
      for (int c = 0; c < facts.columns.size(); c++) {
        cell(g, facts.cells.get(r).get(c), r, c, NAMES + c * w, y, w);
      }
    }
  }

  private void cell(GraphicsContext g, Cell cell, int r, int c, double x, double y, double w) {
    g.setFill(r % 2 == 0 ? theme.panel : theme.panel.interpolate(theme.raised, 0.5));
    g.fillRect(x, y, w, LINE);
    if (cell.bar > 0) {
      Color bar = theme.accent.deriveColor(0, 1, 1, 0.28);
      g.setFill(bar);
      double length = (w - 4) * Math.min(1, cell.bar);
      g.fillRect(x + w - 2 - length, y + 3, length, LINE - 6);
    }
    g.setFill(theme.text);
    g.setFont(Theme.mono(12));
    g.setTextAlign(TextAlignment.RIGHT);
    g.fillText(cell.text, x + w - 8, y + LINE / 2, w - 12);
    if (r == row && c == column) {
      g.setStroke(isFocused() ? theme.accent : theme.dim);
      g.setLineWidth(isFocused() ? 2 : 1);
      g.strokeRect(x + 1, y + 1, w - 2, LINE - 2);
    }
  }
}
