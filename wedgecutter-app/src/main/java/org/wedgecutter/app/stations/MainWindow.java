package org.wedgecutter.app.stations;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.UnaryOperator;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TextInputControl;
import javafx.scene.image.Image;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.stage.Stage;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.live.LiveTrace;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.Column;
import org.wedgecutter.app.sheet.CutRows;
import org.wedgecutter.app.sheet.RenderRows;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.sheet.ShotRows;
import org.wedgecutter.app.stations.TopBar.Station;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.app.viewer.ToScreen;
import org.wedgecutter.app.viewer.View;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.proof.Residual;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.shot.LoadedShot;
import org.wedgecutter.core.shot.RenderedFrame;

/**
 * The window: sheet on the left, viewer on the right, timeline and findings below. All of it lives
 * on the interface thread; opening, tracing and rendering go on elsewhere and come back by
 * messages.
 */
public final class MainWindow implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(MainWindow.class);
  private static final int THUMB = 160;

  private final Stage stage;
  private final TopBar top = new TopBar(this::goTo, this::showProof);
  private final CutRows cutRows;
  private final ShotRows shotRows;
  private final RenderRows renderRows;
  private final SheetView sheet;
  private final ViewerPane viewer = new ViewerPane();
  private final DetailPanel detail = new DetailPanel(this::edit);
  private final RenderPanel renderPanel = new RenderPanel(new BoardFiller());
  private final Timeline timeline = new Timeline();
  private final FindingsBar findings = new FindingsBar(this::jumpToLayer);
  private final VBox left = new VBox();
  private final VBox above = new VBox();
  private final LiveTrace live = new LiveTrace(this::arrived, this::traceFailed);
  private final ExecutorService images =
      Executors.newSingleThreadExecutor(Thread.ofPlatform().name("images").daemon().factory());
  private final SheetEdits edits;
  private final Map<String, Image> thumbs = new HashMap<>();
  private final Map<String, Double> seconds = new HashMap<>();

  private Theme theme = Theme.DARK;
  private @Nullable Session session;
  private volatile @Nullable Pictures latest;
  private volatile ViewerPane.@Nullable Shown wanted;
  private volatile long editedAt;
  private volatile double editMillis = Double.NaN;
  private volatile @Nullable Plan editedPlan;
  private long imageSerial;
  private @Nullable Pictures picturesShown;
  private ViewerPane.@Nullable Shown viewShown;

  /** Builds the window on a stage; it is not shown yet. */
  public MainWindow(Stage stage) {
    this.stage = stage;
    cutRows = new CutRows(() -> theme);
    shotRows = new ShotRows(() -> theme);
    renderRows = new RenderRows(() -> theme);
    sheet = new SheetView(cutRows);
    sheet.setId("sheet");
    edits = new SheetEdits(sheet, cutRows, this::plan, this::edit);
    VBox.setVgrow(sheet, Priority.ALWAYS);
    left.getChildren().setAll(sheet, detail);
    SplitPane split = new SplitPane(left, viewer);
    split.setDividerPositions(0.505);
    SplitPane.setResizableWithParent(left, false);
    above.getChildren().add(top);
    BorderPane root = new BorderPane(split, above, null, new VBox(timeline, findings), null);
    root.getStyleClass().add("window");
    Scene scene = new Scene(root, 1280, 800);
    theme.apply(scene);
    scene.addEventFilter(KeyEvent.KEY_PRESSED, this::shortcuts);
    stage.setScene(scene);
    stage.setTitle("Wedgecutter");
    stage.setMinWidth(900);
    stage.setMinHeight(560);
    wire();
    top.setStation(Station.CUT);
    detail.showText(
        "Open a plan (.wedge) or a scene (.glb, .gltf): wedgecutter open FILE, or drop one here.");
    dropFiles(scene);
  }

  private void wire() {
    sheet.setOnSelect(this::selectionChanged);
    sheet.setOnKey((e, s) -> edits.key(e, top.station() == Station.CUT));
    sheet.setOnJoin(edits::joinMenu);
    sheet.setOnRender(edits::toggleRender);
    sheet.setOnRename(edits::rename);
    sheet.setOnTrouble(t -> LOG.error("drawing the sheet", t));
    viewer.setOnChange(this::redraw);
    viewer.setOnPick(this::picked);
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
    Thread.ofPlatform()
        .name("open")
        .daemon()
        .start(() -> {
          try {
            Session.Opened opened = Session.Opened.of(LoadedShot.load(file));
            Platform.runLater(() -> opened(opened));
          } catch (IOException | RuntimeException e) {
            LOG.info("opening {}", file, e);
            Platform.runLater(() -> {
              viewer.setEmptyText("Open a plan or a scene to begin");
              banner(e instanceof IOException ? e.getMessage() : file + ": " + e);
            });
          }
        });
  }

  private void opened(Session.Opened opened) {
    Session s = new Session(opened);
    session = s;
    latest = null;
    thumbs.clear();
    seconds.clear();
    shotRows.setScene(s.shot().scene(), s.motion().byEntity());
    var shot = s.plan().requireShot();
    viewer.setPictureSize(shot.width(), shot.height());
    viewer.setEmptyText("Tracing …");
    timeline.setFrames(shot.frames().frames(), s.motion().mean());
    timeline.setFrame(s.frame());
    planChanged();
    sheet.requestFocus();
    sheet.select(0, s.plan().layers().size() - 1, false);
  }

  /** Shows a message that stays until it is dismissed. */
  void banner(@Nullable String text) {
    Label label = new Label(text == null ? "unknown error" : text);
    label.setId("banner-text");
    label.setWrapText(true);
    HBox.setHgrow(label, Priority.ALWAYS);
    label.setMaxWidth(Double.MAX_VALUE);
    Button close = new Button("Dismiss");
    HBox bar = new HBox(label, close);
    bar.getStyleClass().add("banner");
    bar.setId("banner");
    close.setOnAction(e -> above.getChildren().remove(bar));
    above.getChildren().removeIf(n -> "banner".equals(n.getId()));
    above.getChildren().add(bar);
  }

  // ---- edits

  private void edit(String name, UnaryOperator<Plan> change) {
    Session s = session;
    editedAt = System.nanoTime();
    if (s != null && s.edit(name, change)) {
      planChanged();
    }
  }

  private void planChanged() {
    Session s = session;
    if (s == null) {
      return;
    }
    editedPlan = s.plan();
    live.show(s.shot(), s.frame());
    cutRows.update(s.plan(), s.shot().scene(), s.resolved());
    List<Integer> hues = s.plan().layers().stream().map(LayerDef::hue).toList();
    Pictures p = latest;
    shotRows.update(s.resolved(), hues, p == null ? new double[0] : p.coverage());
    renderRows.setLayers(s.plan().layers().stream().map(LayerDef::render).toList(), hues);
    renderPanel.setShot(s.shot());
    findings.setFindings(s.findings());
    columns();
    top.setName(s.shot().name(), s.history().dirty(), s.history().undoName());
    selectionChanged();
  }

  private void columns() {
    Session s = session;
    if (s == null) {
      return;
    }
    List<Column> out = new ArrayList<>();
    for (LayerDef l : s.plan().layers()) {
      out.add(
          new Column(
              l.name(),
              l.hue(),
              thumbs.get(l.name()),
              l.render(),
              s.plan().join(l.name()).map(Join::word).orElse(""),
              seconds.getOrDefault(l.name(), Double.NaN)));
    }
    sheet.setColumns(out);
  }

  private void setFrame(int frame) {
    Session s = session;
    if (s != null && s.setFrame(frame)) {
      timeline.setFrame(frame);
      live.show(s.shot(), frame);
    }
  }

  private void shortcuts(KeyEvent e) {
    Session s = session;
    if (s == null) {
      return;
    }
    if (e.isControlDown()) {
      boolean changed =
          switch (e.getCode()) {
            case Z -> e.isShiftDown() ? s.redo() : s.undo();
            case Y -> s.redo();
            default -> false;
          };
      if (e.getCode() == KeyCode.S) {
        save();
        e.consume();
      }
      if (changed) {
        planChanged();
        e.consume();
      }
      return;
    }
    if (stage.getScene().getFocusOwner() instanceof TextInputControl) {
      return;
    }
    switch (e.getCode()) {
      case DIGIT1 -> viewer.look(ViewerPane.Look.LAYER);
      case DIGIT2 -> viewer.look(ViewerPane.Look.UNCUT);
      case DIGIT3 -> viewer.look(ViewerPane.Look.REJOINED);
      case DIGIT4 -> viewer.look(ViewerPane.Look.RESIDUAL);
      case F -> viewer.flip();
      case W -> viewer.toggleWipe();
      default -> {
        return;
      }
    }
    e.consume();
  }

  private void save() {
    Session s = session;
    if (s == null) {
      return;
    }
    LoadedShot shot = s.shot();
    Thread.ofPlatform()
        .name("save")
        .start(() -> {
          try {
            shot.save();
            Platform.runLater(() -> saved(shot.plan()));
          } catch (IOException e) {
            Platform.runLater(() -> banner("the plan could not be saved: " + e.getMessage()));
          }
        });
  }

  private void saved(Plan plan) {
    Session s = session;
    if (s != null) {
      s.saved(plan);
      top.setName(s.shot().name(), s.history().dirty(), s.history().undoName());
    }
  }

  // ---- stations and selection

  private void goTo(Station station) {
    left.getChildren().setAll(sheet, station == Station.RENDER ? renderPanel : detail);
    sheet.setRows(
        switch (station) {
          case SHOT -> shotRows;
          case CUT -> cutRows;
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
      redraw();
    }
    String why = sheet.rows().isEmpty() ? "" : describe(column);
    if (top.station() == Station.CUT) {
      CollectionDef collection = cutRows.collection(sheet.row());
      Entity entity = cutRows.entity(sheet.row());
      if (entity != null) {
        detail.showEntity(s.plan(), layer, entity, why);
      } else if (cutRows.takesRoles(sheet.row()) && layer != null) {
        detail.showCell(s.plan(), layer, collection, why);
      } else if (collection != null) {
        detail.showCollection(collection, s.shot().scene());
      } else {
        detail.showText(why);
      }
    } else {
      detail.showText(why);
    }
  }

  private String describe(int column) {
    return switch (top.station()) {
      case SHOT -> shotRows.describe(sheet.row(), column);
      case CUT -> cutRows.describe(sheet.row(), column);
      case RENDER -> renderRows.describe(sheet.row(), column);
    };
  }

  private void jumpToLayer(String layer) {
    Session s = session;
    if (s != null) {
      sheet.select(sheet.row(), s.plan().layerIndex(layer), false);
      viewer.look(ViewerPane.Look.LAYER);
    }
  }

  private void showProof() {
    findings.setCausesFirst(true);
    viewer.look(ViewerPane.Look.RESIDUAL);
  }

  private void picked(int x, int y) {
    Session s = session;
    Pictures p = latest;
    if (s == null || p == null) {
      return;
    }
    int index = p.entityAt(x, y);
    if (index < 0) {
      return;
    }
    Entity entity = s.shot().scene().entities().get(index);
    int row =
        top.station() == Station.SHOT
            ? shotRows.reveal(entity)
            : top.station() == Station.CUT ? cutRows.reveal(entity) : -1;
    if (row >= 0) {
      sheet.refresh();
      sheet.select(row, sheet.column(), false);
    }
  }

  // ---- pictures

  /**
   * On the tracing thread, while the trace rests: first what is looked at, then every layer, then
   * the proof.
   */
  private void arrived(Pictures pictures) {
    ViewerPane.Shown shown = wanted;
    if (shown != null) {
      ViewerPane.Images made = ViewerPane.images(pictures, shown);
      if (pictures.plan().equals(editedPlan) && Double.isNaN(editMillis)) {
        editMillis = (System.nanoTime() - editedAt) / 1e6;
      }
      Platform.runLater(() -> show(pictures, shown, made));
    }
    Map<String, Image> small = new HashMap<>();
    for (int l = 0; l < pictures.plan().layers().size(); l++) {
      small.put(
          pictures.plan().layers().get(l).name(),
          ToScreen.image(Thumbnail.of(pictures.layer(l), THUMB), View.PLAIN));
    }
    Platform.runLater(() -> showSmall(small));
    pictures.complete();
    latest = pictures;
    Platform.runLater(() -> took(pictures));
  }

  private void showSmall(Map<String, Image> small) {
    thumbs.putAll(small);
    columns();
  }

  private void took(Pictures pictures) {
    Session s = session;
    if (s == null) {
      return;
    }
    shotRows.update(
        s.resolved(), s.plan().layers().stream().map(LayerDef::hue).toList(), pictures.coverage());
    sheet.refresh();
    redraw();
    chip(pictures);
    findings.setCauses(pictures.causes());
  }

  private void chip(Pictures pictures) {
    Residual r = pictures.residual();
    if (r.exact()) {
      findings.setCausesFirst(false);
      top.setChip("rejoins exactly", "exact");
    } else {
      int causes = pictures.causes().size();
      top.setChip(
          "residual %s on %.1f %% of the frame · %d %s"
              .formatted(size(r.max()), r.beyond() * 100, causes, causes == 1 ? "cause" : "causes"),
          r.beyond() < 0.02 ? "near" : "off");
    }
  }

  private static String size(double value) {
    return (value >= 1 ? "%.0f" : value >= 0.01 ? "%.2f" : "%.1e").formatted(value);
  }

  private void traceFailed(Throwable t) {
    LOG.error("tracing", t);
    Platform.runLater(() -> banner("tracing failed: " + t.getMessage()));
  }

  private void show(Pictures pictures, ViewerPane.Shown shown, ViewerPane.Images made) {
    picturesShown = pictures;
    viewShown = shown;
    viewer.show(pictures, shown, made);
  }

  private boolean isShown(Pictures pictures, ViewerPane.Shown shown) {
    return pictures.equals(picturesShown) && shown.equals(viewShown);
  }

  /**
   * Makes the viewer's images anew from the latest pictures; only the last of several requests
   * counts.
   */
  private void redraw() {
    ViewerPane.Shown shown = viewer.shown();
    wanted = shown;
    Pictures pictures = latest;
    Session s = session;
    // what belongs to the plan before the last edit is not worth making: the next pictures are on
    // their way
    if (pictures == null
        || s == null
        || !pictures.plan().equals(s.plan())
        || isShown(pictures, shown)) {
      return;
    }
    long serial = ++imageSerial;
    images.execute(() -> {
      if (shown.equals(wanted)) {
        ViewerPane.Images made = ViewerPane.images(pictures, shown);
        Platform.runLater(() -> {
          if (serial == imageSerial) {
            viewer.show(pictures, shown, made);
          }
        });
      }
    });
  }

  /** Fills the board of the Render station. */
  private final class BoardFiller implements RenderPanel.Board {
    @Override
    public void begins(List<Integer> frames) {
      renderRows.setFrames(frames);
      sheet.refresh();
    }

    @Override
    public void at(int frame, double share, boolean failed, double took) {
      renderRows.setState(frame, new RenderRows.State(share, failed, took));
      sheet.refresh();
    }

    @Override
    public void ends(List<RenderedFrame.ClassTime> classes, int frames) {
      // what layers share costs each of them its part
      seconds.clear();
      for (RenderedFrame.ClassTime c : classes) {
        for (String layer : c.layers()) {
          seconds.merge(layer, c.seconds() / c.layers().size() / Math.max(1, frames), Double::sum);
        }
      }
      columns();
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
  }

  /** Returns the plan under edit, or null. */
  public @Nullable Plan plan() {
    return session == null ? null : session.plan();
  }

  /** Returns the pictures that were last complete, or null. */
  public @Nullable Pictures pictures() {
    return latest;
  }

  /** Forgets how long the last edit took, so that the next is measured. */
  public void measureNextEdit() {
    editMillis = Double.NaN;
  }

  /** Returns the time from the measured edit to its first picture in milliseconds, or NaN. */
  public double editMillis() {
    return editMillis;
  }

  /** Returns the parts of the window, for tests that drive it. */
  public List<Region> parts() {
    return Arrays.asList(sheet, viewer, timeline, findings);
  }

  @Override
  public void close() {
    // messages that are still on their way find nothing open
    session = null;
    latest = null;
    live.close();
    renderPanel.stop();
    images.shutdownNow();
  }
}
