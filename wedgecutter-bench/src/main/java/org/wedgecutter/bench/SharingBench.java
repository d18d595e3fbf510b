package org.wedgecutter.bench;

import com.sun.management.ThreadMXBean;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.IntPredicate;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedShot;

/** What layers cost together, how a trace grows with threads, and what regrouping costs. */
final class SharingBench {
  private static final int ROUNDS = 5;
  private static final int SAMPLES = 4;
  private static final int ENTITIES = 100;

  private SharingBench() {}

  /** Layers of the demo against its uncut frame, measured in turn. */
  static void layers(LoadedShot shot, List<Measure> out) {
    ResolvedShot resolved = shot.resolve(1);
    // a catcher needs the class without its casters too
    IntPredicate ofUncut =
        l ->
            resolved.layers().get(l).transport().equals(resolved.uncut())
                && resolved.layers().get(l).catcher() == null;
    long count =
        java.util.stream.IntStream.range(0, resolved.layers().size()).filter(ofUncut).count();
    List<Double> one = new ArrayList<>();
    List<Double> all = new ArrayList<>();
    List<Double> apart = new ArrayList<>();
    List<Double> threads = new ArrayList<>();
    int processors = Runtime.getRuntime().availableProcessors();
    OrreryFrame.seconds(shot, l -> true, true, 2 * SAMPLES, processors);
    for (int round = 0; round < ROUNDS; round++) {
      double uncut = OrreryFrame.seconds(shot, l -> false, true, SAMPLES, processors);
      one.add(OrreryFrame.seconds(shot, ofUncut, true, SAMPLES, processors) / uncut);
      all.add(OrreryFrame.seconds(shot, l -> true, true, SAMPLES, processors) / uncut);
      double separate = uncut;
      for (int l = 0; l < shot.plan().layers().size(); l++) {
        int only = l;
        separate += OrreryFrame.seconds(shot, k -> k == only, false, SAMPLES, processors);
      }
      apart.add(separate / uncut);
      double single = OrreryFrame.seconds(shot, l -> false, true, SAMPLES, 1);
      threads.add(OrreryFrame.seconds(shot, l -> false, true, SAMPLES, 2) / single);
    }
    out.add(
        new Measure(
            "one_class_to_uncut",
            "uncut frame and the %d layers of its class, to the uncut frame".formatted(count),
            Measure.median(one),
            ""));
    out.add(
        new Measure(
            "all_layers_to_uncut",
            "uncut frame and all %d layers, %d traces, to the uncut frame"
                .formatted(
                    shot.plan().layers().size(),
                    new JobPlan(resolved, l -> true, true, c -> false).jobs().size()),
            Measure.median(all),
            ""));
    out.add(
        new Measure(
            "separately_to_uncut",
            "the same, every layer traced by itself",
            Measure.median(apart),
            ""));
    out.add(new Measure("two_threads_to_one", "two threads to one", Measure.median(threads), ""));
  }

  /** Bytes that a thread allocates for a sample once a picture's sums have their room. */
  static void allocation(LoadedShot shot, List<Measure> out) {
    ResolvedShot resolved = shot.resolve(1);
    JobPlan plan = new JobPlan(resolved, l -> true, true, c -> false);
    var frame = shot.frame(1);
    List<FragmentSums> sums = new ArrayList<>();
    int width = OrreryFrame.WIDTH / 8;
    int height = OrreryFrame.HEIGHT / 8;
    plan.jobs().forEach(j -> sums.add(new FragmentSums(j, width, height)));
    FrameTrace trace = new FrameTrace(f -> frame, shot.camera(), sums);
    trace.run(96, 1, p -> {});
    ThreadMXBean bean = (ThreadMXBean) ManagementFactory.getThreadMXBean();
    long before = bean.getCurrentThreadAllocatedBytes();
    trace.run(192, 1, p -> {});
    long bytes = bean.getCurrentThreadAllocatedBytes() - before;
    out.add(
        new Measure(
            "allocated_per_sample",
            "allocated for a sample, workers and growing sums included",
            bytes / (96.0 * width * height * sums.size()),
            "bytes"));
  }

