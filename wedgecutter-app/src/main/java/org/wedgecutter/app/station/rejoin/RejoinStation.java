package org.wedgecutter.app.station.rejoin;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import javafx.scene.Node;
import javafx.scene.control.MenuItem;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.station.LayerActions;
import org.wedgecutter.app.station.Station;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.app.viewer.Drawing;
import org.wedgecutter.app.viewer.Look;
import org.wedgecutter.core.cut.LightLevels;
import org.wedgecutter.core.cut.RightJoins;
import org.wedgecutter.core.deliver.DeliveryFolders;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.plan.Background;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.resolve.EntitySet;

/** The Rejoin station: joins, corrections, mattes and effects as rows. */
public final class RejoinStation implements Station, RejoinBar.Actions {
  private final Workbench bench;
  private final DeliveryInView inView;
  private final RejoinRows rows;
  private final DetailPanel panel = new DetailPanel();
  private final RejoinBar bar = new RejoinBar(this);

  /** While a slider is dragged the panel stays, and is made again afterwards. */
  private boolean held;

  private boolean isShown;
  private String overlaid = "";
  private @Nullable HandOverPanel handing;
  private @Nullable DeliveriesPanel deliveries;
  private @Nullable DeepPlot plot;

  /** Whether deep samples are being looked up: the pointer may move faster than that goes. */
  private boolean looking;

  public RejoinStation(Workbench bench) {
    this.bench = bench;
    inView = new DeliveryInView(f -> bench.pictures().files(f), this::filesChanged);
    rows = new RejoinRows(bench::theme, inView::name);
  }

  @Override
  public String id() {
    return "rejoin";
  }

