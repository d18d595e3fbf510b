package org.wedgecutter.app.shell;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.SortedMap;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.Scene;
import javafx.scene.control.SplitPane;
import javafx.scene.image.Image;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.TransferMode;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.stage.Stage;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.panel.Drawer;
import org.wedgecutter.app.sheet.SheetHeaders;
import org.wedgecutter.app.sheet.SheetRows;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.station.LayerActions;
import org.wedgecutter.app.station.Station;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.app.typing.HalfTyped;
import org.wedgecutter.app.viewer.KeptFrames;
import org.wedgecutter.app.viewer.Look;
import org.wedgecutter.app.viewer.PicturePipe;
import org.wedgecutter.app.viewer.ViewerPane;
import org.wedgecutter.core.carry.Carry;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.motion.MotionTable;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.survey.Matter;

/**
 * The window: sheet on the left, viewer on the right, timeline and findings below. All of it lives
 * on the interface thread; opening, tracing, checking and rendering go on elsewhere and come back
 * as messages.
 */
public final class MainWindow implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(MainWindow.class);

  private final Stage stage;
  private final WindowListener listener;
  private final WindowBench bench = new WindowBench(this);
  private final SheetView sheet = new SheetView(SheetRows.NONE);
  private final SheetHeaders headers = new SheetHeaders(sheet);
  private final ViewerPane viewer = new ViewerPane(this::nameAndLayers);
  private final Drawer drawer = new Drawer(new StackPane(viewer));
  private final Timeline timeline = new Timeline();
  private final HeldMarks heldMarks = new HeldMarks(timeline);
  private final FindingsBar findings = new FindingsBar(this::jump, fix -> bench.fix(fix));
  private final VBox left = new VBox();
  private final VBox above = new VBox();
  private final PicturePipe pipe = new PicturePipe(viewer, new PictureTaker(this));
  private final Playback playback = new Playback(pipe, timeline, this::session, this::landed);
  private final WindowFiles files;
  private final ProposalDesk proposals = new ProposalDesk(bench);
  private final PlanChecker checker =
      new PlanChecker(this::checked, this::held, this::moves, text -> bench.banner(text));
  private final LayerActions layers;
  private final SheetHands hands = new SheetHands(this);
  private final List<Station> stations = new ArrayList<>();
  private final Station home;
  private final Menus menus;
  private final TopBar top;
  private final ProofDesk proof;

  private Theme theme = Theme.DARK;
  private Station station;
  private @Nullable Session session;
  private String solo = "";
  private boolean closed;

  /** Builds the window on a stage; it is not shown yet. */
  public MainWindow(Stage stage, WindowSetup setup) {
    this.stage = stage;
    listener = setup.listener();
    files = new WindowFiles(bench, setup, setup.asker().apply(stage), this::carried);
    layers = new LayerActions(bench, sheet, files.parts(), this::toggleSolo);
    setup.stations().forEach(maker -> stations.add(maker.apply(bench)));
    home =
        stations.stream()
            .filter(s -> s.id().equals(setup.home()))
            .findFirst()
            .orElseGet(stations::getFirst);
    station = home;
    menus =
        new Menus(
            this::planAction,
            files.plans()::recent,
            this::open,
            this::editAction,
            Menus.view(viewer, playback::toggle),
            this::choose);
    top = new TopBar(stations, this::goTo, this::showProof, menus.buttons());
    proof = new ProofDesk(bench, top, findings);
    Scene scene = build();
    theme.apply(scene);
    menus.setTheme(theme);
    WindowKeys keys =
        new WindowKeys(
            scene,
            viewer,
            () -> session != null,
            this::escape,
            this::undo,
            this::redo,
            timeline::step,
            playback::toggle);
    scene.addEventFilter(KeyEvent.KEY_PRESSED, keys::pressed);
    stage.setScene(scene);
    stage.setTitle("Wedgecutter");
    stage.setMinWidth(900);
    stage.setMinHeight(560);
    wire(scene);
    goTo(home);
  }

  private Scene build() {
    sheet.setId("sheet");
    timeline.setId("timeline");
    VBox.setVgrow(sheet, Priority.ALWAYS);
    SplitPane split = new SplitPane(left, drawer.place());
    split.setDividerPositions(0.505);
    SplitPane.setResizableWithParent(left, false);
    above.getChildren().add(top);
    BorderPane root = new BorderPane(split, above, null, new VBox(timeline, findings), null);
    root.getStyleClass().add("window");
    return new Scene(root, 1280, 800);
  }

  private void wire(Scene scene) {
    sheet.setOnSelect(this::selectionChanged);
    sheet.setOnKey((e, s) -> hands.key(e));
    sheet.setHeaderActions(layers);
    sheet.setMenus(hands::rowMenu);
    sheet.setOnTrouble(t -> LOG.error("drawing the sheet", t));
    viewer.setOnChange(() -> pipe.redraw(plan()));
    viewer.setOnPick(hands::picked);
    viewer.setOnPoint((x, y) -> station.pointed(x, y));
    viewer.setOnCamera(new CameraMoves(bench));
    timeline.setOnFrame(this::setFrame);
    timeline.setOnPlay(playback::toggle);
    timeline.setKept(this::kept);
    scene.setOnDragOver(e -> {
      if (e.getDragboard().hasFiles()) {
        e.acceptTransferModes(TransferMode.COPY);
      }
    });
    scene.setOnDragDropped(e -> {
      // what is dragged from a page or a mail can come without files
      e.getDragboard().getFiles().stream().findFirst().ifPresent(f -> open(f.toPath()));
    });
  }

  /** Opens a plan or scene; if that fails, a banner says why and what was open stays. */
  public void open(Path file) {
    HalfTyped.apply(stage.getScene());
    files.plans().open(file);
  }

  private @Nullable Plan plan() {
    return session == null ? null : session.plan();
  }

  private boolean hasPlate() {
    Plan p = plan();
    return p != null && p.requireShot().plate().exists();
  }

  /** Returns an entity's path and the layers that show it, for the probe. */
  private String nameAndLayers(int entity) {
    Session s = session;
    if (s == null || entity < 0) {
      return "";
    }
    List<String> seenIn =
        s.resolved().layers().stream()
            .filter(l -> l.seen().contains(entity))
            .map(l -> l.name())
            .toList();
    return s.shot().scene().entities().get(entity).path()
        + (seenIn.isEmpty() ? " (in no layer)" : " in " + String.join(", ", seenIn));
  }

  // ---- what the bench hands out

  @Nullable Session session() {
    return session;
  }

  VBox above() {
    return above;
  }

  Drawer drawer() {
    return drawer;
  }

  SheetView sheet() {
    return sheet;
  }

  SheetHeaders headers() {
    return headers;
  }

  ViewerPane viewer() {
    return viewer;
  }

  PicturePipe pictures() {
    return pipe;
  }

  LayerActions layers() {
    return layers;
  }

  WindowFiles files() {
    return files;
  }

  Theme theme() {
    return theme;
  }

  WindowListener listener() {
    return listener;
  }

  WindowBench bench() {
    return bench;
  }

  Timeline timeline() {
    return timeline;
  }

  Playback playback() {
    return playback;
  }

  ProofDesk proof() {
    return proof;
  }

  List<Station> stations() {
    return stations;
  }

  PlanChecker checker() {
    return checker;
  }

  /** Goes to the station of a name, if there is one. */
  void goTo(String stationId) {
    stations.stream().filter(s -> s.id().equals(stationId)).findFirst().ifPresent(this::goTo);
  }

  // ---- the shot and the plan

  /** Shows a shot that was opened. */
  void take(Session s) {
    if (closed) {
      return;
    }
    session = s;
    pipe.forget();
    headers.forget();
    setSolo("");
    above.getChildren().removeIf(Banner.class::isInstance);
    drawer.hide();
    stations.forEach(each -> each.opened(s));
    var shot = s.plan().requireShot();
    viewer.setEmptyText("Tracing…");
    pipe.highlight(EntitySet.NONE);
    timeline.setFrames(shot.frames().frames(), s.motion().mean());
    files.scenes().opened(s);
    timeline.setMatters(List.of());
    timeline.setPictures(Collections.emptySortedMap());
    heldMarks.forget();
    planChanged();
    sheet.requestFocus();
    sheet.select(0, s.plan().layers().size() - 1, false);
    proposals.offer(s);
    listener.opened(s);
  }

  /** Shows the current plan. */
  void planChanged() {
    Session s = session;
    if (s == null) {
      return;
    }
    playback.halt(false);
    proof.planChanged();
    if (!s.motionFits()) {
      // how much moves in them is not known yet
      timeline.setFrames(s.plan().requireShot().frames().frames(), new double[0]);
    }
    timeline.setFrame(s.frame());
    files.scenes().shows(s);
    pipe.trace(s.shot(), s.frame());
    files.plans().edited();
    stations.forEach(each -> each.planChanged(s));
    viewer.setPictureSize(s.plan().requireShot().width(), s.plan().requireShot().height());
    viewer.setPlate(hasPlate());
    viewer.setCorrected(s.plan().recipe().changesJoined());
    if (s.plan().layer(solo).isEmpty()) {
      setSolo("");
    }
    checker.check(s);
    headers.show(s.plan());
    top.setName(s);
    menus.setHistory(s.history().undoName(), s.history().redoName());
    if (drawer.content() instanceof HistoryPanel history) {
      history.update(s.history());
    }
    selectionChanged();
  }

  /** Shows the motion over other frames. */
  private void moves(LoadedShot of, MotionTable motion) {
    Session s = session;
    if (s != null && s.setMotion(motion, of)) {
      timeline.setFrames(s.plan().requireShot().frames().frames(), motion.mean());
      stations.forEach(each -> each.moves(s));
      sheet.refresh();
    }
  }

  /** Shows another scene of the open shot, or the same as it is on disk now. */
  void sceneChanged() {
    pipe.forget();
    headers.forget();
    planChanged();
  }

  /** Shows that the plan is saved: nothing else of it is another, so panels stay as they are. */
  void planSaved() {
    Session s = session;
    if (s == null) {
      return;
    }
    files.plans().edited();
    checker.check(s);
    top.setName(s);
    menus.setHistory(s.history().undoName(), s.history().redoName());
    sheet.refresh();
  }

  private void checked(List<Finding> found) {
    findings.setFindings(found);
    station.found(found);
    listener.found(found);
  }

  private void held(Plan of, HeldFrames frames) {
    Session s = session;
    if (s != null && s.plan().equals(of)) {
      headers.held(of, frames);
      headers.show(of);
      stations.forEach(each -> each.held(frames));
      heldMarks.found(of, frames);
      heldMarks.show(s.plan(), sheet.column());
      sheet.refresh();
    }
  }

  private void toggleSolo(String layer) {
    setSolo(layer.equals(solo) ? "" : layer);
    selectionChanged();
  }

  /** Solo belongs to the window, not to the plan, so no layer stays off by accident. */
  private void setSolo(String layer) {
    solo = layer;
    sheet.setSolo(layer);
    stations.forEach(each -> each.solo(layer));
    if (!layer.isEmpty()) {
      viewer.look(Look.LAYER);
    }
  }

  /** Marks the frames that matter on the timeline. */
  void setMatters(List<Matter> frames) {
    timeline.setMatters(frames);
  }

  /** Shows small pictures of frames above the timeline. */
  void setFramePictures(SortedMap<Integer, Image> byFrame) {
    timeline.setPictures(byFrame);
  }

  void setFrame(int frame) {
    if (playback.isPlaying()) {
      playback.halt(false);
      landed(frame);
      return;
    }
    Session s = session;
    if (s != null && s.setFrame(frame)) {
      planChanged();
    }
  }

  /** Playback has ended at a frame: it becomes the current one, and is traced. */
  private void landed(int frame) {
    Session s = session;
    if (s != null) {
      s.setFrame(frame);
      planChanged();
    }
  }

  private KeptFrames.State kept(int frame) {
    Session s = session;
    return s == null ? KeptFrames.State.MISSING : pipe.kept(s.plan(), frame);
  }

  // ---- menus

  private void planAction(Menus.PlanAction action) {
    HalfTyped.apply(stage.getScene());
    switch (action) {
      case HISTORY -> openHistory();
      case PROPOSE -> proposals.propose();
      default -> files.run(action, layers.name(sheet.column()));
    }
  }

  private void editAction(Menus.EditAction action) {
    switch (action) {
      case UNDO -> undo();
      case REDO -> redo();
    }
  }

  private void undo() {
    if (session != null && session.undo()) {
      planChanged();
    }
  }

  private void redo() {
    if (session != null && session.redo()) {
      planChanged();
    }
  }

  private void openHistory() {
    Session s = session;
    if (s != null) {
      HistoryPanel panel =
          new HistoryPanel(step -> {
            if (s.goTo(step)) {
              planChanged();
            }
          });
      panel.update(s.history());
      bench.openDrawer("Edit history", panel);
    }
  }

  private void carried(Path plan, Carry.Report report) {
    bench.openDrawer("Carried to " + plan.getFileName(), new CarryPanel(plan, report));
  }

  private boolean escape() {
    if (!drawer.open()) {
      return false;
    }
    drawer.hide();
    sheet.requestFocus();
    return true;
  }

  // ---- stations and selection

  void goTo(Station next) {
    HalfTyped.apply(stage.getScene());
    if (!station.equals(next)) {
      station.left();
    }
    station = next;
    timeline.askForPictures(next.showsFramePictures());
    top.setStation(next);
    Node bar = next.above();
    left.getChildren().setAll(bar == null ? List.of() : List.of(bar));
    left.getChildren().addAll(sheet, next.below());
    sheet.setRows(next.rows());
    sheet.setDrops(next.drops());
    viewer.setOnDragOut(next.dragOut());
    next.shown();
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
    heldMarks.show(s.plan(), column);
    station.selected(s, sheet.row(), layer);
  }

  private void jump(FindingsBar.Place place) {
    hands.jump(place);
  }

  /** Returns the station that is shown. */
  Station station() {
    return station;
  }

  /** Returns the station at which findings are shown. */
  Station home() {
    return home;
  }

  private void showProof() {
    findings.showCauses();
    viewer.look(Look.RESIDUAL);
  }

  // ---- pictures

  /** Whether the viewer shows the newest pictures as they are asked for. */
  public boolean isPictureUpToDate() {
    return pipe.isUpToDate();
  }

  // ---- closing, and what nobody caught

  /**
   * Asks before the window closes, if anything would be lost; returns whether it may close at once.
   *
   * @param close closes it
   */
  public boolean mayClose(Runnable close) {
    HalfTyped.apply(stage.getScene());
    return new Closing(bench, stations, files.plans()).mayClose(close);
  }

  /** Keeps a copy of unsaved changes at once, on this thread: the program is being ended. */
  public void keepNow() {
    files.plans().keepNow();
  }

  /** Tells of an error that nothing caught; from any thread. */
  public void uncaught(Thread thread, Throwable error) {
    LOG.error("uncaught on {}", thread.getName(), error);
    Platform.runLater(() ->
        bench.banner(
            "An unexpected error occurred: %s Your plan is still open; save it before you continue."
                .formatted(Trouble.words(error))));
  }

  // ---- theme

  /** Sets the colours. */
  public void setTheme(Theme next) {
    theme = next;
    next.apply(stage.getScene());
    menus.setTheme(next);
    sheet.setTheme(next);
    viewer.setTheme(next);
    timeline.setTheme(next);
    findings.setTheme(next);
  }

  private void choose(Theme next) {
    setTheme(next);
    files.remember(next);
  }

  @Override
  public void close() {
    // results that arrive late find nothing open
    closed = true;
    playback.halt(false);
    session = null;
    pipe.close();
    files.close();
    checker.close();
    proof.close();
    proposals.close();
    stations.forEach(Station::close);
  }
}
