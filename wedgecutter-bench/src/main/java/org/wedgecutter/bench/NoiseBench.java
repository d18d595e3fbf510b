package org.wedgecutter.bench;

import com.fasterxml.jackson.annotation.JsonIgnore;
import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.trace.SceneTracer;
import org.wedgecutter.core.trace.sample.SamplePattern;
import org.wedgecutter.exr.Box;

/**
 * Measures the noise of the demos' uncut frames after some samples, against converged frames: by
 * sample pattern, plain and filtered, also at equal time.
 *
 * <p>The error of a pixel is relative: its squared difference, divided by the square of the
 * converged value plus 0.01. Its mean leaves out the worst thousandth, which a few bright points
 * make up. Error (squared already) times seconds is what does not change while a picture only
 * gathers samples. Seen from afar, the difference is blurred before by a Gaussian of 1.5 pixels,
 * and the error is the median pixel's: few bright points, blurred, would hide all others.
 */
final class NoiseBench {
  private static final int WIDTH = 240;
  private static final int HEIGHT = 135;
  private static final int REFERENCE = 600;
  private static final int[] SAMPLES = {1, 2, 4, 8, 16, 32};
  private static final double[] AMOUNTS = {0.5, 1};

  private NoiseBench() {}

  /**
   * One measure.
   *
   * @param filtered amount of denoise, 0 to 1
   * @param afar the median error after the blur
   * @param seconds that it took, the filter included
   */
  record Line(
      String shot,
      @JsonIgnore SamplePattern points,
      int samples,
      double filtered,
      double error,
      double afar,
      double seconds) {
    @JsonProperty
    String pattern() {
      return words(points);
    }

    double cost() {
      return error * seconds;
    }
  }

  /** All measures, as they are written. */
  record Noise(List<Line> noise) {}

  /**
   * Measures both demos; with a folder, keeps what the frames become there for the next time, and
   * plots the errors, beside those of {@code before.json} if an earlier version wrote it.
   */
  static Noise run(Path demo, @Nullable Path folder) throws IOException {
    List<Line> lines = new ArrayList<>();
    for (String name : List.of("orrery", "courtyard")) {
      LoadedShot shot = LoadedShot.load(demo.resolve(name + "/" + name + ".wedge"));
      Picture right = reference(shot, name, folder);
      new Traced(shot, SamplePattern.OWEN_SOBOL, 9).to(4);
      for (SamplePattern points : SamplePattern.values()) {
        measure(name, new Traced(shot, points, 5), right, lines);
      }
    }
    if (folder != null) {
      NoisePlots.draw(lines, before(folder.resolve("before.json")), folder);
    }
    return new Noise(lines);
  }

  /** What an earlier version printed with {@code --json}, if it is there. */
  private static List<Line> before(Path file) throws IOException {
    List<Line> out = new ArrayList<>();
    if (Files.exists(file)) {
      for (JsonNode l : new ObjectMapper().readTree(file.toFile()).path("noise")) {
        out.add(
            new Line(
                l.path("shot").asText(),
                SamplePattern.valueOf(
                    l.path("pattern").asText(l.path("points").asText()).toUpperCase(Locale.ROOT)),
                l.path("samples").asInt(),
                l.path("filtered").asDouble(),
                l.path("error").asDouble(),
                l.path("afar").asDouble(),
                l.path("seconds").asDouble()));
      }
    }
    return out;
  }

  private static void measure(String name, Traced few, Picture right, List<Line> lines) {
    double seconds = 0;
    for (int samples : SAMPLES) {
      seconds += few.to(samples);
      lines.add(line(name, few, samples, 0, few.picture(0), right, seconds));
      for (double amount : few.points == SamplePattern.BLUE_NOISE ? AMOUNTS : new double[0]) {
        long start = System.nanoTime();
        Picture p = few.picture(amount);
        double took = (System.nanoTime() - start) / 1e9;
        lines.add(line(name, few, samples, amount, p, right, seconds + took));
      }
    }
  }

  private static Line line(
      String name,
      Traced few,
      int samples,
      double filtered,
      Picture p,
      Picture right,
      double seconds) {
    double[] off = difference(p, right);
    double[] errors = errors(off, right);
    double error =
        Arrays.stream(errors, 0, errors.length - errors.length / 1000).average().orElse(0);
    double afar = errors(blurred(off, p.width(), p.height()), right)[errors.length / 2];
    return new Line(name, few.points, samples, filtered, error, afar, seconds);
  }

  /** The converged frame, after many samples. */
  private static Picture reference(LoadedShot shot, String name, @Nullable Path folder)
      throws IOException {
    Path file = folder == null ? null : folder.resolve(name + ".exr");
    if (file != null && Files.exists(file)) {
      return ExrFrames.read(file);
    }
    System.err.printf("tracing %s to %d samples ...%n", name, REFERENCE);
    Traced whole = new Traced(shot, SamplePattern.OWEN_SOBOL, 77);
    whole.to(REFERENCE);
    Picture right = whole.picture(0);
    if (file != null) {
      Files.createDirectories(folder);
      Box box = Box.ofSize(WIDTH, HEIGHT);
      ExrFrames.write(file, right, List.of(), shot.plan().output(), box, box, Map.of());
    }
    return right;
  }