  @Override
  public String title() {
    return "Rejoin";
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
  public void shown() {
    isShown = true;
    // deliveries may have been rendered in between
    if (handing != null) {
      handing.refresh();
    }
    if (deliveries != null) {
      deliveries.refresh();
    }
    inView.refresh();
    bench.look(Look.REJOINED);
  }

  @Override
  public void left() {
    isShown = false;
    clearOverlay();
  }

  @Override
  public void opened(Session s) {
    inView.show(null);
  }

  /** Shows what is known of the delivery in view. */
  private void filesChanged() {
    rows.build();
    Session s = bench.session();
    if (s != null && isShown) {
      bench.sheet().refresh();
      if (rows.item(bench.sheet().row()) instanceof RejoinRows.FilesItem) {
        files(s);
      }
    }
  }

  private void files(Session s) {
    panel.show(
        null,
        "Delivery files",
        new InViewPanel(
            inView,
            bench::openDrawer,
            () -> DeliveryFolders.of(s.shot()),
            bench.rejoins()::askDelivery,
            s::frame));
  }

  @Override
  public void planChanged(Session s) {
    looking = false;
    rows.update(
        s.plan(),
        lights(s),
        LightPass.PASSES.stream().map(LightPass.Named::name).toList(),
        RightJoins.of(s.plan(), s.resolved()));
  }

  private static List<String> lights(Session s) {
    return s.resolved().asked().emitters().stream()
        .map(g -> "light." + g.name())
        .distinct()
        .toList();
  }

  @Override
  public void picturesComplete(Session s, Pictures pictures) {
    overlay();
  }

  // ---- the panel

  @Override
  public void selected(Session s, int row, @Nullable LayerDef layer) {
    if (held) {
      return;
    }
    RejoinRows.Item item = rows.item(row);
    overlay();
    switch (item) {
      case null -> panel.showText("Select a row.");
      case RejoinRows.JoinItem j -> join(s, layer);
      case RejoinRows.OpacityItem o -> join(s, layer);
      case RejoinRows.BackgroundItem b ->
          panel.show(
              null,
              "Background (recipe)",
              new BackgroundPanel(
                  bench,
                  s.plan(),
                  () ->
                      bench
                          .images()
                          .askForRecipe(
                              "background",
                              (p, path) -> RecipeEdits.background(p, Background.picture(path))),
                  () -> bench.images().renderAtItsSize(s.plan().recipe().background().picture())));
      case RejoinRows.FilesItem f -> {
        inView.refresh();
        inView.warmUp(() -> DeliveryFolders.of(s.shot()));
        files(s);
      }
      case RejoinRows.SectionItem section -> section(s, section.section(), layer);
      case RejoinRows.TypeItem type ->
          show(
              layer,
              CorrectionForm.title(type.type()),
              new CorrectionPanel(
                  bench,
                  s.plan(),
                  s.frame(),
                  type.type(),
                  layer == null ? "" : layer.name(),
                  this::hold,
                  edit -> bench.images().askForRecipe("picture", edit)));
      case RejoinRows.PassItem pass -> mixer(s, List.of(pass.pass()), layer);
      case RejoinRows.MatteItem m -> {
        MatteDef matte = rows.matte(row);
        if (matte != null) {
          panel.show(
              null,
              "Matte %s (recipe)".formatted(m.name()),
              new MattePanel(bench, s.plan(), matte));
        }
      }
    }
  }

  private void show(@Nullable LayerDef layer, String title, Node content) {
    String upper = Character.toUpperCase(title.charAt(0)) + title.substring(1);
    panel.show(
        layer,
        layer == null
            ? upper + " of the rejoined picture — all layers"
            : "%s of layer %s — this layer only".formatted(upper, layer.name()),
        content);
  }

  private void join(Session s, @Nullable LayerDef layer) {
    if (layer == null) {
      panel.showText("Select the cell of a layer to change how it is joined.");
    } else {
      DeepPlot made = new DeepPlot(bench.theme());
      plot = made;
      show(
          layer,
          "join",
          new JoinPanel(bench, s.plan(), layer.name(), rows.right(layer.name()), made, this::hold));
    }
  }

  private void section(Session s, RejoinRows.Section section, @Nullable LayerDef layer) {
    switch (section) {
      case LIGHTS -> mixer(s, lights(s), layer);
      case COMPONENTS ->
          mixer(s, LightPass.PASSES.stream().map(LightPass.Named::name).toList(), layer);
      case COLOUR, EFFECTS ->
          panel.showText("Select a row below to change a layer, or the row's name to change all.");
      case MATTES ->
          panel.showText(
              "Mattes limit where corrections and joins apply. Click + Matte to add one, then click objects in the picture.");
    }
  }

  private void mixer(Session s, List<String> passes, @Nullable LayerDef layer) {
    List<String> layers = layer == null ? MixerPanel.joined(s.plan()) : List.of(layer.name());
    if (layers.isEmpty() || passes.isEmpty()) {
      panel.showText("No joined layers, or no lights.");
      return;
    }
    panel.show(
        layer,
        layer == null
            ? "Levels — all joined layers"
            : "Levels in layer %s — this layer only".formatted(layer.name()),
        new MixerPanel(bench, s.plan(), s.frame(), passes, layers, this::writeLevels, this::hold));
  }

  private void hold(boolean on) {
    held = on;
    bench.pictures().dragged(on);
    Session s = bench.session();
    if (!on && s != null) {
      int column = bench.sheet().column();
      List<LayerDef> layers = s.plan().layers();
      selected(
          s,
          bench.sheet().row(),
          column < 0 || column >= layers.size() ? null : layers.get(column));
    }
  }

  private void writeLevels() {
    Session s = bench.session();
    if (s != null) {
      bench.edit(
          "write light levels",
          p -> LightLevels.written(p, s.shot().members(), s.resolved().asked().emitters()));
    }
  }

  // ---- keys and menus

  /** Space switches corrections on and off, Delete deletes them. */
  @Override
  public boolean key(KeyEvent e) {
    Session s = bench.session();
    if (s == null || (e.getCode() != KeyCode.SPACE && e.getCode() != KeyCode.DELETE)) {
      return false;
    }
    List<Correction> own = new ArrayList<>();
    TreeSet<String> joined = new TreeSet<>();
    List<LayerDef> layers = s.plan().layers();
    bench
        .sheet()
        .selection()
        .forEach((row, column) -> {
          RejoinRows.Item item = rows.item(row);
          String layer = column < 0 || column >= layers.size() ? "" : layers.get(column).name();
          if (item instanceof RejoinRows.TypeItem || item instanceof RejoinRows.PassItem) {
            own.addAll(rows.corrections(item, layer));
          } else if (item instanceof RejoinRows.OpacityItem && !layer.isEmpty()) {
            joined.add(layer);
          }
        });
    MatteDef matte = rows.matte(bench.sheet().row());
    if (e.getCode() == KeyCode.DELETE && matte != null) {
      bench.edit("delete matte " + matte.name(), p -> RecipeEdits.removeMatte(p, matte.name()));
    } else if (e.getCode() == KeyCode.DELETE && !joined.isEmpty()) {
      bench.edit(
          "all of " + String.join(", ", joined),
          p -> {
            Plan next = p;
            for (String layer : joined) {
              next = LayerEdits.opacity(next, layer, 1);
            }
            return next;
          });
    } else if (own.isEmpty()) {
      return false;
    } else if (e.getCode() == KeyCode.DELETE) {
      bench.edit("delete corrections", p -> RecipeEdits.remove(p, own));
    } else {
      boolean on = !own.getFirst().on();
      bench.edit("corrections " + (on ? "on" : "off"), p -> switched(p, own, on));
    }
    return true;
  }

  private static Plan switched(Plan p, List<Correction> which, boolean on) {
    Plan next = p;
    for (int k = 0; k < p.recipe().corrections().size(); k++) {
      Correction c = p.recipe().corrections().get(k);
      if (which.contains(c)) {
        next = RecipeEdits.replace(next, k, c.switched(on));
      }
    }
    return next;
  }

  @Override
  public List<MenuItem> menu(int row) {
    MatteDef matte = rows.matte(row);
    return matte == null
        ? List.of()
        : List.of(
            LayerActions.item(
                "Delete matte",
                () ->
                    bench.edit(
                        "delete matte " + matte.name(),
                        p -> RecipeEdits.removeMatte(p, matte.name()))));
  }

  // ---- mattes

  @Override
  public void matte() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    String name = RecipeEdits.freeName(s.plan(), "matte");
    rows.open(RejoinRows.Section.MATTES);
    bench.edit(
        "new matte", p -> MattePanel.needs(RecipeEdits.addMatte(p, MatteDef.picked(name)), name));
    bench.sheet().select(rows.rowOf(name), bench.sheet().column(), false);
    bench.sheet().requestFocus();
  }

