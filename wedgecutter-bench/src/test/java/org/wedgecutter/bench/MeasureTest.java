package org.wedgecutter.bench;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.trace.sample.SamplePattern;

/** Measures are printed for users and for programs; errors are plotted. */
class MeasureTest {
  @TempDir Path dir;

  @Test
  void aTableNamesUnitsAndRatios() {
    List<Measure> two =
        List.of(new Measure("a_ms", "something", 12.345, "ms"), new Measure("b", "a ratio", 2, ""));
    assertThat(Measure.table(two).lines())
        .hasSize(2)
        .satisfiesExactly(
            first -> assertThat(first).startsWith("something").endsWith("12.35 ms"),
            second -> assertThat(second).startsWith("a ratio").endsWith("2.00 times"));
  }

  @Test
  void programsReadItAsJson() {
    var json =
        Result.tree(
            Measure.all(
                List.of(new Measure("a_ms", "x", 1.5, "ms"), new Measure("b", "y", 2, ""))));
    assertThat(json.path("a_ms").asDouble()).isEqualTo(1.5);
    assertThat(json.path("b").asDouble()).isEqualTo(2);
    assertThat(json.size()).isEqualTo(2);
  }

  @Test
  void noiseIsWrittenWithItsPattern() {
    var json =
        Result.tree(
            new NoiseBench.Noise(
                List.of(
                    new NoiseBench.Line("attic", SamplePattern.OWEN_SOBOL, 4, 0, 0.5, 0.1, 2))));
    var line = json.path("noise").path(0);
    assertThat(line.path("pattern").asText()).isEqualTo("owen_sobol");
    assertThat(line.has("points")).isFalse();
    assertThat(line.path("samples").asInt()).isEqualTo(4);
    assertThat(line.path("error").asDouble()).isEqualTo(0.5);
  }

  @Test
  void theMedianLeavesTheFirstThirdOut() {
    double[] next = {100, 100, 100, 1, 2, 3, 4, 5, 6};
    int[] at = {0};
    assertThat(Measure.median(9, () -> next[at[0]++])).isEqualTo(4);
    assertThat(Measure.median(List.of(3.0, 1.0, 2.0))).isEqualTo(2);
  }

  @Test
  void errorsArePlottedForEachShot() throws Exception {
    List<NoiseBench.Line> lines = new ArrayList<>();
    for (SamplePattern points : SamplePattern.values()) {
      for (int samples = 1; samples <= 8; samples *= 2) {
        lines.add(
            new NoiseBench.Line(
                "attic", points, samples, 0, 0.5 / samples, 0.01 / samples, 0.1 * samples));
        lines.add(new NoiseBench.Line("attic", points, samples, 1, 0.1, 0.01, samples));
      }
    }
    List<NoiseBench.Line> before =
        lines.stream()
            .filter(l -> l.points() == SamplePattern.OWEN_SOBOL && l.filtered() == 0)
            .toList();
    NoisePlots.draw(lines, before, dir);
    for (String name : List.of("attic-samples.png", "attic-afar.png", "attic-seconds.png")) {
      var image = javax.imageio.ImageIO.read(Files.newInputStream(dir.resolve(name)));
      assertThat(image.getWidth()).isEqualTo(560);
      assertThat(image.getHeight()).isEqualTo(400);
    }
  }
}
