package org.wedgecutter.app.station.cut;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import javafx.scene.input.Clipboard;
import javafx.scene.input.ClipboardContent;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellBlock;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;

/** Edits of the selected cells: roles, clear, copy, paste and fill. */
final class CellEdits {
  private final Workbench bench;
  private final SheetView sheet;
  private final CutRows rows;

  CellEdits(Workbench bench, CutRows rows) {
    this.bench = bench;
    this.rows = rows;
    sheet = bench.sheet();
  }

  /** Changes a cell of the plan under edit. */
  private interface CellEdit {
    Plan apply(Plan plan, String layer, @Nullable String collection);
  }

  private @Nullable Plan plan() {
    Session s = bench.session();
    return s == null ? null : s.plan();
  }

  private void eachSelected(String name, CellEdit edit) {
    bench.edit(
        name,
        before -> {
          Plan[] next = {before};
          sheet.forEachSelected((r, c) -> {
            if (c >= 0 && rows.takesRoles(r)) {
              CollectionDef collection = rows.collection(r);
              next[0] =
                  edit.apply(
                      next[0],
                      bench.layers().name(c),
                      collection == null ? null : collection.name());
            }
          });
          return next[0];
        });
  }

  /** Sets the role of the selected cells. */
  void setRoles(Role role) {
    int[] cells = {0};
    sheet.forEachSelected((r, c) -> cells[0] += c >= 0 && rows.takesRoles(r) ? 1 : 0);
    CollectionDef one = rows.collection(sheet.row());
    String what = cells[0] != 1 ? "cells" : one == null ? "the rest" : one.name();
    eachSelected(
        what + " set to " + role.word(),
        (p, layer, row) -> PlanEdits.cell(p, layer, row, c -> c.withRole(role)));
  }

  /** Clears cells, so that the rows below decide; the rest has none below and stays. */
  void clear() {
    eachSelected(
        "clear cells",
        (p, layer, row) -> row == null ? p : PlanEdits.cell(p, layer, row, c -> Cell.EMPTY));
  }

  /** Makes the collection of the cursor Seen in its layer and Holdout in all others. */
  void seenOnlyHere() {
    CollectionDef collection = rows.collection(sheet.row());
    if (collection != null && sheet.column() >= 0) {
      String layer = bench.layers().name(sheet.column());
      bench.edit(
          collection.name() + " seen only in " + layer,
          p -> PlanEdits.seenOnlyIn(p, layer, collection.name()));
    }
  }

  /** The selected rows that hold roles: names of collections, null for the rest. */
  private List<@Nullable String> selectedRows() {
    Set<Integer> chosen = new LinkedHashSet<>();
    sheet.forEachSelected((r, c) -> {
      if (rows.takesRoles(r)) {
        chosen.add(r);
      }
    });
    List<@Nullable String> out = new ArrayList<>();
    for (int r : chosen) {
      CollectionDef c = rows.collection(r);
      out.add(c == null ? null : c.name());
    }
    return out;
  }

  private List<String> selectedLayers() {
    Set<String> chosen = new LinkedHashSet<>();
    sheet.forEachSelected((r, c) -> {
      if (c >= 0) {
        chosen.add(bench.layers().name(c));
      }
    });
    return new ArrayList<>(chosen);
  }

  /** Copies the selected cells to the clipboard, as text. */
  void copy() {
    Plan p = plan();
    if (p == null || selectedRows().isEmpty() || selectedLayers().isEmpty()) {
      return;
    }
    ClipboardContent content = new ClipboardContent();
    content.putString(CellBlock.copy(p, selectedLayers(), selectedRows()).text());
    Clipboard.getSystemClipboard().setContent(content);
  }

  /** Pastes the cells of the clipboard at the cursor, or fills the selection with them. */
  void paste() {
    Plan p = plan();
    String text = Clipboard.getSystemClipboard().getString();
    if (p == null || text == null) {
      return;
    }
    CellBlock block;
    try {
      block = CellBlock.parse(text);
    } catch (InputException e) {
      bench.banner("The clipboard holds no cells: " + e.getMessage());
      return;
    }
    List<@Nullable String> toRows = selectedRows();
    List<String> toLayers = selectedLayers();
    if (toRows.isEmpty() || toLayers.isEmpty()) {
      return;
    }
    grow(p, block, toRows, toLayers);
    bench.edit("paste cells", before -> block.paste(before, toLayers, toRows));
  }

  /** A single cell takes a block from there to the right and downwards. */
  private void grow(Plan p, CellBlock block, List<@Nullable String> toRows, List<String> toLayers) {
    if (toRows.size() == 1 && toLayers.size() == 1) {
      int column = p.layerIndex(toLayers.getFirst());
      for (int c = 1; c < block.width() && column + c < p.layers().size(); c++) {
        toLayers.add(bench.layers().name(column + c));
      }
      for (int r = sheet.row() + 1; toRows.size() < block.height() && r < rows.rows().size(); r++) {
        if (rows.takesRoles(r)) {
          CollectionDef c = rows.collection(r);
          toRows.add(c == null ? null : c.name());
        }
      }
    }
  }

  /** Fills the selection with its first row, or with its first column. */
  void fill(boolean down) {
    Plan p = plan();
    List<@Nullable String> toRows = selectedRows();
    List<String> toLayers = selectedLayers();
    if (p == null || toRows.isEmpty() || toLayers.isEmpty()) {
      return;
    }
    CellBlock block =
        down
            ? CellBlock.copy(p, toLayers, toRows.subList(0, 1))
            : CellBlock.copy(p, toLayers.subList(0, 1), toRows);
    bench.edit(down ? "fill down" : "fill right", before -> block.paste(before, toLayers, toRows));
  }
}
