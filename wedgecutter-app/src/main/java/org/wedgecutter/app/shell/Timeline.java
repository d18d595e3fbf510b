package org.wedgecutter.app.shell;

import java.util.List;
import java.util.function.IntConsumer;
import javafx.geometry.VPos;
import javafx.scene.AccessibleRole;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.Region;
import javafx.scene.text.TextAlignment;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.survey.Matter;

/** The shot's frames, how much moves in each, and the current one. */
final class Timeline extends Region {
  private static final double LEFT = 168;
  private final Canvas canvas = new Canvas();
  private List<Integer> frames = List.of(1);
  private double[] motion = new double[0];
  private List<Matter> matters = List.of();
  private final Tooltip tip = new Tooltip();
  private int frame = 1;
  private Theme theme = Theme.DARK;
  private IntConsumer onFrame = f -> {};

  Timeline() {
    getChildren().add(canvas);
    setPrefHeight(46);
    setMinHeight(46);
    setFocusTraversable(true);
    setAccessibleRole(AccessibleRole.SLIDER);
    setAccessibleText("frame");
    canvas.setOnMousePressed(e -> {
      requestFocus();
      pick(e.getX());
    });
    canvas.setOnMouseDragged(e -> pick(e.getX()));
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

  /** Goes to the next frame that matters, or to the one before. */
  void step(boolean forward) {
    List<Integer> at = matters.stream().map(Matter::frame).toList();
    at.stream()
        .filter(f -> forward ? f > frame : f < frame)
        .reduce((a, b) -> forward ? a : b)
        .ifPresent(onFrame::accept);
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
    g.fillText("frame", 14, h / 2);
    g.setFill(theme.text);
    g.setFont(Theme.mono(15));
    g.fillText("%d".formatted(frame), 56, h / 2);
    g.setFill(theme.dim);
    g.setFont(Theme.mono(12));
    g.fillText("of %d–%d".formatted(frames.getFirst(), frames.getLast()), 88, h / 2 + 1);
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
            new double[] {3, 3, 11},
            3);
      }
      if (isMatter(frames.get(f))) {
        double m = x + step / 2;
        g.setFill(theme.warning);
        g.fillPolygon(new double[] {m - 4, m, m + 4, m}, new double[] {7, 3, 7, 11}, 4);
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
}
