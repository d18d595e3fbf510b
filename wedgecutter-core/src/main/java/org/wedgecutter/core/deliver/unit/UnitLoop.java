package org.wedgecutter.core.deliver.unit;

import java.io.Closeable;
import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.CancellationException;
import java.util.function.Consumer;
import java.util.function.DoubleConsumer;
import java.util.function.IntFunction;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitFolder;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.ResolvedShot;

/**
 * Renders the units of a delivery one task after another. A task is a band of those layers of a
 * frame that share a trace: what is rendered together, and what is lost if the process is killed.
 *
 * <p>Other processes may work on the same delivery. A task that another one is at is put off; when
 * nothing else is left, it is waited for, and taken over if that process is not heard of any more.
 * Two processes that make the same unit make the same bytes, so nothing depends on who was first.
 */
final class UnitLoop {
  /** Nanoseconds between two marks that a unit is being rendered. */
  private static final long MARKS = 5_000_000_000L;

  private static final long WAIT_MILLIS = 500;

  /** How often damaged bands are made again. */
  private static final int MOST_AGAIN = 3;

  private final LoadedShot shot;
  private final DeliveryOrder order;
  private final FrameRenderer renderer;
  private final UnitFiles files;
  private final UnitFolder records;
  private final IntFunction<List<Region>> bands;
  private final Consumer<RenderedFrame> measured;
  private final Supplier<Set<Unit.Key>> preferred;
  private final DeliveryLog log;
  private final List<Task> tasks;
  private final Map<Unit.Key, UnitState> states = new LinkedHashMap<>();

  /** What is rendered together. */
  private record Task(int frame, int band, List<Region> bands, List<Unit> units, long number) {}

  /**
   * @param bands the parts that a frame is rendered in
   * @param measured receives what each trace has cost
   * @param wanted what is to be rendered, in order
   * @param preferred which of it is rendered before the rest; asked for each time
   */
  UnitLoop(
      LoadedShot shot,
      DeliveryOrder order,
      FrameRenderer renderer,
      UnitFiles files,
      UnitFolder records,
      IntFunction<List<Region>> bands,
      Consumer<RenderedFrame> measured,
      List<Unit> wanted,
      Supplier<Set<Unit.Key>> preferred) {
    this.preferred = preferred;
    log = new DeliveryLog(order.folder());
    this.shot = shot;
    this.order = order;
    this.renderer = renderer;
    this.files = files;
    this.records = records;
    this.bands = bands;
    this.measured = measured;
    tasks = tasks(wanted);
  }

  private List<Task> tasks(List<Unit> wanted) {
    Map<Integer, List<Unit>> frames = new LinkedHashMap<>();
    wanted.forEach(u -> frames.computeIfAbsent(u.frame(), f -> new ArrayList<>()).add(u));
    Map<Integer, List<Task>> byFrame = new LinkedHashMap<>();
    long number = 0;
    // shares go by numbers, which do not depend on the order in which frames were asked for
    for (int frame : new TreeSet<>(frames.keySet())) {
      List<Unit> units = new ArrayList<>(Objects.requireNonNull(frames.get(frame)));
      units.sort(Comparator.comparingInt(u -> files.contents().column(u.key())));
      List<Region> parts = bands.apply(frame);
      List<Task> own = new ArrayList<>();
      for (List<Unit> group : groups(frame, units)) {
        for (int b = 0; b < parts.size(); b++) {
          own.add(new Task(frame, b, parts, group, number++));
        }
      }
      byFrame.put(frame, own);
    }
    return frames.keySet().stream()
        .flatMap(f -> Objects.requireNonNull(byFrame.get(f)).stream())
        .toList();
  }

  /** Returns the units of which any part is in this share. */
  Set<Unit> mine() {
    Set<Unit> out = new LinkedHashSet<>();
    tasks.stream().filter(t -> order.share().isMine(t.number)).forEach(t -> out.addAll(t.units));
    return out;
  }

  /** Returns in which of so many shares anything is missing, ascending from 1. */
  List<Integer> open(int shares) {
    TreeSet<Integer> out = new TreeSet<>();
    for (Task task : tasks) {
      if (!missing(task).isEmpty()) {
        out.add((int) (task.number % shares) + 1);
      }
    }
    return List.copyOf(out);
  }

