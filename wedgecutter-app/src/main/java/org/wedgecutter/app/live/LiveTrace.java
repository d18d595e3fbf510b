package org.wedgecutter.app.live;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.trace.SceneTracer;
import org.wedgecutter.core.trace.TraceJob;

/**
 * Traces the current frame while the plan is edited: small first, then larger, then with more and
 * more samples.
 *
 * <p>An edit that only moves entities between Seen and Holdout finds all its light in the sums that
 * are there: pictures are regrouped and nothing is traced. An edit that changes a transport class
 * traces that class; the sums of the others stay.
 *
 * <p>One thread traces, and hands {@link Pictures} to a listener on that thread or on the caller's
 * of {@link #show}. Nobody waits for it.
 */
public final class LiveTrace implements AutoCloseable {
  private static final int[] DIVISORS = {12, 6, 3, 1};

  /** Samples at each size but the last, before the next size begins. */
  private static final int[] SMALL_SAMPLES = {1, 4, 4};

  private final Consumer<Pictures> listener;
  private final Consumer<Throwable> failed;
  private final int threads;

  /** How many of the largest sizes are not traced, because they failed. */
  private int leftOut;

  private @Nullable Request request;
  private @Nullable FrameTrace running;
  private boolean closed;
  private boolean held;

  /** How much work there is for which the trace waits. */
  private int rejoining;

  private long serial;
  private volatile boolean idle;

  /** Puts pictures together again while the trace goes on. */
  private final ExecutorService recipes =
      Executors.newSingleThreadExecutor(Thread.ofPlatform().name("rejoin").daemon().factory());

  /**
   * Held while pictures are handed out: a recipe that comes meanwhile is put together from those,
   * not from the ones before.
   */
  private final Object handingOut = new Object();

  /** What is traced. */
  private record Request(LoadedShot shot, int frame, long serial) {}

  private long moments;
  private @Nullable Map<Integer, SceneTracer.Frame> scenesNow;
  private volatile @Nullable Pictures last;

  /** When the present frame's trace began. */
  private long begun;

  /** The sums of one size for the present request. */
  private final List<Level> levels = new ArrayList<>();

  private static final class Level {
    final int width;
    final int height;
    List<FragmentSums> sums = new ArrayList<>();
    long moment;

    Level(int width, int height) {
      this.width = width;
      this.height = height;
    }

    /** Samples that all sums have; sums that have reached their own limit do not count. */
    int samples(int asked) {
      return sums.stream().mapToInt(s -> s.samplesOf(asked)).min().orElse(0);
    }
  }

  /**
   * @param listener is given new pictures; called on the tracing thread
   * @param failed is given the error; the trace pauses until the next request
   */
  public LiveTrace(Consumer<Pictures> listener, Consumer<Throwable> failed) {
    this.listener = listener;
    this.failed = failed;
    threads = Math.max(1, Runtime.getRuntime().availableProcessors());
    Thread.ofPlatform().name("live trace").daemon().start(this::loop);
  }

  /**
   * Requests a plan at a frame; work on an earlier request is stopped. If nothing is new but the
   * recipe, or what no pixel depends on, the trace goes on: pictures are put together again from
   * those that are there.
   */
  public synchronized void show(LoadedShot shot, int frame) {
    Request before = request;
    if (before != null && last != null && isRecipeOnly(before, shot, frame)) {
      request = new Request(shot, frame, before.serial);
      putTogether(shot);
      return;
    }
    if (request != null && !request.shot.tracer().equals(shot.tracer())) {
      leftOut = 0;
    }
    request = new Request(shot, frame, ++serial);
    if (running != null) {
      running.stop();
    }
    notifyAll();
  }

  private static boolean isRecipeOnly(Request before, LoadedShot shot, int frame) {
    Plan plan = shot.plan();
    return before.frame == frame
        && before.shot.tracer().equals(shot.tracer())
        && deepLayers(before.shot.plan()).equals(deepLayers(plan))
        && asTraced(before.shot.plan().withRecipe(plan.recipe())).equals(asTraced(plan));
  }

  private static Plan asTraced(Plan plan) {
    return plan.withShot(plan.requireShot().asTraced());
  }

