package org.wedgecutter.core.fragment;

import java.lang.management.ManagementFactory;
import java.lang.management.ThreadMXBean;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CancellationException;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.DoubleConsumer;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.trace.Interplay;
import org.wedgecutter.core.trace.SceneTracer;

/**
 * Accumulates samples into the sums of one frame until there are enough, on several threads, tile
 * by tile. Can be stopped at any time and continued later; the result is the same as without the
 * stop.
 */
public final class FrameTrace {
  private final IntFunction<SceneTracer.Frame> frames;
  private final SceneCamera camera;
  private final List<FragmentSums> sums;
  private static final ThreadMXBean THREADS = ManagementFactory.getThreadMXBean();

  private final AtomicLong rays = new AtomicLong();
  private final AtomicLong cpu = new AtomicLong();
  private volatile boolean stopped;

  /**
   * @param frames gives the scene at a frame's time; each sum is of the frame of its class
   * @param camera the camera
   * @param sums the sums to add samples to
   */
  public FrameTrace(
      IntFunction<SceneTracer.Frame> frames, SceneCamera camera, List<FragmentSums> sums) {
    this.frames = frames;
    this.camera = camera;
    this.sums = List.copyOf(sums);
  }

  /** Returns the sums. */
  public List<FragmentSums> sums() {
    return sums;
  }

  /** Returns how many rays were cast so far. */
  public long rays() {
    return rays.get();
  }

  /** Returns the processor time of all threads so far, seconds. */
  public double cpuSeconds() {
    return cpu.get() / 1e9;
  }

  /** Stops a {@link #run} from another thread, within a line of a tile. */
  public void stop() {
    stopped = true;
  }

  /**
   * Traces samples until every pixel has {@code samples} of them, in classes with samples of their
   * own in proportion.
   *
   * @param threads at least 1
   * @param progress receives the share that is done, 0 to 1, from any thread
   * @throws CancellationException if {@link #stop} was called; samples of tiles that were finished
   *     stay
   */
  public void run(int samples, int threads, DoubleConsumer progress) {
    int most = sums.stream().mapToInt(FragmentSums::tileCount).max().orElse(0);
    int units = most * sums.size();
    AtomicInteger next = new AtomicInteger();
    AtomicInteger done = new AtomicInteger();
    AtomicReference<@Nullable Throwable> failure = new AtomicReference<>();
    Runnable work =
        () -> {
          long begun = threadTime();
          SceneTracer.Worker[] workers = new SceneTracer.Worker[sums.size()];
          Interplay[] interplays = new Interplay[sums.size()];
          try {
            for (int unit = next.getAndIncrement(); unit < units; unit = next.getAndIncrement()) {
              if (stopped || failure.get() != null) {
                break;
              }
              int s = unit % sums.size();
              FragmentSums sum = sums.get(s);
              var settings = sum.job().transport().settings();
              if (unit / sums.size() < sum.tileCount()) {
                if (workers[s] != null && workers[s].outdated()) {
                  rays.addAndGet(workers[s].rays());
                  sum.found(interplays[s], workers[s].cutShort());
                  workers[s] = null;
                }
                if (workers[s] == null) {
                  interplays[s] = sum.job().interplay() ? new Interplay() : null;
                  workers[s] =
                      frames
                          .apply(sum.job().transport().frame())
                          .worker(
                              sum.job(),
                              camera,
                              sum.frameWidth(),
                              sum.frameHeight(),
                              interplays[s]);
                }
                trace(
                    workers[s],
                    sum.region(),
                    sum.tile(unit / sums.size()),
                    settings.samples(samples));
              }
              progress.accept((double) done.incrementAndGet() / units);
            }
          } catch (Throwable t) {
            failure.compareAndSet(null, t);
          }
          cpu.addAndGet(threadTime() - begun);
          for (int s = 0; s < workers.length; s++) {
            if (workers[s] != null) {
              rays.addAndGet(workers[s].rays());
              sums.get(s).found(interplays[s], workers[s].cutShort());
            }
          }
        };
    List<Thread> helpers = new ArrayList<>();
    for (int t = 1; t < threads; t++) {
      helpers.add(Thread.ofPlatform().name("trace-" + t).daemon().start(work));
    }
    work.run();
    for (Thread helper : helpers) {
      join(helper);
    }
    Throwable failed = failure.get();
    if (failed != null) {
      throw new IllegalStateException("tracing failed: " + failed, failed);
    }
    if (stopped) {
      throw new CancellationException("tracing was stopped");
    }
  }

  /** Processor time of this thread, nanoseconds; the clock's where that cannot be measured. */
  private static long threadTime() {
    return THREADS.isCurrentThreadCpuTimeSupported()
        ? THREADS.getCurrentThreadCpuTime()
        : System.nanoTime();
  }

  private void join(Thread helper) {
    boolean interrupted = false;
    while (true) {
      try {
        helper.join();
        break;
      } catch (InterruptedException e) {
        // an interrupted caller wants the end: stop the helpers, but leave none running behind
        interrupted = true;
        stopped = true;
      }
    }
    if (interrupted) {
      Thread.currentThread().interrupt();
    }
  }

  private void trace(
      SceneTracer.Worker worker, Region region, FragmentSums.Tile tile, int samples) {
    var sink = tile.sink();
    tile.lock.lock();
    try {
      // all pixels of the tile take a sample before any takes the next, so that the count is the
      // tile's
      for (int s = tile.samples; s < samples && !stopped; s++) {
        for (int y = 0; y < tile.height; y++) {
          for (int x = 0; x < tile.width; x++) {
            worker.sample(
                region.x() + tile.x + x, region.y() + tile.y + y, s, y * tile.width + x, sink);
          }
        }
        tile.samples = s + 1;
      }
    } finally {
      tile.lock.unlock();
    }
  }
}
