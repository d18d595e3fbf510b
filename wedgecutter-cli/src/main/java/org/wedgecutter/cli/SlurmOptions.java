package org.wedgecutter.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.deliver.DeliveryFolders;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.export.Quoting;
import org.wedgecutter.core.export.SlurmJobs;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.survey.ShotSurvey;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.survey.TimeEstimate;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Spec;

/** The options of {@code export --as slurm}, and what they come to. */
final class SlurmOptions {
  private static final int SURVEYED = 3;
  private static final long MEBIBYTE = 1 << 20;

  /** What the runtime needs beside what lives in its heap. */
  private static final long RUNTIME = 700;

  @Spec(Spec.Target.MIXEE)
  private CommandSpec spec;

  @Mixin private Options options;

  @Option(
      names = "--delivery",
      paramLabel = "FOLDER",
      description = "Folder of the delivery, which all nodes share. Default: NAME-v001 ...")
  private @Nullable Path delivery;

  @Option(names = "--frames", paramLabel = "RANGE", description = "Render only these frames.")
  private @Nullable String frames;

  @Option(names = "--uncut", description = "Also render the uncut frame.")
  private boolean uncut;

  @Option(names = "--partition", defaultValue = "", description = "Partition of the scheduler.")
  private String partition;

  @Option(names = "--account", defaultValue = "", description = "Account that is charged.")
  private String account;

  @Option(names = "--constraint", defaultValue = "", description = "Features that nodes must have.")
  private String constraint;

  @Option(
      names = "--cores",
      defaultValue = "8",
      paramLabel = "N",
      description = "Cores per array task. Default: ${DEFAULT-VALUE}.")
  private int cores;

  @Option(
      names = "--minutes",
      defaultValue = "30",
      paramLabel = "M",
      description = "Target minutes per array task. Default: ${DEFAULT-VALUE}.")
  private double minutes;

  @Option(
      names = "--program",
      paramLabel = "COMMAND",
      description = "The command that starts this program on a node.")
  private @Nullable String program;

  @SuppressWarnings("NullAway.Init") // filled in by the command line library
  SlurmOptions() {}

  /** Predicts what the render takes, and returns its jobs. */
  SlurmJobs jobs(Path plan, Result result) throws Exception {
    LoadedShot shot = options.withSeed(LoadedShot.load(plan));
    FrameRenderer.Settings settings =
        FrameRenderer.Settings.of(shot, options.scale(), options.samples(), 0, false);
    SlurmJobs.Wishes wishes;
    try {
      wishes = new SlurmJobs.Wishes(partition, account, constraint, cores, minutes);
    } catch (IllegalArgumentException e) {
      throw new ParameterException(
          spec.commandLine(),
          "--partition, --account, --constraint, --cores, --minutes: " + e.getMessage(),
          e);
    }
    List<Integer> range =
        frames == null
            ? shot.plan().requireShot().frames().frames()
            : options.range(frames).frames();
    Surveyor surveyor = new Surveyor(shot, Surveyor.quick(shot, 0));
    ShotSurvey survey = surveyor.survey(range, SURVEYED, p -> result.progress("survey", p));
    TimeEstimate time =
        new TimeEstimate(
            shot,
            survey.traced(),
            HeldFrames.of(shot.plan(), shot.members(), range),
            settings.width(),
            settings.height(),
            settings.samples(),
            settings.threads());
    double seconds = range.stream().mapToDouble(f -> time.frame(f).middle()).sum();
    if (uncut) {
      seconds += range.stream().mapToDouble(f -> time.uncut(f).middle()).sum();
    }
    Path folder = delivery == null ? DeliveryFolders.free(shot) : delivery;
    return new SlurmJobs(
        program == null
            ? Quoting.shell(System.getProperty("wedgecutter.program", "wedgecutter"))
            : program,
        plan,
        folder,
        render(),
        seconds * settings.threads(),
        mebibytes(shot, settings),
        wishes);
  }

  private List<String> render() {
    List<String> out = new ArrayList<>();
    out.addAll(List.of("--scale", String.valueOf(options.scale())));
    if (options.samples() > 0) {
      out.addAll(List.of("--samples", String.valueOf(options.samples())));
    }
    if (frames != null) {
      out.addAll(List.of("--frames", FrameRange.of(options.range(frames).frames()).text()));
    }
    if (uncut) {
      out.add("--uncut");
    }
    options.seed().ifPresent(s -> out.addAll(List.of("--seed", String.valueOf(s))));
    return out;
  }

  /** What lives in memory now, with the sums of a band, which a trial of some lines tells. */
  private static long mebibytes(LoadedShot shot, FrameRenderer.Settings settings) {
    FrameRenderer.Settings trial = FrameRenderer.Settings.of(shot, 0.05, 1, 1, false);
    long bytes =
        new FrameRenderer(shot, trial)
            .render(shot.plan().requireShot().frames().first(), l -> true, true, p -> {})
            .bytes();
    double perPixel = bytes / ((double) trial.width() * trial.height());
    double pixels =
        Math.min((double) settings.width() * settings.height(), DeliveryRenderer.BAND_PIXELS);
    Runtime runtime = Runtime.getRuntime();
    long scene = runtime.totalMemory() - runtime.freeMemory();
    return RUNTIME + (long) Math.ceil((1.5 * scene + 2 * perPixel * pixels) / MEBIBYTE);
  }
}
