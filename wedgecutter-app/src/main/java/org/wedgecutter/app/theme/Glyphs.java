package org.wedgecutter.app.theme;

import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.shape.StrokeLineCap;
import org.wedgecutter.core.plan.Role;

/**
 * The marks, drawn. Roles are one family about a lozenge: whole for Seen, hollow for Holdout,
 * filled below its waterline for Catcher, only its corners for Unseen, its waterline alone for
 * Absent.
 */
public final class Glyphs {
  private Glyphs() {}

  /** Draws a role's glyph, {@code size} wide, about a centre. */
  public static void role(
      GraphicsContext g, Role role, double cx, double cy, double size, Color color) {
    double r = size / 2;
    g.save();
    g.setFill(color);
    g.setStroke(color);
    g.setLineWidth(Math.max(1.4, size / 8));
    g.setLineCap(StrokeLineCap.BUTT);
    double[] xs = {cx, cx + r, cx, cx - r};
    double[] ys = {cy - r, cy, cy + r, cy};
    double inset = g.getLineWidth() * 0.7;
    double[] ix = {cx, cx + r - inset, cx, cx - r + inset};
    double[] iy = {cy - r + inset, cy, cy + r - inset, cy};
    switch (role) {
      case SEEN -> g.fillPolygon(xs, ys, 4);
      case HOLDOUT -> g.strokePolygon(ix, iy, 4);
      case CATCHER -> {
        g.strokePolygon(ix, iy, 4);
        g.fillPolygon(new double[] {cx - r, cx + r, cx}, new double[] {cy, cy, cy + r}, 3);
        g.strokeLine(cx - r - 1.5, cy, cx + r + 1.5, cy);
      }
      case UNSEEN -> {
        double k = r * 0.42;
        for (int c = 0; c < 4; c++) {
          int before = (c + 3) % 4;
          int after = (c + 1) % 4;
          g.strokeLine(
              ix[c],
              iy[c],
              ix[c] + (ix[before] - ix[c]) * k / r,
              iy[c] + (iy[before] - iy[c]) * k / r);
          g.strokeLine(
              ix[c],
              iy[c],
              ix[c] + (ix[after] - ix[c]) * k / r,
              iy[c] + (iy[after] - iy[c]) * k / r);
        }
      }
      case ABSENT -> g.strokeLine(cx - r * 0.6, cy, cx + r * 0.6, cy);
    }
    g.restore();
  }

  /** Draws the wedge: overridden here. Its right angle is at (right, top). */
  public static void wedge(GraphicsContext g, double right, double top, double size, Color color) {
    g.setFill(color);
    g.fillPolygon(
        new double[] {right - size, right, right}, new double[] {top, top, top + size}, 3);
  }
}