  /** The uncut frame of a shot while it is traced. */
  private static final class Traced {
    private final LoadedShot shot;
    private final List<FragmentSums> sums = new ArrayList<>();
    private final FrameTrace trace;
    private final int frame;
    final SamplePattern points;

    Traced(LoadedShot from, SamplePattern points, long seed) {
      this.points = points;
      // filters ask for more of a trace: it is there for all that is measured
      shot = with(from, seed, 1);
      frame = shot.plan().requireShot().frames().first();
      jobs(shot).jobs().forEach(j -> sums.add(new FragmentSums(j, WIDTH, HEIGHT)));
      var placed =
          new LoadedShot(
                  shot.file(),
                  shot.plan(),
                  shot.read(),
                  new SceneTracer(shot.scene(), points),
                  shot.members(),
                  shot.pictures())
              .frame(frame);
      trace = new FrameTrace(f -> placed, shot.camera(), sums);
    }

    private static LoadedShot with(LoadedShot shot, long seed, double denoise) {
      return shot.withPlan(
          shot.plan()
              .withShot(
                  shot.plan()
                      .requireShot()
                      .with(s -> {
                        s.seed = seed;
                        s.denoise = denoise;
                      })));
    }

    private static JobPlan jobs(LoadedShot shot) {
      int first = shot.plan().requireShot().frames().first();
      return new JobPlan(shot.resolve(first), l -> false, true, c -> false);
    }

    /** Traces on and returns the seconds that it took. */
    double to(int samples) {
      long start = System.nanoTime();
      trace.run(samples, Runtime.getRuntime().availableProcessors(), p -> {});
      return (System.nanoTime() - start) / 1e9;
    }

    Picture picture(double denoise) {
      LoadedShot now = with(shot, shot.plan().requireShot().seed(), denoise);
      ResolvedShot resolved = now.resolve(frame);
      JobPlan plan = jobs(now);
      List<FragmentSums> found = new ArrayList<>();
      plan.jobs()
          .forEach(
              j -> found.add(sums.stream().filter(s -> s.covers(j)).findFirst().orElseThrow()));
      return new LayerPictures(resolved, plan, found, now.stage(f -> null, frame)).uncut();
    }
  }

  /** Differences of red, green and blue, pixel by pixel. */
  private static double[] difference(Picture p, Picture right) {
    double[] out = new double[3 * p.width() * p.height()];
    for (int k = 0; k < out.length; k++) {
      int at = 4 * (k / 3) + k % 3;
      // what the filter of a viewer's eye or of a denoiser assumes: no single pixel dominates
      double most = 2 * right.rgba()[at] + 1;
      out[k] = Math.clamp((double) p.rgba()[at] - right.rgba()[at], -most, most);
    }
    return out;
  }

  /** Errors of the pixels, ascending. */
  private static double[] errors(double[] off, Picture right) {
    double[] errors = new double[off.length / 3];
    for (int k = 0; k < off.length; k++) {
      double should = right.rgba()[4 * (k / 3) + k % 3];
      errors[k / 3] += off[k] * off[k] / (should * should + 0.01) / 3;
    }
    Arrays.sort(errors);
    return errors;
  }

  private static double[] blurred(double[] from, int width, int height) {
    double[] bell = new double[9];
    double sum = 0;
    for (int k = 0; k < 9; k++) {
      bell[k] = Math.exp(-(k - 4) * (k - 4) / (2 * 1.5 * 1.5));
      sum += bell[k];
    }
    double[] lines = new double[from.length];
    double[] out = new double[from.length];
    for (int pass = 0; pass < 2; pass++) {
      double[] in = pass == 0 ? from : lines;
      double[] to = pass == 0 ? lines : out;
      for (int at = 0; at < from.length; at++) {
        int x = at / 3 % width;
        int y = at / 3 / width;
        for (int k = -4; k <= 4; k++) {
          int nx = pass == 0 ? Math.clamp(x + k, 0, width - 1) : x;
          int ny = pass == 0 ? y : Math.clamp(y + k, 0, height - 1);
          to[at] += bell[k + 4] / sum * in[3 * (ny * width + nx) + at % 3];
        }
      }
    }
    return out;
  }

  private static String words(SamplePattern points) {
    return points.name().toLowerCase(Locale.ROOT);
  }

  static String table(List<Line> lines) {
    StringBuilder out =
        new StringBuilder(
            "shot        points      samples  filtered     error      afar   seconds  error x time\n");
    for (Line l : lines) {
      out.append(
          "%-11s %-12s %6d %9.1f %9.5f %9.5f %9.2f %13.5f%n"
              .formatted(
                  l.shot,
                  words(l.points),
                  l.samples,
                  l.filtered,
                  l.error,
                  l.afar,
                  l.seconds,
                  l.cost()));
    }
    return out.toString().stripTrailing();
  }
}
