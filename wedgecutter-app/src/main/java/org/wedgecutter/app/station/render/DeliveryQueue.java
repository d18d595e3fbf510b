package org.wedgecutter.app.station.render;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Set;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.function.Consumer;
import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;
import org.wedgecutter.core.io.FileTrouble;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.LowPriority;
import org.wedgecutter.core.load.LoadedShot;

/**
 * Renders deliveries one after another in the background, each from the shot and plan as they were
 * when it was ordered. Used on the interface thread only.
 */
final class DeliveryQueue {
  private static final Logger LOG = LoggerFactory.getLogger(DeliveryQueue.class);
  private static final long TOLD_EVERY = 60_000_000L;

  private final List<DeliveryJob> jobs = new ArrayList<>();
  private final Runnable changed;
  private final Consumer<DeliveryJob> ended;
  private @Nullable DeliveryJob active;
  private volatile boolean low;
  private volatile @Nullable DeliveryRenderer running;
  private volatile boolean stopAsked;
  private volatile @Nullable Path into;

  /**
   * @param changed is called after anything has changed
   * @param ended is called with a delivery that has ended by itself, well or not
   */
  DeliveryQueue(Runnable changed, Consumer<DeliveryJob> ended) {
    this.changed = changed;
    this.ended = ended;
  }

  /** Returns all deliveries, in the order in which they are rendered. */
  List<DeliveryJob> jobs() {
    return List.copyOf(jobs);
  }

  @Nullable DeliveryJob find(Path folder) {
    return jobs.stream().filter(j -> j.folder().equals(folder)).findFirst().orElse(null);
  }

  /** Sets whether deliveries that begin from now on give way to other programs. */
  void lowPriority(boolean next) {
    low = next;
  }

  /** Whether a folder is being rendered into from here; on any thread. */
  boolean isRendering(Path folder) {
    return folder.equals(into);
  }

  /** Puts a delivery at the end, and begins if nothing is being rendered. */
  void add(DeliveryJob job) {
    if (!jobs.contains(job)) {
      jobs.add(job);
    }
    next();
    changed.run();
  }

  /** Removes all that is neither rendered nor waits: another shot was opened. */
  void forgetIdle() {
    jobs.removeIf(j -> !j.isActive() && j.state() != DeliveryJob.State.WAITING);
    changed.run();
  }

  /** Moves a delivery that waits one place up. */
  void sooner(DeliveryJob job) {
    int at = jobs.indexOf(job);
    for (int k = at - 1; k >= 0; k--) {
      if (jobs.get(k).state() == DeliveryJob.State.WAITING) {
        Collections.swap(jobs, at, k);
        break;
      }
    }
    changed.run();
  }

  /** Stops a delivery, or takes one that waits out of the queue. */
  void stop(DeliveryJob job) {
    if (job == active) {
      stopAsked = true;
      job.state(job.state(), "Stopping…");
      decide(job, false);
      DeliveryRenderer r = running;
      if (r != null) {
        r.stop();
      }
    } else if (job.state() == DeliveryJob.State.WAITING) {
      job.state(DeliveryJob.State.STOPPED, "");
    }
    changed.run();
  }

  /** Stops all. */
  void stopAll() {
    jobs.stream().filter(j -> j.state() == DeliveryJob.State.WAITING).toList().forEach(this::stop);
    DeliveryJob now = active;
    if (now != null) {
      stop(now);
    }
  }

  /** Lets the delivery that is rendered rest, or go on. */
  void pause(DeliveryJob job, boolean rest) {
    DeliveryRenderer r = running;
    if (job == active && r != null && job.state() != DeliveryJob.State.TROUBLE) {
      r.pause(rest);
      job.state(rest ? DeliveryJob.State.PAUSED : DeliveryJob.State.RUNNING, "");
      changed.run();
    }
  }

  /**
   * Lets the delivery rest for as long as an edit's first picture is being traced: whoever edits
   * does not wait for it.
   */
  void giveWay(boolean on) {
    DeliveryRenderer r = running;
    DeliveryJob now = active;
    if (r != null && now != null) {
      r.pause(on || now.state() == DeliveryJob.State.PAUSED);
    }
  }

  /** Tries again what could not be written, or gives up. */
  void decide(DeliveryJob job, boolean again) {
    CompletableFuture<Boolean> decision = job.decision();
    if (decision != null) {
      job.decision(null);
      decision.complete(again);
    }
  }

  /** Renders some units of the delivery that is rendered before its others. */
  void prefer(Set<Unit.Key> units) {
    DeliveryRenderer r = running;
    if (r != null) {
      r.prefer(units);
    }
  }

  private void next() {
    if (active != null) {
      return;
    }
    for (DeliveryJob job : jobs) {
      LoadedShot shot = job.shot();
      DeliveryOrder order = job.order();
      if (job.state() == DeliveryJob.State.WAITING && shot != null && order != null) {
        active = job;
        into = job.folder();
        stopAsked = false;
        job.state(DeliveryJob.State.RUNNING, "");
        Thread.ofPlatform().name("delivery").daemon().start(() -> work(job, shot, order));
        return;
      }
    }
  }

