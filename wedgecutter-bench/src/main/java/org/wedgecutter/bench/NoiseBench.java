package org.wedgecutter.bench;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.shot.LoadedShot;

/**
 * How far the uncut frames of the demos are from what they become, after some samples, as they are
 * and filtered; and what that is worth at equal time.
 *
 * <p>The error of a pixel is relative: its squared difference by the square of what it should be
 * plus 0.01. Its mean leaves out the worst thousandth, which a few bright points make up. Error
 * (squared already) times seconds is what does not change while a picture only gathers samples.
 */
final class NoiseBench {
  private static final int WIDTH = 240;
  private static final int HEIGHT = 135;
  private static final int[] SAMPLES = {1, 4, 16};
  private static final double[] AMOUNTS = {0, 0.5, 0.8, 1};

  private NoiseBench() {}

  private record Line(
      String shot, int samples, double amount, double error, double trace, double filter) {
    double cost() {
      return error * (trace + filter);
    }
  }

  static void run(Path demo, int reference, boolean json) throws InputException {
    List<Line> lines = new ArrayList<>();
    for (String name : List.of("orrery", "courtyard")) {
      LoadedShot shot = LoadedShot.load(demo.resolve(name + "/" + name + ".wedge"));
      System.err.printf("tracing %s to %d samples ...%n", name, reference);
      Traced whole = new Traced(shot, 77, 1);
      whole.to(reference);
      Picture right = whole.picture(0);
      Traced few = new Traced(shot, 5, 1);
      double seconds = 0;
      for (int samples : SAMPLES) {
        seconds += few.to(samples);
        for (double amount : AMOUNTS) {
          long start = System.nanoTime();
          Picture p = few.picture(amount);
          double took = amount > 0 ? (System.nanoTime() - start) / 1e9 : 0;
          lines.add(new Line(name, samples, amount, error(p, right), seconds, took));
        }
      }
    }
    print(lines, json);
  }

  /** The uncut frame of a shot on its way. */
  private static final class Traced {
    private final LoadedShot shot;
    private final List<FragmentSums> sums = new ArrayList<>();
    private final FrameTrace trace;
    private final int frame;

    Traced(LoadedShot from, long seed, double denoise) {
      shot = with(from, seed, denoise);
      frame = shot.plan().requireShot().frames().first();
      jobs(shot).jobs().forEach(j -> sums.add(new FragmentSums(j, WIDTH, HEIGHT)));
      var placed = shot.frame(frame);
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

  private static double error(Picture p, Picture right) {
    int pixels = p.width() * p.height();
    double[] errors = new double[pixels];
    for (int k = 0; k < pixels; k++) {
      for (int c = 0; c < 3; c++) {
        double is = p.rgba()[4 * k + c];
        double should = right.rgba()[4 * k + c];
        errors[k] += (is - should) * (is - should) / (should * should + 0.01) / 3;
      }
    }
    Arrays.sort(errors);
    return Arrays.stream(errors, 0, pixels - pixels / 1000).average().orElse(0);
  }

  private static void print(List<Line> lines, boolean json) {
    StringBuilder out = new StringBuilder(json ? "{\"noise\": [" : "");
    if (!json) {
      out.append("shot        samples  filtered     error   seconds   worth at equal time\n");
    }
    for (Line l : lines) {
      double plain =
          lines.stream()
              .filter(o -> o.shot.equals(l.shot) && o.samples == l.samples && o.amount == 0)
              .mapToDouble(Line::cost)
              .findFirst()
              .orElse(Double.NaN);
      double worth = plain / l.cost();
      if (json) {
        out.append(l.equals(lines.getFirst()) ? "" : ", ")
            .append(
                "{\"shot\": \"%s\", \"samples\": %d, \"filtered\": %.2f, \"error\": %.6f, \"trace_s\": %.3f, \"filter_s\": %.3f, \"worth\": %.3f}"
                    .formatted(l.shot, l.samples, l.amount, l.error, l.trace, l.filter, worth));
      } else {
        out.append(
            "%-12s %5d %9.1f %9.5f %9.2f %9.2f times%n"
                .formatted(l.shot, l.samples, l.amount, l.error, l.trace + l.filter, worth));
      }
    }
    System.out.println(json ? out + "]}" : out.toString().stripTrailing());
  }
}
