package org.wedgecutter.app.stations;

import java.util.LinkedHashSet;
import java.util.Set;
import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.CutRows;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.stations.TopBar.Station;
import org.wedgecutter.core.plan.CollectionDef;

/** What slides in over the viewer: presets, all overrides, the steps of the history. */
final class SideDrawers {
  private final Bench bench;
  private final Drawer drawer;
  private final SheetView sheet;
  private final CutRows cutRows;
  private final StationGoer goer;
  private final IntConsumer step;
  private @Nullable OverrideBrowser browser;
  private @Nullable HistoryPanel history;

  /** Goes to a station. */
  interface StationGoer {
    void goTo(Station station);
  }

  SideDrawers(
      Bench bench,
      Drawer drawer,
      SheetView sheet,
      CutRows cutRows,
      StationGoer goer,
      IntConsumer step) {
    this.bench = bench;
    this.drawer = drawer;
    this.sheet = sheet;
    this.cutRows = cutRows;
    this.goer = goer;
    this.step = step;
  }

  /** Shows the plan as it is now in what is open. */
  void update(Session s) {
    if (browser != null) {
      browser.update(s.plan(), s.shot().members());
    }
    if (history != null) {
      history.update(s.history());
    }
  }

  void presets() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    Set<String> selected = new LinkedHashSet<>();
    sheet.forEachSelected((r, c) -> {
      CollectionDef row = cutRows.collection(r);
      if (row != null) {
        selected.add(row.name());
      }
    });
    drawer.show(
        "Presets",
        new PresetPanel(
            s.plan(),
            selected,
            (preset, chosen) -> {
              try {
                bench.edit(
                    "preset: " + preset.title(), p -> preset.apply(p, s.shot().members(), chosen));
                drawer.hide();
              } catch (IllegalArgumentException e) {
                bench.banner(e.getMessage());
              }
            }));
  }

  void overrides() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    OverrideBrowser next =
        new OverrideBrowser((layer, line) -> {
          goer.goTo(line.setting() ? Station.OUTPUT : Station.CUT);
          int row =
              line.setting()
                  ? 0
                  : line.row() == null ? cutRows.rows().size() - 2 : cutRows.rowOf(line.row());
          sheet.select(row, s.plan().layerIndex(layer), false);
        });
    browser = next;
    next.update(s.plan(), s.shot().members());
    drawer.show("Overrides of the whole plan", next);
  }

  void history() {
    Session s = bench.session();
    if (s != null) {
      HistoryPanel next = new HistoryPanel(step::accept);
      history = next;
      next.update(s.history());
      drawer.show("Steps", next);
    }
  }
}
