package org.wedgecutter.app.viewer;

import java.util.List;
import java.util.function.BiConsumer;
import javafx.geometry.VPos;
import javafx.scene.AccessibleRole;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.image.Image;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import javafx.scene.input.ScrollEvent;
import javafx.scene.layout.Region;
import javafx.scene.paint.Color;
import javafx.scene.text.TextAlignment;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.theme.Theme;

/**
 * Shows one image, or two on either side of a line that can be dragged. The wheel zooms about the
 * pointer, the right or middle button drags the picture; from twice its size on, pixels stay
 * square.
 */
public final class PictureCanvas extends Region {
  private static final double MAX_ZOOM = 64;
  private static final double KEY_STEP = 40;
  private static final double HANDLE_REACH = 9;
  private static final double HANDLE_RADIUS = 5;
  private final Canvas canvas = new Canvas();
  private @Nullable Image image;
  private @Nullable Image other;
  private Color edge = Color.TRANSPARENT;
  private String left = "";
  private String right = "";
  private int width = 960;
  private int height = 540;
  private boolean fit = true;
  private double zoom = 1;
  private double panX;
  private double panY;
  private double wipe = 0.5;
  private boolean wiping;
  private double lastX;
  private double lastY;
  private BiConsumer<Integer, Integer> onProbe = (x, y) -> {};
  private BiConsumer<Integer, Integer> onPick = (x, y) -> {};
  private DragOut onDragOut = DragOut.NONE;
  private @Nullable Image overlay;
  private List<double[]> outlines = List.of();
  private double pressX;
  private double pressY;
  private boolean dragsOut;
  private Theme theme = Theme.DARK;
  private String empty = "";

  /** Listener to a drag out of the picture. */
  public interface DragOut {
    /** Nothing is dragged. */
    DragOut NONE =
        new DragOut() {
          @Override
          public boolean begins(int x, int y) {
            return false;
          }

          @Override
          public void moved(double sceneX, double sceneY) {}

          @Override
          public void dropped(double sceneX, double sceneY) {}
        };

    /** Whether there is something at a pixel that can be dragged. */
    boolean begins(int x, int y);

    /** The pointer moved, in scene coordinates. */
    void moved(double sceneX, double sceneY);

    /** It was dropped there. */
    void dropped(double sceneX, double sceneY);
  }

  /** An empty canvas. */
  public PictureCanvas() {
    getChildren().add(canvas);
    getStyleClass().add("canvas-of-pictures");
    setAccessibleRole(AccessibleRole.IMAGE_VIEW);
    setMinSize(160, 90);
    setAccessibleText("picture; arrows move it, plus and minus zoom");
    setFocusTraversable(true);
    focusedProperty().addListener(o -> paint());
    addEventHandler(KeyEvent.KEY_PRESSED, this::key);
    canvas.setOnScroll(this::scrolled);
    canvas.setOnMousePressed(this::pressed);
    canvas.setOnMouseDragged(this::dragged);
    canvas.setOnMouseReleased(this::released);
    canvas.setOnMouseMoved(e -> probe(e.getX(), e.getY()));
    canvas.setOnMouseExited(e -> onProbe.accept(-1, -1));
  }

  /** Sets the size that pictures have when they are whole; smaller ones are stretched to it. */
  public void setPictureSize(int width, int height) {
    if (width == this.width && height == this.height) {
      return;
    }
    this.width = width;
    this.height = height;
    paint();
  }

  /**
   * Shows images.
   *
   * @param image the one to look at
   * @param other the one to compare with at the right of the line, or null
   * @param edge colour of the frame about it
   * @param left what the left one is, if there are two
   * @param right what the right one is
   */
  public void show(
      @Nullable Image image, @Nullable Image other, Color edge, String left, String right) {
    this.image = image;
    this.other = other;
    this.edge = edge;
    this.left = left;
    this.right = right;
    paint();
  }

  /** Sets the text that is shown while there is no picture. */
  public void setEmptyText(String text) {
    empty = text;
    paint();
  }

  /** Sets the colours. */
  public void setTheme(Theme next) {
    theme = next;
    paint();
  }

