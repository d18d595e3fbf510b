package org.wedgecutter.app.live;

import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.survey.PixelReading;
import org.wedgecutter.core.trace.SceneTracer;

/** Traces single pixels in the background; only the last one asked for is handed on. */
public final class PixelReader implements AutoCloseable {

  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(Thread.ofPlatform().name("pixel").daemon().factory());
  private final AtomicLong serial = new AtomicLong();
  private final Consumer<PixelReading> listener;
  private final Consumer<Throwable> failed;

  // of the frame that was read last, on the thread alone
  private @Nullable LoadedShot of;
  private int number;
  private SceneTracer.@Nullable Frame placed;

  /**
   * @param listener is given readings; called on the reader's thread
   * @param failed is given errors
   */
  public PixelReader(Consumer<PixelReading> listener, Consumer<Throwable> failed) {
    this.listener = listener;
    this.failed = failed;
  }

  /**
   * Reads a pixel of the uncut frame.
   *
   * @param x column at the plan's size
   * @param y line
   */
  public void read(LoadedShot shot, int frame, int x, int y) {
    long own = serial.incrementAndGet();
    thread.execute(() -> {
      if (own != serial.get()) {
        return;
      }
      try {
        Shot s = shot.plan().requireShot();
        PixelReading made =
            PixelReading.of(
                shot,
                placed(shot, frame),
                frame,
                x,
                y,
                s.width(),
                s.height(),
                PixelReading.SAMPLES);
        if (own == serial.get()) {
          listener.accept(made);
        }
      } catch (Throwable e) {
        failed.accept(e);
      }
    });
  }

  private SceneTracer.Frame placed(LoadedShot shot, int frame) {
    LoadedShot before = of;
    SceneTracer.Frame known = placed;
    if (known == null
        || before == null
        || number != frame
        || !before.tracer().equals(shot.tracer())
        || !before.plan().requireShot().asTraced().equals(shot.plan().requireShot().asTraced())) {
      known = shot.frame(frame);
      placed = known;
      of = shot;
      number = frame;
    }
    return known;
  }

  @Override
  public void close() {
    serial.incrementAndGet();
    thread.shutdownNow();
  }
}
