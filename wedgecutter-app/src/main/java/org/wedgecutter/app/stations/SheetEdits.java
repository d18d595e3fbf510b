package org.wedgecutter.app.stations;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Supplier;
import javafx.scene.control.TextInputDialog;
import javafx.scene.input.Clipboard;
import javafx.scene.input.ClipboardContent;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.CutRows;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CellBlock;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.scene.Entity;

/** What keys, the mouse and menus do to the plan on the Cut sheet. */
final class SheetEdits implements SheetView.Drops {
  private final SheetView sheet;
  private final CutRows rows;
  private final Supplier<@Nullable Session> session;
  private final DetailPanel.Editor editor;
  private final java.util.function.Consumer<String> trouble;

  SheetEdits(
      SheetView sheet,
      CutRows rows,
      Supplier<@Nullable Session> session,
      DetailPanel.Editor editor,
      java.util.function.Consumer<String> trouble) {
    this.sheet = sheet;
    this.rows = rows;
    this.session = session;
    this.editor = editor;
    this.trouble = trouble;
  }

  private @Nullable Plan plan() {
    Session s = session.get();
    return s == null ? null : s.plan();
  }

  String layerName(int column) {
    Plan p = plan();
    return p == null || column < 0 || column >= p.layers().size()
        ? ""
        : p.layers().get(column).name();
  }

  // ---- keys

  /** Takes a key that is not about moving; roles can only be set where the rows are collections. */
  void key(KeyEvent e, boolean cut) {
    if (plan() == null) {
      return;
    }
    boolean taken =
        e.isControlDown() ? cut && control(e) : e.isAltDown() ? alt(e, cut) : plain(e, cut);
    if (taken) {
      e.consume();
    }
  }

  private boolean plain(KeyEvent e, boolean cut) {
    if (e.getCode() == KeyCode.F2) {
      if (sheet.column() >= 0) {
        rename(sheet.column());
      } else if (cut) {
        renameCollection(sheet.row());
      }
      return true;
    }
    return cut && roleKey(e);
  }

  private boolean control(KeyEvent e) {
    switch (e.getCode()) {
      case C -> copy();
      case X -> {
        copy();
        clear();
      }
      case V -> paste();
      case D -> fill(true);
      case R -> fill(false);
      default -> {
        return false;
      }
    }
    return true;
  }

  private boolean alt(KeyEvent e, boolean cut) {
    String layer = layerName(sheet.column());
    switch (e.getCode()) {
      case UP, DOWN -> {
        CollectionDef c = rows.collection(sheet.row());
        if (!cut || c == null) {
          return false;
        }
        moveCollection(c.name(), e.getCode() == KeyCode.UP ? -1 : 1);
      }
      case LEFT, RIGHT -> {
        if (layer.isEmpty()) {
          return false;
        }
        moveLayer(layer, e.getCode() == KeyCode.LEFT ? -1 : 1);
      }
      default -> {
        return false;
      }
    }
    return true;
  }

  void moveCollection(String name, int by) {
    int column = sheet.column();
    editor.edit(name + (by < 0 ? " up" : " down"), p -> CollectionEdits.move(p, name, by));
    sheet.select(Math.max(0, rows.rowOf(name)), column, false);
  }

