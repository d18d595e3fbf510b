package org.wedgecutter.app.shell;

import java.nio.file.Path;
import java.util.List;
import java.util.SortedMap;
import java.util.function.UnaryOperator;
import javafx.scene.Node;
import javafx.scene.image.Image;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.files.ImageFiles;
import org.wedgecutter.app.files.RejoinFiles;
import org.wedgecutter.app.files.ShotScenes;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.sheet.SheetHeaders;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.station.LayerActions;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.app.viewer.Look;
import org.wedgecutter.app.viewer.PicturePipe;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.survey.Matter;

/** The window, as its parts and the stations know it. */
final class WindowBench implements Workbench {
  private static final int MOST_ERRORS = 3;

  private final MainWindow window;

  WindowBench(MainWindow window) {
    this.window = window;
  }

  @Override
  public @Nullable Session session() {
    return window.session();
  }

  @Override
  public void edit(String name, UnaryOperator<Plan> change) {
    Session s = window.session();
    window.pictures().editBegins();
    if (s != null && s.edit(name, change)) {
      window.planChanged();
    }
  }

  @Override
  public void adjust(String name, Object gesture, UnaryOperator<Plan> change) {
    Session s = window.session();
    window.pictures().editBegins();
    if (s != null && s.adjust(name, gesture, change)) {
      window.planChanged();
    }
  }

  @Override
  public void look(Look look) {
    window.viewer().look(look);
  }

  @Override
  public void banner(@Nullable String text) {
    show(
        new Banner(
            window.above(),
            text == null ? "unknown error" : text,
            false,
            List.of(new Banner.Choice("banner-close", "Dismiss", () -> {}))));
  }

  @Override
  public Runnable offer(String text, Banner.Choice... choices) {
    Banner banner = new Banner(window.above(), text, true, List.of(choices));
    show(banner);
    return () -> window.above().getChildren().remove(banner);
  }

  /**
   * Shows a message above those that are there: an offer stays until it is answered. The oldest
   * error goes where there are too many, and the same error is shown once.
   */
  private void show(Banner banner) {
    var above = window.above().getChildren();
    above.removeIf(n -> n instanceof Banner b && !b.isOffer() && b.text().equals(banner.text()));
    List<Banner> errors =
        above.stream()
            .filter(n -> n instanceof Banner b && !b.isOffer())
            .map(Banner.class::cast)
            .toList();
    if (errors.size() >= MOST_ERRORS) {
      above.remove(errors.getLast());
    }
    // below the top bar, the newest first
    above.add(1, banner);
  }

  @Override
  public void openDrawer(String title, Node content) {
    window.drawer().show(title, content);
  }

  @Override
  public void closeDrawer() {
    window.drawer().hide();
  }

  @Override
  public void opening(Path file) {
    window.viewer().setEmptyText("Opening " + file.getFileName() + "…");
  }

  @Override
  public void opened(Session.Opened opened) {
    window.take(new Session(opened));
  }

  @Override
  public void sceneChanged() {
    window.sceneChanged();
  }

  @Override
  public void notOpened() {
    window.viewer().setEmptyText("Open a plan or a scene to begin");
  }

  @Override
  public void saved() {
    window.planSaved();
  }

  @Override
  public SheetView sheet() {
    return window.sheet();
  }

  @Override
  public SheetHeaders headers() {
    return window.headers();
  }

  @Override
  public PicturePipe pictures() {
    return window.pictures();
  }

  @Override
  public LayerActions layers() {
    return window.layers();
  }

  @Override
  public ImageFiles images() {
    return window.files().images();
  }

  @Override
  public ShotScenes scenes() {
    return window.files().scenes();
  }

  @Override
  public RejoinFiles rejoins() {
    return window.files().rejoins();
  }

  @Override
  public Theme theme() {
    return window.theme();
  }

  @Override
  public List<Finding> found() {
    return window.checker().found();
  }

  @Override
  public void fix(Finding.Fix fix) {
    edit(fix.name(), fix.edit());
  }

  @Override
  public void goTo(String stationId) {
    window.goTo(stationId);
  }

  @Override
  public void goToFrame(int frame) {
    window.setFrame(frame);
  }

  @Override
  public void matters(List<Matter> frames) {
    window.setMatters(frames);
  }

  @Override
  public void framePictures(SortedMap<Integer, Image> byFrame) {
    window.setFramePictures(byFrame);
  }
}
