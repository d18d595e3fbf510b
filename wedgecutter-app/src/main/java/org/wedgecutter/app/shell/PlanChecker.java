package org.wedgecutter.app.shell;

import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import javafx.application.Platform;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.load.LoadedShot;

/** Looks for findings on its own thread; only those of the last plan are handed on. */
final class PlanChecker implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(PlanChecker.class);

  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(Thread.ofPlatform().name("check").daemon().factory());
  private final AtomicLong serial = new AtomicLong();
  private final Consumer<List<Finding>> taker;
  private final Consumer<String> failed;
  private List<Finding> found = List.of();

  /**
   * @param taker is given findings on the interface thread
   * @param failed receives errors, on the interface thread
   */
  PlanChecker(Consumer<List<Finding>> taker, Consumer<String> failed) {
    this.taker = taker;
    this.failed = failed;
  }

  /** Checks a plan as it is now. */
  void check(Session s) {
    long own = serial.incrementAndGet();
    LoadedShot shot = s.shot();
    var resolved = s.resolved();
    thread.execute(() -> {
      if (own != serial.get()) {
        return;
      }
      try {
        List<Finding> next = PlanCheck.check(shot.plan(), shot.members(), resolved);
        Platform.runLater(() -> {
          if (own == serial.get()) {
            found = next;
            taker.accept(next);
          }
        });
      } catch (Throwable e) {
        LOG.error("checking", e);
        Platform.runLater(() -> failed.accept("checking the plan failed: " + e));
      }
    });
  }

  /** Returns what was found last. */
  List<Finding> found() {
    return found;
  }

  /** Stops; late results are dropped. */
  @Override
  public void close() {
    serial.incrementAndGet();
    thread.shutdownNow();
  }
}