  void moveLayer(String layer, int by) {
    editor.edit(
        layer + (by < 0 ? " towards the back" : " towards the front"),
        p -> LayerEdits.move(p, layer, by));
    Plan p = plan();
    if (p != null) {
      sheet.select(sheet.row(), p.layerIndex(layer), false);
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
    if (e.getCode() == KeyCode.P) {
      pickAbove();
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

  // ---- cells

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
        chosen.add(layerName(c));
      }
    });
    return new ArrayList<>(chosen);
  }

  void copy() {
    Plan p = plan();
    if (p == null || selectedRows().isEmpty() || selectedLayers().isEmpty()) {
      return;
    }
    ClipboardContent content = new ClipboardContent();
    content.putString(CellBlock.copy(p, selectedLayers(), selectedRows()).text());
    Clipboard.getSystemClipboard().setContent(content);
  }

  /** Puts the clipboard's cells at the cursor, or fills the selection with them. */
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
      trouble.accept("nothing to paste: " + e.getMessage());
      return;
    }
    List<@Nullable String> toRows = selectedRows();
    List<String> toLayers = selectedLayers();
    if (toRows.isEmpty() || toLayers.isEmpty()) {
      return;
    }
    grow(p, block, toRows, toLayers);
    editor.edit("paste cells", before -> block.paste(before, toLayers, toRows));
  }

  /** A single cell takes a block from there to the right and downwards. */
  private void grow(Plan p, CellBlock block, List<@Nullable String> toRows, List<String> toLayers) {
    if (toRows.size() == 1 && toLayers.size() == 1) {
      int column = p.layerIndex(toLayers.getFirst());
      for (int c = 1; c < block.width() && column + c < p.layers().size(); c++) {
        toLayers.add(layerName(column + c));
      }
      for (int r = sheet.row() + 1; toRows.size() < block.height() && r < rows.rows().size(); r++) {
        if (rows.takesRoles(r)) {
          CollectionDef c = rows.collection(r);
          toRows.add(c == null ? null : c.name());
        }
      }
    }
  }

  /** Fills the selection with its first row or its first column. */
  private void fill(boolean down) {
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
    editor.edit(
        down ? "fill down" : "fill to the right", before -> block.paste(before, toLayers, toRows));
  }

  // ---- entities

  /** Returns all entities of the selected rows. */
  EntitySet selection() {
    EntitySet[] out = {EntitySet.NONE};
    sheet.forEachSelected((r, c) -> out[0] = out[0].or(rows.entities(r)));
    return out[0];
  }

  /** Puts entities into a collection by hand. */
  void pick(String collection, EntitySet entities) {
    Session s = session.get();
    if (s == null || entities.isEmpty()) {
      return;
    }
    List<Entity> all = s.shot().scene().entities();
    String what =
        entities.size() == 1 ? all.get(entities.first()).name() : entities.size() + " entities";
    editor.edit(
        what + " into " + collection,
        p -> {
          Plan next = p;
          for (int e : entities.indices()) {
            next = CollectionEdits.pick(next, collection, all.get(e));
          }
          return next;
        });
  }

  /** The members under the cursor go into the collection above the one that they are in. */
  private void pickAbove() {
    Plan p = plan();
    CollectionDef own = rows.collection(sheet.row());
    if (p == null || rows.entity(sheet.row()) == null) {
      return;
    }
    int at = own == null ? p.collections().size() : p.collections().indexOf(own);
    if (at > 0) {
      pick(p.collections().get(at - 1).name(), selection());
    }
  }

  @Override
  public String dragged(int row) {
    CollectionDef c = rows.collection(row);
    if (rows.entity(row) != null) {
      EntitySet all = selected(row);
      return all.size() == 1 ? rows.rows().get(row).label() : all.size() + " entities";
    }
    return c == null ? "" : c.name();
  }

  private EntitySet selected(int row) {
    EntitySet all = selection();
    EntitySet own = rows.entities(row);
    return all.containsAll(own) && rows.entity(sheet.row()) != null ? all : own;
  }

  @Override
  public boolean between(int row, int target) {
    return rows.entity(row) == null;
  }

  @Override
  public void drop(int row, int target) {
    CollectionDef to = rows.collection(target);
    CollectionDef c = rows.collection(row);
    Plan p = plan();
    if (p == null) {
      return;
    }
    if (rows.entity(row) != null) {
      if (to != null) {
        pick(to.name(), selected(row));
      }
    } else if (c != null && !rows.isCheck(target)) {
      int from = p.collections().indexOf(c);
      int at = to == null ? p.collections().size() : p.collections().indexOf(to);
      moveCollection(c.name(), (at > from ? at - 1 : at) - from);
    }
  }

  /** Cuts the selection out into a layer of its own. */
  void apart(boolean shadow) {
    Session s = session.get();
    EntitySet what = selection();
    if (s == null || what.isEmpty()) {
      trouble.accept("select rows first: what is to be a layer of its own");
      return;
    }
    Members members = s.shot().members();
    editor.edit(
        shadow ? "layer from the selection, shadow apart" : "layer from the selection",
        p -> Cuts.apart(p, members, what, shadow));
  }

  /** Splits the selection into layers. */
  void split(Cuts.By by) {
    Session s = session.get();
    EntitySet what = selection();
    if (s == null || what.isEmpty()) {
      trouble.accept("select rows first: what is to be split");
      return;
    }
    Members members = s.shot().members();
    try {
      editor.edit("split into layers", p -> Cuts.split(p, members, what, by));
    } catch (IllegalArgumentException e) {
      trouble.accept(e.getMessage());
    }
  }

  // ---- layers and collections

  /** Switches whether a layer is rendered. */
  void toggleRender(int column) {
    String layer = layerName(column);
    editor.edit("render " + layer, p -> LayerEdits.layer(p, layer, l -> l.withRender(!l.render())));
  }

  /** Asks for a layer's new name. */
  void rename(int column) {
    String layer = layerName(column);
    ask("Rename layer", "Name of the layer", layer)
        .ifPresent(
            name -> editor.edit("rename " + layer, p -> LayerEdits.rename(p, layer, name.trim())));
  }

  /** Asks for a collection's new name. */
  void renameCollection(int row) {
    CollectionDef c = rows.collection(row);
    if (c != null && rows.entity(row) == null) {
      ask("Rename collection", "Name of the collection", c.name())
          .ifPresent(name ->
              editor.edit(
                  "rename " + c.name(), p -> CollectionEdits.rename(p, c.name(), name.trim())));
    }
  }

  private java.util.Optional<String> ask(String title, String what, String now) {
    TextInputDialog dialog = new TextInputDialog(now);
    dialog.initOwner(sheet.getScene().getWindow());
    dialog.setTitle(title);
    dialog.setHeaderText(null);
    dialog.setContentText(what);
    return dialog.showAndWait();
  }
}
