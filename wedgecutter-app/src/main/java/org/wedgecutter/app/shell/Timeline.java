package org.wedgecutter.app.shell;

import java.util.Arrays;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.IntConsumer;
import java.util.function.IntFunction;
import javafx.geometry.VPos;
import javafx.scene.AccessibleRole;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.control.Button;
import javafx.scene.control.Tooltip;
import javafx.scene.image.Image;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.Region;
import javafx.scene.shape.Polygon;
import javafx.scene.text.TextAlignment;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.app.viewer.KeptFrames;
import org.wedgecutter.core.survey.Matter;

/**
 * The shot's frames, how much moves in each, and the current one; below them a line where the
 * selected layer is held; above them, where they are asked for, small pictures of the frames that
 * matter.
 */
final class Timeline extends Region {
  private static final double LEFT = 168;
  private static final double HEIGHT = 46;

  /** Size of a small picture, and its band. */
  private static final double PICTURE = 60;

  private static final double BAND = 44;
  private final Canvas canvas = new Canvas();
  private List<Integer> frames = List.of(1);
  private double[] motion = new double[0];
  private List<Matter> matters = List.of();
  private SortedMap<Integer, Image> pictures = Collections.emptySortedMap();
  private final SortedMap<Integer, Double> places = new TreeMap<>();
  private boolean picturesAskedFor;
  private boolean[] held = new boolean[0];
  private int heldHue;
  private final Tooltip tip = new Tooltip();
  private int frame = 1;
  private Theme theme = Theme.DARK;
  private IntConsumer onFrame = f -> {};
  private final Button play = new Button();
  private IntFunction<KeptFrames.State> kept = f -> KeptFrames.State.MISSING;
  private boolean missing;

  Timeline() {
    getChildren().addAll(canvas, play);
    play.setId("play");
    play.getStyleClass().add("play-button");
    setPlaying(false);
    grow();
    setFocusTraversable(true);
    setAccessibleRole(AccessibleRole.SLIDER);
    setAccessibleText("frame");
    canvas.setOnMousePressed(e -> {
      requestFocus();
      if (e.getY() < band()) {
        pickPicture(e.getX());
      } else {
        pick(e.getX());
      }
    });
    canvas.setOnMouseDragged(e -> {
      if (e.getY() >= band()) {
        pick(e.getX());
      }
    });
    focusedProperty().addListener(o -> paint());
    addEventHandler(KeyEvent.KEY_PRESSED, this::key);
  }

  void setFrames(List<Integer> frames, double[] motion) {
    this.frames = frames;
    this.motion = motion;
    paint();
  }

  /** Marks the frames that matter. */
  void setMatters(List<Matter> next) {
    matters = List.copyOf(next);
    Tooltip.uninstall(this, tip);
    if (!next.isEmpty()) {
      tip.setText(
          String.join(
              "\n", next.stream().map(m -> "%d  %s".formatted(m.frame(), m.text())).toList()));
      Tooltip.install(this, tip);
    }
    paint();
  }

  /** Shows small pictures of frames, where they are asked for. */
  void setPictures(SortedMap<Integer, Image> next) {
    pictures = next;
    paint();
  }

  /** Makes room for small pictures, or takes it away. */
  void askForPictures(boolean next) {
    picturesAskedFor = next;
    grow();
  }

  /** Returns the middles of the small pictures, by frame. */
  SortedMap<Integer, Double> pictured() {
    return Collections.unmodifiableSortedMap(places);
  }

  /** The band is there before its pictures are, so that nothing moves under the pointer. */
  private double band() {
    return picturesAskedFor ? BAND : 0;
  }

  private void grow() {
    setMinHeight(HEIGHT + band());
    setPrefHeight(HEIGHT + band());
    requestLayout();
  }

  /**
   * Marks where a layer is held.
   *
   * @param frames by frame, whether it shows the picture of another one
   */
  void setHeld(boolean[] frames, int hue) {
    held = frames.clone();
    heldHue = hue;
    paint();
  }

  /** Goes to the next frame that matters, or to the one before. */
  void step(boolean forward) {
    List<Integer> at = matters.stream().map(Matter::frame).toList();
    at.stream()
        .filter(f -> forward ? f > frame : f < frame)
        .reduce((a, b) -> forward ? a : b)
        .ifPresent(onFrame::accept);
  }

