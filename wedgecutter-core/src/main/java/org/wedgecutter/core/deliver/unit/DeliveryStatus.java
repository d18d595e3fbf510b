package org.wedgecutter.core.deliver.unit;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.UnitFolder;
import org.wedgecutter.core.deliver.UnitRecord;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.load.LoadedShot;

/**
 * How far a delivery is, as its folder tells: whoever renders into it, on whichever machine.
 *
 * @param delivery the delivery
 * @param cells its units, in the order of rendering
 * @param problems what is wrong with the folder's records, one sentence each
 */
public record DeliveryStatus(Delivery delivery, List<Cell> cells, List<String> problems) {
  public DeliveryStatus {
    cells = List.copyOf(cells);
    problems = List.copyOf(problems);
  }

  /**
   * A unit.
   *
   * @param unit what it is
   * @param state how far it is
   * @param share how much of it is done, 0 to 1
   * @param seconds what it has cost, or what it will cost if that can be told; else NaN
   * @param noise estimated root mean square error, scene-linear light; NaN where it is not known
   * @param machine where it was rendered or is being rendered; may be empty
   * @param why why it failed or is stale; may be empty
   * @param file its first file, if it is there
   */
  public record Cell(
      Unit unit,
      UnitState state,
      double share,
      double seconds,
      double noise,
      String machine,
      String why,
      Delivery.@Nullable Entry file) {
    /** A unit without files. */
    public Cell(
        Unit unit, UnitState state, double share, double seconds, String machine, String why) {
      this(unit, state, share, seconds, Double.NaN, machine, why, null);
    }
  }

  /** Reads the state of a delivery; its files are not read, only their sizes. */
  public static DeliveryStatus read(Path folder) throws IOException {
    return of(Delivery.read(folder), null);
  }

  /** Reads the state of a delivery, and compares it with the plan and scene as they are now. */
  public static DeliveryStatus read(Path folder, LoadedShot now) throws IOException {
    return of(Delivery.read(folder), now);
  }

  /** Returns when a delivery's manifest or any of its records last changed. */
  public static FileTime changed(Path folder) throws IOException {
    FileTime last = Files.getLastModifiedTime(folder.resolve(Delivery.MANIFEST));
    Path records = folder.resolve(UnitFolder.NAME);
    if (Files.isDirectory(records)) {
      FileTime units = Files.getLastModifiedTime(records);
      return units.compareTo(last) > 0 ? units : last;
    }
    return last;
  }

  /** Reads the state of one unit as its record tells it. */
  public static Cell cell(Path folder, Unit unit) throws IOException {
    UnitFolder records = new UnitFolder(folder);
    Map<Unit.Key, UnitRecord> found = new LinkedHashMap<>();
    records.record(unit.key()).ifPresent(r -> found.put(unit.key(), r));
    Map<String, String> failed = new LinkedHashMap<>();
    records.failure(unit.key()).ifPresent(why -> failed.put(unit.key().name(), why));
    return cell(
        unit,
        unit.digest(),
        found.get(unit.key()),
        new UnitFolder.Known(found, Map.of(), failed, List.of()),
        Map.of());
  }

  private static DeliveryStatus of(Delivery delivery, @Nullable LoadedShot now) throws IOException {
    UnitFolder.Known known = new UnitFolder(delivery.folder()).read();
    UnitDigests digests = now == null ? null : new UnitDigests(now, delivery.settings(1));
    Map<String, double[]> costs = new LinkedHashMap<>();
    for (UnitRecord r : known.records().values()) {
      double[] sum = costs.computeIfAbsent(r.unit().layer(), l -> new double[2]);
      sum[0] += r.files().stream().mapToDouble(Delivery.Entry::seconds).sum();
      sum[1]++;
    }
    List<Cell> cells = new ArrayList<>();
    List<String> problems = new ArrayList<>(known.problems());
    for (Unit unit : delivery.units()) {
      UnitRecord record = known.records().get(unit.key());
      if (record != null && !isThere(delivery.folder(), record)) {
        problems.add(
            "%s: its file is missing or of another size; it is rendered again"
                .formatted(unit.key().name()));
        record = null;
      }
      String digest = digest(digests, now, unit);
      cells.add(cell(unit, digest, record, known, costs));
    }
    return new DeliveryStatus(delivery, cells, problems);
  }

