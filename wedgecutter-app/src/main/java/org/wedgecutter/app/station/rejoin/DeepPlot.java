package org.wedgecutter.app.station.rejoin;

import java.util.List;
import java.util.Locale;
import java.util.stream.DoubleStream;
import java.util.stream.IntStream;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.layout.StackPane;
import javafx.scene.text.TextAlignment;
import org.wedgecutter.app.live.Pictures.DeepPixel;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.image.DeepPicture;

/**
 * The deep samples of the pixel under the pointer: to the right the distance, upwards the alpha of
 * each sample in its layer's hue, media as wide as they are deep, and a line of how much all that
 * is nearer covers.
 */
final class DeepPlot extends StackPane {
  private static final double WIDTH = 420;
  private static final double HEIGHT = 84;
  private static final double LEFT = 8;
  private static final double FLOOR = HEIGHT - 20;

  /** Share of the range that is left free at either end. */
  private static final double ROOM = 0.06;

  private final Canvas canvas = new Canvas(WIDTH, HEIGHT);
  private final Theme theme;
  private List<DeepPixel> shown = List.of();

  DeepPlot(Theme theme) {
    this.theme = theme;
    setId("deep-plot");
    setMaxWidth(WIDTH);
    getChildren().add(canvas);
    show(List.of());
  }

  /** Shows the samples of a pixel in each layer. */
  void show(List<DeepPixel> next) {
    shown = next;
    setAccessibleText(told());
    paint();
  }

  /** Returns what is shown, in words. */
  String told() {
    int count = shown.stream().mapToInt(p -> p.samples().length / DeepPicture.NUMBERS).sum();
    return shown.isEmpty() || count == 0
        ? "Hover over the picture to see its deep samples."
        : "%s in %s, from %s to %s m"
            .formatted(
                Words.counted(count, "sample"),
                Words.counted(shown.stream().filter(p -> p.samples().length > 0).count(), "layer"),
                metres(nearest()),
                metres(farthest()));
  }

  private static String metres(double v) {
    return String.format(Locale.ROOT, "%.3g", v);
  }

  private double nearest() {
    return ends(DeepPicture.FRONT).min().orElse(0);
  }

  private double farthest() {
    return ends(DeepPicture.BACK).max().orElse(1);
  }

  private DoubleStream ends(int which) {
    return shown.stream()
        .flatMapToDouble(p ->
            IntStream.range(0, p.samples().length / DeepPicture.NUMBERS)
                .mapToDouble(k -> p.samples()[k * DeepPicture.NUMBERS + which]))
        .filter(Double::isFinite);
  }

  private void paint() {
    GraphicsContext g = canvas.getGraphicsContext2D();
    g.setFill(theme.panel);
    g.fillRect(0, 0, WIDTH, HEIGHT);
    g.setFill(theme.dim);
    g.setFont(Theme.sans(12));
    g.setTextAlign(TextAlignment.LEFT);
    g.setTextBaseline(VPos.BOTTOM);
    g.fillText(told(), LEFT, HEIGHT - 2);
    g.setStroke(theme.dim);
    g.strokeLine(LEFT, FLOOR + 0.5, WIDTH - LEFT, FLOOR + 0.5);
    // what is nearest and farthest stands off the edges
    double room = Math.max(0.05 * Math.abs(nearest()), ROOM * (farthest() - nearest()));
    double from = nearest() - room;
    double range = Math.max(1e-3, farthest() + room - from);
    for (DeepPixel pixel : shown) {
      g.setFill(Theme.hue(pixel.hue()));
      for (int k = 0; k < pixel.samples().length; k += DeepPicture.NUMBERS) {
        float[] s = pixel.samples();
        double x = at(s[k + DeepPicture.FRONT], from, range);
        double wide = Math.max(2, at(s[k + DeepPicture.BACK], from, range) - x);
        double high = Math.max(1, s[k + DeepPicture.ALPHA] * (FLOOR - 6));
        g.setGlobalAlpha(wide > 2 ? 0.5 : 1);
        g.fillRect(x, FLOOR - high, wide, high);
      }
    }
    g.setGlobalAlpha(1);
    covered(g, from, range);
  }

  /** A line of how much of what is behind a distance is covered. */
  private void covered(GraphicsContext g, double from, double range) {
    List<float[]> all =
        shown.stream()
            .flatMap(p ->
                IntStream.range(0, p.samples().length / DeepPicture.NUMBERS)
                    .mapToObj(k -> {
                      int at = k * DeepPicture.NUMBERS;
                      return new float[] {
                        p.samples()[at + DeepPicture.BACK], p.samples()[at + DeepPicture.ALPHA]
                      };
                    }))
            .sorted((a, b) -> Float.compare(a[0], b[0]))
            .toList();
    double through = 1;
    double x = LEFT;
    g.setStroke(theme.text);
    for (float[] s : all) {
      double y = FLOOR - (1 - through) * (FLOOR - 6);
      double next = at(s[0], from, range);
      g.strokeLine(x, y, next, y);
      through *= 1 - Math.max(0, Math.min(1, s[1]));
      g.strokeLine(next, y, next, FLOOR - (1 - through) * (FLOOR - 6));
      x = next;
    }
    if (!all.isEmpty()) {
      double y = FLOOR - (1 - through) * (FLOOR - 6);
      g.strokeLine(x, y, WIDTH - LEFT, y);
    }
  }

  private static double at(double metres, double from, double range) {
    double share = Double.isFinite(metres) ? (metres - from) / range : 1;
    return LEFT + Math.max(0, Math.min(1, share)) * (WIDTH - 2 * LEFT - 2);
  }
}
