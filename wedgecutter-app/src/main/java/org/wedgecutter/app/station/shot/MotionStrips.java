package org.wedgecutter.app.station.shot;

import java.util.ArrayList;
import java.util.List;
import java.util.function.IntConsumer;
import javafx.geometry.VPos;
import javafx.scene.AccessibleRole;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.Region;
import javafx.scene.text.TextAlignment;
import org.wedgecutter.app.theme.Theme;

/**
 * A strip for each part against the frames: a thin line where it is in the picture, a bar where it
 * moves, a notch where it crosses another part. A click goes to the frame.
 */
final class MotionStrips extends Region {
  private static final double LINE = 24;
  private static final double NAMES = 124;
  private static final double WORDS = 118;

  private final Canvas canvas = new Canvas();
  private List<Strip> strips = List.of();
  private List<Integer> frames = List.of();
  private int frame;
  private Theme theme = Theme.DARK;
  private IntConsumer onFrame = f -> {};

  /**
   * One part.
   *
   * @param words how it changes, in a few words
   * @param visible by frame, whether it is in the picture
   * @param moves by frame, whether it moves to the next
   * @param deforms whether its shape changes
   * @param crosses by frame, whether it crosses another part
   */
  record Strip(
      String name,
      String words,
      boolean[] visible,
      boolean[] moves,
      boolean deforms,
      boolean[] crosses) {}

  MotionStrips() {
    setId("motion-strips");
    getChildren().add(canvas);
    setFocusTraversable(true);
    setAccessibleRole(AccessibleRole.LIST_VIEW);
    addEventHandler(
        MouseEvent.MOUSE_PRESSED,
        e -> {
          requestFocus();
          int at = (int) Math.floor((e.getX() - NAMES - WORDS) / step());
          if (at >= 0 && at < frames.size()) {
            onFrame.accept(frames.get(at));
          }
        });
    addEventHandler(
        KeyEvent.KEY_PRESSED,
        e -> {
          int by = e.getCode() == KeyCode.LEFT ? -1 : e.getCode() == KeyCode.RIGHT ? 1 : 0;
          int at = frames.indexOf(frame) + by;
          if (by != 0 && at >= 0 && at < frames.size()) {
            onFrame.accept(frames.get(at));
            e.consume();
          }
        });
    focusedProperty().addListener(o -> paint());
  }

  void show(List<Strip> next, List<Integer> ofFrames, int now, Theme colours) {
    strips = List.copyOf(next);
    frames = List.copyOf(ofFrames);
    frame = now;
    theme = colours;
    setMinHeight(LINE * (strips.size() + 1));
    setPrefHeight(LINE * (strips.size() + 1));
    List<String> told = new ArrayList<>();
    strips.forEach(s -> told.add(s.name + " " + s.words));
    setAccessibleText(String.join("; ", told));
    requestLayout();
  }

  void setOnFrame(IntConsumer action) {
    onFrame = action;
  }

  private double step() {
    return (getWidth() - NAMES - WORDS - 8) / Math.max(1, frames.size());
  }

  @Override
  protected void layoutChildren() {
    canvas.setWidth(Math.max(1, getWidth()));
    canvas.setHeight(Math.max(1, LINE * (strips.size() + 1)));
    paint();
  }

  private void paint() {
    GraphicsContext g = canvas.getGraphicsContext2D();
    g.clearRect(0, 0, canvas.getWidth(), canvas.getHeight());
    g.setTextBaseline(VPos.CENTER);
    g.setTextAlign(TextAlignment.LEFT);
    double from = NAMES + WORDS;
    double step = step();
    for (int r = 0; r < strips.size(); r++) {
      Strip s = strips.get(r);
      double y = r * LINE;
      g.setFill(r % 2 == 0 ? theme.panel : theme.panel.interpolate(theme.raised, 0.5));
      g.fillRect(0, y, canvas.getWidth(), LINE);
      g.setFill(theme.text);
      g.setFont(Theme.sans(13));
      g.fillText(s.name, 0, y + LINE / 2, NAMES - 8);
      g.setFill(theme.dim);
      g.setFont(Theme.sans(12));
      g.fillText(s.words, NAMES, y + LINE / 2, WORDS - 8);
      for (int f = 0; f < frames.size(); f++) {
        double x = from + f * step;
        if (s.visible[f]) {
          g.setFill(theme.dim);
          g.fillRect(x, y + LINE - 6, Math.max(1, step), 2);
        }
        if (s.moves[f]) {
          g.setFill(theme.accent);
          g.fillRect(x, y + 6, Math.max(1, step - 0.5), s.deforms ? 4 : 9);
          if (s.deforms) {
            g.fillRect(x, y + 12, Math.max(1, step / 2), 3);
          }
        }
        if (s.crosses[f]) {
          g.setFill(theme.warning);
          double m = x + step / 2;
          g.fillPolygon(
              new double[] {m - 4, m + 4, m}, new double[] {y + LINE, y + LINE, y + LINE - 7}, 3);
        }
      }
    }
    legend(g, strips.size() * LINE + LINE / 2);
    int at = frames.indexOf(frame);
    if (at >= 0) {
      g.setStroke(isFocused() ? theme.accent : theme.text);
      g.setLineWidth(1);
      double x = from + (at + 0.5) * step;
      g.strokeLine(x, 0, x, strips.size() * LINE);
    }
  }

  private void legend(GraphicsContext g, double y) {
    g.setFont(Theme.sans(12));
    double x = NAMES + WORDS;
    g.setFill(theme.accent);
    g.fillRect(x, y - 5, 14, 9);
    g.setFill(theme.dim);
    g.fillText("moves", x + 20, y);
    g.fillRect(x + 72, y, 14, 2);
    g.fillText("in the picture", x + 92, y);
    g.setFill(theme.warning);
    g.fillPolygon(new double[] {x + 190, x + 198, x + 194}, new double[] {y + 4, y + 4, y - 3}, 3);
    g.setFill(theme.dim);
    g.fillText("crosses", x + 204, y);
  }
}
