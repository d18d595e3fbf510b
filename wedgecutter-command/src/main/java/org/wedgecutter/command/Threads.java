package org.wedgecutter.command;

import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ForkJoinPool;
import org.wedgecutter.core.io.LowPriority;
import org.wedgecutter.core.render.FrameRenderer;
import picocli.CommandLine.Option;

/**
 * The options that limit what a command takes of the machine. The number of threads holds for all
 * of its work: what is done in parallel without threads of its own (reading, building trees,
 * filtering) runs in a pool of the same size.
 */
public final class Threads {
  @Option(
      names = "--threads",
      defaultValue = "0",
      paramLabel = "N",
      description = "Number of threads; 0 is all cores, a negative number leaves that many free.")
  private int threads;

  @Option(names = "--low-priority", description = "Run at low priority on this machine (Linux).")
  private boolean low;

  /** Returns the number as it was given. */
  public int asked() {
    return threads;
  }

  /** Does work with no more threads than were asked for. */
  public <T> T limit(Callable<T> work) throws Exception {
    if (low) {
      LowPriority.here();
    }
    return limit(FrameRenderer.Settings.threads(threads), work);
  }

  /** Does work with no more than a number of threads. */
  static <T> T limit(int count, Callable<T> work) throws Exception {
    try (ForkJoinPool pool = new ForkJoinPool(count)) {
      return pool.submit(work).get();
    } catch (ExecutionException e) {
      throw unwrapped(e);
    }
  }

  /** A pool wraps what it hands over from one thread to another, at times more than once. */
  private static Exception unwrapped(ExecutionException e) {
    Throwable at = e;
    while (at.getCause() != null
        && (at instanceof ExecutionException
            || at.getClass().equals(at.getCause().getClass())
            || at.getClass().equals(RuntimeException.class))) {
      at = at.getCause();
    }
    switch (at) {
      case Error wrong -> throw wrong;
      case Exception wrong -> {
        return wrong;
      }
      default -> {
        return e;
      }
    }
  }
}
