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
    Path out = Files.createTempFile("stage", ".json");
    try {
      List<String> words =
          new ArrayList<>(
              List.of(
                  "node",
                  "--require",
                  READERS.resolve("browser.cjs").toString(),
                  READERS.resolve("stage.cjs").toString(),
                  stage.toAbsolutePath().getParent().toString(),
                  stage.getFileName().toString()));
      words.addAll(attributes);
      Process p =
          new ProcessBuilder(words)
              .redirectOutput(out.toFile())
              .redirectError(ProcessBuilder.Redirect.INHERIT)
              .start();
      assertThat(p.waitFor(60, TimeUnit.SECONDS)).as("the reference answers").isTrue();
      assertThat(p.exitValue()).as("the reference opens the stage").isZero();
      return new ObjectMapper().readTree(out.toFile());
    } finally {
      Files.delete(out);
    }
  }
}