  /** Sets the listener to the pixel under the pointer; -1, -1 outside. */
  public void setOnProbe(BiConsumer<Integer, Integer> action) {
    onProbe = action;
  }

  /** Sets the listener to clicks on pixels. */
  public void setOnPick(BiConsumer<Integer, Integer> action) {
    onPick = action;
  }

  /** Sets the listener to drags out of the picture. */
  public void setOnDragOut(DragOut action) {
    onDragOut = action;
  }

  /** Lays an image over the picture; null removes it. */
  public void setOverlay(@Nullable Image next) {
    overlay = next;
    paint();
  }

  /** Draws closed lines over the picture: x and y of the points of each, in whole pixels. */
  public void setOutlines(List<double[]> next) {
    outlines = List.copyOf(next);
    paint();
  }

  /** Draws lines and handles over the picture; handles are dragged before anything below them. */
  void setDrawing(Drawing next, Drawing.Hand by) {
    drawing = next;
    hand = by;
    if (handle >= next.handles().size()) {
      handle = -1;
    }
    paint();
  }

  private Drawing drawing = Drawing.NONE;
  private Drawing.Hand hand = Drawing.Hand.NONE;

  /** The handle that is dragged; -1 for none. */
  private int handle = -1;

  /** Returns the handle at a place of the canvas: the nearest in reach, or -1. */
  private int handleAt(double x, double y) {
    int found = -1;
    double nearest = HANDLE_REACH;
    for (int k = 0; k < drawing.handles().size(); k++) {
      Drawing.Handle h = drawing.handles().get(k);
      double away = Math.hypot(panX + h.x() * zoom - x, panY + h.y() * zoom - y);
      if (away <= nearest) {
        nearest = away;
        found = k;
      }
    }
    return found;
  }

  /** Fits the picture into the canvas. */
  public void fit() {
    fit = true;
    paint();
  }

  /** Shows the picture at 1:1. */
  public void oneToOne() {
    fit = false;
    zoom = 1 / screenScale();
    panX = (getWidth() - width * zoom) / 2;
    panY = (getHeight() - height * zoom) / 2;
    paint();
  }

  private double screenScale() {
    return Math.max(1, getScene() == null ? 1 : getScene().getWindow().getOutputScaleX());
  }

  /** Returns how many pixels of the screen the picture's width takes, those out of sight too. */
  int pixelsAcross() {
    place();
    return (int) Math.round(width * zoom * screenScale());
  }

  @Override
  protected void layoutChildren() {
    canvas.setWidth(Math.max(1, getWidth()));
    canvas.setHeight(Math.max(1, getHeight()));
    paint();
  }

  private void place() {
    if (fit) {
      double room = 10;
      zoom =
          Math.max(
              0.01, Math.min((getWidth() - 2 * room) / width, (getHeight() - 2 * room) / height));
      panX = (getWidth() - width * zoom) / 2;
      panY = (getHeight() - height * zoom) / 2;
    }
  }

  private void scrolled(ScrollEvent e) {
    if (e.isShortcutDown()) {
      onCamera.nearer(Math.signum(e.getDeltaY()));
      return;
    }
    zoom(Math.pow(1.0025, e.getDeltaY()), e.getX(), e.getY());
  }

  /** Zooms by a factor; the point at a place stays there. */
  private void zoom(double by, double x, double y) {
    place();
    fit = false;
    double next = Math.max(0.05, Math.min(MAX_ZOOM, zoom * by));
    panX = x - (x - panX) * next / zoom;
    panY = y - (y - panY) * next / zoom;
    zoom = next;
    paint();
  }

  private void key(KeyEvent e) {
    if (e.isShortcutDown() || e.isControlDown() || e.isAltDown() || e.isMetaDown()) {
      return;
    }
    switch (e.getCode()) {
      case LEFT -> pan(KEY_STEP, 0);
      case RIGHT -> pan(-KEY_STEP, 0);
      case UP -> pan(0, KEY_STEP);
      case DOWN -> pan(0, -KEY_STEP);
      case PLUS, ADD, EQUALS -> zoom(1.25, getWidth() / 2, getHeight() / 2);
      case MINUS, SUBTRACT -> zoom(0.8, getWidth() / 2, getHeight() / 2);
      default -> {
        return;
      }
    }
    e.consume();
  }