  /**
   * Regrouping pictures of a scene of a hundred entities, half of which are in the layer; and the
   * same layer beside ten times as many that it does not show.
   */
  static void regroup(List<Measure> out) throws IOException {
    Path folder = Files.createTempDirectory("wedgecutter-bench");
    try {
      Cards few = new Cards(folder, 0);
      Cards many = new Cards(folder, 900);
      List<Double> alone = new ArrayList<>();
      List<Double> beside = new ArrayList<>();
      for (int round = 0; round < 60; round++) {
        double first = few.regroup();
        alone.add(first);
        beside.add(many.regroup() / first);
      }
      out.add(
          new Measure(
              "regroup_100_ms",
              "regrouping 960 x 540 pixels of a scene of %d entities".formatted(few.entities),
              Measure.median(alone),
              "ms"));
      out.add(
          new Measure(
              "regroup_beside_1000",
              "the same layer in a scene of %d entities, to that".formatted(many.entities),
              Measure.median(beside),
              ""));
    } finally {
      Files.deleteIfExists(folder.resolve("cards.usda"));
      Files.deleteIfExists(folder);
    }
  }

  /** A traced picture of cards. */
  private static final class Cards {
    final int entities;
    private final FragmentSums sums;
    private final EntitySet half;
    private double sink;

    /**
     * @param more small ones in front of all, which the layer does not show
     */
    Cards(Path folder, int more) throws IOException {
      Path file = folder.resolve("cards.usda");
      Files.writeString(file, cards(more));
      LoadedShot shot = LoadedShot.load(file);
      ResolvedShot resolved = shot.resolve(1);
      JobPlan plan = new JobPlan(resolved, l -> true, true, c -> true);
      var frame = shot.frame(1);
      sums = new FragmentSums(plan.jobs().getFirst(), OrreryFrame.WIDTH, OrreryFrame.HEIGHT);
      new FrameTrace(f -> frame, shot.camera(), List.of(sums)).run(2, 2, p -> {});
      entities = resolved.entities();
      half = EntitySet.where(entities, e -> e < ENTITIES && e % 2 == 0);
    }

    double regroup() {
      return Measure.milliseconds(() -> sink += sums.picture(0, half).rgba()[0]);
    }
  }

  private static String cards(int more) {
    StringBuilder s =
        new StringBuilder("#usda 1.0\n(\n    upAxis = \"Y\"\n    metersPerUnit = 1\n)\n");
    s.append("def Camera \"camera\"\n{\n    float focalLength = 20\n")
        .append("    float horizontalAperture = 36\n    float verticalAperture = 20.25\n")
        .append("    double3 xformOp:translate = (0, 0, 12)\n")
        .append("    uniform token[] xformOpOrder = [\"xformOp:translate\"]\n}\n");
    for (int k = 0; k < ENTITIES; k++) {
      // one behind another, so that pixels have several
      card(s, k, 2.0 * (k % 10) - 9, k / 10 - 4.5, -0.3 * (k % 7), 1.2);
    }
    for (int k = 0; k < more; k++) {
      card(s, ENTITIES + k, 0.6 * (k % 30) - 8.7, 0.3 * (k / 30) - 4.4, 1, 0.15);
    }
    return s.toString();
  }

  private static void card(StringBuilder s, int k, double x, double y, double z, double wide) {
    double high = wide * 0.6;
    s.append(
        String.format(
            Locale.ROOT,
            "def Mesh \"card%d\"\n{\n    int[] faceVertexCounts = [4]\n    int[] faceVertexIndices = [0, 1, 2, 3]\n    point3f[] points = [(%f, %f, %f), (%f, %f, %f), (%f, %f, %f), (%f, %f, %f)]\n}\n",
            k,
            x - wide,
            y - high,
            z,
            x + wide,
            y - high,
            z,
            x + wide,
            y + high,
            z,
            x - wide,
            y + high,
            z));
  }
}
