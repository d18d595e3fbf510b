package org.wedgecutter.app.live;

import java.util.List;
import java.util.Objects;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseSearch;
import org.wedgecutter.core.proof.TracedEvidence;
import org.wedgecutter.core.render.FrameRenderer;

/**
 * Measures in the background what each cause of a residual explains: mended plans are traced, small
 * and on one thread, so that the live trace goes on beside it. An edit stops the measure.
 */
public final class LiveCauses implements AutoCloseable {
  private static final int ACROSS = 240;
  private static final int SAMPLES = 4;

  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(Thread.ofPlatform().name("causes").daemon().factory());
  private final Consumer<Measured> listener;
  private final Consumer<Throwable> failed;
  private @Nullable FrameRenderer running;
  private @Nullable Asked asked;

  /** What is measured. */
  private record Asked(Plan plan, int frame, List<Cause> found) {}

  /**
   * What was measured.
   *
   * @param plan the plan with these causes
   * @param frame the frame at which it was traced
   */
  public record Measured(Plan plan, int frame, CauseSearch.Ranked causes) {}

  /**
   * @param listener is given what was measured; called on the measuring thread
   * @param failed is given errors; called on the measuring thread
   */
  public LiveCauses(Consumer<Measured> listener, Consumer<Throwable> failed) {
    this.listener = listener;
    this.failed = failed;
  }

  /**
   * Measures the causes that were found in a plan, unless that is done already.
   *
   * @param found by reading the plan; nothing is measured if there are none
   */
  public synchronized void measure(LoadedShot shot, int frame, List<Cause> found) {
    Asked next = new Asked(shot.plan(), frame, found);
    if (next.equals(asked)) {
      return;
    }
    stop();
    asked = next;
    if (found.isEmpty()) {
      return;
    }
    FrameRenderer renderer =
        new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, SAMPLES, 1, false));
    running = renderer;
    thread.execute(() -> run(shot, next, renderer));
  }

  private void run(LoadedShot shot, Asked of, FrameRenderer renderer) {
    try {
      CauseSearch.Ranked ranked =
          TracedEvidence.of(shot, of.frame, renderer, ACROSS, SAMPLES, p -> {}).ranked(of.found);
      if (isWanted(of)) {
        listener.accept(new Measured(of.plan, of.frame, ranked));
      }
    } catch (CancellationException e) {
      // an edit came, whose causes are measured next
      Thread.onSpinWait();
    } catch (Throwable e) {
      failed.accept(e);
    }
  }

  private synchronized boolean isWanted(Asked of) {
    return Objects.equals(asked, of);
  }

  /** Stops what runs; its result is dropped. */
  public synchronized void stop() {
    asked = null;
    FrameRenderer now = running;
    running = null;
    if (now != null) {
      now.stop();
    }
  }

  @Override
  public void close() {
    stop();
    thread.shutdownNow();
  }
}
