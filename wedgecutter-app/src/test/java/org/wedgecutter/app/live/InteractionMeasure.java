package org.wedgecutter.app.live;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.function.IntFunction;
import java.util.function.UnaryOperator;
import javafx.animation.AnimationTimer;
import javafx.application.Platform;
import javafx.stage.Stage;
import org.wedgecutter.app.WedgecutterApp;
import org.wedgecutter.app.files.FileAsker;
import org.wedgecutter.app.files.StateFolder;
import org.wedgecutter.app.shell.MainWindow;
import org.wedgecutter.app.shell.WindowListener;
import org.wedgecutter.app.shell.WindowSetup;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Role;

/**
 * Measures how soon a picture comes after an edit of the orrery while it is traced, how soon a
 * trace is stopped, and how long the interface is kept busy meanwhile. Not a test: run it on a
 * quiet machine with a display, as docs/performance.md says.
 */
public final class InteractionMeasure {
  private static final int ROUNDS = 15;

  private final LoadedShot shot;
  private final LiveTrace trace;
  private volatile Plan wanted;
  private volatile int wantedFrame = 1;
  private volatile CountDownLatch come = new CountDownLatch(1);

  private InteractionMeasure(LoadedShot shot) {
    this.shot = shot;
    wanted = shot.plan();
    trace = new LiveTrace(this::pictures, Throwable::printStackTrace);
  }

  /** Prints the measures; takes the folder of the demos. */
  public static void main(String[] args) throws Exception {
    Path file = Path.of(args[0]).resolve("orrery/orrery.wedge");
    InteractionMeasure m = new InteractionMeasure(LoadedShot.load(file));
    m.edits();
    m.trace.close();
    m.stops();
    Platform.startup(() -> {});
    CountDownLatch done = new CountDownLatch(1);
    Platform.runLater(() -> pulses(file, done));
    done.await();
    Platform.exit();
    System.exit(0);
  }

  private void pictures(Pictures p) {
    if (p.plan().equals(wanted) && p.frame() == wantedFrame) {
      // what the viewer shows first
      if (p.layer(0).width() > 0) {
        come.countDown();
      }
    }
  }

  private double show(LoadedShot next, int frame) throws InterruptedException {
    come = new CountDownLatch(1);
    wanted = next.plan();
    wantedFrame = frame;
    long start = System.nanoTime();
    trace.show(next, frame);
    double asked = (System.nanoTime() - start) / 1e6;
    if (!come.await(60, TimeUnit.SECONDS)) {
      throw new IllegalStateException("no picture came");
    }
    if (asked > 20) {
      System.out.printf("asking took %.1f ms%n", asked);
    }
    return (System.nanoTime() - start) / 1e6;
  }

  private void edits() throws InterruptedException {
    show(shot, 1);
    Thread.sleep(25_000);
    print(
        "a thing moves between layers",
        edit(p -> PlanEdits.seenOnlyIn(p, "Foreground", "Hero")),
        k -> 1);
    print(
        "a thing is taken out of a layer",
        edit(p -> PlanEdits.cell(p, "Orrery", "Hero", c -> c.withRole(Role.ABSENT))),
        k -> 1);
    print(
        "another seed: everything is traced again",
        edit(p -> p.withShot(p.requireShot().with(s -> s.seed = 12345))),
        k -> 1);
    print("another frame, things move", UnaryOperator.identity(), k -> 2 + k);
  }

  /** From asking a trace to stop until its last thread has. */
  private void stops() throws InterruptedException {
    var resolved = shot.resolve(1);
    JobPlan plan = new JobPlan(resolved, l -> true, true, c -> c.equals(resolved.uncut()));
    var frame = shot.frame(1);
    List<FragmentSums> sums = new ArrayList<>();
    plan.jobs().forEach(j -> sums.add(new FragmentSums(j, 960, 540)));
    double[] times = new double[ROUNDS];
    for (int k = 0; k < ROUNDS; k++) {
      FrameTrace running = new FrameTrace(f -> frame, shot.camera(), sums);
      Thread thread =
          Thread.ofPlatform()
              .start(() -> {
                try {
                  running.run(10_000, 2, p -> {});
                } catch (CancellationException e) {
                  Thread.onSpinWait();
                }
              });
      Thread.sleep(300 + 17 * k);
      long start = System.nanoTime();
      running.stop();
      thread.join();
      times[k] = (System.nanoTime() - start) / 1e6;
    }
    Arrays.sort(times);
    System.out.printf(
        "a trace is stopped                   median %6.1f ms, longest %6.1f ms%n",
        times[ROUNDS / 2], times[ROUNDS - 1]);
  }

  private UnaryOperator<LoadedShot> edit(UnaryOperator<Plan> edit) {
    return s -> s.withPlan(edit.apply(s.plan()));
  }

  private void print(String what, UnaryOperator<LoadedShot> edit, IntFunction<Integer> frame)
      throws InterruptedException {
    double[] times = new double[ROUNDS];
    for (int k = 0; k < ROUNDS; k++) {
      show(shot, 1);
      Thread.sleep(700);
      times[k] = show(edit.apply(shot), frame.apply(k));
      Thread.sleep(300);
    }
    double first = times[0];
    Arrays.sort(times);
    System.out.printf(
        "%-36s median %6.1f ms, longest %6.1f ms, first %6.1f ms%n",
        what, times[ROUNDS / 2], times[ROUNDS - 1], first);
  }

  private static void pulses(Path file, CountDownLatch done) {
    Theme.loadFonts();
    Stage stage = new Stage();
    MainWindow window =
        new MainWindow(
            stage,
            new WindowSetup(
                WedgecutterApp.STATIONS,
                WedgecutterApp.HOME,
                FileAsker::of,
                null,
                StateFolder.path(),
                WindowListener.NONE));
    stage.show();
    window.open(file);
    new AnimationTimer() {
      private static final int WARM = 900;
      private static final int COUNT = 900;
      private final double[] gaps = new double[COUNT];
      private int pulse;
      private long last;

      @Override
      public void handle(long now) {
        long at = System.nanoTime();
        if (pulse >= WARM && pulse < WARM + COUNT) {
          gaps[pulse - WARM] = (at - last) / 1e6;
        }
        last = at;
        if (++pulse == WARM + COUNT) {
          Arrays.sort(gaps);
          System.out.printf(
              "pulses while tracing: median %.1f ms, 95 %% %.1f ms, longest %.1f ms%n",
              gaps[COUNT / 2], gaps[COUNT * 95 / 100], gaps[COUNT - 1]);
          stop();
          window.close();
          stage.close();
          done.countDown();
        }
      }
    }.start();
  }
}
