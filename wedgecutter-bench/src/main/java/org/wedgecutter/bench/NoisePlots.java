package org.wedgecutter.bench;

import java.awt.BasicStroke;
import java.awt.Color;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.function.ToDoubleFunction;
import org.knowm.xchart.BitmapEncoder;
import org.knowm.xchart.XYChart;
import org.knowm.xchart.XYChartBuilder;
import org.knowm.xchart.style.Styler;
import org.knowm.xchart.style.markers.SeriesMarkers;
import org.wedgecutter.core.trace.Points;

/** Draws what {@link NoiseBench} measured: errors by samples and by seconds, for each shot. */
final class NoisePlots {
  private static final Color[] COLORS = {
    new Color(0x9a5b3a), new Color(0x3c6e8f), new Color(0x2f7d5b), new Color(0x6b6b6b)
  };

  private NoisePlots() {}

  static void draw(List<NoiseBench.Line> lines, Path folder) throws IOException {
    for (String shot : lines.stream().map(NoiseBench.Line::shot).distinct().toList()) {
      List<NoiseBench.Line> own =
          lines.stream().filter(l -> l.shot().equals(shot) && l.filtered() == 0).toList();
      draw(own, shot + ": error by samples", "samples", l -> l.samples(), false, folder, "samples");
      draw(
          own,
          shot + ": seen from afar, by samples",
          "samples",
          l -> l.samples(),
          true,
          folder,
          "afar");
      draw(own, shot + ": error by time", "seconds", l -> l.seconds(), false, folder, "seconds");
    }
  }

  private static void draw(
      List<NoiseBench.Line> lines,
      String title,
      String axis,
      ToDoubleFunction<NoiseBench.Line> across,
      boolean afar,
      Path folder,
      String name)
      throws IOException {
    XYChart chart =
        new XYChartBuilder()
            .width(560)
            .height(400)
            .title(title)
            .xAxisTitle(axis)
            .yAxisTitle("mean squared relative error")
            .build();
    chart
        .getStyler()
        .setXAxisLogarithmic(true)
        .setYAxisLogarithmic(true)
        .setLegendPosition(Styler.LegendPosition.InsideSW)
        .setChartBackgroundColor(Color.WHITE);
    int k = 0;
    for (Points points : Points.values()) {
      List<NoiseBench.Line> row = lines.stream().filter(l -> l.points() == points).toList();
      if (!row.isEmpty()) {
        var series =
            chart.addSeries(
                points.name().toLowerCase(java.util.Locale.ROOT),
                row.stream().mapToDouble(across).toArray(),
                row.stream().mapToDouble(l -> afar ? l.afar() : l.error()).toArray());
        series.setLineColor(COLORS[k]).setLineStyle(new BasicStroke(2f));
        series.setMarker(SeriesMarkers.CIRCLE).setMarkerColor(COLORS[k]);
      }
      k++;
    }
    Path file = folder.resolve(lines.getFirst().shot() + "-" + name + ".png");
    BitmapEncoder.saveBitmap(chart, file.toString(), BitmapEncoder.BitmapFormat.PNG);
  }
}
