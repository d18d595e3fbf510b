package org.wedgecutter.app.shell;

import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.motion.MotionTable;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.survey.Surveyor;

/** Looks for findings on its own thread; only those of the last plan are handed on. */
final class PlanChecker implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(PlanChecker.class);

  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(Thread.ofPlatform().name("check").daemon().factory());
  private final AtomicLong serial = new AtomicLong();
  private final Consumer<List<Finding>> taker;
  private final Consumer<String> failed;
  private final BiConsumer<Plan, HeldFrames> held;
  private final BiConsumer<LoadedShot, MotionTable> moves;
  private List<Finding> found = List.of();

  /** Of which shot the held frames were compared last, and which they are; on the thread. */
  private @Nullable LoadedShot compared;

  private @Nullable HeldFrames frames;

  /**
   * @param taker is given findings on the interface thread
   * @param held is given which frames of the plan's layers are the same, on the interface thread
   * @param moves is given the motion in frames that are others, on the interface thread
   * @param failed receives errors, on the interface thread
   */
  PlanChecker(
      Consumer<List<Finding>> taker,
      BiConsumer<Plan, HeldFrames> held,
      BiConsumer<LoadedShot, MotionTable> moves,
      Consumer<String> failed) {
    this.held = held;
    this.moves = moves;
    this.taker = taker;
    this.failed = failed;
  }

  /** Checks a plan as it is now. */
  void check(Session s) {
    long own = serial.incrementAndGet();
    LoadedShot shot = s.shot();
    var resolved = s.resolved();
    boolean motionFits = s.motionFits();
    thread.execute(() -> {
      if (own != serial.get()) {
        return;
      }
      try {
        List<Finding> next = PlanCheck.check(shot, resolved);
        Platform.runLater(() -> {
          if (own == serial.get()) {
            found = next;
            taker.accept(next);
          }
        });
        if (!motionFits) {
          MotionTable motion = MotionTable.of(shot.plan().requireShot(), shot.scene());
          // of use whatever was edited since: the taker sees whether it fits
          Platform.runLater(() -> moves.accept(shot, motion));
        }
        compare(shot, own);
      } catch (Throwable e) {
        LOG.error("checking", e);
        Platform.runLater(() -> failed.accept("Could not check the plan: " + e));
      }
    });
  }

  /** Compares the layers' frames; it takes longer than the findings, which do not wait for it. */
  private void compare(LoadedShot shot, long own) {
    if (own != serial.get()) {
      return;
    }
    HeldFrames known = frames;
    // a recipe changes no frame: while a correction is dragged there is nothing to compare
    HeldFrames next =
        known != null && compared != null && differsByRecipe(compared, shot)
            ? known
            : HeldFrames.of(
                shot.plan(),
                shot.members(),
                Surveyor.looked(shot.plan().requireShot().frames().frames()));
    compared = shot;
    frames = next;
    Platform.runLater(() -> {
      if (own == serial.get()) {
        held.accept(shot.plan(), next);
      }
    });
  }

  /** Whether two shots are the same but for their recipes. */
  private static boolean differsByRecipe(LoadedShot a, LoadedShot b) {
    return a.tracer().equals(b.tracer()) && a.plan().withRecipe(b.plan().recipe()).equals(b.plan());
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
