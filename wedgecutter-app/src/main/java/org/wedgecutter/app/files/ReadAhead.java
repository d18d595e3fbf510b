package org.wedgecutter.app.files;

import java.io.IOException;
import java.nio.file.Path;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.FutureTask;
import java.util.concurrent.atomic.AtomicBoolean;
import org.wedgecutter.core.load.LoadedShot;

/**
 * Reads the first shot while the window is still being made: both take seconds of one processor in
 * a fresh process. Until the window is there, reading keeps to one processor; then it takes all.
 */
public final class ReadAhead {
  private final Path file;
  private final FutureTask<LoadedShot> task;
  private final ForkJoinPool pool = new ForkJoinPool(1);
  private final AtomicBoolean taken = new AtomicBoolean();

  /** Begins to read a shot before the window asks for it. */
  public ReadAhead(Path file) {
    this.file = file;
    task = new FutureTask<>(() -> LoadedShot.load(file));
    // what is read in parallel stays in the pool that reading was begun in
    pool.execute(task);
    pool.shutdown();
  }

  /** Says that the window is there: reading takes all processors. */
  public void hurry() {
    if (!pool.isTerminated()) {
      pool.setParallelism(Runtime.getRuntime().availableProcessors());
    }
  }

  /** Whether reading has ended and the result has not been taken. */
  boolean waits() {
    return task.isDone() && !taken.get();
  }

  /**
   * Returns a shot: the one that was read ahead, if it is this file and the first time that it is
   * asked for.
   *
   * @throws IOException if the file cannot be used
   */
  public LoadedShot take(Path asked) throws IOException {
    if (!taken.compareAndSet(false, true) || !file.equals(asked)) {
      return LoadedShot.load(asked);
    }
    try {
      return task.get();
    } catch (ExecutionException e) {
      switch (e.getCause()) {
        case IOException wrong -> throw wrong;
        case RuntimeException wrong -> throw wrong;
        case null, default -> throw new IllegalStateException(e);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException("reading was interrupted", e);
    }
  }
}
