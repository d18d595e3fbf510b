package org.wedgecutter.bench;

import java.lang.ref.Reference;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.trace.MeshRays;

/**
 * Memory that large scenes and large pictures take. What is kept is measured after collection; that
 * a scene can be built within a heap is shown by running this with that heap ({@code -Xmx}).
 */
final class MemoryBench {
  private static final int SIDE = 1582;
  private static final long FRAME_HEAP = 3_000_000_000L;
  private static final int PLACES = 100;
  private static final int WIDTH = 1920;
  private static final int HEIGHT = 1080;

  private MemoryBench() {}

  static List<Measure> run(Path demo) throws InputException {
    List<Measure> out = new ArrayList<>();
    scene(out);
    if (Runtime.getRuntime().maxMemory() > FRAME_HEAP) {
      sums(demo, out);
    } else {
      System.err.println("no sums of a large frame: the heap is kept below what they are granted");
    }
    return out;
  }

  private static void scene(List<Measure> out) {
    float[] xyz = new float[3 * (SIDE + 1) * (SIDE + 1)];
    for (int k = 0; k < xyz.length / 3; k++) {
      int x = k % (SIDE + 1);
      int z = k / (SIDE + 1);
      xyz[3 * k] = 0.01f * x;
      xyz[3 * k + 1] = 0.3f * (float) (Math.sin(0.01 * x) * Math.cos(0.013 * z));
      xyz[3 * k + 2] = 0.01f * z;
    }
    int[] index = InstanceBench.faces(SIDE);
    float[][] places = new float[PLACES][];
    for (int p = 0; p < PLACES; p++) {
      places[p] = new float[] {16f * (p % 10), 0, 16f * (p / 10)};
    }
    long start = System.nanoTime();
    MeshRays mesh = new MeshRays(xyz, index, places);
    double seconds = (System.nanoTime() - start) / 1e9;
    int triangles = index.length / 3;
    MeshRays.Thread thread = mesh.thread();
    int hits = 0;
    for (int r = 0; r < 200_000; r++) {
      float[] ray = {0.0007f * r, 5, 0.0006f * r, 0, 0.1f, -1, 0.05f, 1e9f};
      hits += Float.isNaN(thread.closest(ray, 0)) ? 0 : 1;
    }
    out.add(
        new Measure(
            "triangles_millions",
            "triangles of a mesh, of which %d instances were traced (%d hits)"
                .formatted(PLACES, hits),
            triangles / 1e6,
            "million"));
    out.add(new Measure("triangles_seconds", "its trees were built in", seconds, "s"));
    out.add(new Measure("triangles_gb", "heap in use with it, its source included", used(), "GB"));
    Reference.reachabilityFence(thread);
    Reference.reachabilityFence(xyz);
    Reference.reachabilityFence(index);
    out.add(
        new Measure(
            "heap_gb", "heap that there was", Runtime.getRuntime().maxMemory() / 1e9, "GB"));
    if (hits == 0) {
      throw new IllegalStateException("no ray met anything");
    }
  }

  private static double used() {
    System.gc();
    Runtime r = Runtime.getRuntime();
    return (r.totalMemory() - r.freeMemory()) / 1e9;
  }

  private static void sums(Path demo, List<Measure> out) throws InputException {
    LoadedShot plain = LoadedShot.load(demo.resolve("orrery/orrery.wedge"));
    Output every =
        plain.plan().output().withPasses(true).withMore(EnumSet.allOf(Output.More.class));
    LoadedShot shot = plain.withPlan(plain.plan().withOutput(every));
    ResolvedShot resolved = shot.resolve(1);
    JobPlan plan = new JobPlan(resolved, l -> true, true, c -> c.equals(resolved.uncut()));
    var frame = shot.frame(1);
    List<FragmentSums> sums = new ArrayList<>();
    plan.jobs().forEach(j -> sums.add(new FragmentSums(j, WIDTH, HEIGHT)));
    new FrameTrace(f -> frame, shot.camera(), sums).run(2, 2, p -> {});
    long bytes = sums.stream().mapToLong(FragmentSums::bytes).sum();
    out.add(
        new Measure(
            "sums_1080_gb",
            "sums of the orrery's %d layers with all passes, 1920 x 1080, 2 samples"
                .formatted(shot.plan().layers().size()),
            bytes / 1e9,
            "GB"));
  }
}
