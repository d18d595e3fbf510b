package org.wedgecutter.app.testing;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.atomic.AtomicReference;
import javafx.geometry.Bounds;
import javafx.scene.Node;
import org.awaitility.Awaitility;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.WedgecutterApp;
import org.wedgecutter.app.files.FileAsker;
import org.wedgecutter.app.files.StateFolder;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.SheetView;
import org.wedgecutter.app.shell.MainWindow;
import org.wedgecutter.app.shell.WindowListener;
import org.wedgecutter.app.shell.WindowSetup;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.Plan;

/** The program's window on a display, with the shot that is open in it. */
public final class RealWindow extends Hands implements AutoCloseable {
  private final MainWindow main;
  private final AtomicReference<FileAsker> asker =
      new AtomicReference<>(org.mockito.Mockito.mock(FileAsker.class));
  private @Nullable Session session;
  private @Nullable Pictures pictures;
  private double editMillis = Double.NaN;
  private int drafts;
  private List<Finding> findings = List.of();

  public RealWindow() throws Exception {
    if (System.getProperty("wedgecutter.state") == null) {
      System.setProperty(
          "wedgecutter.state",
          java.nio.file.Files.createTempDirectory("wedgecutter-state").toString());
    }
    main =
        fx(() ->
            new MainWindow(
                stage(),
                new WindowSetup(
                    WedgecutterApp.STATIONS,
                    WedgecutterApp.HOME,
                    owner -> new Asker(),
                    null,
                    StateFolder.path(),
                    new Listener())));
    fx(() -> {
      stage().setX(0);
      stage().setY(0);
      stage().show();
      stage().toFront();
      stage().requestFocus();
      return null;
    });
    await("the window has the keyboard", () -> stage().isFocused());
  }

  public void open(Path file) throws Exception {
    fx(() -> {
      main.open(file);
      return null;
    });
  }

  /** Opens a shot and waits until its pictures are whole. */
  public void openWhole(Path file) throws Exception {
    Session before = fx(() -> session);
    open(file);
    // the pictures of the shot before are whole, too
    await("the pictures are whole", () -> session != before && whole());
    settle();
  }

  public boolean whole() {
    var p = pictures;
    return p != null
        && p.plan().equals(planNow())
        && p.uncut().width() == p.plan().requireShot().width()
        && p.samples() >= p.plan().requireShot().samples();
  }

  public Plan plan() throws Exception {
    return fx(this::planNow);
  }

  public Cell cell(int layer, String collection) throws Exception {
    return plan().layers().get(layer).cells().get(collection);
  }

  public SheetView sheet() throws Exception {
    return find("sheet", SheetView.class);
  }

  public void clickCell(int row, int column) throws Exception {
    double[] at = fx(() -> sheetNow().centre(row, column));
    click(sheet(), at[0], at[1]);
  }

  /**
   * Goes to a row, which may lie below what is shown, and gives the sheet the keys.
   *
   * @param label of the row
   * @param column its cell; -1 for the row's head
   */
  public void goTo(String label, int column) throws Exception {
    fx(() -> {
      int row = sheetNow().rows().stream().map(r -> r.label()).toList().indexOf(label);
      assertThat(row).as(label).isNotNegative();
      sheetNow().select(row, column, false);
      sheetNow().requestFocus();
      return null;
    });
    settle();
  }

  /** Returns the sheet; on the interface thread. */
  public SheetView sheetNow() {
    return (SheetView) stage().getScene().getRoot().lookup("#sheet");
  }

  /** Opens the menu of a row (column -1) or of a column (row -1) and takes a line of it. */
  public void menu(int row, int column, String... texts) throws Exception {
    double[] at = fx(() -> sheetNow().centre(row, column));
    rightClick(sheet(), at[0], row < 0 ? 20 : at[1]);
    choose(texts);
  }

  /** Returns what the picture is drawn on. */
  public Node canvas() throws Exception {
    return find("viewer", Node.class).lookup(".canvas-of-pictures");
  }