  /** Divides the units of a frame into those that share traces. */
  private List<List<Unit>> groups(int frame, List<Unit> units) {
    ResolvedShot resolved = shot.resolve(frame);
    if (order.settings().separately() || resolved.asked().filters()) {
      // a filter reads the uncut frame, which is then traced once for all
      return List.of(units);
    }
    BitSet columns = new BitSet();
    units.forEach(u -> columns.set(files.contents().column(u.key())));
    int layers = resolved.layers().size();
    JobPlan plan = new JobPlan(resolved, columns::get, columns.get(layers), t -> false);
    List<BitSet> jobs = new ArrayList<>();
    List<List<Unit>> groups = new ArrayList<>();
    for (Unit unit : units) {
      BitSet own = new BitSet();
      int column = files.contents().column(unit.key());
      if (unit.uncut()) {
        own.set(plan.uncut().job());
        JobPlan.Source without = plan.uncutWithout();
        if (without != null) {
          own.set(without.job());
        }
      } else {
        own.set(plan.layer(column).job());
        if (resolved.layers().get(column).catcher() != null) {
          own.set(plan.without(column).job());
        }
      }
      List<Unit> group = new ArrayList<>();
      for (int g = groups.size() - 1; g >= 0; g--) {
        if (jobs.get(g).intersects(own)) {
          own.or(jobs.remove(g));
          group.addAll(0, groups.remove(g));
        }
      }
      group.add(unit);
      jobs.add(own);
      groups.add(group);
    }
    return groups;
  }

  /** Renders all that is missing. */
  void run(DeliveryRenderer.Progress progress) throws IOException {
    List<Task> left = new ArrayList<>();
    for (Task task : tasks) {
      if (order.share().isMine(task.number) && !missing(task, progress).isEmpty()) {
        left.add(task);
      }
    }
    int all = left.size();
    log.say(
        "begins: %d of %d tasks are left%s, %d x %d pixels, %d samples, %d threads"
            .formatted(
                all,
                tasks.size(),
                order.share().of() > 1
                    ? " of share %d of %d".formatted(order.share().number(), order.share().of())
                    : "",
                order.settings().width(),
                order.settings().height(),
                order.settings().samples(),
                order.settings().threads()));
    render(left, all, progress);
    for (int again = 0; !complete(); again++) {
      if (again == MOST_AGAIN) {
        throw new IOException(
            order.folder() + ": bands of a file are damaged again and again; check the disk");
      }
      for (Task task : tasks) {
        if (order.share().isMine(task.number) && !missing(task, progress).isEmpty()) {
          left.add(task);
        }
      }
      log.say("%d tasks are left, whose bands were damaged".formatted(left.size()));
      render(left, all, progress);
    }
    log.say("ends: all of it is there");
  }

  private void render(List<Task> left, int all, DeliveryRenderer.Progress progress)
      throws IOException {
    while (!left.isEmpty()) {
      Task next = next(left, all, progress);
      if (next != null) {
        left.remove(next);
      } else if (!left.isEmpty()) {
        pause();
      }
    }
  }

  /** Renders the first task that nobody else is at, and returns it; null if there is none. */
  private @Nullable Task next(List<Task> left, int all, DeliveryRenderer.Progress progress)
      throws IOException {
    Set<Unit.Key> first = preferred.get();
    List<Task> sorted = new ArrayList<>(left);
    // a stable sort: the others stay in their order
    sorted.sort(
        Comparator.comparing((Task t) -> t.units.stream().noneMatch(u -> first.contains(u.key()))));
    for (Task task : sorted) {
      List<Unit> missing = missing(task, progress);
      if (missing.isEmpty()) {
        left.remove(task);
      } else if (missing.stream().noneMatch(u -> records.elsewhere(u.key()).isPresent())) {
        render(task, missing, all - left.size(), all, progress);
        return task;
      }
    }
    return null;
  }