  @Override
  public void picked(Session s, int x, int y) {
    MatteDef matte = rows.matte(bench.sheet().row());
    if (matte == null || matte.source() != MatteDef.Source.IDS) {
      return;
    }
    int width = s.plan().requireShot().width();
    String by = MattePanel.by(matte).word;
    // while the trace begins, pictures are smaller than the shot
    bench
        .pictures()
        .ask(
            p -> p.nameAt(x * p.width() / width, y * p.width() / width, by),
            name -> toggle(matte.name(), name));
  }

  /** Takes a name into a matte, or out of it. */
  private void toggle(String matte, String name) {
    Session s = bench.session();
    MatteDef now = s == null ? null : s.plan().recipe().matte(matte).orElse(null);
    if (now == null || name.isEmpty()) {
      return;
    }
    List<String> next = new ArrayList<>(now.picks());
    boolean added = !next.remove(name);
    if (added) {
      next.add(name);
    }
    bench.edit(
        "%s %s %s".formatted(name, added ? "into" : "out of", matte),
        p -> RecipeEdits.matte(p, matte, m -> m.withPicks(next)));
  }

  /** Lays the matte of the cursor's row over the picture. */
  private void overlay() {
    Session s = bench.session();
    MatteDef matte = isShown ? rows.matte(bench.sheet().row()) : null;
    if (matte == null || s == null) {
      clearOverlay();
    } else {
      overlaid = matte.name();
      Recipe recipe = s.plan().recipe();
      bench.pictures().cover(p -> p.matte(recipe, matte.name()));
      if (matte.source() == MatteDef.Source.SHAPE) {
        Shot shot = s.plan().requireShot();
        new ShapeHandles(
                bench.pictures(),
                matte.outline(),
                shot.width(),
                shot.height(),
                next ->
                    bench.edit(
                        "shape of " + matte.name(),
                        p -> RecipeEdits.matte(p, matte.name(), m -> m.withOutline(next))))
            .show();
      } else {
        bench.pictures().draw(Drawing.NONE, Drawing.Hand.NONE);
      }
    }
  }

