package org.wedgecutter.bench;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.io.IOException;
import java.io.PrintWriter;
import java.lang.management.ManagementFactory;
import java.lang.management.ThreadMXBean;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.DoubleSupplier;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.trace.MeshRays;

/**
 * Times rays against triangles that are read from files, little-endian without gaps:
 *
 * <ul>
 *   <li>triangles: int 0x314F4547, int corners, int triangles, float xyz for each corner, int index
 *       for each corner of a triangle;
 *   <li>rays: int 0x31594152, int sets; of each set 16 bytes of name, int rays, and eight floats a
 *       ray: origin, least distance, direction, greatest distance.
 * </ul>
 */
final class RayBench {
  private static final int GEOMETRY = 0x314F4547;
  private static final int RAYS = 0x31594152;
  private static final int CHUNK = 2048;
  private static final int WARM = 4;
  private static final int ROUNDS = 7;
  private static final long WARM_NANOS = 2_000_000_000L;
  private static final long ROUND_NANOS = 4_000_000_000L;

  private static final ThreadMXBean CPU = ManagementFactory.getThreadMXBean();

  private RayBench() {}

  /** A set of rays. */
  private record RaySet(String name, float[] rays) {
    int count() {
      return rays.length / 8;
    }
  }

  /** Reads both files and measures. */
  static Times run(Path geometry, Path rays) throws IOException {
    ByteBuffer g = read(geometry, GEOMETRY);
    int corners = g.getInt();
    int triangles = g.getInt();
    check(geometry, corners >= 0 && triangles >= 0, "numbers of corners and triangles");
    check(geometry, g.remaining() == 12L * corners + 12L * triangles, "as much data as it says");
    float[] xyz = new float[3 * corners];
    int[] index = new int[3 * triangles];
    g.asFloatBuffer().get(xyz);
    g.position(g.position() + 12 * corners);
    g.asIntBuffer().get(index);
    for (int i : index) {
      check(geometry, i >= 0 && i < corners, "indices below " + corners);
    }
    List<RaySet> sets = sets(rays);
    return measure(xyz, index, sets);
  }

  private static ByteBuffer read(Path file, int magic) throws IOException {
    try (FileChannel in = FileChannel.open(file, StandardOpenOption.READ)) {
      check(file, in.size() >= 8 && in.size() < Integer.MAX_VALUE, "8 bytes to 2 gigabytes");
      ByteBuffer all =
          in.map(FileChannel.MapMode.READ_ONLY, 0, in.size()).order(ByteOrder.LITTLE_ENDIAN);
      check(file, all.getInt() == magic, "0x%08X at its beginning".formatted(magic));
      return all;
    }
  }

  private static void check(Path file, boolean right, String expected) throws InputException {
    if (!right) {
      throw new InputException(file, "", "expected " + expected);
    }
  }

  private static List<RaySet> sets(Path file) throws IOException {
    ByteBuffer r = read(file, RAYS);
    int count = r.getInt();
    List<RaySet> out = new ArrayList<>();
    for (int s = 0; s < count; s++) {
      check(file, r.remaining() >= 20, "a name and a number for set " + s);
      byte[] name = new byte[16];
      r.get(name);
      int rays = r.getInt();
      check(file, rays >= 0 && r.remaining() >= 32L * rays, "eight numbers a ray in set " + s);
      float[] values = new float[8 * rays];
      r.asFloatBuffer().get(values);
      r.position(r.position() + 32 * rays);
      out.add(
          new RaySet(new String(name, StandardCharsets.UTF_8).trim().replace("\0", ""), values));
    }
    return out;
  }

  // ---- measures

  /**
   * Times of one set of rays.
   *
   * @param name its name in the file
   * @param rays how many
   * @param closest1 millions of rays a second to the nearest hit, one thread
   * @param closest2 the same, two threads
   * @param closestCpu the same, one thread by its own clock
   * @param any1 millions of rays a second to any hit, one thread
   * @param any2 the same, two threads
   * @param anyCpu the same, one thread by its own clock
   * @param closestHits rays that hit something
   * @param anyHits the same, found as any hit
   * @param sumT sum of the distances of nearest hits
   */
  record SetTimes(
      String name,
      int rays,
      @JsonProperty("closest_mrays_1t") double closest1,
      @JsonProperty("closest_mrays_2t") double closest2,
      @JsonProperty("closest_mrays_1t_cpu") double closestCpu,
      @JsonProperty("any_mrays_1t") double any1,
      @JsonProperty("any_mrays_2t") double any2,
      @JsonProperty("any_mrays_1t_cpu") double anyCpu,
      long closestHits,
      long anyHits,
      @JsonProperty("closest_sum_t") double sumT) {}

  /**
   * Times of a geometry and its sets of rays.
   *
   * @param build1 seconds to build the trees, one thread
   * @param build2 the same, two threads
   * @param buildCpu the same, one thread by its own clock
   * @param vector whether rays were cast with vector instructions
   */
  record Times(
      int triangles,
      @JsonProperty("build_s_1t") double build1,
      @JsonProperty("build_s_2t") double build2,
      @JsonProperty("build_cpu_s_1t") double buildCpu,
      boolean vector,
      List<SetTimes> sets) {}

