package org.wedgecutter.bench;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * Prints the README's table of measures for this machine. Each ratio is of two things measured in
 * turn in this one run.
 */
public final class BenchMain {
  private BenchMain() {}

  /**
   * Takes {@code --json}, and instead of the table {@code --rays GEOM RAYS} to time rays against
   * triangles, or {@code --noise} to measure errors of the demos' frames; with a folder these are
   * plotted.
   */
  public static void main(String[] args) {
    List<String> left = new ArrayList<>(List.of(args));
    boolean json = left.remove("--json");
    try {
      if (left.size() == 3 && left.getFirst().equals("--rays")) {
        RayBench.run(Path.of(left.get(1)), Path.of(left.get(2)), json);
      } else if (left.size() <= 2 && !left.isEmpty() && left.getFirst().equals("--noise")) {
        NoiseBench.run(demo(), left.size() == 2 ? Path.of(left.get(1)) : null, json);
      } else if (left.equals(List.of("--memory"))) {
        MemoryBench.run(demo(), json);
      } else if (left.isEmpty()) {
        table(json);
      } else {
        System.err.println(
            "wedgecutter: bench takes --json, and --rays GEOM RAYS, --noise [FOLDER], --memory, or nothing");
        System.exit(2);
      }
    } catch (IOException e) {
      System.err.println("wedgecutter: " + e.getMessage());
      System.exit(2);
    }
  }

  private static Path demo() {
    return Path.of(System.getProperty("wedgecutter.demo", "demo"));
  }

  private static void table(boolean json) throws IOException {
    List<Measure> out = new ArrayList<>();
    System.err.println("tracing the demo's first frame ...");
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
    System.err.println("layers together and apart ...");
    SharingBench.layers(frame.shot, out);
    SharingBench.allocation(frame.shot, out);
    InstanceBench.run(out);
    System.out.println(json ? Measure.json(out) : Measure.table(out));
  }
}