  private void clearOverlay() {
    if (!overlaid.isEmpty()) {
      overlaid = "";
      bench.pictures().draw(Drawing.NONE, Drawing.Hand.NONE);
      bench.pictures().highlight(EntitySet.NONE);
    }
  }

  @Override
  public void pointed(int x, int y) {
    DeepPlot now = plot;
    if (now == null || now.getScene() == null || looking) {
      return;
    }
    looking = true;
    bench
        .pictures()
        .ask(
            p -> p.deepAt(x, y),
            samples -> {
              looking = false;
              now.show(samples);
            });
  }

  // ---- the bar

  @Override
  public void joins() {
    Session s = bench.session();
    if (s != null) {
      bench.edit("joins by the cut", p -> Expression.written(RightJoins.applied(p, s.resolved())));
    }
  }

  @Override
  public void switchAll() {
    bench.edit(
        "corrections on or off",
        p -> RecipeEdits.switchAll(p, p.recipe().corrections().stream().noneMatch(Correction::on)));
  }

  @Override
  public void mixer() {
    Session s = bench.session();
    if (s != null) {
      rows.open(RejoinRows.Section.LIGHTS);
      bench.sheet().refresh();
      int row = rows.rows().stream().map(r -> r.label()).toList().indexOf("light groups");
      bench.sheet().select(row, -1, false);
    }
  }

  @Override
  public void compare() {
    Session s = bench.session();
    if (s != null) {
      bench.openDrawer(
          "Compare",
          new ComparePanel(
              Map.of(
                  ComparePanel.What.SHEET,
                  () -> new SheetPanel(bench.pictures(), bench.rejoins()::saveSheet),
                  ComparePanel.What.FRAMES,
                  () ->
                      new FramesPanel(
                          s::shot, bench.theme(), bench::goToFrame, bench.rejoins()::saveSheet),
                  ComparePanel.What.DELIVERIES,
                  () -> twoDeliveries(s))));
    }
  }

  private DeliveriesPanel twoDeliveries(Session s) {
    DeliveriesPanel next =
        new DeliveriesPanel(
            () -> DeliveryFolders.of(s.shot()), bench.rejoins()::askDelivery, bench.theme());
    deliveries = next;
    return next;
  }

  @Override
  public void handOver() {
    Session s = bench.session();
    HandOverPanel running = handing;
    if (running != null && running.isAtWork()) {
      // it goes on, and can be stopped
      bench.openDrawer("Hand over", running);
    } else if (s != null) {
      HandOverPanel next =
          new HandOverPanel(
              () -> DeliveryFolders.of(s.shot()),
              bench.rejoins()::askDelivery,
              () -> new HandOverPanel.Own(s.plan().enabledRecipe(), s.shot().folder()));
      handing = next;
      bench.openDrawer("Hand over", next);
    }
  }

  @Override
  public String atWork() {
    HandOverPanel now = handing;
    return now != null && now.isAtWork()
        ? "A delivery is being handed over; closing stops it. Finished files are kept."
        : "";
  }

  @Override
  public void close() {
    HandOverPanel now = handing;
    if (now != null) {
      now.stop();
    }
    inView.stop();
  }
}