  /** The digest that a unit would have now; empty if its layer is no longer there. */
  private static String digest(@Nullable UnitDigests digests, @Nullable LoadedShot now, Unit unit) {
    if (digests == null || now == null) {
      return unit.digest();
    }
    int column = unit.uncut() ? now.plan().layers().size() : now.plan().layerIndex(unit.layer());
    return column < 0 ? "" : digests.of(column, unit.frame());
  }

  private static boolean isThere(Path folder, UnitRecord record) throws IOException {
    for (Delivery.Entry e : record.files()) {
      Path file = folder.resolve(e.path());
      if (!Files.isRegularFile(file) || Files.size(file) != e.bytes()) {
        return false;
      }
    }
    return true;
  }

  private static Cell cell(
      Unit unit,
      String digest,
      @Nullable UnitRecord record,
      UnitFolder.Known known,
      Map<String, double[]> costs) {
    String name = unit.key().name();
    UnitFolder.Running running = known.running().get(name);
    double usual = usual(costs, unit.layer());
    if (running != null) {
      return new Cell(unit, UnitState.RUNNING, running.share(), usual, running.machine(), "");
    }
    if (record != null) {
      double seconds = record.files().stream().mapToDouble(Delivery.Entry::seconds).sum();
      boolean same = record.unit().digest().equals(digest);
      String why =
          same
              ? ""
              : digest.isEmpty()
                  ? "the layer is no longer in the plan"
                  : record.patches().isEmpty()
                      ? "plan or scene have changed since"
                      : "plan or scene have changed since; a part of it was rendered again";
      UnitState state = same ? UnitState.DONE : UnitState.STALE;
      return new Cell(
          unit,
          state,
          1,
          seconds,
          record.noise(),
          record.machine(),
          why,
          record.files().getFirst());
    }
    String why = known.failed().get(name);
    return why == null
        ? new Cell(unit, UnitState.WAITING, 0, usual, "", "")
        : new Cell(unit, UnitState.FAILED, 0, usual, "", why);
  }

  /** What a unit of a layer costs as a rule: the mean of those that are done, or of all layers'. */
  private static double usual(Map<String, double[]> costs, String layer) {
    double[] own = costs.get(layer);
    if (own != null) {
      return own[0] / own[1];
    }
    double seconds = costs.values().stream().mapToDouble(c -> c[0]).sum();
    double count = costs.values().stream().mapToDouble(c -> c[1]).sum();
    return count == 0 ? Double.NaN : seconds / count;
  }

  /** Returns how many units are in a state. */
  public long count(UnitState state) {
    return cells.stream().filter(c -> c.state() == state).count();
  }

  /** Returns the seconds that what is done has cost. */
  public double used() {
    return cells.stream()
        .filter(c -> c.state() == UnitState.DONE || c.state() == UnitState.STALE)
        .mapToDouble(Cell::seconds)
        .sum();
  }

  /**
   * Returns the seconds that are left: what remains, divided among the machines that render now. It
   * is NaN as long as nothing is done to judge by.
   */
  public double left() {
    double seconds = 0;
    Set<String> machines = new HashSet<>();
    for (Cell c : cells) {
      if (c.state() != UnitState.DONE) {
        double share = c.state() == UnitState.RUNNING ? c.share() : 0;
        seconds += c.seconds() * (1 - share);
      }
      if (c.state() == UnitState.RUNNING) {
        machines.add(c.machine());
      }
    }
    return seconds / Math.max(1, machines.size());
  }
}