  /** Sets what begins and ends playback. */
  void setOnPlay(Runnable action) {
    play.setOnAction(e -> action.run());
  }

  /** Sets what tells how much is kept of a frame. */
  void setKept(IntFunction<KeptFrames.State> next) {
    kept = next;
  }

  /** Returns how much is kept of a frame. */
  KeptFrames.State kept(int ofFrame) {
    return kept.apply(ofFrame);
  }

  /** Draws again how much is kept. */
  void keptChanged() {
    paint();
  }

  /** Shows whether frames are played. */
  void setPlaying(boolean on) {
    missing = false;
    String text = on ? "stop (L)" : "play the frames that were traced, and trace the others (L)";
    play.setAccessibleText(text);
    play.setTooltip(new Tooltip(text));
    Polygon mark = on ? new Polygon(0, 0, 9, 0, 9, 10, 0, 10) : new Polygon(0, 0, 10, 5, 0, 10);
    mark.getStyleClass().add("play-mark");
    play.setGraphic(mark);
    paint();
  }

  /** Marks the current frame as one of which the picture is missing. */
  void setMissing(boolean next) {
    missing = next;
    paint();
  }

  void setFrame(int next) {
    frame = next;
    setAccessibleText("frame " + frame);
    paint();
  }

  void setTheme(Theme next) {
    theme = next;
    paint();
  }

  void setOnFrame(IntConsumer action) {
    onFrame = action;
  }

  private double step() {
    return (canvas.getWidth() - LEFT - 16) / frames.size();
  }

  /** Returns the middle of a frame's mark. */
  double centre(int ofFrame) {
    return LEFT + (frames.indexOf(ofFrame) + 0.5) * step();
  }

  private void pick(double x) {
    int at = (int) Math.floor((x - LEFT) / step());
    if (at >= 0 && at < frames.size()) {
      onFrame.accept(frames.get(at));
    }
  }

  private void pickPicture(double x) {
    places.entrySet().stream()
        .filter(e -> Math.abs(x - e.getValue()) <= PICTURE / 2)
        .map(Map.Entry::getKey)
        .findFirst()
        .ifPresent(onFrame::accept);
  }

  /**
   * Returns where small pictures stand so that none covers another: each as near to its frame as
   * the ones before it allow, then moved back from the end.
   *
   * @param wanted the middles of their frames, ascending
   */
  static List<Double> places(List<Double> wanted, double width, double from, double to) {
    double[] at = new double[wanted.size()];
    double least = from + width / 2;
    for (int k = 0; k < at.length; k++) {
      at[k] = Math.max(wanted.get(k), least);
      least = at[k] + width;
    }
    double most = to - width / 2;
    for (int k = at.length - 1; k >= 0; k--) {
      at[k] = Math.min(at[k], most);
      most = at[k] - width;
    }
    return Arrays.stream(at).boxed().toList();
  }

  private void key(KeyEvent e) {
    int at = Math.max(0, frames.indexOf(frame));
    switch (e.getCode()) {
      case LEFT -> at--;
      case RIGHT -> at++;
      case HOME -> at = 0;
      case END -> at = frames.size() - 1;
      default -> {
        return;
      }
    }
    onFrame.accept(frames.get(Math.max(0, Math.min(frames.size() - 1, at))));
    e.consume();
  }

  private boolean isMatter(int ofFrame) {
    return matters.stream().anyMatch(m -> m.frame() == ofFrame);
  }

  @Override
  protected void layoutChildren() {
    canvas.setWidth(Math.max(1, getWidth()));
    canvas.setHeight(Math.max(1, getHeight()));
    double high = Math.min(26, play.prefHeight(-1));
    play.resizeRelocate(10, getHeight() - HEIGHT / 2 - high / 2, 28, high);
    paint();
  }

