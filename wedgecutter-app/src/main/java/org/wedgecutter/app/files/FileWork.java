package org.wedgecutter.app.files;

import java.io.IOException;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import javafx.application.Platform;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.panel.Bench;

/**
 * The one thread on which the window touches files, one task after another, so that two writes
 * never meet. What goes wrong is shown to the user.
 */
public final class FileWork implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(FileWork.class);

  private final ScheduledExecutorService thread =
      Executors.newSingleThreadScheduledExecutor(
          Thread.ofPlatform().name("files").daemon().factory());
  private final Bench bench;

  /** Something that touches files. */
  public interface Task {
    public void run() throws IOException;
  }

  public FileWork(Bench bench) {
    this.bench = bench;
  }

  /**
   * Does something with files.
   *
   * @param what names it in messages: "saving the plan"
   */
  public void run(String what, Task task) {
    run(what, task, () -> {});
  }

  /**
   * Does something with files.
   *
   * @param failed is run on the interface thread if it fails
   */
  public void run(String what, Task task, Runnable failed) {
    thread.execute(() -> {
      try {
        task.run();
      } catch (IOException e) {
        LOG.info("{}", what, e);
        fail(what + " failed: " + e.getMessage(), failed);
      } catch (RuntimeException e) {
        LOG.error("{}", what, e);
        fail(what + " failed: " + e, failed);
      }
    });
  }

  private void fail(String text, Runnable failed) {
    Platform.runLater(() -> {
      failed.run();
      bench.banner(text);
    });
  }

  /** Does something after a while, unless it is cancelled. */
  ScheduledFuture<?> later(long millis, String what, Task task) {
    return thread.schedule(() -> run(what, task), millis, TimeUnit.MILLISECONDS);
  }

  /** Does something again and again. */
  ScheduledFuture<?> every(long millis, Runnable task) {
    return thread.scheduleWithFixedDelay(task, millis, millis, TimeUnit.MILLISECONDS);
  }

  @Override
  public void close() {
    thread.shutdown();
  }
}
