package org.wedgecutter.bench;

import java.awt.Color;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.knowm.xchart.BitmapEncoder;
import org.knowm.xchart.XYChart;
import org.knowm.xchart.XYSeries;
import org.knowm.xchart.style.lines.SeriesLines;
import org.knowm.xchart.style.markers.SeriesMarkers;
import org.wedgecutter.core.deliver.DeliveryRenderer;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.survey.FrameSurvey;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.survey.TimeEstimate;

/**
 * Estimates of time beside real renders: a frame of each demo shot, at several sizes and samples,
 * delivered as a user delivers it. Renders that would take longer than a bound are left out.
 */
public final class EstimateBench {
  private static final double[] SCALES = {0.1, 0.25, 0.5, 1};
  private static final int[] SAMPLES = {4, 16, 64};
  private static final double LONGEST = 30;

  /**
   * One comparison.
   *
   * @param estimated seconds, the middle of the range
   * @param low lower end of the range
   * @param high upper end
   * @param taken seconds of wall time
   * @param busy processor time of the program by the number of threads, seconds: what it would take
   *     on a machine that does nothing else
   */
  public record Compared(
      String shot,
      double scale,
      int samples,
      double low,
      double estimated,
      double high,
      double taken,
      double busy) {
    /** Returns the processor time by the estimate. */
    public double ratio() {
      return busy / estimated;
    }
  }

  private EstimateBench() {}

  /** Compares a frame of a shot. */
  public static List<Compared> compare(Path file, int frame) throws IOException {
    LoadedShot shot = LoadedShot.load(file);
    int threads = Runtime.getRuntime().availableProcessors();
    TreeMap<Integer, FrameSurvey> traced = new TreeMap<>();
    traced.put(frame, new Surveyor(shot, Surveyor.quick(shot, threads)).look(frame, p -> {}));
    HeldFrames held = HeldFrames.of(shot.plan(), shot.members(), List.of(frame));
    List<Compared> out = new ArrayList<>();
    for (double scale : SCALES) {
      for (int samples : SAMPLES) {
        FrameRenderer.Settings settings =
            FrameRenderer.Settings.of(shot, scale, samples, threads, false);
        TimeEstimate.Seconds told =
            new TimeEstimate(
                    shot, traced, held, settings.width(), settings.height(), samples, threads)
                .frame(frame);
        if (told.middle() <= LONGEST) {
          double before = cpu();
          double taken = taken(shot, frame, settings);
          out.add(
              new Compared(
                  shot.name(),
                  scale,
                  samples,
                  told.low(),
                  told.middle(),
                  told.high(),
                  taken,
                  (cpu() - before) / threads));
        }
      }
    }
    return out;
  }

  /** Processor time of the program so far, seconds. */
  private static double cpu() {
    return ProcessHandle.current()
            .info()
            .totalCpuDuration()
            .map(java.time.Duration::toNanos)
            .orElse(0L)
        / 1e9;
  }

  private static double taken(LoadedShot shot, int frame, FrameRenderer.Settings settings)
      throws IOException {
    Path folder = Files.createTempDirectory("estimate");
    try {
      DeliveryRenderer renderer =
          new DeliveryRenderer(
              shot,
              new DeliveryRenderer.Order(
                  folder.resolve("out"), List.of(), List.of(frame), false, settings, false));
      long start = System.nanoTime();
      renderer.run((f, p, s) -> {});
      return (System.nanoTime() - start) / 1e9;
    } finally {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(p);
        }
      }
    }
  }

  /** All comparisons. */
  public record Estimates(List<Compared> estimates) {}

  /**
   * Compares the demo shots.
   *
   * @param plots folder for a plot, or null
   */
  static Estimates run(Path demo, @Nullable Path plots) throws IOException {
    List<Compared> out = new ArrayList<>();
    for (String name : List.of("courtyard", "desk", "orrery")) {
      System.err.println("rendering " + name + " …");
      out.addAll(
          compare(demo.resolve(name).resolve(name + ".wedge"), name.equals("orrery") ? 20 : 1));
    }
    if (plots != null) {
      plot(out, plots);
    }
    return new Estimates(out);
  }

  private static void plot(List<Compared> all, Path folder) throws IOException {
    XYChart chart =
        NoisePlots.chart("seconds a frame takes, by the estimate", "estimated, s", "processors, s");
    for (String shot : all.stream().map(Compared::shot).distinct().toList()) {
      List<Compared> own = all.stream().filter(c -> c.shot.equals(shot)).toList();
      XYSeries series =
          chart.addSeries(
              shot,
              own.stream().mapToDouble(Compared::estimated).toArray(),
              own.stream().mapToDouble(Compared::busy).toArray());
      series.setLineStyle(SeriesLines.NONE);
      series.setMarker(SeriesMarkers.CIRCLE);
    }
    double least = all.stream().mapToDouble(Compared::estimated).min().orElse(0.1);
    double most = all.stream().mapToDouble(Compared::estimated).max().orElse(1);
    for (double factor : new double[] {0.75, 1, 1.25}) {
      XYSeries line =
          chart.addSeries(
              "x %.2f".formatted(factor),
              new double[] {least, most},
              new double[] {factor * least, factor * most});
      line.setMarker(SeriesMarkers.NONE);
      line.setLineColor(Color.GRAY);
    }
    BitmapEncoder.saveBitmap(
        chart, folder.resolve("estimates.png").toString(), BitmapEncoder.BitmapFormat.PNG);
  }

  /** Prints comparisons as a table. */
  static void table(Estimates all, PrintWriter out) {
    out.println(
        "| shot | scale | samples | estimated | range | taken | processors | by estimate |");
    out.println("|---|---|---|---|---|---|---|---|");
    for (Compared c : all.estimates) {
      out.printf(
          "| %s | %.2f | %d | %.2f s | %.2f–%.2f s | %.2f s | %.2f s | %.2f |%n",
          c.shot, c.scale, c.samples, c.estimated, c.low, c.high, c.taken, c.busy, c.ratio());
    }
  }
}