  private void pan(double x, double y) {
    place();
    fit = false;
    panX += x;
    panY += y;
    paint();
  }

  /** Sets what moves the camera. */
  public void setOnCamera(CameraDrag action) {
    onCamera = action;
  }

  private CameraDrag onCamera = CameraDrag.NONE;
  private boolean cameraDrags;

  private double wipeX() {
    return panX + wipe * width * zoom;
  }

  private void released(MouseEvent e) {
    if (handle >= 0) {
      handle = -1;
      hand.dropped();
      return;
    }
    if (cameraDrags) {
      cameraDrags = false;
      onCamera.ends();
    }
    wiping = false;
    if (dragsOut) {
      dragsOut = false;
      onDragOut.dropped(e.getSceneX(), e.getSceneY());
    }
  }

  private void pressed(MouseEvent e) {
    lastX = e.getX();
    lastY = e.getY();
    pressX = e.getX();
    pressY = e.getY();
    handle =
        e.getButton() == MouseButton.PRIMARY && !e.isShortcutDown()
            ? handleAt(e.getX(), e.getY())
            : -1;
    if (handle >= 0) {
      return;
    }
    cameraDrags = e.getButton() == MouseButton.PRIMARY && e.isShortcutDown() && onCamera.begins();
    if (e.getButton() == MouseButton.PRIMARY && !cameraDrags) {
      wiping = other != null && Math.abs(e.getX() - wipeX()) < 8;
      if (!wiping) {
        report(e.getX(), e.getY(), onPick);
      }
    }
  }

  private void dragged(MouseEvent e) {
    if (handle >= 0) {
      hand.dragged(handle, (e.getX() - panX) / zoom, (e.getY() - panY) / zoom);
      return;
    }
    if (cameraDrags) {
      double size = Math.max(1, height * zoom);
      onCamera.dragged((e.getX() - pressX) / size, (e.getY() - pressY) / size, e.isShiftDown());
      return;
    }
    if (!wiping && e.isPrimaryButtonDown()) {
      boolean far = Math.hypot(e.getX() - pressX, e.getY() - pressY) > 6;
      if (!dragsOut && far) {
        int px = (int) Math.floor((pressX - panX) / zoom);
        int py = (int) Math.floor((pressY - panY) / zoom);
        dragsOut = px >= 0 && py >= 0 && px < width && py < height && onDragOut.begins(px, py);
      }
      if (dragsOut) {
        onDragOut.moved(e.getSceneX(), e.getSceneY());
      }
      return;
    }
    if (wiping) {
      wipe = Math.max(0, Math.min(1, (e.getX() - panX) / (width * zoom)));
    } else if (e.getButton() != MouseButton.PRIMARY) {
      place();
      fit = false;
      panX += e.getX() - lastX;
      panY += e.getY() - lastY;
    }
    lastX = e.getX();
    lastY = e.getY();
    paint();
  }

  private void probe(double x, double y) {
    report(x, y, onProbe);
  }

  private void report(double x, double y, BiConsumer<Integer, Integer> action) {
    int px = (int) Math.floor((x - panX) / zoom);
    int py = (int) Math.floor((y - panY) / zoom);
    boolean inside = px >= 0 && py >= 0 && px < width && py < height;
    action.accept(inside ? px : -1, inside ? py : -1);
  }

  private void paint() {
    paintPicture();
    if (isFocused()) {
      GraphicsContext g = canvas.getGraphicsContext2D();
      g.setStroke(theme.accent);
      g.setLineWidth(1);
      g.strokeRect(0.5, 0.5, canvas.getWidth() - 1, canvas.getHeight() - 1);
    }
  }

