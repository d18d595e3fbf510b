package org.wedgecutter.core.deliver.check;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import java.util.function.BooleanSupplier;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitFolder;
import org.wedgecutter.core.deliver.unit.UnitDigests;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseFinder;
import org.wedgecutter.core.proof.CauseSearch;
import org.wedgecutter.core.proof.TracedEvidence;
import org.wedgecutter.core.render.FrameRenderer;

/**
 * The plan as it was delivered, with its scene as it is now if that is still there: which files are
 * of another state of it, and which of its own mistakes explain a residual. Everything is found
 * once, however many bands of the frame ask for it.
 */
final class DeliveredPlan {
  private final Delivery delivery;
  private final int frame;
  private final BooleanSupplier stopped;
  private @Nullable Optional<LoadedShot> shot;
  private @Nullable List<String> stale;
  private @Nullable List<Cause> found;
  private @Nullable Measured measured;

  DeliveredPlan(Delivery delivery, int frame, BooleanSupplier stopped) {
    this.delivery = delivery;
    this.frame = frame;
    this.stopped = stopped;
  }

  /**
   * What a small trace of the plan tells.
   *
   * @param ranked the causes, with their shares of the residual of that trace
   * @param residual that residual, for each number of its pictures
   */
  record Measured(CauseSearch.Ranked ranked, double residual) {}

  /** Returns the shot; empty if its plan's file is not known or its scene cannot be read. */
  Optional<LoadedShot> shot() {
    Optional<LoadedShot> known = shot;
    if (known == null) {
      known = Optional.empty();
      Path file = delivery.planFile().orElse(null);
      if (file != null) {
        try {
          known = Optional.of(LoadedShot.of(file, delivery.plan()));
        } catch (InputException e) {
          // a delivery is proved without its scene, too
          known = Optional.empty();
        }
      }
      shot = known;
    }
    return known;
  }

  /**
   * Returns the layers whose files were rendered before the plan or the scene were changed, where
   * others were rendered after that.
   *
   * @param recorded the layers whose files are those of their records
   */
  List<String> stale(List<String> recorded) {
    List<String> known = stale;
    if (known == null) {
      LoadedShot of = recorded.size() < 2 ? null : shot().orElse(null);
      known = of == null ? List.of() : stale(of, recorded);
      // where all are, they are of one state
      known = known.size() < recorded.size() ? known : List.of();
      stale = known;
    }
    return known;
  }

  private List<String> stale(LoadedShot of, List<String> recorded) {
    UnitDigests digests = new UnitDigests(of, delivery.settings(1));
    UnitFolder records = new UnitFolder(delivery.folder());
    List<String> old = new ArrayList<>();
    for (String name : recorded) {
      boolean uncut = name.equals(FileNames.UNCUT);
      Delivery.Entry entry =
          (uncut ? delivery.uncut(frame) : delivery.held(name, frame)).orElseThrow();
      int column = uncut ? of.plan().layers().size() : of.plan().layerIndex(name);
      String fresh = digests.of(column, entry.frame());
      boolean isStale =
          records
              .record(new Unit.Key(name, uncut, entry.frame()))
              .filter(r -> !r.unit().digest().equals(fresh))
              .isPresent();
      if (isStale) {
        old.add(name);
      }
    }
    return old;
  }

  /**
   * Returns what the plan itself may leave of the frame; without the scene, what its joins do.
   *
   * @param recipe the layers that are joined
   */
  List<Cause> found(Recipe recipe) {
    List<Cause> known = found;
    if (known == null) {
      known =
          shot()
              .map(s -> CauseFinder.find(s.plan(), s.scene(), s.resolve(frame), null))
              .orElseGet(() -> CauseFinder.ofRecipe(recipe));
      found = known;
    }
    return known;
  }

  /**
   * Traces the plan small and measures what was found.
   *
   * @throws CancellationException if the proof was stopped
   */
  Measured measured(LoadedShot of, List<Cause> suspects) {
    Measured known = measured;
    if (known == null) {
      int threads = Runtime.getRuntime().availableProcessors();
      FrameRenderer renderer = new FrameRenderer(of, delivery.settings(threads));
      TracedEvidence traced =
          TracedEvidence.of(
              of,
              frame,
              renderer,
              p -> {
                if (stopped.getAsBoolean()) {
                  renderer.stop();
                }
              });
      known =
          new Measured(traced.ranked(suspects), traced.residual() / traced.uncut().rgba().length);
      measured = known;
    }
    return known;
  }
}
