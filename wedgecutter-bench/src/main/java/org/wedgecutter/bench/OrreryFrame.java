package org.wedgecutter.bench;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntPredicate;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.proof.Residual;
import org.wedgecutter.core.proof.Tolerance;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.resolve.ResolvedShot;

/** Frame 1 of the demo at its full size, traced to a few samples: what cutting live works on. */
final class OrreryFrame {
  static final int WIDTH = 960;
  static final int HEIGHT = 540;

  final LoadedShot shot;
  private final ResolvedShot resolved;
  private final JobPlan jobs;
  private final List<FragmentSums> sums = new ArrayList<>();

  OrreryFrame(Path demo, int samples) throws InputException {
    shot = LoadedShot.load(demo.resolve("orrery/orrery.wedge"));
    resolved = shot.resolve(1);
    jobs = new JobPlan(resolved, l -> true, true, c -> c.equals(resolved.uncut()));
    jobs.jobs().forEach(j -> sums.add(new FragmentSums(j, WIDTH, HEIGHT)));
    var frame = shot.frame(1);
    new FrameTrace(f -> frame, shot.camera(), sums)
        .run(samples, Runtime.getRuntime().availableProcessors(), p -> {});
  }

  /**
   * Moves the hero to a layer and makes the two pictures that change, as the window does after the
   * edit: resolving the plan, finding the light, regrouping.
   */
  float moveHero(String layer, String from) {
    Plan plan = PlanEdits.seenOnlyIn(shot.plan(), layer, "Hero");
    LoadedShot next = shot.withPlan(plan);
    ResolvedShot now = next.resolve(1);
    JobPlan nextJobs = new JobPlan(now, l -> true, true, c -> c.equals(now.uncut()));
    List<FragmentSums> found = new ArrayList<>();
    nextJobs
        .jobs()
        .forEach(j -> found.add(sums.stream().filter(s -> s.covers(j)).findFirst().orElseThrow()));
    LayerPictures pictures = new LayerPictures(now, nextJobs, found);
    return pictures.layer(plan.layerIndex(layer)).rgba()[0]
        + pictures.layer(plan.layerIndex(from)).rgba()[0];
  }

  /** Makes one layer's picture. */
  float regroup(int layer) {
    return new LayerPictures(resolved, jobs, sums).layer(layer).rgba()[0];
  }

  /** Makes all layers, rejoins them and compares with the uncut frame. */
  double proof() {
    LayerPictures pictures = new LayerPictures(resolved, jobs, sums);
    var rejoined =
        Rejoiner.rejoin(
            shot.plan().recipe(), WIDTH, HEIGHT, new TracedSource(shot.plan(), pictures));
    return Residual.of(rejoined, Tolerance.of(pictures.uncut())).max();
  }

  /**
   * Traces some layers and the uncut frame at a quarter of the size and returns seconds.
   *
   * @param layers which layers
   * @param uncut whether the uncut frame is traced
   */
  static double seconds(
      LoadedShot shot, IntPredicate layers, boolean uncut, int samples, int threads) {
    ResolvedShot resolved = shot.resolve(1);
    JobPlan plan = new JobPlan(resolved, layers, uncut, c -> false);
    var frame = shot.frame(1);
    List<FragmentSums> all = new ArrayList<>();
    plan.jobs().forEach(j -> all.add(new FragmentSums(j, WIDTH / 4, HEIGHT / 4)));
    long start = System.nanoTime();
    new FrameTrace(f -> frame, shot.camera(), all).run(samples, threads, p -> {});
    return (System.nanoTime() - start) / 1e9;
  }
}