  private static Times measure(float[] xyz, int[] index, List<RaySet> sets) {
    double[] cpu = new double[1];
    MeshRays[] made = new MeshRays[1];
    double one = median(2, 3, () -> build(xyz, index, 1, cpu, made));
    double two = median(0, 3, () -> build(xyz, index, 2, new double[1], made));
    MeshRays mesh = made[0];
    List<SetTimes> out = new ArrayList<>();
    for (RaySet set : sets) {
      out.add(measure(mesh, set));
    }
    return new Times(index.length / 3, one, two, cpu[0], MeshRays.vector(), out);
  }

  private static double build(
      float[] xyz, int[] index, int threads, double[] cpu, MeshRays[] made) {
    try (ForkJoinPool pool = new ForkJoinPool(threads)) {
      return pool.submit(
              () -> {
                long c = CPU.getCurrentThreadCpuTime();
                long start = System.nanoTime();
                made[0] = new MeshRays(xyz, index);
                cpu[0] = (CPU.getCurrentThreadCpuTime() - c) / 1e9;
                return (System.nanoTime() - start) / 1e9;
              })
          .join();
    }
  }

  private static SetTimes measure(MeshRays mesh, RaySet set) {
    long[] hits = new long[1];
    double[] sum = new double[1];
    double[] closest = times(mesh, set, true, hits, sum);
    long closestHits = hits[0];
    double t = sum[0];
    double[] any = times(mesh, set, false, hits, sum);
    return new SetTimes(
        set.name,
        set.count(),
        closest[0],
        closest[1],
        closest[2],
        any[0],
        any[1],
        any[2],
        closestHits,
        hits[0],
        t);
  }

  /** Millions of rays a second on one thread, on two, and on one by its own clock. */
  private static double[] times(
      MeshRays mesh, RaySet set, boolean closest, long[] hits, double[] sum) {
    MeshRays.Thread[] threads = {mesh.thread(), mesh.thread()};
    double n = set.count() / 1e6;
    double[] cpu = new double[1];
    List<Double> own = new ArrayList<>();
    double one =
        median(
            WARM,
            ROUNDS,
            () -> {
              long c = CPU.getCurrentThreadCpuTime();
              long start = System.nanoTime();
              hits[0] = cast(threads[0], set, closest, 0, set.count(), sum);
              double took = (System.nanoTime() - start) / 1e9;
              cpu[0] = (CPU.getCurrentThreadCpuTime() - c) / 1e9;
              own.add(cpu[0]);
              return took;
            });
    double two =
        median(
            1,
            ROUNDS,
            () -> {
              long start = System.nanoTime();
              both(threads, set, closest);
              return (System.nanoTime() - start) / 1e9;
            });
    return new double[] {n / one, n / two, n / middle(own.subList(own.size() / 2, own.size()))};
  }

  private static long cast(
      MeshRays.Thread thread, RaySet set, boolean closest, int from, int to, double[] sum) {
    float[] rays = set.rays;
    long hits = 0;
    double total = 0;
    for (int r = from; r < to; r++) {
      if (closest) {
        float t = thread.closest(rays, 8 * r);
        if (!Float.isNaN(t)) {
          hits++;
          total += t;
        }
      } else if (thread.any(rays, 8 * r)) {
        hits++;
      }
    }
    sum[0] = total;
    return hits;
  }

  private static void both(MeshRays.Thread[] threads, RaySet set, boolean closest) {
    AtomicInteger next = new AtomicInteger();
    List<Thread> running = new ArrayList<>();
    for (MeshRays.Thread thread : threads) {
      running.add(
          Thread.ofPlatform()
              .start(() -> {
                double[] ignored = new double[1];
                for (int from = next.getAndAdd(CHUNK);
                    from < set.count();
                    from = next.getAndAdd(CHUNK)) {
                  cast(thread, set, closest, from, Math.min(set.count(), from + CHUNK), ignored);
                }
              }));
    }
    for (Thread t : running) {
      try {
        t.join();
      } catch (InterruptedException e) {
        throw new IllegalStateException(e);
      }
    }
  }

  /** The median of some rounds after warm-up: fewer where they take long. */
  private static double median(int warm, int rounds, DoubleSupplier measure) {
    List<Double> out = new ArrayList<>();
    long until = System.nanoTime() + WARM_NANOS;
    for (int k = 0; k < warm && (k < 2 || System.nanoTime() < until); k++) {
      var _ = measure.getAsDouble();
    }
    until = System.nanoTime() + ROUND_NANOS;
    for (int k = 0; k < rounds && (k < 3 || System.nanoTime() < until); k++) {
      out.add(measure.getAsDouble());
    }
    return middle(out);
  }

  private static double middle(List<Double> values) {
    List<Double> sorted = new ArrayList<>(values);
    Collections.sort(sorted);
    return sorted.get(sorted.size() / 2);
  }

  /** Prints times for users. */
  static void table(Times times, PrintWriter out) {
    out.printf(
        "%d triangles: built in %.3f s by one thread, %.3f s by two%n",
        times.triangles, times.build1, times.build2);
    out.println(
        "millions of rays a second     closest 1 thread  2 threads   any 1 thread  2 threads");
    for (SetTimes s : times.sets) {
      out.printf(
          "%-30s %10.3f %10.3f     %10.3f %10.3f%n",
          s.name, s.closest1, s.closest2, s.any1, s.any2);
    }
  }
}
