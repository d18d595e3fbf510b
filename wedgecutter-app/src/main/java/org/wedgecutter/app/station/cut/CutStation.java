package org.wedgecutter.app.station.cut;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.MenuItem;
import javafx.scene.input.KeyEvent;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.sheet.Drops;
import org.wedgecutter.app.sheet.Row;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.station.Station;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.app.viewer.PictureCanvas;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.scene.Entity;

/** The Cut station: collections as rows, roles and overrides in the cells. */
public final class CutStation implements Station, CutBar.Actions {
  private final Workbench bench;
  private final SheetView sheet;
  private final CutRows rows;
  private final DetailPanel panel = new DetailPanel();
  private final MemberPicks picks;
  private final CollectionActions collections;
  private final CutMenus menus;
  private final CutKeys keys;
  private final CutBar bar;
  private final PictureDrag drag;
  private @Nullable OverrideBrowser browser;
  private @Nullable CellPanel cell;
  private int reaching = -1;
  private double soft;

  public CutStation(Workbench bench) {
    this.bench = bench;
    sheet = bench.sheet();
    rows = new CutRows(bench::theme);
    picks = new MemberPicks(bench, rows);
    collections = new CollectionActions(bench, rows, this::toRule);
    menus = new CutMenus(bench, rows, picks, collections);
    keys = new CutKeys(bench, rows, new CellEdits(bench, rows), picks, collections);
    bar = new CutBar(this);
    drag = new PictureDrag(bench, rows, picks);
    panel.showText(
        "Open a plan (.wedge) or a scene (.glb, .gltf, .usd, .usdz, .obj): Ctrl+O, or drop one here.");
  }

  @Override
  public String id() {
    return "cut";
  }

  @Override
  public String title() {
    return "Cut";
  }

  @Override
  public SheetRows rows() {
    return rows;
  }

  @Override
  public Node above() {
    return bar;
  }

  @Override
  public Node below() {
    return panel;
  }

  @Override
  public void planChanged(Session s) {
    rows.update(s.plan(), s.shot().members(), s.resolved(), s.fresh());
    if (browser != null) {
      browser.update(s.plan(), s.shot().members());
    }
  }

  @Override
  public void picturesComplete(Session s, Pictures pictures) {
    bench.pictures().reach(reaching, soft);
    if (cell != null) {
      cell.tell(pictures.catches());
    }
  }

  @Override
  public void found(List<Finding> findings) {
    Session s = bench.session();
    if (s != null && rows.isCheck(sheet.row())) {
      selected(s, sheet.row(), null);
    }
  }

  // ---- the panel

  @Override
  public void selected(Session s, int row, @Nullable LayerDef layer) {
    CollectionDef collection = rows.collection(row);
    Entity entity = rows.entity(row);
    var members = s.shot().members();
    int column = layer == null ? -1 : s.plan().layerIndex(layer.name());
    String why = rows.describe(row, column);
    String name = collection == null ? null : collection.name();
    boolean isCell = entity == null && rows.takesRoles(row) && layer != null;
    cell = null;
    drawReach(isCell && layer != null ? layer.cell(name) : null, column);
    if (entity != null) {
      panel.show(
          null,
          entity.path() + " — whole shot",
          new EntityPanel(bench, s.plan(), members, layer, entity, s.frame()));
    } else if (rows.isCheck(row)) {
      panel.show(
          null,
          "Seen-once check",
          new CheckPanel(rows.seen(), bench.found(), this::showEntity, bench::fix));
    } else if (rows.isComp(row)) {
      panel.show(null, "What compositing may do to each layer without a hole", rows.compLines());
    } else if (isCell && layer != null) {
      CellPanel next =
          new CellPanel(bench, s.plan(), layer, name, rows.entities(row), members, s.frame(), why);
      Pictures shown = bench.pictures().latest();
      if (shown != null && shown.frame() == s.frame() && shown.plan().equals(s.plan())) {
        next.tell(shown.catches());
      }
      cell = next;
      panel.show(
          layer,
          "%s in layer %s — this layer only"
              .formatted(name == null ? "The rest" : name, layer.name()),
          next);
    } else if (collection != null) {
      panel.show(
          null,
          collection.name() + " — whole shot",
          new CollectionPanel(
              bench,
              collection,
              members,
              bench.pictures()::highlight,
              rule -> collections.setRule(collection, rule)));
    } else {
      panel.showText(why);
    }
  }

  private void showEntity(int index) {
    Session s = bench.session();
    int row = s == null ? -1 : reveal(s.shot().scene().entities().get(index));
    if (row >= 0) {
      sheet.select(row, sheet.column(), false);
    }
  }

  /** The ellipse of a catcher's reach is drawn while its cell is selected. */
  private void drawReach(@Nullable Cell cell, int layer) {
    CatcherTuning.Reach reach =
        cell == null || cell.role() != Role.CATCHER ? null : cell.catching().tuning().reach();
    reaching = reach == null ? -1 : layer;
    soft = reach == null ? 0 : reach.soft();
    bench.pictures().reach(reaching, soft);
  }

  private void toRule() {
    Node rule = panel.lookup("#rule");
    if (rule != null) {
      rule.requestFocus();
    }
  }

  // ---- keys and menus

  @Override
  public boolean key(KeyEvent e) {
    return keys.pressed(e);
  }

  @Override
  public List<MenuItem> menu(int row) {
    return menus.row(row);
  }

  @Override
  public Drops drops() {
    return picks;
  }

  @Override
  public PictureCanvas.DragOut dragOut() {
    return drag;
  }

  @Override
  public int reveal(Entity entity) {
    int row = rows.reveal(entity);
    sheet.refresh();
    return row;
  }

  @Override
  public int rowOf(String collection) {
    return rows.rowOf(collection);
  }

  @Override
  public void newLayer() {
    bench.layers().add(Math.max(0, sheet.column() + 1));
  }

  @Override
  public void newCollection() {
    collections.add(sheet.row());
  }

  @Override
  public void fromSelection(Button under) {
    menus.selection(under);
  }

  @Override
  public void presets() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    Set<String> selected = new LinkedHashSet<>();
    sheet.forEachSelected((r, c) -> {
      CollectionDef row = rows.collection(r);
      if (row != null) {
        selected.add(row.name());
      }
    });
    bench.openDrawer(
        "Presets",
        new PresetPanel(
            s.plan(),
            selected,
            (preset, chosen) -> {
              try {
                bench.edit(
                    "preset: " + preset.title(), p -> preset.apply(p, s.shot().members(), chosen));
                bench.closeDrawer();
              } catch (IllegalArgumentException e) {
                bench.banner(e.getMessage());
              }
            }));
  }

  @Override
  public void overrides() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    OverrideBrowser next = new OverrideBrowser(this::goToOverride);
    browser = next;
    next.update(s.plan(), s.shot().members());
    bench.openDrawer("Overrides", next);
  }

  private void goToOverride(String layer, OverrideBrowser.Line line) {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    bench.goTo(line.setting() ? "output" : "cut");
    String collection = line.row();
    String key =
        line.setting()
            ? line.override().property().word()
            : collection == null ? CutRows.REST : CutRows.keyOf(collection);
    List<String> keys = sheet.rows().stream().map(Row::key).toList();
    sheet.select(Math.max(0, keys.indexOf(key)), s.plan().layerIndex(layer), false);
  }
}
