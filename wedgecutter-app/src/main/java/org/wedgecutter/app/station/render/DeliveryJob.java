package org.wedgecutter.app.station.render;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.concurrent.CompletableFuture;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.survey.Times;

/**
 * A delivery on the board: one that waits or is rendered here, or a folder that others fill. Used
 * on the interface thread only.
 */
final class DeliveryJob {
  /** How far it is. */
  enum State {
    /** Nothing is known but its folder. */
    FOLDER("on disk"),
    WAITING("waiting"),
    RUNNING("rendering"),
    PAUSED("paused"),
    /** A file cannot be written; it waits for a decision. */
    TROUBLE("blocked"),
    DONE("done"),
    STOPPED("stopped"),
    FAILED("failed");

    private final String word;

    State(String word) {
      this.word = word;
    }
  }

  /** Where a unit is shown: its layer's name, or that of the uncut frame, and the frame. */
  record Place(String layer, boolean uncut, int frame) {}

  private final Path folder;
  private final Map<Unit.Key, DeliveryStatus.Cell> cells = new LinkedHashMap<>();
  private final Map<Place, Unit.Key> places = new LinkedHashMap<>();
  private @Nullable LoadedShot shot;
  private @Nullable DeliveryOrder order;
  private State state;
  private String says = "";
  private double share;
  private double left = Double.NaN;
  private @Nullable CompletableFuture<Boolean> decision;

  /** A delivery that is to be rendered, from a shot and a plan as they are now. */
  DeliveryJob(LoadedShot shot, DeliveryOrder order) {
    this.shot = shot;
    this.order = order;
    folder = order.folder();
    state = State.WAITING;
  }

  /** A delivery that is on the disk. */
  DeliveryJob(Path folder) {
    this.folder = folder;
    state = State.FOLDER;
  }

  Path folder() {
    return folder;
  }

  /** Returns its name: that of its folder. */
  String name() {
    return String.valueOf(folder.getFileName());
  }

  State state() {
    return state;
  }

  void state(State next, String why) {
    state = next;
    says = why;
  }

  /** Returns what it is rendered from; null for a folder. */
  @Nullable LoadedShot shot() {
    return shot;
  }

  @Nullable DeliveryOrder order() {
    return order;
  }

  /** Lets it be rendered, or go on. */
  void order(LoadedShot from, DeliveryOrder next) {
    shot = from;
    order = next;
    state = State.WAITING;
    says = "";
  }

  /** Whether it is being rendered here, whether or not it rests. */
  boolean isActive() {
    return state == State.RUNNING || state == State.PAUSED || state == State.TROUBLE;
  }

  /** Returns what there is to say about it; may be empty. */
  String says() {
    return says;
  }

  double share() {
    return share;
  }

  void share(double next, double secondsLeft) {
    share = next;
    left = secondsLeft;
  }

  @Nullable CompletableFuture<Boolean> decision() {
    return decision;
  }

  void decision(@Nullable CompletableFuture<Boolean> next) {
    decision = next;
  }

  /** Shows units as they are known. */
  void show(List<DeliveryStatus.Cell> next) {
    cells.clear();
    places.clear();
    for (DeliveryStatus.Cell cell : next) {
      Unit u = cell.unit();
      cells.put(u.key(), cell);
      places.put(new Place(u.layer(), u.uncut(), u.frame()), u.key());
    }
    for (DeliveryStatus.Cell cell : next) {
      Unit u = cell.unit();
      for (int frame : u.heldAt()) {
        places.putIfAbsent(new Place(u.layer(), u.uncut(), frame), u.key());
      }
    }
  }

  /** Shows another state of a unit. */
  void show(DeliveryStatus.Cell cell) {
    cells.put(cell.unit().key(), cell);
  }

  /** Returns the unit that is shown at a place: its own, or one that is held there; or null. */
  DeliveryStatus.@Nullable Cell at(String layer, boolean uncut, int frame) {
    Unit.Key key = places.get(new Place(layer, uncut, frame));
    return key == null ? null : cells.get(key);
  }

  /** Returns its units. */
  List<DeliveryStatus.Cell> cells() {
    return List.copyOf(cells.values());
  }

  /** Returns the frames that it has, ascending. */
  List<Integer> frames() {
    TreeSet<Integer> out = new TreeSet<>();
    places.keySet().forEach(p -> out.add(p.frame));
    return List.copyOf(out);
  }

  long count(UnitState of) {
    return cells.values().stream().filter(c -> c.state() == of).count();
  }

  /** Returns it in a line. */
  String line() {
    List<String> words = new ArrayList<>();
    if (state == State.FOLDER) {
      long running = count(UnitState.RUNNING);
      words.add(running > 0 ? "rendered elsewhere" : state.word);
    } else {
      words.add(state.word);
    }
    if (isActive()) {
      words.add("%.0f %%".formatted(100 * share));
      if (state == State.RUNNING && Double.isFinite(left)) {
        words.add(Times.words(left) + " left");
      }
    } else if (!cells.isEmpty()) {
      words.add("%d of %d".formatted(count(UnitState.DONE), cells.size()));
    }
    if (count(UnitState.STALE) > 0) {
      words.add("%d stale".formatted(count(UnitState.STALE)));
    }
    if (count(UnitState.FAILED) > 0) {
      words.add("%d failed".formatted(count(UnitState.FAILED)));
    }
    return String.join(" · ", words);
  }
}
