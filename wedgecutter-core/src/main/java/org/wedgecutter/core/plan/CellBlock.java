package org.wedgecutter.core.plan;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.JsonText;

/**
 * Cells that were copied from a sheet, with their overrides: a rectangle of rows and layers. Its
 * text is JSON, so that it can be pasted into another window, or into a message.
 *
 * @param cells by row, then by layer; all rows have the same number
 */
public record CellBlock(List<List<Cell>> cells) {
  private static final String KEY = "wedgecutter_cells";

  public CellBlock {
    cells = cells.stream().map(List::copyOf).toList();
  }

  /**
   * Copies cells.
   *
   * @param rows names of collections; null is the rest
   */
  public static CellBlock copy(Plan plan, List<String> layers, List<@Nullable String> rows) {
    List<List<Cell>> out = new ArrayList<>();
    for (String row : rows) {
      List<Cell> line = new ArrayList<>();
      for (String layer : layers) {
        line.add(plan.layer(layer).map(l -> l.cell(row)).orElse(Cell.EMPTY));
      }
      out.add(line);
    }
    return new CellBlock(out);
  }

  /** Pastes the cells onto others; a larger selection is filled by repeating them. */
  public Plan paste(Plan plan, List<String> layers, List<@Nullable String> rows) {
    Plan next = plan;
    for (int r = 0; r < rows.size() && !cells.isEmpty(); r++) {
      List<Cell> line = cells.get(r % cells.size());
      for (int c = 0; c < layers.size(); c++) {
        Cell cell = line.get(c % line.size());
        String row = rows.get(r);
        // the rest has nothing below it that it could leave a role to
        if (row != null || cell.role() != null) {
          next = PlanEdits.cell(next, layers.get(c), row, before -> cell);
        }
      }
    }
    return next;
  }

  /** Returns the number of rows. */
  public int height() {
    return cells.size();
  }

  /** Returns the number of layers. */
  public int width() {
    return cells.isEmpty() ? 0 : cells.getFirst().size();
  }

  /** Returns the cells as text. */
  public String text() {
    ObjectNode n = JsonNodeFactory.instance.objectNode();
    ArrayNode rows = n.putArray(KEY);
    for (List<Cell> line : cells) {
      ArrayNode out = rows.addArray();
      line.forEach(c -> out.add(PlanWriter.cell(c)));
    }
    return PlanWriter.text(n);
  }

  /**
   * Reads cells from text.
   *
   * @throws InputException if it holds no cells
   */
  public static CellBlock parse(String text) throws InputException {
    Path place = Path.of("clipboard");
    JsonNode n;
    try {
      n = JsonText.read(text, place);
    } catch (InputException e) {
      throw new InputException(place, "", "holds no cells", e);
    }
    if (!n.path(KEY).isArray() || n.path(KEY).isEmpty()) {
      throw new InputException(place, "", "holds no cells");
    }
    List<List<Cell>> out = new ArrayList<>();
    for (JsonNode line : n.get(KEY)) {
      List<Cell> cells = new ArrayList<>();
      for (JsonNode cell : line) {
        cells.add(PlanReader.cellOf(cell, place, KEY + "/" + out.size() + "/" + cells.size()));
      }
      out.add(cells);
      if (cells.isEmpty() || cells.size() != out.getFirst().size()) {
        throw new InputException(place, KEY, "all rows must have the same number of cells");
      }
    }
    return new CellBlock(out);
  }
}
