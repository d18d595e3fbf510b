package org.wedgecutter.app.model;

import java.io.IOException;
import java.nio.file.Path;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.FutureTask;
import java.util.concurrent.atomic.AtomicReference;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.load.LoadedShot;

/**
 * Reads the first shot while the window is still being made: both take seconds of one processor in
 * a fresh process. Until the window is there reading keeps to one processor, then it takes all.
 */
public final class ReadAhead {
  private record Reading(Path file, FutureTask<LoadedShot> task) {}

  private static final AtomicReference<@Nullable Reading> BEGUN = new AtomicReference<>();
  private static final AtomicReference<@Nullable ForkJoinPool> POOL = new AtomicReference<>();

  private ReadAhead() {}

  /** Begins to read a shot that will be asked for. */
  public static void begin(Path file) {
    FutureTask<LoadedShot> task = new FutureTask<>(() -> LoadedShot.load(file));
    BEGUN.set(new Reading(file, task));
    // what is read in parallel stays in the pool that reading was begun in
    ForkJoinPool pool = new ForkJoinPool(1);
    POOL.set(pool);
    pool.execute(task);
    pool.shutdown();
  }

  /** The window is there: reading takes all processors. */
  public static void hurry() {
    ForkJoinPool pool = POOL.getAndSet(null);
    if (pool != null && !pool.isTerminated()) {
      pool.setParallelism(Runtime.getRuntime().availableProcessors());
    }
  }

  /** Says whether what was begun has been read and waits to be taken. */
  static boolean waits() {
    Reading begun = BEGUN.get();
    return begun != null && begun.task.isDone();
  }

  /**
   * Returns a shot: what was begun, if it is this file and the first time that it is asked for.
   *
   * @throws IOException what reading it found wrong
   */
  public static LoadedShot take(Path file) throws IOException {
    Reading begun = BEGUN.getAndSet(null);
    if (begun == null || !begun.file.equals(file)) {
      return LoadedShot.load(file);
    }
    try {
      return begun.task.get();
    } catch (ExecutionException e) {
      switch (e.getCause()) {
        case IOException wrong -> throw wrong;
        case RuntimeException wrong -> throw wrong;
        case null, default -> throw new IllegalStateException(e);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException("reading was broken off", e);
    }
  }
}
