package org.wedgecutter.app.stations;

import java.util.function.Supplier;
import javafx.geometry.Side;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.MenuItem;
import javafx.scene.control.TextInputDialog;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.sheet.CutRows;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;

/** What hands do to the sheet, as edits of the plan. */
final class SheetEdits {
  private final SheetView sheet;
  private final CutRows rows;
  private final Supplier<@Nullable Plan> plan;
  private final DetailPanel.Editor editor;

  SheetEdits(
      SheetView sheet, CutRows rows, Supplier<@Nullable Plan> plan, DetailPanel.Editor editor) {
    this.sheet = sheet;
    this.rows = rows;
    this.plan = plan;
    this.editor = editor;
  }

  private String layerName(int column) {
    Plan p = plan.get();
    return p == null || column < 0 || column >= p.layers().size()
        ? ""
        : p.layers().get(column).name();
  }

  /** Takes a key that is not about moving; roles can only be set where the rows are collections. */
  void key(KeyEvent e, boolean roles) {
    if (plan.get() == null || e.isControlDown() || e.isAltDown()) {
      return;
    }
    if (e.getCode() == KeyCode.F2 && sheet.column() >= 0) {
      rename(sheet.column());
      e.consume();
    } else if (roles && roleKey(e)) {
      e.consume();
    }
  }

  private boolean roleKey(KeyEvent e) {
    if (e.getCode() == KeyCode.DELETE || e.getCode() == KeyCode.BACK_SPACE) {
      clear();
      return true;
    }
    if (e.getCode() == KeyCode.O) {
      seenOnlyHere();
      return true;
    }
    for (Role role : Role.values()) {
      if (e.getText().length() == 1 && Character.toUpperCase(e.getText().charAt(0)) == role.key()) {
        setRoles(role);
        return true;
      }
    }
    return false;
  }

  /** Changes a cell of the plan that is being edited. */
  private interface CellEdit {
    Plan apply(Plan plan, String layer, @Nullable String collection);
  }

  private void eachSelected(String name, CellEdit edit) {
    editor.edit(
        name,
        before -> {
          Plan[] next = {before};
          sheet.forEachSelected((r, c) -> {
            if (c >= 0 && rows.takesRoles(r)) {
              CollectionDef collection = rows.collection(r);
              next[0] =
                  edit.apply(next[0], layerName(c), collection == null ? null : collection.name());
            }
          });
          return next[0];
        });
  }

  private void setRoles(Role role) {
    eachSelected(
        role.word(), (p, layer, row) -> PlanEdits.cell(p, layer, row, c -> c.withRole(role)));
  }

  /** Leaves cells to the rows below; the rest has none below and stays. */
  private void clear() {
    eachSelected(
        "clear cells",
        (p, layer, row) -> row == null ? p : PlanEdits.cell(p, layer, row, c -> Cell.EMPTY));
  }

  private void seenOnlyHere() {
    CollectionDef collection = rows.collection(sheet.row());
    if (collection != null && sheet.column() >= 0) {
      String layer = layerName(sheet.column());
      editor.edit(
          collection.name() + " seen only in " + layer,
          p -> PlanEdits.seenOnlyIn(p, layer, collection.name()));
    }
  }

  /** Switches whether a layer is rendered. */
  void toggleRender(int column) {
    String layer = layerName(column);
    editor.edit("render " + layer, p -> PlanEdits.layer(p, layer, l -> l.withRender(!l.render())));
  }

  /** Offers a layer's joins, a copy of it, and to take it away. */
  void joinMenu(int column) {
    String layer = layerName(column);
    ContextMenu menu = new ContextMenu();
    for (Join join : Join.values()) {
      MenuItem item = new MenuItem("join " + layer + " by " + join.word());
      item.setOnAction(e ->
          editor.edit(layer + " joined by " + join.word(), p -> PlanEdits.join(p, layer, join)));
      menu.getItems().add(item);
    }
    MenuItem copy = new MenuItem("copy " + layer + " in front of it");
    copy.setOnAction(e -> editor.edit("copy " + layer, p -> PlanEdits.copyLayer(p, layer)));
    MenuItem remove = new MenuItem("take " + layer + " away");
    remove.setOnAction(
        e -> editor.edit("take away " + layer, p -> PlanEdits.removeLayer(p, layer)));
    menu.getItems().addAll(copy, remove);
    double[] at = sheet.centre(-1, column);
    menu.show(sheet, Side.TOP, at[0] - 60, SheetView.HEAD);
  }

  /** Asks for a layer's new name. */
  void rename(int column) {
    String layer = layerName(column);
    TextInputDialog dialog = new TextInputDialog(layer);
    dialog.initOwner(sheet.getScene().getWindow());
    dialog.setTitle("Rename layer");
    dialog.setHeaderText(null);
    dialog.setContentText("Name of the layer");
    dialog
        .showAndWait()
        .ifPresent(name ->
            editor.edit("rename " + layer, p -> PlanEdits.renameLayer(p, layer, name.trim())));
  }
}