  private static List<String> deepLayers(Plan plan) {
    return plan.recipe().joins().stream()
        .filter(s -> s.join() == Join.DEEP)
        .map(Recipe.Step::layer)
        .toList();
  }

  /** Hands out the last pictures with another recipe, unless another one came meanwhile. */
  private void rejoin(LoadedShot shot) {
    synchronized (handingOut) {
      Pictures next;
      synchronized (this) {
        Pictures now = last;
        if (closed || now == null || !isLatest(shot.plan())) {
          return;
        }
        next = now.with(shot);
        last = next;
      }
      try {
        listener.accept(next);
      } catch (Throwable e) {
        failed.accept(e);
      }
    }
  }

  /**
   * Stops the trace for a while, and goes on with it: what is put together meanwhile has all cores.
   * A request that needs light is traced all the same.
   */
  public synchronized void hold(boolean on) {
    held = on;
    if (on && running != null) {
      running.stop();
    }
    notifyAll();
  }

  /** Hands out the last pictures once more, with the recipe that was asked for last. */
  public synchronized void again() {
    Request now = request;
    if (now != null && last != null) {
      putTogether(now.shot);
    }
  }

  /** Puts pictures together on a thread of its own; the trace waits, since that takes all cores. */
  private synchronized void putTogether(LoadedShot shot) {
    if (closed) {
      return;
    }
    rejoining++;
    if (running != null) {
      running.stop();
    }
    recipes.execute(() -> finish(() -> rejoin(shot)));
  }

  /** Does something that takes all cores; the trace waits meanwhile. */
  public void meanwhile(Runnable work) {
    synchronized (this) {
      rejoining++;
      if (running != null) {
        running.stop();
      }
    }
    finish(work);
  }

  private void finish(Runnable work) {
    try {
      work.run();
    } finally {
      synchronized (this) {
        rejoining--;
        notifyAll();
      }
    }
  }

  /** Whether a plan is the one that was asked for last. */
  public synchronized boolean isLatest(Plan plan) {
    Request now = request;
    return now != null && now.shot.plan().equals(plan);
  }

  /**
   * Traces the last request again, after it failed.
   *
   * @param less whether the largest size is left out from now on, to take less memory
   */
  public synchronized void retry(boolean less) {
    Request again = request;
    if (again != null) {
      leftOut = less ? Math.min(DIVISORS.length - 1, leftOut + 1) : leftOut;
      request = new Request(again.shot, again.frame, ++serial);
      notifyAll();
    }
  }

  /** Whether all samples are traced. */
  public boolean idle() {
    return idle;
  }

  @Override
  public synchronized void close() {
    closed = true;
    recipes.shutdownNow();
    if (running != null) {
      running.stop();
    }
    notifyAll();
  }

  private void loop() {
    Request current = null;
    long served = 0;
    Work work = null;
    while (true) {
      Request next;
      synchronized (this) {
        while (!closed
            && serial == served
            && (held || rejoining > 0 || work == null || work.done())) {
          idle = work == null || work.done();
          try {
            wait();
          } catch (InterruptedException e) {
            return;
          }
        }
        if (closed) {
          return;
        }
        idle = false;
        next = request;
      }
      try {
        if (next != null && next.serial != served) {
          // served even if it fails: it is tried again when somebody asks
          served = next.serial;
          work = new Work(next, current);
          current = next;
          work.publish();
        }
        if (work != null) {
          work.step();
        }
      } catch (CancellationException e) {
        // another request came; the loop takes it up
        Thread.onSpinWait();
      } catch (Throwable e) {
        // an error of memory, too: what the trace held is let go, and the loop goes on
        work = null;
        current = null;
        levels.clear();
        scenesNow = null;
        last = null;
        failed.accept(e);
      }
    }
  }

  /** The traces of one request. */
  private final class Work {
    private final LoadedShot shot;
    private final int frame;
    private final ResolvedShot resolved;
    private final JobPlan plan;
    private final Map<Integer, SceneTracer.Frame> scenes;
    private final long own;

