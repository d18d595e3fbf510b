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
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.survey.FrameSurvey;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.survey.TimeEstimate;

/**
 * Estimates of time beside real renders: a frame of each demo shot and of shots that are made up,
 * at several sizes and samples, delivered as a user delivers it. Renders that would take longer
 * than a bound are left out. One small delivery goes before, so that the code is compiled.
 */
final class EstimateBench {
  private static final List<String> DEMOS = List.of("courtyard", "desk", "orrery");
  private static final double[] SCALES = {0.1, 0.25, 0.5, 1};
  private static final int[] SAMPLES = {4, 16, 64};

  /** Bound of a render, seconds, where none is asked for. */
  static final double LONGEST = 30;

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
  record Compared(
      String shot,
      double scale,
      int samples,
      double low,
      double estimated,
      double high,
      double taken,
      double busy) {
    /** Returns the wall time by the estimate. */
    double ratio() {
      return taken / estimated;
    }
  }

  private EstimateBench() {}

  /**
   * Compares a frame of a shot.
   *
   * @param title what the shot is called
   * @param longest renders that are estimated to take longer are left out, seconds
   */
  static List<Compared> compare(String title, Path file, int frame, double longest)
      throws IOException {
    LoadedShot shot = LoadedShot.load(file);
    int threads = Runtime.getRuntime().availableProcessors();
    TreeMap<Integer, FrameSurvey> traced = new TreeMap<>();
    traced.put(frame, new Surveyor(shot, Surveyor.quick(shot, threads)).look(frame, p -> {}));
    HeldFrames held = HeldFrames.of(shot.plan(), shot.members(), List.of(frame));
    taken(shot, frame, FrameRenderer.Settings.of(shot, SCALES[0], SAMPLES[0], threads, false));
    List<Compared> out = new ArrayList<>();
    for (double scale : SCALES) {
      for (int samples : SAMPLES) {
        FrameRenderer.Settings settings =
            FrameRenderer.Settings.of(shot, scale, samples, threads, false);
        TimeEstimate.Seconds told =
            new TimeEstimate(
                    shot, traced, held, settings.width(), settings.height(), samples, threads)
                .frame(frame);
        if (told.middle() <= longest) {
          double before = cpu();
          double taken = taken(shot, frame, settings);
          out.add(
              new Compared(
                  title,
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
              new DeliveryOrder(
                  folder.resolve("out"), List.of(), List.of(frame), false, settings, false));
      long start = System.nanoTime();
      renderer.run((f, p, s) -> {});
      return (System.nanoTime() - start) / 1e9;
    } finally {
      delete(folder);
    }
  }

  private static void delete(Path folder) throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
        Files.delete(p);
      }
    }
  }

  /**
   * All comparisons.
   *
   * @param estimates of time
   * @param noise of noise
   */
  record Estimates(List<Compared> estimates, List<NoiseEstimates.Told> noise) {}

  /**
   * Compares the demo shots, and made ones.
   *
   * @param plots folder for a plot, or null
   * @param longest renders that are estimated to take longer are left out, seconds
   */
  static Estimates run(Path demo, @Nullable Path plots, double longest) throws IOException {
    List<Compared> out = new ArrayList<>();
    for (MadeShots.Kind kind : MadeShots.Kind.values()) {
      System.err.println("rendering " + kind.title() + " …");
      Path folder = Files.createTempDirectory("made");
      try {
        out.addAll(compare(kind.title(), MadeShots.write(kind, folder), 1, longest));
      } finally {
        delete(folder);
      }
    }
    for (String name : DEMOS) {
      System.err.println("rendering " + name + " …");
      out.addAll(
          compare(
              name,
              demo.resolve(name).resolve(name + ".wedge"),
              name.equals("orrery") ? 20 : 1,
              longest));
    }
    List<NoiseEstimates.Told> noise = new ArrayList<>();
    for (String name : DEMOS) {
      System.err.println("measuring the noise of " + name + " …");
      noise.addAll(NoiseEstimates.compare(name, demo.resolve(name).resolve(name + ".wedge"), 1));
    }
    if (plots != null) {
      plot(out, plots);
      plotNoise(noise, plots);
    }
    return new Estimates(out, noise);
  }

  private static void plotNoise(List<NoiseEstimates.Told> all, Path folder) throws IOException {
    XYChart chart =
        NoisePlots.chart("error of layers, by the estimate of their noise", "estimated", "true");
    for (String shot : DEMOS) {
      List<NoiseEstimates.Told> own =
          all.stream().filter(t -> t.shot().equals(shot) && t.told() > 0 && t.error() > 0).toList();
      dots(
          chart,
          shot,
          own.stream().mapToDouble(NoiseEstimates.Told::told).toArray(),
          own.stream().mapToDouble(NoiseEstimates.Told::error).toArray());
    }
    double[] told =
        all.stream().mapToDouble(NoiseEstimates.Told::told).filter(t -> t > 0).sorted().toArray();
    lines(chart, told[0], told[told.length - 1], 0.5, 1, 1.5);
    save(chart, folder, "noise-estimates");
  }

  private static void plot(List<Compared> all, Path folder) throws IOException {
    XYChart chart =
        NoisePlots.chart("seconds a frame takes, by the estimate", "estimated, s", "taken, s");
    for (String shot : all.stream().map(Compared::shot).distinct().toList()) {
      List<Compared> own = all.stream().filter(c -> c.shot.equals(shot)).toList();
      dots(
          chart,
          shot,
          own.stream().mapToDouble(Compared::estimated).toArray(),
          own.stream().mapToDouble(Compared::taken).toArray());
    }
    double least = all.stream().mapToDouble(Compared::estimated).min().orElse(0.1);
    double most = all.stream().mapToDouble(Compared::estimated).max().orElse(1);
    lines(chart, least, most, 0.75, 1, 1.25);
    save(chart, folder, "estimates");
  }

  private static void dots(XYChart chart, String name, double[] x, double[] y) {
    XYSeries series = chart.addSeries(name, x, y);
    series.setLineStyle(SeriesLines.NONE);
    series.setMarker(SeriesMarkers.CIRCLE);
  }

  private static void lines(XYChart chart, double least, double most, double... factors) {
    for (double factor : factors) {
      XYSeries line =
          chart.addSeries(
              "x %.2f".formatted(factor),
              new double[] {least, most},
              new double[] {factor * least, factor * most});
      line.setMarker(SeriesMarkers.NONE);
      line.setLineColor(Color.GRAY);
    }
  }

  private static void save(XYChart chart, Path folder, String name) throws IOException {
    BitmapEncoder.saveBitmap(
        chart, folder.resolve(name + ".png").toString(), BitmapEncoder.BitmapFormat.PNG);
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
    out.println();
    out.println("| shot | picture | samples | noise estimated | true error | estimate by error |");
    out.println("|---|---|---|---|---|---|");
    for (NoiseEstimates.Told t : all.noise) {
      out.printf(
          "| %s | %s | %d | %.2g | %.2g | %.2f |%n",
          t.shot(), t.picture(), t.samples(), t.told(), t.error(), t.told() / t.error());
    }
  }
}
