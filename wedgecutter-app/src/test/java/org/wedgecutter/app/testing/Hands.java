package org.wedgecutter.app.testing;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.BooleanSupplier;
import java.util.function.Supplier;
import javafx.application.Platform;
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
import org.wedgecutter.app.theme.Theme;

/** A stage on a display, with a mouse and a keyboard, and the patience to use them. */
public class Hands {
  private static final int RESTS = 200;
  private static final int FRAME = 30;
  private static final int PULSES = 3;
  private static final AtomicBoolean STARTED = new AtomicBoolean();

  private final Stage stage;
  private final Robot robot;

  Hands() throws Exception {
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

  public void rightClick(Node node, double x, double y) throws Exception {
    mouseTo(node, x, y);
    fx(() -> {
      robot.mouseClick(MouseButton.SECONDARY);
      return null;
    });
    settle();
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

  public Parent root() throws Exception {
    return fx(() -> stage.getScene().getRoot());
  }

  public Stage stage() {
    return stage;
  }
}
