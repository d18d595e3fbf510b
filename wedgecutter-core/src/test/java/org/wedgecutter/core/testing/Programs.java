package org.wedgecutter.core.testing;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;

/** Programs that are not ours. */
public final class Programs {
  /** Tag of tests that start programs: too slow to be repeated for each of a thousand mutants. */
  public static final String TAG = "programs";

  private Programs() {}

  /** Runs a program in a folder, which must succeed, and returns what it says. */
  public static String run(Path folder, String... command) throws IOException {
    Process process =
        new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true).start();
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    try {
      assertThat(process.waitFor()).as("%s: %s", List.of(command), out).isZero();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException("interrupted", e);
    }
    return out;
  }
}
