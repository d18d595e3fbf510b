package org.wedgecutter.app.station;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import javafx.geometry.Side;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuItem;
import javafx.scene.control.SeparatorMenuItem;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.files.PartFiles;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.app.sheet.HeaderActions;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.core.cut.CatcherParts;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.rejoin.Expression;

/** Actions on a layer from its header, at every station. */
public final class LayerActions implements HeaderActions {
  private static final String NEW = "New layer";

  private final Bench bench;
  private final SheetView sheet;
  private final PartFiles parts;
  private final Consumer<String> solo;
  private @Nullable ContextMenu open;

  /**
   * @param solo switches solo of a layer
   */
  public LayerActions(Bench bench, SheetView sheet, PartFiles parts, Consumer<String> solo) {
    this.bench = bench;
    this.sheet = sheet;
    this.parts = parts;
    this.solo = solo;
  }

  private @Nullable Plan plan() {
    Session s = bench.session();
    return s == null ? null : s.plan();
  }

  /** Returns the name of a column's layer; empty if there is none. */
  public String name(int column) {
    Plan p = plan();
    return p == null || column < 0 || column >= p.layers().size()
        ? ""
        : p.layers().get(column).name();
  }

  /** Returns a menu item. */
  public static MenuItem item(String text, Runnable action) {
    MenuItem item = new MenuItem(text);
    item.setOnAction(e -> action.run());
    return item;
  }

  @Override
  public void toggleRender(int column) {
    String layer = name(column);
    LayerDef def = plan() == null ? null : plan().layer(layer).orElse(null);
    if (def != null) {
      bench.edit(
          layer + (def.render() ? " disabled" : " enabled"),
          p -> LayerEdits.layer(p, layer, l -> l.withRender(!l.render())));
    }
  }

  @Override
  public void rename(int column) {
    rename(column, () -> {});
  }

  private void rename(int column, Runnable after) {
    String layer = name(column);
    if (!layer.isEmpty()) {
      sheet.editName(-1, column, layer, next -> renamed(layer, next), after);
    }
  }

  private void renamed(String layer, String next) {
    Plan p = plan();
    if (p != null && !next.equals(layer) && p.layer(next).isPresent()) {
      bench.banner("There is already a layer named %s; %s keeps its name.".formatted(next, layer));
    } else if (!next.equals(layer)) {
      bench.edit("rename " + layer, q -> LayerEdits.rename(q, layer, next));
    }
  }

  /** Moves a layer towards the back (negative) or the front. */
  public void move(int column, int by) {
    String layer = name(column);
    if (layer.isEmpty()) {
      return;
    }
    bench.edit(layer + (by < 0 ? " back" : " forward"), p -> LayerEdits.move(p, layer, by));
    Plan p = plan();
    if (p != null) {
      sheet.select(sheet.row(), p.layerIndex(layer), false);
    }
  }

  /** Adds a layer in which everything is Holdout, and opens its name for editing. */
  public void add(int at) {
    if (plan() == null) {
      return;
    }
    LayerDef layer = LayerDef.of(NEW, 0, Map.of(), Cell.of(Role.HOLDOUT));
    bench.edit("new layer", p -> LayerEdits.add(p, at, layer, Join.PLUS));
    sheet.select(sheet.row(), at, false);
    rename(at);
  }

  private void split(String catcher) {
    Session s = bench.session();
    if (s != null) {
      bench.edit(
          catcher + " split by pass",
          p -> Expression.written(CatcherParts.split(p, s.shot().members(), catcher)));
    }
  }

  @Override
  public void joins(int column) {
    ContextMenu menu = new ContextMenu();
    menu.getItems().addAll(joinItems(name(column)));
    double[] at = sheet.centre(-1, column);
    open(menu);
    menu.show(sheet, Side.TOP, at[0] - 60, SheetView.HEAD);
  }

  private List<MenuItem> joinItems(String layer) {
    List<MenuItem> out = new ArrayList<>();
    for (Join join : Join.values()) {
      out.add(
          item(
              "Join " + layer + " by " + join.word(),
              () ->
                  bench.edit(
                      layer + " joined by " + join.word(), p -> LayerEdits.join(p, layer, join))));
    }
    out.add(
        item(
            "Remove " + layer + " from the recipe",
            () ->
                bench.edit(layer + " removed from the recipe", p -> LayerEdits.unjoin(p, layer))));
    return out;
  }

  @Override
  public void menu(int column, double screenX, double screenY) {
    show(items(column), screenX, screenY);
  }

  /** Returns the menu items of a layer. */
  public List<MenuItem> items(int column) {
    String layer = name(column);
    LayerDef def = plan() == null ? null : plan().layer(layer).orElse(null);
    if (def == null) {
      return List.of();
    }
    Menu joins = new Menu("Join by");
    joins.getItems().addAll(joinItems(layer));
    MenuItem byPass = item("Split catcher by pass", () -> split(layer));
    byPass.setDisable(!CatcherParts.isWhole(def));
    return List.of(
        item("Solo", () -> solo.accept(layer)),
        item(def.render() ? "Disable for render" : "Enable for render", () -> toggleRender(column)),
        new SeparatorMenuItem(),
        item("Rename", () -> rename(column)),
        item(
            "Duplicate layer",
            () -> bench.edit("duplicate " + layer, p -> LayerEdits.copy(p, layer))),
        byPass,
        item("New layer in front", () -> add(column + 1)),
        item("Move back", () -> move(column, -1)),
        item("Move forward", () -> move(column, 1)),
        joins,
        new SeparatorMenuItem(),
        item("Export layer…", () -> parts.exportLayer(layer)),
        item("Export cells…", () -> parts.exportCells(layer)),
        item("Import layer, cells, collections or recipe…", () -> parts.importPart(layer)),
        new SeparatorMenuItem(),
        item(
            "Delete layer", () -> bench.edit("delete " + layer, p -> LayerEdits.remove(p, layer))));
  }

  /** Shows a menu at a place on the screen; the one that was open closes. */
  public void show(List<MenuItem> items, double screenX, double screenY) {
    if (items.isEmpty()) {
      return;
    }
    ContextMenu menu = new ContextMenu(items.toArray(MenuItem[]::new));
    menu.setId("sheet-menu");
    open(menu);
    menu.show(sheet, screenX, screenY);
  }

  private void open(ContextMenu menu) {
    if (open != null) {
      open.hide();
    }
    open = menu;
  }
}