    Work(Request now, @Nullable Request before) {
      shot = now.shot;
      frame = now.frame;
      own = now.serial;
      resolved = shot.resolve(frame);
      plan =
          new JobPlan(
              resolved, l -> true, true, c -> c.equals(resolved.uncut()), l -> isJoinedDeep(l));
      boolean sameWorld =
          before != null
              && before.frame == frame
              && before.shot.tracer().equals(shot.tracer())
              && shotOf(before).equals(shotOf(now));
      if (!sameWorld || scenesNow == null) {
        scenesNow = new ConcurrentHashMap<>();
        levels.clear();
        begun = System.nanoTime();
        last = null;
        Shot s = shot.plan().requireShot();
        int sizes;
        synchronized (LiveTrace.this) {
          sizes = DIVISORS.length - leftOut;
        }
        for (int k = 0; k < sizes; k++) {
          int divisor = DIVISORS[k];
          levels.add(
              new Level(Math.max(1, s.width() / divisor), Math.max(1, s.height() / divisor)));
        }
      }
      scenes = scenesNow;
      for (Level level : levels) {
        level.sums = adopt(level);
      }
    }

    private boolean isJoinedDeep(int layer) {
      return deepLayers(shot.plan()).contains(shot.plan().layers().get(layer).name());
    }

    /** The shot as it was asked for last: its recipe may have changed since the work began. */
    private LoadedShot latest() {
      synchronized (LiveTrace.this) {
        Request now = request;
        return now != null && now.serial == own ? now.shot : shot;
      }
    }

    private Shot shotOf(Request r) {
      return r.shot.plan().requireShot().asTraced();
    }

    /** Keeps the sums that serve the request, and begins the others. */
    private List<FragmentSums> adopt(Level level) {
      List<FragmentSums> next = new ArrayList<>();
      for (TraceJob job : plan.jobs()) {
        next.add(
            level.sums.stream()
                .filter(s -> s.covers(job))
                .findFirst()
                .orElseGet(() -> {
                  var own = job.transport().settings();
                  return new FragmentSums(job, own.width(level.width), own.height(level.height));
                }));
      }
      return next;
    }

    private int target(Level level) {
      return level.equals(levels.getLast())
          ? shot.plan().requireShot().samples()
          : SMALL_SAMPLES[levels.indexOf(level)];
    }

    boolean done() {
      return levels.getLast().samples(target(levels.getLast())) >= target(levels.getLast());
    }

    /** Publishes the largest pictures that are complete. */
    void publish() {
      for (int l = levels.size() - 1; l >= 0; l--) {
        Level level = levels.get(l);
        int samples = level.samples(target(level));
        if (samples > 0) {
          Pictures next =
              new Pictures(
                  latest(),
                  frame,
                  new Pictures.Light(
                      resolved,
                      new LayerPictures(resolved, plan, level.sums, shot.stage(scenes::get, frame)),
                      level.moment),
                  samples,
                  (System.nanoTime() - begun) / 1e9,
                  last);
          synchronized (handingOut) {
            listener.accept(next);
            last = next;
          }
          LoadedShot now = latest();
          if (!now.plan().equals(next.plan())) {
            // the recipe changed meanwhile
            putTogether(now);
          }
          return;
        }
      }
    }

    /** Traces the next bit: the smallest size that has too few samples. */
    void step() {
      for (Level level : levels) {
        int have = level.samples(target(level));
        boolean largerIsThere = levels.getLast().samples(1) > 0 && !level.equals(levels.getLast());
        if (have < target(level) && !largerIsThere) {
          int want = Math.min(target(level), Math.max(have + 1, Math.min(have * 2, have + 4)));
          FrameTrace trace =
              new FrameTrace(
                  f -> scenes.computeIfAbsent(f, shot::frame), shot.camera(), level.sums);
          synchronized (LiveTrace.this) {
            Request now = request;
            if (closed || now == null || now.serial != own) {
              throw new CancellationException();
            }
            running = trace;
          }
          try {
            trace.run(want, threads, p -> {});
          } finally {
            // a stopped trace has advanced some tiles too
            level.moment = ++moments;
          }
          publish();
          return;
        }
      }
    }
  }
}
