package org.wedgecutter.cli;

import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Shot;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Spec;

/** Options of the commands that trace. */
final class Options {
  private static final double MAX_SCALE = 8;

  @Spec(Spec.Target.MIXEE)
  private CommandSpec spec;

  @Option(
      names = "--scale",
      defaultValue = "1",
      paramLabel = "FACTOR",
      description = "Size of the pictures relative to the plan, up to 8.")
  private double scale;

  @Option(
      names = "--samples",
      defaultValue = "0",
      paramLabel = "N",
      description = "Samples per pixel. Default: as in the plan.")
  private int samples;

  @Option(names = "--separately", description = "Trace each layer on its own.")
  private boolean separately;

  @Option(names = "--seed", paramLabel = "N", description = "Seed. Default: as in the plan.")
  private @Nullable Long seed;

  @SuppressWarnings("NullAway.Init") // filled in by the command line library
  Options() {}

  double scale() {
    if (!(scale > 0 && scale <= MAX_SCALE)) {
      throw new ParameterException(
          spec.commandLine(),
          "--scale: %s, expected a factor above 0 and up to 8".formatted(scale));
    }
    return scale;
  }

  int samples() {
    if (samples < 0) {
      throw new ParameterException(
          spec.commandLine(), "--samples: %d, expected 1 or more".formatted(samples));
    }
    return samples;
  }

  boolean separately() {
    return separately;
  }

  /** Reads the value of {@code --frames}. */
  FrameRange range(String text) {
    try {
      return FrameRange.parse(text);
    } catch (IllegalArgumentException e) {
      throw new ParameterException(spec.commandLine(), "--frames: " + e.getMessage(), e);
    }
  }

  Optional<Long> seed() {
    return Optional.ofNullable(seed);
  }

  LoadedShot withSeed(LoadedShot shot) {
    Long asked = seed;
    if (asked == null) {
      return shot;
    }
    Shot s = shot.plan().requireShot();
    return shot.withPlan(shot.plan().withShot(s.with(d -> d.seed = asked)));
  }
}
