package org.wedgecutter.app.stations;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import javafx.scene.Scene;
import javafx.scene.control.SplitPane;
import javafx.scene.image.Image;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.stage.Stage;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.CutRows;
import org.wedgecutter.app.sheet.OutputRows;
import org.wedgecutter.app.sheet.RenderRows;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.sheet.ShotRows;
import org.wedgecutter.app.stations.TopBar.Station;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.carry.Carry;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.EntitySet;

/**
 * The window: sheet on the left, viewer on the right, timeline and findings below. All of it lives
 * on the interface thread; opening, tracing, checking and rendering go on elsewhere and come back
 * by messages.
 */
public final class MainWindow implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(MainWindow.class);

  private final Stage stage;
  private final Bench bench = new Whole();
  private final TopBar top;
  private final CutRows cutRows;
  private final ShotRows shotRows;
  private final OutputRows outputRows;
  private final RenderRows renderRows;
  private final SheetView sheet;
  private final ViewerPane viewer = new ViewerPane();
  private final StackPane right = new StackPane(viewer);
  private final Drawer drawer = new Drawer(right);
  private final DetailPanel detail = new DetailPanel();
  private final RenderPanel renderPanel;
  private final Timeline timeline = new Timeline();
  private final FindingsBar findings = new FindingsBar(this::jump, this::mend);
  private final VBox left = new VBox();
  private final VBox above = new VBox();
  private final PicturePipe pipe = new PicturePipe(viewer, new PictureTaker());
  private final FileDesk files;
  private final PlanChecker checker = new PlanChecker(this::checked, this::banner);
  private final SheetEdits edits;
  private final SheetMenus menus;
  private final CutBar bar;
  private final Headers headers;
  private final SideDrawers drawers;
  private final SelectionPanels panels;

  private Theme theme = Theme.DARK;
  private @Nullable Session session;
  private String solo = "";

  /** Builds the window on a stage; it is not shown yet. */
  public MainWindow(Stage stage) {
    this.stage = stage;
    files = new FileDesk(new DeskHost(), FileAsker.of(stage));
    top = new TopBar(this::goTo, this::showProof, new MenuActions());
    cutRows = new CutRows(() -> theme);
    shotRows = new ShotRows(() -> theme);
    outputRows = new OutputRows(() -> theme);
    renderRows = new RenderRows(() -> theme);
    sheet = new SheetView(cutRows);
    sheet.setId("sheet");
    headers = new Headers(sheet);
    renderPanel = new RenderPanel(new RenderBoard(renderRows, sheet, headers, this::plan));
    edits = new SheetEdits(sheet, cutRows, () -> session, this::edit, this::banner);
    menus = new SheetMenus(sheet, cutRows, edits, () -> session, this::edit, files, this::setSolo);
    drawers = new SideDrawers(bench, drawer, sheet, cutRows, this::goToShown, this::goToStep);
    bar = new CutBar(menus, sheet, drawers, () -> session != null);
    panels =
        new SelectionPanels(
            bench, detail, cutRows, outputRows, pipe, image -> files.pictureAsk(image));
    VBox.setVgrow(sheet, Priority.ALWAYS);
    left.getChildren().setAll(bar, sheet, detail);
    SplitPane split = new SplitPane(left, right);
    split.setDividerPositions(0.505);
    SplitPane.setResizableWithParent(left, false);
    above.getChildren().add(top);
    BorderPane root = new BorderPane(split, above, null, new VBox(timeline, findings), null);
    root.getStyleClass().add("window");
    Scene scene = new Scene(root, 1280, 800);
    theme.apply(scene);
    WindowKeys keys =
        new WindowKeys(
            bench, files, viewer, drawer, sheet, this::planChanged, () -> hasPlate(session));
    scene.addEventFilter(KeyEvent.KEY_PRESSED, keys::pressed);
    stage.setScene(scene);
    stage.setTitle("Wedgecutter");
    stage.setMinWidth(900);
    stage.setMinHeight(560);
    wire();
    top.setStation(Station.CUT);
    detail.showText(
        "Open a plan (.wedge) or a scene (.glb, .gltf, .usda): Ctrl+O, or drop one here.");
    dropFiles(scene);
  }

  private void wire() {
    sheet.setOnSelect(this::selectionChanged);
    sheet.setOnKey((e, s) -> edits.key(e, top.station() == Station.CUT));
    sheet.setOnJoin(menus::joins);
    sheet.setOnRender(edits::toggleRender);
    sheet.setOnRename(edits::rename);
    sheet.setMenus(menus);
    sheet.setDrops(edits);
    sheet.setOnTrouble(t -> LOG.error("drawing the sheet", t));
    viewer.setOnChange(() -> pipe.redraw(plan()));
    viewer.setOnPick(this::picked);
    viewer.setOnDragOut(
        new PictureDrag(bench, sheet, cutRows, edits, pipe, () -> top.station() == Station.CUT));
    viewer.setEntityNames(this::nameAndLayers);
    timeline.setOnFrame(this::setFrame);
  }

  /** An entity's path and the layers that show it, for the probe. */
  private String nameAndLayers(int entity) {
    Session s = session;
    if (s == null || entity < 0) {
      return "";
    }
    List<String> layers =
        s.resolved().layers().stream()
            .filter(l -> l.seen().contains(entity))
            .map(l -> l.name())
            .toList();
    return s.shot().scene().entities().get(entity).path()
        + (layers.isEmpty() ? " (in no layer)" : " in " + String.join(", ", layers));
  }

  private void dropFiles(Scene scene) {
    scene.setOnDragOver(e -> {
      if (e.getDragboard().hasFiles()) {
        e.acceptTransferModes(javafx.scene.input.TransferMode.COPY);
      }
    });
    scene.setOnDragDropped(e -> open(e.getDragboard().getFiles().getFirst().toPath()));
  }

  // ---- opening

  /** Opens a plan or scene; on failure a banner says why and what was open stays. */
  public void open(Path file) {
    viewer.setEmptyText("Opening " + file.getFileName() + " …");
    files.open(file);
  }

  private void opened(Session.Opened opened) {
    Session s = new Session(opened);
    session = s;
    pipe.forget();
    headers.forget();
    setSoloOf("");
    above.getChildren().removeIf(n -> "banner".equals(n.getId()));
    drawer.hide();
    shotRows.setScene(s.shot().scene(), s.motion().byEntity());
    var shot = s.plan().requireShot();
    viewer.setPictureSize(shot.width(), shot.height());
    viewer.setEmptyText("Tracing …");
    viewer.setHighlight(null);
    timeline.setFrames(shot.frames().frames(), s.motion().mean());
    timeline.setFrame(s.frame());
    planChanged();
    sheet.requestFocus();
    sheet.select(0, s.plan().layers().size() - 1, false);
  }

  /** Shows a message that stays until it is dismissed. */
  void banner(@Nullable String text) {
    banner(
        text == null ? "unknown error" : text,
        false,
        new Banner.Choice("banner-close", "Dismiss", () -> {}));
  }

  private void banner(String text, boolean good, Banner.Choice... choices) {
    above.getChildren().removeIf(n -> "banner".equals(n.getId()));
    above.getChildren().add(new Banner(above, text, good, List.of(choices)));
  }

  private final class DeskHost implements FileDesk.Host {
    @Override
    public @Nullable Session session() {
      return session;
    }

    @Override
    public void opened(Session.Opened opened) {
      MainWindow.this.opened(opened);
    }

    @Override
    public void edit(String name, UnaryOperator<Plan> edit) {
      MainWindow.this.edit(name, edit);
    }

    @Override
    public void saved() {
      planChanged();
    }

    @Override
    public void banner(String text, boolean good, Banner.Choice... choices) {
      MainWindow.this.banner(text, good, choices);
    }

    @Override
    public void notOpened() {
      viewer.setEmptyText("Open a plan or a scene to begin");
    }

    @Override
    public void carried(Path plan, Carry.Report report) {
      drawer.show("Carried to " + plan.getFileName(), new CarryPanel(plan, report));
    }
  }

  private final class Whole implements Bench {
    @Override
    public @Nullable Session session() {
      return session;
    }

    @Override
    public void edit(String name, UnaryOperator<Plan> edit) {
      MainWindow.this.edit(name, edit);
    }

    @Override
    public void banner(@Nullable String text) {
      MainWindow.this.banner(text);
    }
  }

  private static boolean hasPlate(@Nullable Session s) {
    return s != null && s.plan().requireShot().plate().exists();
  }

  // ---- edits

  private void edit(String name, UnaryOperator<Plan> change) {
    Session s = session;
    pipe.editBegins();
    if (s != null && s.edit(name, change)) {
      planChanged();
    }
  }

  private void planChanged() {
    Session s = session;
    if (s == null) {
      return;
    }
    pipe.trace(s.shot(), s.frame());
    files.edited();
    cutRows.update(s.plan(), s.shot().members(), s.resolved(), s.fresh());
    outputRows.update(s.plan(), s.frame());
    List<Integer> hues = s.plan().layers().stream().map(LayerDef::hue).toList();
    Pictures p = pipe.latest();
    shotRows.update(
        s.resolved(),
        hues,
        p == null ? new double[0] : p.coverage(),
        p == null ? InterplayTable.NONE : p.interplay());
    viewer.setPlate(hasPlate(s));
    renderRows.setLayers(s.plan().layers().stream().map(LayerDef::render).toList(), hues);
    if (s.plan().layer(solo).isEmpty()) {
      setSoloOf("");
    }
    renderPanel.setShot(s.shot());
    checker.check(s);
    headers.show(s.plan());
    top.setName(s.shot().name(), s.history().dirty(), s.history().undoName());
    drawers.update(s);
    selectionChanged();
  }

  private void checked(List<Finding> found) {
    findings.setFindings(found);
    if (cutRows.isCheck(sheet.row()) && top.station() == Station.CUT) {
      selectionChanged();
    }
  }

  private void mend(Finding.Fix fix) {
    edit(fix.name(), fix.edit());
  }

  private void setSolo(String layer) {
    setSoloOf(layer.equals(solo) ? "" : layer);
    selectionChanged();
  }

  /**
   * Solo is of the window: the plan does not know of it, so that no layer stays off by accident.
   */
  private void setSoloOf(String layer) {
    solo = layer;
    sheet.setSolo(layer);
    renderPanel.setSolo(layer);
    if (!layer.isEmpty()) {
      viewer.look(ViewerPane.Look.LAYER);
    }
  }

  private void setFrame(int frame) {
    Session s = session;
    if (s != null && s.setFrame(frame)) {
      timeline.setFrame(frame);
      planChanged();
    }
  }

  private void goToStep(int step) {
    Session s = session;
    if (s != null && s.goTo(step)) {
      planChanged();
    }
  }

  // ---- menus and drawers

  private final class MenuActions implements TopBar.Actions {
    @Override
    public void run(TopBar.Action action) {
      switch (action) {
        case OPEN -> files.openAsk();
        case SAVE -> files.save();
        case SAVE_AS -> files.saveAs();
        case TEMPLATE -> files.saveTemplate();
        case CARRY -> files.carryAsk();
        case EXPORT_COLLECTIONS -> files.exportCollections();
        case IMPORT -> files.importPart(edits.layerName(sheet.column()));
        case HISTORY -> drawers.history();
      }
    }

    @Override
    public List<Path> recent() {
      return files.recentBut(session == null ? null : session.shot().file());
    }

    @Override
    public void open(Path file) {
      MainWindow.this.open(file);
    }
  }

  // ---- stations and selection

  private void goToShown(Station station) {
    goTo(station);
    top.setStation(station);
  }

  private void goTo(Station station) {
    left.getChildren().setAll(sheet, station == Station.RENDER ? renderPanel : detail);
    if (station == Station.CUT) {
      left.getChildren().addFirst(bar);
    }
    sheet.setRows(
        switch (station) {
          case SHOT -> shotRows;
          case CUT -> cutRows;
          case OUTPUT -> outputRows;
          case RENDER -> renderRows;
        });
    if (station == Station.RENDER && !renderPanel.busy()) {
      renderRows.setFrames(renderPanel.frames());
      sheet.refresh();
    }
    selectionChanged();
    sheet.requestFocus();
  }

  private void selectionChanged() {
    Session s = session;
    if (s == null) {
      return;
    }
    int column = sheet.column();
    LayerDef layer =
        column < 0 || column >= s.plan().layers().size() ? null : s.plan().layers().get(column);
    if (layer != null) {
      viewer.setLayer(column, layer.name(), layer.hue());
      pipe.redraw(s.plan());
    }
    String why = sheet.rows().isEmpty() ? "" : describe(column);
    switch (top.station()) {
      case CUT ->
          panels.cut(
              s,
              sheet.row(),
              layer,
              why,
              new SelectionPanels.Checked(checker.found(), this::showEntity, this::mend));
      case OUTPUT -> panels.output(s, sheet.row(), layer, why);
      case SHOT, RENDER -> panels.text(why);
    }
  }

  private String describe(int column) {
    return switch (top.station()) {
      case SHOT -> shotRows.describe(sheet.row(), column);
      case CUT -> cutRows.describe(sheet.row(), column);
      case OUTPUT -> outputRows.describe(sheet.row(), column);
      case RENDER -> renderRows.describe(sheet.row(), column);
    };
  }

  private void jump(FindingsBar.Place place) {
    Session s = session;
    if (s == null) {
      return;
    }
    int column = place.layer().isEmpty() ? sheet.column() : s.plan().layerIndex(place.layer());
    if (top.station() != Station.CUT) {
      top.setStation(Station.CUT);
      goTo(Station.CUT);
    }
    int row = cutRows.rowOf(place.entity());
    if (row >= 0) {
      sheet.select(row, place.layer().isEmpty() ? -1 : column, false);
    } else if (!place.entities().isEmpty()) {
      showEntity(place.entities().getFirst());
      sheet.select(sheet.row(), column, false);
    } else {
      sheet.select(sheet.row(), column, false);
    }
    pipe.highlight(EntitySet.of(place.entities()));
    if (!place.layer().isEmpty()) {
      viewer.look(ViewerPane.Look.LAYER);
    }
  }

  private void showEntity(int index) {
    Session s = session;
    if (s != null) {
      int row = cutRows.reveal(s.shot().scene().entities().get(index));
      sheet.refresh();
      if (row >= 0) {
        sheet.select(row, sheet.column(), false);
      }
    }
  }

  private void showProof() {
    findings.setCausesFirst(true);
    viewer.look(ViewerPane.Look.RESIDUAL);
  }

  private int entityAt(int x, int y) {
    Pictures p = pipe.latest();
    return p == null ? -1 : p.entityAt(x, y);
  }

  private void picked(int x, int y) {
    Session s = session;
    int index = entityAt(x, y);
    if (s == null || index < 0) {
      return;
    }
    if (top.station() == Station.SHOT) {
      int row = shotRows.reveal(s.shot().scene().entities().get(index));
      sheet.refresh();
      if (row >= 0) {
        sheet.select(row, sheet.column(), false);
      }
    } else if (top.station() == Station.CUT) {
      showEntity(index);
    }
  }

  // ---- pictures

  private final class PictureTaker implements PicturePipe.Host {
    @Override
    public void smallPictures(Map<String, Image> byLayer) {
      Session s = session;
      headers.pictures(byLayer);
      if (s != null) {
        headers.show(s.plan());
      }
    }

    @Override
    public void complete(Pictures pictures) {
      Session s = session;
      if (s == null) {
        return;
      }
      if (pictures.plan().layers().size() == s.resolved().layers().size()) {
        shotRows.update(
            s.resolved(),
            s.plan().layers().stream().map(LayerDef::hue).toList(),
            pictures.coverage(),
            pictures.interplay());
      }
      panels.picturesCame();
      sheet.refresh();
      pipe.redraw(s.plan());
      if (pictures.residual().exact()) {
        findings.setCausesFirst(false);
      }
      top.setProof(pictures);
      findings.setCauses(pictures.causes());
    }

    @Override
    public void failed(String text) {
      banner(text);
    }
  }

  // ---- for the application and tests

  /** Dresses the window. */
  public void setTheme(Theme next) {
    theme = next;
    next.apply(stage.getScene());
    sheet.setTheme(next);
    viewer.setTheme(next);
    timeline.setTheme(next);
    findings.setTheme(next);
  }

  /** Asks for files by other means than the system's dialogs. */
  void setFileAsker(FileAsker asker) {
    files.setAsker(asker);
  }

  /** Returns the plan under edit, or null. */
  public @Nullable Plan plan() {
    return session == null ? null : session.plan();
  }

  /** Returns what is known to be wrong with the plan. */
  List<Finding> found() {
    return checker.found();
  }

  /** Returns the pictures that were last complete, or null. */
  public @Nullable Pictures pictures() {
    return pipe.latest();
  }

  /** Forgets how long the last edit took, so that the next is measured. */
  public void measureNextEdit() {
    pipe.measureNextEdit();
  }

  /** Returns the time from the measured edit to its first picture in milliseconds, or NaN. */
  public double editMillis() {
    return pipe.editMillis();
  }

  /** Returns the parts of the window, for tests that drive it. */
  public List<Region> parts() {
    return Arrays.asList(sheet, viewer, timeline, findings);
  }

  @Override
  public void close() {
    // messages that are still on their way find nothing open
    session = null;
    pipe.close();
    files.close();
    checker.close();
    renderPanel.stop();
  }
}
