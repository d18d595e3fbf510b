package org.wedgecutter.app.stations;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import javafx.geometry.Side;
import javafx.scene.Node;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuItem;
import javafx.scene.control.SeparatorMenuItem;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.CutRows;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.RuleParser;

/** The menus of columns and rows. */
final class SheetMenus implements SheetView.Menus {
  private final SheetView sheet;
  private final CutRows rows;
  private final SheetEdits edits;
  private final Supplier<@Nullable Session> session;
  private final DetailPanel.Editor editor;
  private final FileDesk files;
  private final java.util.function.Consumer<String> solo;
  private @Nullable ContextMenu shown;

  /**
   * @param solo makes a layer the only one, or takes that back
   */
  SheetMenus(
      SheetView sheet,
      CutRows rows,
      SheetEdits edits,
      Supplier<@Nullable Session> session,
      DetailPanel.Editor editor,
      FileDesk files,
      java.util.function.Consumer<String> solo) {
    this.sheet = sheet;
    this.rows = rows;
    this.edits = edits;
    this.session = session;
    this.editor = editor;
    this.files = files;
    this.solo = solo;
  }

  @Override
  public void open(int row, int column, double screenX, double screenY) {
    if (session.get() != null) {
      show(row < 0 ? column(column) : row(row), screenX, screenY);
    }
  }

  private void show(List<MenuItem> items, double screenX, double screenY) {
    if (shown != null) {
      shown.hide();
    }
    ContextMenu menu = new ContextMenu(items.toArray(MenuItem[]::new));
    menu.setId("sheet-menu");
    shown = menu;
    menu.show(sheet, screenX, screenY);
  }

  private static MenuItem item(String text, Runnable action) {
    MenuItem item = new MenuItem(text);
    item.setOnAction(e -> action.run());
    return item;
  }

  /** Opens the joins of a layer below the header. */
  void joins(int column) {
    ContextMenu menu = new ContextMenu();
    menu.getItems().addAll(joinItems(edits.layerName(column)));
    double[] at = sheet.centre(-1, column);
    menu.show(sheet, Side.TOP, at[0] - 60, SheetView.HEAD);
  }

  private List<MenuItem> joinItems(String layer) {
    List<MenuItem> out = new ArrayList<>();
    for (Join join : Join.values()) {
      out.add(
          item(
              "join " + layer + " by " + join.word(),
              () ->
                  editor.edit(
                      layer + " joined by " + join.word(), p -> LayerEdits.join(p, layer, join))));
    }
    out.add(
        item(
            "leave " + layer + " out of the recipe",
            () -> editor.edit(layer + " not joined", p -> LayerEdits.unjoin(p, layer))));
    return out;
  }

  private List<MenuItem> column(int column) {
    String layer = edits.layerName(column);
    Menu joins = new Menu("join by");
    joins.getItems().addAll(joinItems(layer));
    return List.of(
        item("rename …", () -> edits.rename(column)),
        item(
            "copy in front of it",
            () -> editor.edit("copy " + layer, p -> LayerEdits.copy(p, layer))),
        item("new layer in front of it", () -> addLayer(column + 1)),
        new SeparatorMenuItem(),
        item("towards the back", () -> edits.moveLayer(layer, -1)),
        item("towards the front", () -> edits.moveLayer(layer, 1)),
        joins,
        new SeparatorMenuItem(),
        item("render it or not", () -> edits.toggleRender(column)),
        item("solo, or no longer", () -> solo.accept(layer)),
        new SeparatorMenuItem(),
        item("export this layer …", () -> files.exportLayer(layer)),
        item("export its cells …", () -> files.exportCells(layer)),
        item("import a part here …", () -> files.importPart(layer)),
        new SeparatorMenuItem(),
        item(
            "take it away",
            () -> editor.edit("take away " + layer, p -> LayerEdits.remove(p, layer))));
  }

  private List<MenuItem> row(int row) {
    List<MenuItem> out = new ArrayList<>(selectionItems());
    CollectionDef c = rows.collection(row);
    if (c != null && rows.entity(row) == null) {
      out.addFirst(new SeparatorMenuItem());
      out.addFirst(
          item(
              "take collection " + c.name() + " away",
              () ->
                  editor.edit("take away " + c.name(), p -> CollectionEdits.remove(p, c.name()))));
      out.addFirst(item("down", () -> edits.moveCollection(c.name(), 1)));
      out.addFirst(item("up: goes before", () -> edits.moveCollection(c.name(), -1)));
      out.addFirst(item("rename …", () -> edits.renameCollection(row)));
    }
    if (rows.entity(row) != null && c != null) {
      out.add(new SeparatorMenuItem());
      out.add(item("leave out of " + c.name(), () -> leaveOut(row, c.name())));
    }
    out.add(new SeparatorMenuItem());
    out.add(item("new collection above", () -> addCollection(row)));
    return out;
  }

  private void leaveOut(int row, String collection) {
    var entity = rows.entity(row);
    if (entity != null) {
      editor.edit(
          entity.name() + " left out of " + collection,
          p -> CollectionEdits.leaveOut(p, collection, entity));
    }
  }

  private List<MenuItem> selectionItems() {
    Menu split = new Menu("split into layers");
    split
        .getItems()
        .addAll(
            item("one for each top group", () -> edits.split(Cuts.By.TOP_GROUP)),
            item("one for each object", () -> edits.split(Cuts.By.OBJECT)),
            item("one for each material", () -> edits.split(Cuts.By.MATERIAL)));
    return List.of(
        item("layer from this: seen here, held out elsewhere", () -> edits.apart(false)),
        item("the same, and its shadow in a layer", () -> edits.apart(true)),
        split);
  }

  /** Opens what can be made of the selection, under a button. */
  void selection(Node under) {
    ContextMenu menu = new ContextMenu(selectionItems().toArray(MenuItem[]::new));
    menu.setId("selection-menu");
    menu.show(under, Side.BOTTOM, 0, 2);
  }

  /** Puts an empty layer at a place: everything held out. */
  void addLayer(int at) {
    LayerDef layer = LayerDef.of("Layer", 0, Map.of(), Cell.of(Role.HOLDOUT));
    editor.edit("new layer", p -> LayerEdits.add(p, at, layer, Join.PLUS));
    sheet.select(sheet.row(), at, false);
  }

  /** Puts an empty collection above a row. */
  void addCollection(int row) {
    Session s = session.get();
    if (s == null) {
      return;
    }
    Plan p = s.plan();
    CollectionDef above = rows.collection(row);
    int at = above == null ? p.collections().size() : p.collections().indexOf(above);
    String name = CollectionEdits.freeName(p, "Collection");
    editor.edit(
        "new collection",
        x -> CollectionEdits.add(x, at, CollectionDef.of(name, RuleParser.nothing())));
    sheet.select(rows.rowOf(name), -1, false);
  }
}