  private void work(DeliveryJob job, LoadedShot shot, DeliveryOrder order) {
    if (low) {
      LowPriority.here();
    }
    try {
      DeliveryRenderer renderer = new DeliveryRenderer(shot, order);
      running = renderer;
      if (stopAsked) {
        renderer.stop();
      }
      List<DeliveryStatus.Cell> cells =
          renderer.units().stream()
              .map(u -> cell(u, UnitState.WAITING, 0, Double.NaN, ""))
              .toList();
      Platform.runLater(() -> job.show(cells));
      Delivery delivery = renderer.run(new Listener(job));
      DeliveryStatus status = DeliveryStatus.read(order.folder());
      Platform.runLater(() -> {
        job.show(status.cells());
        job.share(1, Double.NaN);
        job.state(job.state(), order.uncut() ? "All files written. Verifying…" : "");
        changed.run();
      });
      String proof = order.uncut() ? "\n" + proof(delivery) : "";
      end(
          job,
          DeliveryJob.State.DONE,
          "%d files in %s.%s".formatted(delivery.files().size(), delivery.folder(), proof));
    } catch (CancellationException e) {
      end(
          job,
          DeliveryJob.State.STOPPED,
          "Stopped. Finished files are kept in " + order.folder() + "; click Continue to resume.");
    } catch (InputException e) {
      end(job, DeliveryJob.State.FAILED, String.valueOf(e.getMessage()));
    } catch (IOException e) {
      LOG.warn("rendering", e);
      end(
          job,
          DeliveryJob.State.FAILED,
          "Failed: %s. Finished files are kept in %s; click Continue to resume."
              .formatted(FileTrouble.words(e), order.folder()));
    } catch (Throwable e) {
      LOG.error("rendering", e);
      end(job, DeliveryJob.State.FAILED, "Failed: " + e);
    }
  }

  private void end(DeliveryJob job, DeliveryJob.State state, String says) {
    running = null;
    Platform.runLater(() -> {
      job.state(state, says);
      job.share(state == DeliveryJob.State.DONE ? 1 : job.share(), Double.NaN);
      for (DeliveryStatus.Cell c : job.cells()) {
        if (c.state() == UnitState.RUNNING) {
          job.show(cell(c.unit(), UnitState.WAITING, 0, c.seconds(), ""));
        }
      }
      active = null;
      into = null;
      next();
      changed.run();
      if (state != DeliveryJob.State.STOPPED) {
        ended.accept(job);
      }
    });
  }

  private String proof(Delivery delivery) {
    try {
      int exact = 0;
      double worst = 0;
      int invalid = 0;
      List<Integer> frames =
          delivery.frames().stream().filter(f -> delivery.uncut(f).isPresent()).toList();
      for (int frame : frames) {
        if (stopAsked) {
          return "The files were not verified.";
        }
        DeliveryProof proof = DeliveryProof.judge(delivery, frame);
        exact += proof.exact() ? 1 : 0;
        invalid += proof.residual().invalid();
        worst = Math.max(worst, proof.residual().max());
      }
      String most =
          invalid > 0
              ? "%d values not finite".formatted(invalid)
              : "max residual %.2g".formatted(worst);
      return "Verified on disk: %d of %d frames rejoin within %s rounding, %s."
          .formatted(
              exact, frames.size(), delivery.plan().output().half() ? "half" : "float", most);
    } catch (IOException e) {
      return "The files could not be verified: " + e.getMessage();
    }
  }

  private static DeliveryStatus.Cell cell(
      Unit unit, UnitState state, double share, double seconds, String why) {
    return new DeliveryStatus.Cell(unit, state, share, seconds, "", why);
  }

  /** Brings the progress of a delivery to the interface thread. */
  private final class Listener implements DeliveryRenderer.Progress {
    private final DeliveryJob job;
    private final long begun = System.nanoTime();
    private long told;
    private double first = -1;

    Listener(DeliveryJob job) {
      this.job = job;
    }

    @Override
    public void at(int frame, double frameShare, double share) {
      long now = System.nanoTime();
      synchronized (this) {
        if (now - told < TOLD_EVERY) {
          return;
        }
        told = now;
        first = first < 0 ? share : first;
      }
      // what an earlier run has done says nothing about how fast this one is
      double done = share - first;
      double left = done <= 0 ? Double.NaN : (now - begun) / 1e9 / done * (1 - share);
      Platform.runLater(() -> {
        job.share(share, left);
        for (DeliveryStatus.Cell c : job.cells()) {
          if (c.state() == UnitState.RUNNING && c.unit().frame() == frame) {
            job.show(cell(c.unit(), UnitState.RUNNING, frameShare, Double.NaN, ""));
          }
        }
        changed.run();
      });
    }

    @Override
    public void unit(Unit unit, UnitState state) {
      DeliveryStatus.Cell next = read(unit, state);
      Platform.runLater(() -> {
        job.show(next);
        changed.run();
      });
    }

    private DeliveryStatus.Cell read(Unit unit, UnitState state) {
      if (state == UnitState.DONE || state == UnitState.FAILED) {
        try {
          return DeliveryStatus.cell(job.folder(), unit);
        } catch (IOException e) {
          LOG.warn("{}", unit, e);
        }
      }
      return cell(unit, state, 0, Double.NaN, "");
    }

    @Override
    public boolean goesOn(IOException why) {
      CompletableFuture<Boolean> decision = new CompletableFuture<>();
      Platform.runLater(() -> {
        if (stopAsked) {
          decision.complete(false);
          return;
        }
        job.decision(decision);
        job.state(
            DeliveryJob.State.TROUBLE,
            "Blocked: %s. Nothing is lost. Fix it, then click Try again."
                .formatted(FileTrouble.words(why)));
        changed.run();
      });
      try {
        boolean again = decision.get();
        if (again) {
          Platform.runLater(() -> {
            job.state(DeliveryJob.State.RUNNING, "");
            changed.run();
          });
        }
        return again;
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        return false;
      } catch (ExecutionException e) {
        return false;
      }
    }
  }
}