  private void pause() {
    try {
      Thread.sleep(WAIT_MILLIS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw (CancellationException) new CancellationException("rendering was stopped").initCause(e);
    }
    if (renderer.isStopped()) {
      throw new CancellationException("rendering was stopped");
    }
  }

  /** The units of a task of which this band is not there. */
  private List<Unit> missing(Task task) {
    List<Unit> out = new ArrayList<>();
    for (Unit unit : files.missing(task.units)) {
      if (task.bands.size() == 1
          || !files.bands().has(unit, task.band, task.bands.get(task.band))) {
        out.add(unit);
      }
    }
    return out;
  }

  private List<Unit> missing(Task task, DeliveryRenderer.Progress progress) {
    List<Unit> undone = files.missing(task.units);
    task.units.stream()
        .filter(u -> !undone.contains(u))
        .forEach(u -> tell(u, UnitState.DONE, progress));
    return missing(task);
  }

  private void tell(Unit unit, UnitState state, DeliveryRenderer.Progress progress) {
    if (states.put(unit.key(), state) != state) {
      progress.unit(unit, state);
    }
  }

  private void render(
      Task task, List<Unit> units, int before, int all, DeliveryRenderer.Progress progress)
      throws IOException {
    for (Unit unit : units) {
      records.running(unit.key(), task.band / (double) task.bands.size());
      tell(unit, UnitState.RUNNING, progress);
    }
    // what fails at last does not hide what failed first
    try (Closeable _ = () -> ended(units)) {
      BitSet columns = new BitSet();
      units.forEach(u -> columns.set(files.contents().column(u.key())));
      boolean uncut = columns.get(shot.plan().layers().size());
      RenderedFrame rendered =
          renderer.render(
              task.frame,
              task.bands.get(task.band),
              columns::get,
              uncut,
              shown(task, units, before, all, progress));
      measured.accept(rendered);
      log.say(
          "frame %d%s: traced %s in %.1f s"
              .formatted(
                  task.frame,
                  task.bands.size() > 1
                      ? ", band %d of %d".formatted(task.band + 1, task.bands.size())
                      : "",
                  units.stream().map(Unit::layer).collect(Collectors.joining(", ")),
                  rendered.classes().stream().mapToDouble(RenderedFrame.ClassTime::seconds).sum()));
      for (Unit unit : units) {
        write(task, unit, rendered, progress);
      }
    } catch (CancellationException e) {
      units.forEach(u -> tell(u, UnitState.WAITING, progress));
      log.say("stopped in frame %d".formatted(task.frame));
      throw e;
    } catch (IOException | RuntimeException | Error e) {
      for (Unit unit : units) {
        if (!files.missing(List.of(unit)).isEmpty()) {
          records.failed(unit.key(), String.valueOf(e.getMessage()));
          tell(unit, UnitState.FAILED, progress);
        }
      }
      log.say("failed in frame %d: %s".formatted(task.frame, e));
      throw e;
    }
  }

  private void ended(List<Unit> units) {
    units.forEach(u -> records.ended(u.key()));
  }

  /** Writes a unit, or a band of it; as often as whoever looks on wants to try again. */
  private void write(
      Task task, Unit unit, RenderedFrame rendered, DeliveryRenderer.Progress progress)
      throws IOException {
    while (true) {
      try {
        if (task.bands.size() == 1) {
          files.write(unit, rendered);
        } else {
          files.bands().write(unit, task.band, task.bands.get(task.band), rendered);
          if (!files.bands().assemble(unit, task.bands)) {
            return;
          }
        }
        tell(unit, UnitState.DONE, progress);
        return;
      } catch (IOException e) {
        log.say("%s at frame %d cannot be written: %s".formatted(unit.layer(), unit.frame(), e));
        if (!progress.goesOn(e)) {
          throw e;
        }
      }
    }
  }

  private DoubleConsumer shown(
      Task task, List<Unit> units, int before, int all, DeliveryRenderer.Progress progress) {
    long[] marked = {System.nanoTime()};
    int count = task.bands.size();
    return p -> {
      double ofFrame = (task.band + p) / count;
      synchronized (marked) {
        if (System.nanoTime() - marked[0] > MARKS) {
          marked[0] = System.nanoTime();
          units.forEach(u -> records.running(u.key(), ofFrame));
        }
      }
      progress.at(task.frame, ofFrame, (before + p) / all);
    };
  }

  /**
   * Puts together what was finished by others meanwhile, or by an earlier run that was killed.
   *
   * @return false if a band turned out to be damaged: it was deleted, and is to be made again
   */
  private boolean complete() throws IOException {
    boolean whole = true;
    Set<Unit.Key> seen = new HashSet<>();
    for (Task task : tasks) {
      if (task.bands.size() > 1 && order.share().isMine(task.number)) {
        for (Unit unit : files.missing(task.units)) {
          if (seen.add(unit.key()) && !files.bands().assemble(unit, task.bands)) {
            whole &= !files.bands().forgetDamaged(unit, task.bands);
          }
        }
      }
    }
    return whole;
  }
}