  private void paintPicture() {
    place();
    GraphicsContext g = canvas.getGraphicsContext2D();
    g.setFill(theme.ground);
    g.fillRect(0, 0, canvas.getWidth(), canvas.getHeight());
    double w = width * zoom;
    double h = height * zoom;
    if (image == null) {
      g.setFill(theme.dim);
      g.setFont(Theme.sans(14));
      g.setTextAlign(TextAlignment.CENTER);
      g.setTextBaseline(VPos.CENTER);
      g.fillText(empty, canvas.getWidth() / 2, canvas.getHeight() / 2);
      return;
    }
    g.setImageSmoothing(zoom * width / image.getWidth() < 2 || image.getWidth() < width);
    g.drawImage(image, panX, panY, w, h);
    if (overlay != null) {
      g.drawImage(overlay, panX, panY, w, h);
    }
    outline(g);
    draw(g, w, h);
    if (other != null) {
      double at = wipeX();
      g.save();
      g.beginPath();
      g.rect(at, panY, Math.max(0, panX + w - at), h);
      g.clip();
      g.drawImage(other, panX, panY, w, h);
      g.restore();
      g.setStroke(theme.accent);
      g.setLineWidth(1.5);
      g.strokeLine(at, panY, at, panY + h);
      g.setFill(theme.accent);
      g.fillPolygon(new double[] {at - 7, at + 7, at}, new double[] {panY, panY, panY + 9}, 3);
      caption(g, left, at - 10, panY + h - 16, TextAlignment.RIGHT);
      caption(g, right, at + 10, panY + h - 16, TextAlignment.LEFT);
    }
    g.setStroke(edge);
    g.setLineWidth(2);
    g.strokeRect(panX - 2, panY - 2, w + 4, h + 4);
  }

  private void outline(GraphicsContext g) {
    for (double[] line : outlines) {
      int n = line.length / 2;
      double[] xs = new double[n];
      double[] ys = new double[n];
      for (int k = 0; k < n; k++) {
        xs[k] = panX + line[2 * k] * zoom;
        ys[k] = panY + line[2 * k + 1] * zoom;
      }
      // dark below light: visible on any background
      g.setLineWidth(3);
      g.setStroke(Color.rgb(0, 0, 0, 0.6));
      g.strokePolygon(xs, ys, n);
      g.setLineWidth(1.2);
      g.setStroke(theme.accent);
      g.strokePolygon(xs, ys, n);
    }
  }

  private void draw(GraphicsContext g, double w, double h) {
    if (drawing.lines().isEmpty() && drawing.handles().isEmpty()) {
      return;
    }
    g.save();
    g.beginPath();
    g.rect(panX, panY, w, h);
    g.clip();
    for (Drawing.Line line : drawing.lines()) {
      int n = line.points().length / 2;
      double[] xs = new double[n];
      double[] ys = new double[n];
      for (int k = 0; k < n; k++) {
        xs[k] = panX + line.points()[2 * k] * zoom;
        ys[k] = panY + line.points()[2 * k + 1] * zoom;
      }
      g.setLineWidth(line.width() + 1.5);
      g.setStroke(Color.rgb(0, 0, 0, 0.45 * line.color().getOpacity()));
      g.strokePolyline(xs, ys, n);
      g.setLineWidth(line.width());
      g.setStroke(line.color());
      g.strokePolyline(xs, ys, n);
    }
    g.restore();
    for (Drawing.Handle each : drawing.handles()) {
      double x = panX + each.x() * zoom;
      double y = panY + each.y() * zoom;
      // open in the middle, so that the place itself is seen
      g.setLineWidth(3.5);
      g.setStroke(Color.rgb(0, 0, 0, 0.6));
      g.strokeOval(x - HANDLE_RADIUS, y - HANDLE_RADIUS, 2 * HANDLE_RADIUS, 2 * HANDLE_RADIUS);
      g.setLineWidth(1.5);
      g.setStroke(each.color());
      g.strokeOval(x - HANDLE_RADIUS, y - HANDLE_RADIUS, 2 * HANDLE_RADIUS, 2 * HANDLE_RADIUS);
      if (!each.text().isEmpty()) {
        caption(g, each.text(), x + HANDLE_RADIUS + 4, y - 8, TextAlignment.LEFT);
      }
    }
  }

  private void caption(GraphicsContext g, String text, double x, double y, TextAlignment align) {
    g.setFont(Theme.medium(12));
    g.setTextAlign(align);
    g.setTextBaseline(VPos.CENTER);
    g.setFill(Color.rgb(0, 0, 0, 0.75));
    g.fillText(text, x + 1, y + 1);
    g.setFill(Color.WHITE);
    g.fillText(text, x, y);
  }
}
