package org.wedgecutter.app.files;

import java.io.IOException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import javafx.application.Platform;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.panel.Bench;

/**
 * The one thread on which the window writes files, one task after another, so that two writes never
 * meet, and one on which it reads what takes long, for which no save waits. Errors are shown to the
 * user. The program does not end while it writes: a save that runs when the window closes is
 * finished first.
 */
public final class FileWork implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(FileWork.class);

  private final ScheduledExecutorService thread =
      Executors.newSingleThreadScheduledExecutor(Thread.ofPlatform().name("files").factory());
  private final ExecutorService reading =
      Executors.newSingleThreadExecutor(Thread.ofPlatform().name("reading").daemon().factory());
  private final Bench bench;

  /** Work that reads or writes files. */
  public interface Task {
    public void run() throws IOException;
  }

  public FileWork(Bench bench) {
    this.bench = bench;
  }

  /**
   * Runs work with files.
   *
   * @param what names it in messages: "save the plan"
   */
  public void run(String what, Task task) {
    run(what, task, () -> {});
  }

  /**
   * Runs work with files.
   *
   * @param failed is run on the interface thread if it fails
   */
  public void run(String what, Task task, Runnable failed) {
    thread.execute(() -> attempt(what, task, failed));
  }

  /** Reads files that may be large. */
  public void read(String what, Task task) {
    read(what, task, () -> {});
  }

  /**
   * Reads files that may be large.
   *
   * @param failed is run on the interface thread if it fails
   */
  public void read(String what, Task task, Runnable failed) {
    reading.execute(() -> attempt(what, task, failed));
  }

  private void attempt(String what, Task task, Runnable failed) {
    try {
      task.run();
    } catch (IOException e) {
      LOG.info("{}", what, e);
      fail("Could not " + what + ": " + e.getMessage(), failed);
    } catch (Throwable e) {
      LOG.error("{}", what, e);
      fail("Could not " + what + ": " + e, failed);
    }
  }

  private void fail(String text, Runnable failed) {
    Platform.runLater(() -> {
      failed.run();
      bench.banner(text);
    });
  }

  /** Runs work after a delay, unless it is cancelled. */
  ScheduledFuture<?> later(long millis, String what, Task task) {
    return thread.schedule(() -> run(what, task), millis, TimeUnit.MILLISECONDS);
  }

  /** Runs work at an interval. */
  ScheduledFuture<?> every(long millis, String what, Runnable task) {
    return thread.scheduleWithFixedDelay(
        () -> {
          try {
            task.run();
          } catch (RuntimeException e) {
            // told in the log alone: it would come again every time
            LOG.error("{}", what, e);
          }
        },
        millis,
        millis,
        TimeUnit.MILLISECONDS);
  }

  @Override
  public void close() {
    thread.shutdown();
    reading.shutdownNow();
  }
}