  private void paint() {
    GraphicsContext g = canvas.getGraphicsContext2D();
    double w = canvas.getWidth();
    double h = canvas.getHeight();
    g.setFill(theme.panel);
    g.fillRect(0, 0, w, h);
    g.setStroke(theme.line);
    g.setLineWidth(1);
    g.strokeLine(0, 0.5, w, 0.5);
    g.setTextBaseline(VPos.CENTER);
    g.setTextAlign(TextAlignment.LEFT);
    g.setFill(theme.dim);
    g.setFont(Theme.sans(12));
    double middle = h - HEIGHT / 2;
    g.setFill(missing ? theme.warning : theme.text);
    g.setFont(Theme.mono(15));
    g.fillText("%d".formatted(frame), 46, middle);
    g.setFill(theme.dim);
    g.setFont(Theme.mono(12));
    // numbers of four digits are set a little narrower
    g.fillText(
        "of %d–%d".formatted(frames.getFirst(), frames.getLast()), 84, middle + 1, LEFT - 84 - 6);
    pictures(g);
    double top = h - HEIGHT;
    double step = step();
    int every = step > 22 ? 1 : step > 9 ? 4 : step > 3 ? 12 : 100;
    for (int f = 0; f < frames.size(); f++) {
      double x = LEFT + f * step;
      boolean now = frames.get(f) == frame;
      double moves = f < motion.length ? motion[f] : 0;
      g.setFill(now ? theme.accent : theme.line);
      double bar = 3 + 16 * moves;
      g.fillRect(x + 0.5, h - 18 - bar, Math.max(1, step - 1), bar);
      if (now) {
        g.fillPolygon(
            new double[] {x + step / 2 - 6, x + step / 2 + 6, x + step / 2},
            new double[] {top + 3, top + 3, top + 11},
            3);
      }
      KeptFrames.State has = kept.apply(frames.get(f));
      if (has != KeptFrames.State.MISSING) {
        g.setFill(has == KeptFrames.State.WHOLE ? theme.accent : theme.dim);
        g.fillRect(x + 0.5, h - 2.5, Math.max(1, step - 1), 2);
      }
      if (isMatter(frames.get(f))) {
        double m = x + step / 2;
        g.setFill(theme.warning);
        g.fillPolygon(
            new double[] {m - 4, m, m + 4, m},
            new double[] {top + 7, top + 3, top + 7, top + 11},
            4);
      }
      if (f < held.length && held[f]) {
        g.setFill(Theme.hue(heldHue));
        g.fillRect(x, h - 17, step, 2);
      }
      if (now || (f % every == 0 && Math.abs(f - frames.indexOf(frame)) > every / 2)) {
        g.setFill(now ? theme.text : theme.dim);
        g.setFont(Theme.mono(12));
        g.setTextAlign(TextAlignment.CENTER);
        g.fillText(String.valueOf(frames.get(f)), x + step / 2, h - 8);
      }
    }
    if (isFocused()) {
      g.setStroke(theme.accent);
      g.strokeRect(1, 1, w - 2, h - 2);
    }
  }

  /** Small pictures, each with a line to its frame. */
  private void pictures(GraphicsContext g) {
    places.clear();
    if (band() == 0) {
      return;
    }
    double w = canvas.getWidth();
    int room = (int) ((w - LEFT - 16) / (PICTURE + 4));
    SortedMap<Integer, Image> fit = new TreeMap<>(pictures);
    matters.stream()
        .sorted(Comparator.comparingInt(Matter::weight))
        .forEach(m -> {
          if (fit.size() > room) {
            fit.remove(m.frame());
          }
        });
    List<Integer> of = List.copyOf(fit.keySet());
    List<Double> at = places(of.stream().map(this::centre).toList(), PICTURE + 4, LEFT, w - 16);
    for (int k = 0; k < of.size(); k++) {
      places.put(of.get(k), at.get(k));
      Image image = Objects.requireNonNull(fit.get(of.get(k)));
      double height = Math.min(BAND - 8, PICTURE * image.getHeight() / image.getWidth());
      double width = height * image.getWidth() / image.getHeight();
      double x = at.get(k) - width / 2;
      boolean now = of.get(k) == frame;
      g.drawImage(image, x, 4, width, height);
      g.setStroke(now ? theme.accent : theme.line);
      g.setLineWidth(now ? 2 : 1);
      g.strokeRect(x, 4, width, height);
      g.strokeLine(at.get(k), 4 + height, centre(of.get(k)), BAND + 3);
    }
  }
}
