package org.wedgecutter.cli;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Shot;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.ParameterException;

/** What several commands do with the same options. */
final class Options {
  private static final double MAX_SCALE = 8;

  private Options() {}

  static void checkScale(CommandSpec spec, double scale) {
    if (!(scale > 0 && scale <= MAX_SCALE)) {
      throw new ParameterException(
          spec.commandLine(), "--scale: %s, expected more than 0 and at most 8".formatted(scale));
    }
  }

  static LoadedShot withSeed(LoadedShot shot, @Nullable Long seed) {
    if (seed == null) {
      return shot;
    }
    Shot s = shot.plan().requireShot();
    return shot.withPlan(shot.plan().withShot(s.with(d -> d.seed = seed)));
  }
}
