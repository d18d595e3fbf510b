package org.wedgecutter.app.station.cut;

import static org.wedgecutter.app.station.LayerActions.item;

import java.util.ArrayList;
import java.util.List;
import javafx.geometry.Side;
import javafx.scene.Node;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuItem;
import javafx.scene.control.SeparatorMenuItem;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.scene.Entity;

/** The menus of rows at the Cut station, and of the selection. */
final class CutMenus {
  private final Workbench bench;
  private final CutRows rows;
  private final MemberPicks picks;
  private final CollectionActions collections;

  CutMenus(Workbench bench, CutRows rows, MemberPicks picks, CollectionActions collections) {
    this.bench = bench;
    this.rows = rows;
    this.picks = picks;
    this.collections = collections;
  }

  /** Returns the menu of a row. */
  List<MenuItem> row(int row) {
    List<MenuItem> out = new ArrayList<>();
    CollectionDef c = rows.collection(row);
    Entity entity = rows.entity(row);
    if (c != null && entity == null) {
      out.add(item("Rename", () -> collections.rename(row)));
      out.add(item("Move up (higher precedence)", () -> picks.moveCollection(c.name(), -1)));
      out.add(item("Move down", () -> picks.moveCollection(c.name(), 1)));
      out.add(item("Delete collection " + c.name(), () -> collections.delete(c.name())));
      out.add(new SeparatorMenuItem());
    }
    out.addAll(selectionItems());
    if (entity != null && c != null) {
      out.add(new SeparatorMenuItem());
      out.add(
          item(
              "Exclude from " + c.name(),
              () ->
                  bench.edit(
                      entity.name() + " excluded from " + c.name(),
                      p -> CollectionEdits.leaveOut(p, c.name(), entity))));
    }
    out.add(new SeparatorMenuItem());
    out.add(item("New collection above", () -> collections.add(row)));
    return out;
  }

  private List<MenuItem> selectionItems() {
    Menu split = new Menu("Split selection into layers");
    split
        .getItems()
        .addAll(
            item("One per top group", () -> picks.split(Cuts.By.TOP_GROUP)),
            item("One per object", () -> picks.split(Cuts.By.OBJECT)),
            item("One per material", () -> picks.split(Cuts.By.MATERIAL)));
    return List.of(
        item("New layer from selection", () -> picks.apart(false)),
        item(
            "New layer from selection, with separate shadow and reflection",
            () -> picks.apart(true)),
        split,
        item("Add ground under selection", () -> picks.addGround(false)),
        item("Add ground that catches the selection's shadow", () -> picks.addGround(true)));
  }

  /** Opens the menu of the selection under a button. */
  void selection(Node under) {
    ContextMenu menu = new ContextMenu(selectionItems().toArray(MenuItem[]::new));
    menu.setId("selection-menu");
    menu.show(under, Side.BOTTOM, 0, 2);
  }
}
