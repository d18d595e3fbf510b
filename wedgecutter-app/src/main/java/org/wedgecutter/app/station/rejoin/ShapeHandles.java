package org.wedgecutter.app.station.rejoin;

import java.util.List;
import javafx.scene.paint.Color;
import org.wedgecutter.app.viewer.Drawing;
import org.wedgecutter.app.viewer.PicturePipe;
import org.wedgecutter.core.plan.MatteDef.Outline;

/** The outline of a matte's shape over the picture, with handles for its middle and its ends. */
final class ShapeHandles implements Drawing.Hand {
  private static final int STEPS = 72;
  private static final Color LINE = Color.web("#79e0c0");

  /** Takes the shape once a handle is let go. */
  interface Taker {
    void take(Outline next);
  }

  private final PicturePipe pictures;
  private final int width;
  private final int height;
  private final Taker taker;
  private Outline outline;
  private boolean moved;

  /**
   * @param width of the shot, pixels
   * @param height of the shot, pixels
   */
  ShapeHandles(PicturePipe pictures, Outline outline, int width, int height, Taker taker) {
    this.pictures = pictures;
    this.outline = outline;
    this.width = width;
    this.height = height;
    this.taker = taker;
  }

  /** Draws the shape. */
  void show() {
    boolean isGradient = outline.form() == Outline.Form.GRADIENT;
    double[] middle = at(0, 0);
    double[] right = at(1, 0);
    double[] low = at(0, 1);
    List<Drawing.Handle> handles =
        isGradient
            ? List.of(handle(middle, ""), handle(right, "1"), handle(at(-1, 0), "0"))
            : List.of(handle(middle, ""), handle(right, ""), handle(low, ""));
    pictures.draw(new Drawing(List.of(new Drawing.Line(points(), LINE, 1.5)), handles), this);
  }

  private static Drawing.Handle handle(double[] at, String text) {
    return new Drawing.Handle(at[0], at[1], LINE, text);
  }

  /** A place of the shape, in halves of its size, as pixels. */
  private double[] at(double across, double along) {
    double turn = Math.toRadians(outline.turn());
    double x = across * outline.across();
    double y = along * outline.along();
    return new double[] {
      outline.right() * width + (Math.cos(turn) * x - Math.sin(turn) * y) * height,
      outline.down() * height + (Math.sin(turn) * x + Math.cos(turn) * y) * height
    };
  }

  private double[] points() {
    return switch (outline.form()) {
      case GRADIENT -> joined(at(-1, 0), at(1, 0));
      case RECTANGLE -> joined(at(-1, -1), at(1, -1), at(1, 1), at(-1, 1), at(-1, -1));
      case ELLIPSE -> {
        double[][] all = new double[STEPS + 1][];
        for (int k = 0; k <= STEPS; k++) {
          double angle = 2 * Math.PI * k / STEPS;
          all[k] = at(Math.cos(angle), Math.sin(angle));
        }
        yield joined(all);
      }
    };
  }

  private static double[] joined(double[]... points) {
    double[] out = new double[2 * points.length];
    for (int k = 0; k < points.length; k++) {
      out[2 * k] = points[k][0];
      out[2 * k + 1] = points[k][1];
    }
    return out;
  }

  @Override
  public void dragged(int handle, double x, double y) {
    double dx = (x - outline.right() * width) / height;
    double dy = (y - outline.down() * height) / height;
    double length = Math.clamp(Math.hypot(dx, dy), LEAST, MOST);
    double turn = Math.toDegrees(Math.atan2(dy, dx));
    boolean isGradient = outline.form() == Outline.Form.GRADIENT;
    outline =
        switch (handle) {
          case 0 ->
              outline.at(Math.clamp(x / width, -MOST, MOST), Math.clamp(y / height, -MOST, MOST));
          case 1 -> outline.sized(length, outline.along()).turned(turn);
          default ->
              isGradient
                  ? outline.sized(length, outline.along()).turned(turn + 180)
                  : outline.sized(outline.across(), length).turned(turn - 90);
        };
    moved = true;
    show();
  }

  private static final double LEAST = 1e-3;
  private static final double MOST = 5;

  @Override
  public void dropped() {
    if (moved) {
      moved = false;
      taker.take(outline);
    }
  }
}
