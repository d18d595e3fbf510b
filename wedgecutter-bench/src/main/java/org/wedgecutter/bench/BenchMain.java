package org.wedgecutter.bench;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.function.DoubleSupplier;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.shot.LoadedShot;

/**
 * Prints the README's table of measures for this machine. Each ratio is of two things measured in
 * turn in this one run.
 */
public final class BenchMain {
  private static final int ROUNDS = 5;
  private static final int SAMPLES = 4;

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
      } else if (left.isEmpty()) {
        table(json);
      } else {
        System.err.println(
            "wedgecutter: bench takes --json, and --rays GEOM RAYS, or --noise [FOLDER], or nothing");
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

  private static void table(boolean json) throws InputException {
    Path demo = demo();
    System.err.println("tracing the demo's first frame ...");
    OrreryFrame frame = new OrreryFrame(demo, 2);
    LoadedShot shot = frame.shot;
    boolean[] there = {false};
    double move =
        median(
            60,
            () -> {
              there[0] = !there[0];
              long start = System.nanoTime();
              frame.moveHero(there[0] ? "Foreground" : "Hero", there[0] ? "Hero" : "Foreground");
              return (System.nanoTime() - start) / 1e6;
            });
    double proof =
        median(
            20,
            () -> {
              long start = System.nanoTime();
              frame.proof();
              return (System.nanoTime() - start) / 1e6;
            });
    List<Double> all = new ArrayList<>();
    List<Double> apart = new ArrayList<>();
    OrreryFrame.seconds(shot, l -> false, true, SAMPLES);
    for (int round = 0; round < ROUNDS; round++) {
      double uncut = OrreryFrame.seconds(shot, l -> false, true, SAMPLES);
      double shared = OrreryFrame.seconds(shot, l -> true, true, SAMPLES);
      double separate = OrreryFrame.seconds(shot, l -> false, true, SAMPLES);
      for (int l = 0; l < shot.plan().layers().size(); l++) {
        int only = l;
        separate += OrreryFrame.seconds(shot, k -> k == only, false, SAMPLES);
      }
      all.add(shared / uncut);
      apart.add(separate / uncut);
    }
    print(json, move, proof, median(all), median(apart));
  }

  private static double median(int count, DoubleSupplier measure) {
    List<Double> values = new ArrayList<>();
    for (int k = 0; k < count; k++) {
      double value = measure.getAsDouble();
      // the first third is warm-up
      if (k >= count / 3) {
        values.add(value);
      }
    }
    return median(values);
  }

  private static double median(List<Double> values) {
    List<Double> sorted = new ArrayList<>(values);
    Collections.sort(sorted);
    return sorted.get(sorted.size() / 2);
  }

  private static void print(boolean json, double move, double proof, double all, double apart) {
    if (json) {
      System.out.printf(
          "{\"move_hero_ms\": %.2f, \"proof_ms\": %.2f, \"six_layers_to_uncut\": %.3f, \"separately_to_uncut\": %.3f}%n",
          move, proof, all, apart);
      return;
    }
    System.out.printf(
        "moving the hero between two layers, 960 x 540     %6.1f ms (median)%n", move);
    System.out.printf(
        "six layers, rejoined and compared, 960 x 540      %6.1f ms (median)%n", proof);
    System.out.printf(
        "all six layers and the uncut frame, two classes   %6.2f times the uncut frame alone%n",
        all);
    System.out.printf(
        "the same, every layer traced by itself            %6.2f times the uncut frame alone%n",
        apart);
  }
}
