package org.wedgecutter.bench;

import java.awt.BasicStroke;
import java.awt.Color;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import org.knowm.xchart.BitmapEncoder;
import org.knowm.xchart.XYChart;
import org.knowm.xchart.XYChartBuilder;
import org.knowm.xchart.XYSeries;
import org.knowm.xchart.style.Styler;
import org.knowm.xchart.style.markers.SeriesMarkers;
import org.wedgecutter.core.trace.sample.SamplePattern;

/** Draws what {@link NoiseBench} measured: errors by samples and by seconds, for each shot. */
final class NoisePlots {
  private static final Color[] COLORS = {
    new Color(0x9a5b3a), new Color(0x3c6e8f), new Color(0x2f7d5b), new Color(0x6b6b6b)
  };

  private NoisePlots() {}

  /**
   * @param before what an earlier version measured; may be empty
   */
  static void draw(List<NoiseBench.Line> lines, List<NoiseBench.Line> before, Path folder)
      throws IOException {
    for (String shot : lines.stream().map(NoiseBench.Line::shot).distinct().toList()) {
      List<NoiseBench.Line> own = of(lines, shot);
      draw(own, List.of(), shot + ": error by samples", By.SAMPLES, folder);
      draw(own, List.of(), shot + ": seen from afar, by samples", By.AFAR, folder);
      draw(own, of(before, shot), shot + ": error by time", By.SECONDS, folder);
    }
  }

  /** What is plotted against what. */
  private enum By {
    SAMPLES("samples"),
    AFAR("samples"),
    SECONDS("seconds");

    private final String axis;

    By(String axis) {
      this.axis = axis;
    }

    double across(NoiseBench.Line l) {
      return this == SECONDS ? l.seconds() : l.samples();
    }

    double up(NoiseBench.Line l) {
      return this == AFAR ? l.afar() : l.error();
    }
  }

  private static List<NoiseBench.Line> of(List<NoiseBench.Line> lines, String shot) {
    return lines.stream().filter(l -> l.shot().equals(shot) && l.filtered() == 0).toList();
  }

  /** An empty chart with logarithmic axes. */
  static XYChart chart(String title, String across, String up) {
    XYChart chart =
        new XYChartBuilder()
            .width(560)
            .height(400)
            .title(title)
            .xAxisTitle(across)
            .yAxisTitle(up)
            .build();
    chart
        .getStyler()
        .setXAxisLogarithmic(true)
        .setYAxisLogarithmic(true)
        .setLegendPosition(Styler.LegendPosition.OutsideE)
        .setChartBackgroundColor(Color.WHITE);
    return chart;
  }

  private static void draw(
      List<NoiseBench.Line> lines, List<NoiseBench.Line> before, String title, By by, Path folder)
      throws IOException {
    XYChart chart = chart(title, by.axis, "squared relative error");
    for (SamplePattern points : SamplePattern.values()) {
      String name = points.name().toLowerCase(Locale.ROOT);
      add(chart, lines.stream().filter(l -> l.points() == points).toList(), by, name);
    }
    add(chart, before, by, "before");
    String file = lines.getFirst().shot() + "-" + by.name().toLowerCase(Locale.ROOT) + ".png";
    BitmapEncoder.saveBitmap(
        chart, folder.resolve(file).toString(), BitmapEncoder.BitmapFormat.PNG);
  }

  private static void add(XYChart chart, List<NoiseBench.Line> row, By by, String name) {
    if (!row.isEmpty()) {
      Color color = COLORS[chart.getSeriesMap().size()];
      XYSeries series =
          chart.addSeries(
              name,
              row.stream().mapToDouble(by::across).toArray(),
              row.stream().mapToDouble(by::up).toArray());
      series.setLineColor(color).setLineStyle(new BasicStroke(2f));
      series.setMarker(SeriesMarkers.CIRCLE).setMarkerColor(color);
    }
  }
}
