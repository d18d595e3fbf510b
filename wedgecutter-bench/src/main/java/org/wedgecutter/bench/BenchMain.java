package org.wedgecutter.bench;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/**
 * Prints the README's table of measures for this machine. Each ratio is of two things measured in
 * turn in this one run.
 */
@Command(name = "wedgecutter", mixinStandardHelpOptions = true, subcommands = BenchMain.Bench.class)
public final class BenchMain {
  private BenchMain() {}

  /** Runs the measures and leaves with their exit status. */
  public static void main(String[] args) {
    System.exit(Commands.main(new BenchMain(), args));
  }

  /** What can be measured instead of the table. */
  static final class Choice {
    @Option(
        names = "--rays",
        arity = "2",
        paramLabel = "FILE",
        description = "Time rays against triangles: GEOM RAYS.")
    private @Nullable List<Path> rays;

    @Option(
        names = "--noise",
        arity = "0..1",
        fallbackValue = "",
        paramLabel = "FOLDER",
        description = "Measure the error of the demo frames; with a folder, write plots there.")
    private @Nullable String noise;

    @Option(
        names = "--estimates",
        arity = "0..1",
        fallbackValue = "",
        paramLabel = "FOLDER",
        description =
            "Compare estimates of time with real renders; with a folder, write a plot there.")
    private @Nullable String estimates;

    @Option(
        names = "--exr",
        paramLabel = "FILE",
        description = "Read and write an OpenEXR file in memory, by one thread and by two.")
    private @Nullable Path exr;

    @Option(
        names = "--farm",
        arity = "2",
        paramLabel = "N",
        description = "Measure a folder of UNITS that so many WORKERS share.")
    private @Nullable List<Integer> farm;

    @Option(
        names = "--rejoin",
        description = "Measure drags at the Rejoin station, merging, picking and reading.")
    private boolean rejoin;

    @Option(
        names = "--memory",
        description = "Measure the memory of a large scene and of large frames.")
    private boolean memory;
  }

  @Command(
      name = "bench",
      description = "Measures speed, sharing and memory on this machine.",
      mixinStandardHelpOptions = true,
      footer = {"", "Example: wedgecutter bench --json", Commands.STATUSES})
  static final class Bench implements Callable<Integer> {
    @SuppressWarnings("NullAway.Init") // filled in by the command line library
    Bench() {}

    @ArgGroup private @Nullable Choice choice;

    @Option(
        names = "--longest",
        paramLabel = "SECONDS",
        defaultValue = "" + EstimateBench.LONGEST,
        description =
            "With --estimates: leave out renders that take longer. Default: ${DEFAULT-VALUE}.")
    private double longest;

    @Option(
        names = "--peer",
        paramLabel = "PROGRAM",
        description =
            "With --exr: compare with the OpenEXR project's library; the compiled wedgecutter-exr/src/test/native/peer.cpp.")
    private @Nullable Path peer;

    @Mixin private Result result;

    @Override
    public Integer call() throws IOException {
      Choice c = choice;
      if (c != null && c.rays != null) {
        RayBench.Times times = RayBench.run(c.rays.get(0), c.rays.get(1));
        result.print(times, out -> RayBench.table(times, out));
      } else if (c != null && c.noise != null) {
        NoiseBench.Noise noise =
            NoiseBench.run(demo(), c.noise.isEmpty() ? null : Path.of(c.noise));
        result.print(noise, out -> out.println(NoiseBench.table(noise.noise())));
      } else if (c != null && c.estimates != null) {
        EstimateBench.Estimates all =
            EstimateBench.run(demo(), c.estimates.isEmpty() ? null : Path.of(c.estimates), longest);
        result.print(all, out -> EstimateBench.table(all, out));
      } else if (c != null && c.farm != null) {
        List<Measure> measures = FarmBench.run(demo(), c.farm.get(0), c.farm.get(1));
        result.print(Measure.all(measures), out -> out.println(Measure.table(measures)));
      } else if (c != null && c.exr != null) {
        if (peer == null) {
          ExrBench.All<ExrBench.Times> times = ExrBench.run(c.exr);
          result.print(times, out -> ExrBench.table(times, out));
        } else {
          ExrBench.All<ExrBench.Beside> times = ExrBench.beside(c.exr, peer);
          result.print(times, out -> ExrBench.print(times, out));
        }
      } else if (c != null && c.rejoin) {
        List<Measure> measures = RejoinBench.run();
        result.print(Measure.all(measures), out -> out.println(Measure.table(measures)));
      } else {
        List<Measure> measures = c != null && c.memory ? MemoryBench.run(demo()) : table();
        result.print(Measure.all(measures), out -> out.println(Measure.table(measures)));
      }
      return Commands.FINE;
    }
  }

  private static Path demo() {
    return Path.of(System.getProperty("wedgecutter.demo", "demo"));
  }

  private static List<Measure> table() throws IOException {
    List<Measure> out = new ArrayList<>();
    System.err.println("tracing the first frame of the demo …");
    OrreryFrame frame = new OrreryFrame(demo(), 2);
    boolean[] there = {false};
    double move =
        Measure.median(
            60,
            () -> {
              there[0] = !there[0];
              return Measure.milliseconds(() ->
                  frame.moveHero(
                      there[0] ? "Foreground" : "Hero", there[0] ? "Hero" : "Foreground"));
            });
    out.add(
        new Measure("move_hero_ms", "moving the hero between two layers, 960 x 540", move, "ms"));
    double proof = Measure.median(20, () -> Measure.milliseconds(frame::proof));
    out.add(new Measure("proof_ms", "all layers, rejoined and compared, 960 x 540", proof, "ms"));
    SharingBench.regroup(out);
    System.err.println("tracing layers together and separately …");
    SharingBench.layers(frame.shot, out);
    SharingBench.allocation(frame.shot, out);
    SurveyBench.pixels(frame.shot, out);
    InstanceBench.run(out);
    return out;
  }
}
