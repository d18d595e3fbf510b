package org.wedgecutter.app.testing;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.BooleanSupplier;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.geometry.Bounds;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Labeled;
import javafx.scene.control.ScrollPane;
import javafx.scene.image.WritableImage;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseButton;
import javafx.scene.robot.Robot;
import javafx.stage.Stage;
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

/** A window on a display, with a mouse and a keyboard. */
public final class RealWindow implements AutoCloseable {
  private static final int RESTS = 200;
  private static final int FRAME = 30;
  private static final int PULSES = 3;
  private static final AtomicBoolean STARTED = new AtomicBoolean();

  private final MainWindow main;
  private final AtomicReference<FileAsker> asker =
      new AtomicReference<>(org.mockito.Mockito.mock(FileAsker.class));
  private @Nullable Session session;
  private @Nullable Pictures pictures;
  private double editMillis = Double.NaN;
  private int drafts;
  private List<Finding> findings = List.of();
  private final Stage stage;
  private final Robot robot;

  public RealWindow() throws Exception {
    if (System.getProperty("wedgecutter.state") == null) {
      System.setProperty(
          "wedgecutter.state",
          java.nio.file.Files.createTempDirectory("wedgecutter-state").toString());
    }
    if (STARTED.compareAndSet(false, true)) {
      CompletableFuture<Void> ready = new CompletableFuture<>();
      Platform.startup(() -> ready.complete(null));
      ready.get(60, TimeUnit.SECONDS);
      Platform.setImplicitExit(false);
      fx(() -> {
        Theme.loadFonts();
        return null;
      });
    }
    stage = fx(Stage::new);
    robot = fx(Robot::new);
    main =
        fx(() ->
            new MainWindow(
                stage,
                new WindowSetup(
                    WedgecutterApp.STATIONS,
                    WedgecutterApp.HOME,
                    owner -> new Asker(),
                    null,
                    StateFolder.path(),
                    new Listener())));
    fx(() -> {
      stage.setX(0);
      stage.setY(0);
      stage.show();
      stage.toFront();
      stage.requestFocus();
      return null;
    });
    await("the window has the keyboard", () -> stage.isFocused());
  }

  public static <T> T fx(Supplier<T> work) throws Exception {
    CompletableFuture<T> done = new CompletableFuture<>();
    Platform.runLater(() -> {
      try {
        done.complete(work.get());
      } catch (Throwable t) {
        done.completeExceptionally(t);
      }
    });
    return done.get(60, TimeUnit.SECONDS);
  }

  public void await(String what, BooleanSupplier condition) throws Exception {
    await(what, 60, condition);
  }

  /** Waits for something that takes longer on a slow machine. */
  public void await(String what, int seconds, BooleanSupplier condition) throws Exception {
    Awaitility.await(what)
        .atMost(Duration.ofSeconds(seconds))
        .pollInterval(Duration.ofMillis(20))
        .until(() -> fx(condition::getAsBoolean));
  }

