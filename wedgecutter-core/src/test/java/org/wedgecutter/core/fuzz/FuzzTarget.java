package org.wedgecutter.core.fuzz;

import java.io.IOException;
import java.nio.file.Files;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Where a fuzzer hands in its inputs; the kind is named by a system property. */
public final class FuzzTarget {
  private static @Nullable InputKind kind;
  private static @Nullable Ground ground;

  private FuzzTarget() {}

  /** Makes what all inputs are used with; does not count as time of the first one. */
  public static void fuzzerInitialize() throws IOException {
    kind = InputKind.valueOf(System.getProperty("wedgecutter.fuzz"));
    ground = Ground.make(Files.createTempDirectory("fuzz"));
    for (byte[] seed : FuzzSeeds.of(kind, ground)) {
      kind.ends(seed, ground);
    }
  }

  public static void fuzzerTestOneInput(byte[] bytes) {
    Objects.requireNonNull(kind).ends(bytes, Objects.requireNonNull(ground));
  }
}