  /**
   * Returns where on the canvas a place of the picture is, while that is fitted into it.
   *
   * @param right in widths of the picture
   * @param down in its heights
   */
  public double[] onCanvas(double right, double down) throws Exception {
    Node canvas = canvas();
    Bounds box = fx(canvas::getBoundsInLocal);
    int width = plan().requireShot().width();
    int height = plan().requireShot().height();
    double room = 20;
    double zoom = Math.min((box.getWidth() - room) / width, (box.getHeight() - room) / height);
    return new double[] {
      (box.getWidth() - width * zoom) / 2 + right * width * zoom,
      (box.getHeight() - height * zoom) / 2 + down * height * zoom
    };
  }

  /**
   * Returns the picture in the viewer once it is the newest, as it was asked for; without the texts
   * about it, which tell times.
   */
  public int[] picture() throws Exception {
    await("the newest picture is on the screen", () -> isPictureUpToDate());
    return look(find("viewer", Node.class).lookup(".canvas-of-pictures"));
  }

  /** Waits until the viewer's picture is, or is no longer, as it was. */
  public void awaitPicture(String what, int[] as, boolean same) throws Exception {
    Awaitility.await(what)
        .atMost(Duration.ofSeconds(60))
        .until(() -> Arrays.equals(picture(), as) == same);
  }

  /** Returns the current frame. */
  public int frame() throws Exception {
    return fx(() -> java.util.Objects.requireNonNull(session).frame());
  }

  /** Returns the brightest colour of the uncut frame so far; on the interface thread. */
  public double brightness() {
    double most = 0;
    var p = pictures;
    if (p != null) {
      float[] rgba = p.uncut().rgba();
      for (int i = 0; i < rgba.length; i++) {
        most = (i & 3) == 3 ? most : Math.max(most, rgba[i]);
      }
    }
    return most;
  }

  /** Asks the window to close, as its frame does; returns whether it closes at once. */
  public boolean mayClose(Runnable close) throws Exception {
    boolean closes = fx(() -> main.mayClose(close));
    settle();
    return closes;
  }

  /** Tells the window of an error that nothing caught. */
  public void uncaught(Throwable error) {
    main.uncaught(Thread.currentThread(), error);
  }

  /** Hands questions for files to whoever answers now. */
  private final class Asker implements FileAsker {
    @Override
    public @Nullable Path toOpen(String title, String... patterns) {
      return asker.get().toOpen(title, patterns);
    }

    @Override
    public @Nullable Path toSave(String title, Path suggested, String pattern) {
      return asker.get().toSave(title, suggested, pattern);
    }
  }

  private final class Listener implements WindowListener {
    @Override
    public void opened(Session opened) {
      session = opened;
      pictures = null;
    }

    @Override
    public void shown(Pictures shown, double millis) {
      editMillis = millis;
      drafts += shown.rejoinedIfMade() == null ? 1 : 0;
    }

    @Override
    public void found(List<Finding> found) {
      findings = found;
    }

    @Override
    public void complete(Pictures complete) {
      pictures = complete;
    }
  }

  /** Answers questions for files. */
  public void setAsker(FileAsker next) {
    asker.set(next);
  }

  /** Returns the plan under edit, or null; on the interface thread. */
  public @Nullable Plan planNow() {
    return session == null ? null : session.plan();
  }

  /** Returns the pictures that were complete last, or null; on the interface thread. */
  public @Nullable Pictures pictures() {
    return pictures;
  }

  /** Returns what is wrong with the plan; on the interface thread. */
  public List<Finding> findings() {
    return findings;
  }

  /** Forgets the time of the last edit; on the interface thread. */
  public void measureNextEdit() {
    editMillis = Double.NaN;
  }

  /** Returns the time from the last edit to its picture, or NaN; on the interface thread. */
  public double editMillis() {
    return editMillis;
  }

  /**
   * Returns how often a picture was shown before the whole one was made; on the interface thread.
   */
  public int drafts() {
    return drafts;
  }

  /** Whether the newest picture is on the screen, whole; on the interface thread. */
  public boolean isPictureUpToDate() {
    return main.isPictureUpToDate();
  }

  /** Sets the colours; on the interface thread. */
  public void setTheme(Theme theme) {
    main.setTheme(theme);
  }

  @Override
  public void close() throws Exception {
    fx(() -> {
      main.close();
      stage().close();
      return null;
    });
    // what is on its way to a file ends before the test's folder is deleted
    for (Thread thread : Thread.getAllStackTraces().keySet()) {
      if (thread.getName().equals("survey")) {
        thread.join(Duration.ofSeconds(30));
      }
    }
  }
}
