package org.wedgecutter.core.testing;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** What the reference implementation of OpenUSD understands of a stage. */
public final class ReferenceStage {
  private static final Path READERS =
      Path.of(System.getProperty("user.dir")).resolve("../scripts/readers").normalize();

  private ReferenceStage() {}

  /**
   * Opens a stage; its folder is given whole.
   *
   * @param attributes what is asked for, as {@code /Prim/path.attribute}
   * @return the composed stage's {@code text} and the {@code values} by attribute
   * @throws AssertionError if the reference refuses the stage
   */
  public static JsonNode read(Path stage, List<String> attributes)
      throws IOException, InterruptedException {
    List<String> words = new ArrayList<>(List.of("stage.cjs"));
    words.add(stage.toAbsolutePath().getParent().toString());
    words.add(stage.getFileName().toString());
    words.addAll(attributes);
    Path out = Files.createTempFile("stage", ".json");
    try {
      run(words, out);
      return new ObjectMapper().readTree(out.toFile());
    } finally {
      Files.delete(out);
    }
  }

  /**
   * Composes many stages: for each {@code root.usda}, {@code .usdc} or {@code .usdz} in a folder
   * below the given one, {@code flat.usda} and {@code flat.usdc} are written beside it.
   *
   * @throws AssertionError if the reference refuses one of them
   */
  public static void flatten(Path folder) throws IOException, InterruptedException {
    Path out = Files.createTempFile("stage", ".txt");
    try {
      run(List.of("flatten.cjs", folder.toString()), out);
    } finally {
      Files.delete(out);
    }
  }

  private static void run(List<String> words, Path out) throws IOException, InterruptedException {
    List<String> all = new ArrayList<>(List.of("node", "--require"));
    all.add(READERS.resolve("browser.cjs").toString());
    all.add(READERS.resolve(words.getFirst()).toString());
    all.addAll(words.subList(1, words.size()));
    Process p =
        new ProcessBuilder(all)
            .redirectOutput(out.toFile())
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    assertThat(p.waitFor(120, TimeUnit.SECONDS)).as("the reference answers").isTrue();
    assertThat(p.exitValue()).as("the reference opens the stage").isZero();
  }
}