  /** Lets the window take up events and draw: what the display sends comes between its pulses. */
  public void settle() throws Exception {
    for (int k = 0; k < PULSES; k++) {
      CompletableFuture<Void> drawn = new CompletableFuture<>();
      fx(() -> {
        var scene = stage.getScene();
        Runnable[] once = new Runnable[1];
        once[0] =
            () -> {
              scene.removePostLayoutPulseListener(once[0]);
              drawn.complete(null);
            };
        scene.addPostLayoutPulseListener(once[0]);
        Platform.requestNextPulse();
        return null;
      });
      drawn.get(60, TimeUnit.SECONDS);
    }
    fx(() -> null);
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

  public <T extends Node> T find(String id, Class<T> type) throws Exception {
    Node node = fx(() -> stage.getScene().getRoot().lookup("#" + id));
    assertThat(node).as("#%s is in the window", id).isNotNull();
    return type.cast(node);
  }

  public boolean shows(String id) throws Exception {
    return fx(() -> stage.getScene().getRoot().lookup("#" + id)) != null;
  }

  public String text(String id) throws Exception {
    Labeled label = find(id, Labeled.class);
    return fx(label::getText);
  }

  public SheetView sheet() throws Exception {
    return find("sheet", SheetView.class);
  }

  // ---- hands

  public void mouseTo(Node node, double x, double y) throws Exception {
    fx(() -> {
      Point2D at = node.localToScreen(x, y);
      robot.mouseMove(at.getX(), at.getY());
      return null;
    });
    settle();
  }

  public void click(Node node, double x, double y) throws Exception {
    mouseTo(node, x, y);
    fx(() -> {
      robot.mouseClick(MouseButton.PRIMARY);
      return null;
    });
    settle();
  }

  public void click(String id) throws Exception {
    Node node = find(id, Node.class);
    intoView(node);
    restsAt(node);
    var box = fx(node::getBoundsInLocal);
    click(node, box.getCenterX(), box.getCenterY());
  }

  /** Scrolls to a node, as one does before one clicks it. */
  private static void intoView(Node node) throws Exception {
    fx(() -> {
      Node up = node.getParent();
      while (up != null && !(up instanceof ScrollPane)) {
        up = up.getParent();
      }
      if (up instanceof ScrollPane pane && pane.getContent() != null) {
        var seen = pane.getViewportBounds();
        var box = pane.getContent().sceneToLocal(node.localToScene(node.getBoundsInLocal()));
        double rest = pane.getContent().getBoundsInLocal().getHeight() - seen.getHeight();
        double top = pane.getVvalue() * rest;
        if (rest > 0 && (box.getMinY() < top || box.getMaxY() > top + seen.getHeight())) {
          double middle = box.getCenterY() - seen.getHeight() / 2;
          pane.setVvalue(Math.clamp(middle / rest, 0, 1));
        }
      }
      return null;
    });
  }

  /** Waits until a node stays where it is, as one does before one clicks it. */
  private void restsAt(Node node) throws Exception {
    var last = fx(() -> node.localToScene(node.getBoundsInLocal()));
    for (int k = 0; k < RESTS; k++) {
      Thread.sleep(FRAME);
      var now = fx(() -> node.localToScene(node.getBoundsInLocal()));
      if (now.equals(last)) {
        return;
      }
      last = now;
    }
    throw new AssertionError(node.getId() + " does not stay where it is");
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
    return (SheetView) stage.getScene().getRoot().lookup("#sheet");
  }

  public void rightClick(Node node, double x, double y) throws Exception {
    mouseTo(node, x, y);
    fx(() -> {
      robot.mouseClick(MouseButton.SECONDARY);
      return null;
    });
    settle();
  }

  /** Opens the menu of a row (column -1) or of a column (row -1) and takes a line of it. */
  public void menu(int row, int column, String... texts) throws Exception {
    double[] at = fx(() -> sheetNow().centre(row, column));
    rightClick(sheet(), at[0], row < 0 ? 20 : at[1]);
    choose(texts);
  }

  /** Takes a line of the menu that is open, by the words that it begins with; then of its menu. */
  public void choose(String... texts) throws Exception {
    await("a menu is open", () -> openMenu().isPresent());
    fx(() -> {
      var items = openMenu().orElseThrow();
      java.util.List<javafx.scene.control.MenuItem> list = items.getItems();
      for (String text : texts) {
        var item =
            list.stream()
                .filter(i -> i.getText() != null && i.getText().startsWith(text))
                .findFirst()
                .orElseThrow(() -> new AssertionError("no line " + text));
        if (item instanceof javafx.scene.control.Menu menu) {
          list = menu.getItems();
        } else {
          item.fire();
        }
      }
      items.hide();
      return null;
    });
    settle();
  }

  private static Optional<ContextMenu> openMenu() {
    return javafx.stage.Window.getWindows().stream()
        .filter(ContextMenu.class::isInstance)
        .map(ContextMenu.class::cast)
        .findFirst();
  }

  /** Types letters, digits and a few signs. */
  public void type(String text) throws Exception {
    for (char c : text.toCharArray()) {
      fx(() -> {
        KeyCode code =
            switch (c) {
              case ':' -> KeyCode.SEMICOLON;
              case '/' -> KeyCode.SLASH;
              case '.' -> KeyCode.PERIOD;
              case ';' -> KeyCode.SEMICOLON;
              case ' ' -> KeyCode.SPACE;
              case '-' -> KeyCode.MINUS;
              case ',' -> KeyCode.COMMA;
              default -> KeyCode.getKeyCode(String.valueOf(Character.toUpperCase(c)));
            };
        boolean shift = c == ':' || Character.isUpperCase(c);
        if (shift) {
          robot.keyPress(KeyCode.SHIFT);
        }
        robot.keyType(code);
        if (shift) {
          robot.keyRelease(KeyCode.SHIFT);
        }
        return null;
      });
      Thread.sleep(15);
    }
    settle();
  }

  /** Presses the button at a place and keeps it down. */
  public void hold(Node node, double[] at) throws Exception {
    mouseTo(node, at[0], at[1]);
    fx(() -> {
      robot.mousePress(MouseButton.PRIMARY);
      return null;
    });
    settle();
  }

  /** Lets go of the button. */
  public void release() throws Exception {
    fx(() -> {
      robot.mouseRelease(MouseButton.PRIMARY);
      return null;
    });
    settle();
  }

  /** Drags from a place of one part to a place of another. */
  public void drag(Node from, double[] a, Node to, double[] b) throws Exception {
    hold(from, a);
    mouseTo(from, a[0] - 12, a[1] - 8);
    mouseTo(to, b[0] + 3, b[1]);
    mouseTo(to, b[0], b[1]);
    release();
  }

  /** Chooses in a list that drops down. */
  @SuppressWarnings("unchecked")
  public <T> void pick(String id, T value) throws Exception {
    Node node = find(id, Node.class);
    fx(() -> {
      if (node instanceof javafx.scene.control.ComboBox<?> box) {
        ((javafx.scene.control.ComboBox<T>) box).setValue(value);
      } else {
        ((javafx.scene.control.ChoiceBox<T>) node).setValue(value);
      }
      return null;
    });
    settle();
  }

  /** Puts text into a field at once, without typing it. */
  public void set(String id, String text) throws Exception {
    javafx.scene.control.TextField field = find(id, javafx.scene.control.TextField.class);
    fx(() -> {
      field.setText(text);
      return null;
    });
    settle();
  }

  /** Replaces the text of a field by typing, and takes it over by Enter. */
  public void enter(String id, String text) throws Exception {
    click(id);
    press(KeyCode.CONTROL, KeyCode.A);
    type(text);
    press(KeyCode.ENTER);
  }

  public void drag(Node node, double[] from, double[] to) throws Exception {
    hold(node, from);
    mouseTo(node, (from[0] + to[0]) / 2, (from[1] + to[1]) / 2);
    mouseTo(node, to[0], to[1]);
    release();
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

  /** Drags while a key is held. */
  public void drag(Node node, double[] from, double[] to, KeyCode key) throws Exception {
    fx(() -> {
      robot.keyPress(key);
      return null;
    });
    drag(node, from, to);
    fx(() -> {
      robot.keyRelease(key);
      return null;
    });
    settle();
  }

  /** Turns the wheel some clicks up while a key is held. */
  public void wheel(Node node, double[] at, int clicks, KeyCode key) throws Exception {
    mouseTo(node, at[0], at[1]);
    fx(() -> {
      robot.keyPress(key);
      for (int k = 0; k < clicks; k++) {
        robot.mouseWheel(-1);
      }
      return null;
    });
    settle();
    fx(() -> {
      robot.keyRelease(key);
      return null;
    });
    settle();
  }

  public void press(KeyCode... keys) throws Exception {
    fx(() -> {
      for (int k = 0; k < keys.length - 1; k++) {
        robot.keyPress(keys[k]);
      }
      robot.keyType(keys[keys.length - 1]);
      for (int k = keys.length - 2; k >= 0; k--) {
        robot.keyRelease(keys[k]);
      }
      return null;
    });
    settle();
  }

  /** Returns what a part of the window looks like: one number for each pixel. */
  public int[] look(Node node) throws Exception {
    return fx(() -> {
      WritableImage image = node.snapshot(null, null);
      int w = (int) image.getWidth();
      int h = (int) image.getHeight();
      int[] out = new int[w * h];
      image
          .getPixelReader()
          .getPixels(0, 0, w, h, javafx.scene.image.PixelFormat.getIntArgbInstance(), out, 0, w);
      return out;
    });
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

  public Parent root() throws Exception {
    return fx(() -> stage.getScene().getRoot());
  }

  public Stage stage() {
    return stage;
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
      stage.close();
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
